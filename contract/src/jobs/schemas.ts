import { z } from 'zod';
import {
  COMPLAINT_KINDS,
  JOB_ACTIONS,
  JOB_STATES,
  SEVERITIES,
  type Complaint,
  type JobAction as CoreAction,
} from '@mile-mark/core';
import { DistanceUnit, Id, IsoDate, Name, SeenRevision, Side } from '../common.ts';

const list = <T extends string>(values: readonly T[]) => z.enum(values as unknown as [T, ...T[]]);
const words = (most: number) => z.string().trim().max(most, `At most ${most} characters are accepted.`);
const Reason = words(300).min(3, 'A reason of at least 3 characters is needed.');

export const JobState = list(JOB_STATES);
export type JobState = z.infer<typeof JobState>;
export const JobAction = list<CoreAction>(JOB_ACTIONS);
export const Severity = list(SEVERITIES);
export type Severity = z.infer<typeof Severity>;
export const ComplaintKind = list<Complaint>(COMPLAINT_KINDS);

/** The wheels an action is done at. */
const Sides = z.union([z.literal('both'), z.array(Side).length(1)]);

/** One thing to be done at an axle. */
export const ScopeItem = z.object({
  action: JobAction,
  sides: Sides,
  /** By law, limit or axle rule; what is not may be left out with a reason. */
  mandatory: z.boolean(),
  /** Rules that ask for it; none where a person does. */
  rules: z.array(z.string()),
  /** Why a person asks for it; null where a rule does. */
  reason: z.string().nullable(),
});
export type ScopeItem = z.infer<typeof ScopeItem>;

/** Something a rule asks for and a person leaves out. */
const Declined = z.object({ action: JobAction, rules: z.array(z.string()), reason: z.string() });

export const JobAxle = z.object({ axle: z.int(), scope: z.array(ScopeItem), declined: z.array(Declined) });
export type JobAxle = z.infer<typeof JobAxle>;

const Odometer = z.string().min(1, 'An odometer such as 41,200 mi is needed.').max(30);
const Booking = {
  day: IsoDate.optional(),
  bay: Name.max(40, 'At most 40 characters are accepted.').optional(),
  personIds: z.array(Id).max(6, 'At most 6 people are accepted.').optional(),
};

/** A visit of a vehicle. With a day it is booked, without one proposed. */
export const NewJob = z.object({
  id: Id,
  unit: Name,
  axles: z
    .array(
      z.object({
        axle: z.int().min(1).max(6),
        /** What is added to what the rules propose, each with its reason. */
        added: z.array(z.object({ action: JobAction, sides: Sides.default('both'), reason: Reason })).default([]),
        /** What the rules propose and is left out. */
        declined: z.array(z.object({ action: JobAction, reason: Reason })).default([]),
      }),
    )
    .min(1, 'At least one axle is needed.')
    .max(6)
    .refine((axles) => new Set(axles.map(({ axle }) => axle)).size === axles.length, 'Each axle is accepted once.'),
  ...Booking,
});
export type NewJob = z.input<typeof NewJob>;

/** Books, moves, begins or calls off. */
export const JobMove = z
  .object({
    id: Id,
    verb: z.enum(['book', 'start', 'call off']),
    ...Booking,
    reason: Reason.optional(),
    revision: SeenRevision,
  })
  .refine(({ verb, day }) => verb !== 'book' || day !== undefined, {
    path: ['day'],
    error: 'A day such as 2026-12-04 is needed to book.',
  })
  .refine(({ verb, reason }) => verb !== 'call off' || reason !== undefined, {
    path: ['reason'],
    error: 'Why it is called off is needed.',
  });
export type JobMove = z.input<typeof JobMove>;

/** A change of what is done at an axle, while it is proposed, booked or in work. */
export const ScopeChange = z.object({
  id: Id,
  axle: z.int().min(1).max(6),
  action: JobAction,
  sides: Sides.default('both'),
  /** Whether it is to be done or left out. */
  wanted: z.boolean(),
  reason: Reason,
});
export type ScopeChange = z.input<typeof ScopeChange>;

export const JobRow = z.object({
  id: Id,
  unit: z.string(),
  model: z.string(),
  depot: z.string(),
  state: JobState,
  day: z.string().nullable(),
  bay: z.string().nullable(),
  people: z.array(z.string()),
  axles: z.array(JobAxle),
  /** Steps signed on its card while it is in work. */
  stepsDone: z.int(),
  createdOn: z.string(),
  closedOn: z.string().nullable(),
  revision: z.int(),
});
export type JobRow = z.infer<typeof JobRow>;

export const JobFilter = z.object({
  state: z.union([JobState, z.literal('open')]).optional(),
  unit: z.string().max(60).optional(),
  depot: z.string().max(120).optional(),
});
export type JobFilter = z.infer<typeof JobFilter>;

/** One line of a job's story. */
export const StoryLine = z.object({
  at: z.string(),
  on: z.string(),
  by: z.string(),
  kind: z.enum(['why', 'decided', 'booked', 'done', 'signed', 'note']),
  text: z.string(),
});
export type StoryLine = z.infer<typeof StoryLine>;

/** What is defective at a vehicle and not settled. */
export const Defect = z.object({
  id: Id,
  unit: z.string(),
  depot: z.string(),
  /** A re-check comes up when the odometer has passed the miles its specification asks for. */
  kind: z.enum(['complaint', 'finding', 'limit', 're-check']),
  axle: z.int().nullable(),
  side: Side.nullable(),
  /** What it is, in the trade's words: the complaint, or item and state. */
  text: z.string(),
  note: z.string().nullable(),
  /** As it stands today, its age counted. */
  severity: Severity,
  saidBy: z.string(),
  foundOn: z.string(),
  odometerMi: z.number().nullable(),
  ageDays: z.int(),
  /** What to look at for it. */
  look: z.array(z.string()),
  /** Put off until this day, with the reason; null where it is not. */
  deferred: z.object({ until: z.string(), reason: z.string(), by: z.string() }).nullable(),
  /** An entitled person lets the vehicle be driven all the same. */
  lifted: z.object({ reason: z.string(), by: z.string(), on: z.string() }).nullable(),
  jobId: Id.nullable(),
});
export type Defect = z.infer<typeof Defect>;

export const NewComplaint = z.object({
  id: Id,
  unit: Name,
  kind: ComplaintKind,
  /** Who complained; whoever is signed in where left out. */
  saidBy: Name.optional(),
  axle: z.int().min(1).max(6).optional(),
  side: Side.optional(),
  odometer: Odometer.optional(),
  odometerUnit: DistanceUnit.default('mi'),
  note: words(500).optional(),
});
export type NewComplaint = z.input<typeof NewComplaint>;

export const Settlement = z
  .object({ id: Id, how: z.enum(['closed', 'deferred', 'lifted']), until: IsoDate.optional(), reason: Reason })
  .refine(({ how, until }) => how !== 'deferred' || until !== undefined, {
    path: ['until'],
    error: 'The day until which it may wait is needed.',
  });
export type Settlement = z.input<typeof Settlement>;

export const JobDetail = JobRow.extend({
  class: z.enum(['pickup', 'van', 'heavy']),
  today: z.string(),
  odometerNowMi: z.number().nullable(),
  odometerMi: z.number().nullable(),
  /** Why each thing is done, as it was known when the job was made. */
  because: z.array(z.object({ axle: z.int(), action: JobAction, text: z.string() })),
  story: z.array(StoryLine),
  defects: z.array(Defect),
  photos: z.array(z.object({ id: Id, step: z.string(), takenAt: z.string(), by: z.string() })),
});
export type JobDetail = z.infer<typeof JobDetail>;

/** What may be done about an axle's rotors, with its cost by the mile. */
const RotorAlternative = z.object({
  option: z.enum(['keep', 'scuff', 'machine', 'replace']),
  bar: z.string().nullable(),
  thicknessMm: z.number(),
  perMileMinor: z.number().nullable(),
});

/** What the rules propose for a vehicle, axle by axle. */
export const JobProposal = z.object({
  unit: z.string(),
  today: z.string(),
  depot: z.string(),
  currency: z.string().nullable(),
  /** The open job of the vehicle, if there is one. */
  openJobId: Id.nullable(),
  axles: z.array(
    z.object({
      axle: z.int(),
      markDate: z.string().nullable(),
      scope: z.array(ScopeItem),
      /** Where no rule asks for anything: what goes with new pads that a person asks for. */
      withPads: z.array(ScopeItem),
      /** What each rule that fired was given, in words. */
      because: z.array(z.object({ rule: z.string(), action: JobAction, text: z.string() })),
      rotors: z.array(RotorAlternative),
      /** What is known of the thinner rotor: measured, or as the forecast has it, ± one sd; null where nothing is. */
      rotorNow: z.object({ mm: z.number(), sdMm: z.number(), measured: z.boolean() }).nullable(),
      severity: Severity.nullable(),
    }),
  ),
  /** What doing axles at one visit saves: days the later mark is brought forward, and miles of its pads thrown away. */
  bundling: z.object({ axles: z.array(z.int()), earlyDays: z.int(), text: z.string() }).nullable(),
  people: z.array(z.object({ id: Id, name: z.string() })),
});
export type JobProposal = z.infer<typeof JobProposal>;
