import { z } from 'zod';
import { DistanceUnit, Id, Side } from '../common.ts';
import { JointTorque } from '../specifications/index.ts';
import { KIT_PARTS } from '@mile-mark/core';
import { JobRow } from './schemas.ts';

const words = (most: number) => z.string().trim().max(most, `At most ${most} characters are accepted.`);

/** A torque as the card asks for it. */
const CardTorque = z.object({
  joint: z.string(),
  position: z.string(),
  torque: JointTorque.nullable(),
  /** `130 lbf·ft (176 N·m)`. */
  text: z.string(),
  socket: z.string(),
  preparation: z.string().nullable(),
  oneTimeUse: z.boolean().nullable(),
  count: z.int().nullable(),
  /** Wrench and its setting at this bench, or what is missing. */
  with: z.string(),
  source: z.string(),
  revision: z.int(),
});
export type CardTorque = z.infer<typeof CardTorque>;

export const CardStep = z.object({
  id: z.string(),
  /** `axle 1 left`; null for what is of the whole job. */
  corner: z.string().nullable(),
  axle: z.int().nullable(),
  side: Side.nullable(),
  kind: z.enum(['do', 'check', 'level', 'pads left', 'rotor left', 'torque', 'measure', 'count', 'second']),
  hold: z.boolean(),
  text: z.string(),
  /** A caution that applies here. */
  caution: z.string().nullable(),
  minutes: z.number(),
  /** Ids of steps that come before, where the order costs. */
  after: z.array(z.string()),
  /** What a check may say; none for other kinds. */
  states: z.array(z.string()),
  torque: z.array(CardTorque),
  /** The joint has no released specification: it can't be signed. */
  unreleased: z.boolean(),
  done: z.object({ by: z.string(), byId: Id, at: z.string(), text: z.string(), entryId: Id }).nullable(),
  /** Why it is to be done again though it was signed: the specification changed since. */
  again: z.string().nullable(),
});
export type CardStep = z.infer<typeof CardStep>;

/** What a job takes: parts, tools, lifting, time. */
const JobNeeds = z.object({
  /** The whole card, by the shop's own times where there are some. */
  minutes: z.number(),
  /** Closed jobs of this class of vehicle whose cards taught the times; 0 where they are the usual ones. */
  timedJobs: z.int(),
  kit: z.array(
    z.object({
      part: z.enum(KIT_PARTS),
      /** null: by amount. */
      quantity: z.int().nullable(),
      /** Of a consumable, mL or g. */
      amount: z.number().nullable(),
      side: z.union([Side, z.literal('both')]),
      axle: z.int().nullable(),
      oneTimeUse: z.boolean(),
    }),
  ),
  /** Joints whose bolts are never fitted again. */
  freshJoints: z.array(z.string()),
  tools: z.array(z.string()),
  /** Wrench and setting of each torque, or what is missing. */
  wrenches: z.array(z.object({ joint: z.string(), with: z.string(), socket: z.string() })),
  lifting: z.object({ grossKg: z.number(), points: z.string().nullable() }),
});
export type JobNeeds = z.infer<typeof JobNeeds>;

export const JobCard = z.object({
  /** The moment this state was read. */
  at: z.string(),
  job: JobRow,
  steps: z.array(CardStep),
  /** Who has the card: the person it was handed to or who took it up; null while it rests. */
  holder: z.string().nullable(),
  /** Fluid: what wear explains, and what comes back when the pistons go home, mL; null without hydraulics. */
  fluid: z
    .object({
      betweenMarksMl: z.number(),
      /** Whether the shop has said what the reservoir holds; a usual figure counts until it has. */
      marksStated: z.boolean(),
      expectedMl: z.number(),
      comesBackMl: z.number(),
      verdict: z.string().nullable(),
      drawOffMl: z.number().nullable(),
    })
    .nullable(),
  /** What the job takes. */
  needs: JobNeeds,
  bedIn: z
    .object({
      text: z.string(),
      stops: z.int(),
      fromMph: z.number(),
      betweenS: z.number(),
      stopKj: z.number(),
      perKgKj: z.number(),
      endC: z.number(),
    })
    .nullable(),
  /** Pad and rotor figures of each axle, mm. */
  limits: z.array(
    z.object({
      axle: z.int(),
      newMm: z.number(),
      limitMm: z.number(),
      rotorDiscardMm: z.number().nullable(),
      runoutMm: z.number().nullable(),
    }),
  ),
  tools: z.array(z.object({ id: Id, name: z.string(), unit: z.string() })),
  people: z.array(z.object({ id: Id, name: z.string() })),
  parts: z.array(z.object({ id: Id, what: z.string(), quantity: z.int(), by: z.string(), at: z.string() })),
  notes: z.array(z.object({ id: Id, text: z.string(), by: z.string(), at: z.string() })),
});
export type JobCard = z.infer<typeof JobCard>;

const Mm = z.number({ error: 'A thickness in mm such as 11.0 is accepted.' });
const entry = <K extends string, S extends z.ZodRawShape>(kind: K, shape: S) =>
  z.object({
    id: Id,
    kind: z.literal(kind),
    /** When it was done, by the device's clock. */
    doneAt: z.iso.datetime({ offset: true }),
    ...shape,
  });
const Step = z.string().min(1).max(80);

/** Something written on a card; nothing written is ever changed, only superseded. */
export const JobEntry = z.discriminatedUnion('kind', [
  entry('do', { step: Step }),
  entry('second', { step: Step }),
  entry('measure', { step: Step }),
  entry('check', { step: Step, state: z.string().max(40), note: words(300).optional() }),
  entry('level', {
    step: Step,
    /** Of the way from MIN (0) to MAX (1). */
    level: z
      .number()
      .min(-0.5, 'From −0.5, well under MIN, is accepted.')
      .max(1.5, 'At most 1.5, over MAX, is accepted.'),
  }),
  entry('pads left', {
    step: Step,
    innerMm: Mm.gt(0, 'More than 0 mm is accepted.').max(40, 'At most 40 mm is accepted.'),
    outerMm: Mm.gt(0, 'More than 0 mm is accepted.').max(40, 'At most 40 mm is accepted.'),
    /** The figure is right though it is above new, and why. */
    confirmed: words(300).min(3, 'A reason of at least 3 characters is needed.').optional(),
  }),
  entry('rotor left', { step: Step, mm: Mm.min(5, 'From 5 mm is accepted.').max(100, 'Up to 100 mm is accepted.') }),
  entry('torque', {
    step: Step,
    position: words(40).default(''),
    value: z.number({ error: 'The torque that was reached is needed.' }).gt(0, 'More than 0 is accepted.').max(20_000),
    unit: z.enum(['N·m', 'lbf·ft', 'lbf·in']),
    /** The wrench. */
    toolId: Id,
    /** The revision of the specification that was read. */
    revision: z.int(),
  }),
  entry('count', { step: Step, stops: z.int().min(1, 'At least one stop is needed.').max(100) }),
  entry('undo', { step: Step, reason: words(300).min(3, 'A reason of at least 3 characters is needed.') }),
  entry('note', { text: words(1000).min(1, 'A note is needed.'), step: Step.optional() }),
  entry('part', { what: words(120).min(2, 'What is needed must be said.'), quantity: z.int().min(1).max(99) }),
  entry('pause', { reason: words(300).optional() }),
  entry('take up', {}),
  entry('hand over', { toId: Id, note: words(300).optional() }),
]);
export type JobEntry = z.input<typeof JobEntry>;

export const JobEntries = z.object({ entries: z.array(JobEntry).min(1, 'At least one entry is needed.').max(100) });

export const Written = z.object({
  /** Entries that are on record now, those of an earlier try included. */
  kept: z.array(Id),
  /** Steps that should have been done before one of these and were not. */
  early: z.array(z.object({ step: z.string(), before: z.array(z.string()) })),
});
export type Written = z.infer<typeof Written>;

export const JobClosing = z.object({
  id: Id,
  /** At the end of the job. */
  odometer: z.string().min(1, 'An odometer such as 41,200 mi is needed.').max(30),
  odometerUnit: DistanceUnit.default('mi'),
  note: words(1000).optional(),
});
export type JobClosing = z.input<typeof JobClosing>;

/** What keeps a job open, and the step where it is mended. */
export const MissingItem = z.object({ step: z.string().nullable(), text: z.string() });
export type MissingItem = z.infer<typeof MissingItem>;

export const NewJobPhoto = z.object({
  id: Id,
  jobId: Id,
  step: Step,
  takenAt: z.iso.datetime({ offset: true }),
  /** JPEG without EXIF, at most 1.5 MB, base64. */
  jpegBase64: z.string().min(100).max(2_100_000, 'A photo of at most 1.5 MB is accepted.'),
});
export type NewJobPhoto = z.input<typeof NewJobPhoto>;
