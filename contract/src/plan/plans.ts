import { z } from 'zod';
import { Id, IsoDate, Name, SeenRevision } from '../common.ts';

export const PLAN_STATES = ['solving', 'proposed', 'published', 'replaced', 'dropped', 'failed'] as const;
const PlanState = z.enum(PLAN_STATES);
export const DEPOT_STATES = ['waiting', 'solving', 'done', 'stopped', 'failed'] as const;

/** A visit of the published plan that is no job yet. */
export const PlannedVisit = z.object({
  unit: z.string(),
  axles: z.array(z.int()),
  depot: z.string(),
  date: IsoDate,
  planId: Id,
});
export type PlannedVisit = z.infer<typeof PlannedVisit>;

/** Axles by unit. */
const Axles = z
  .array(z.int().min(1).max(6))
  .min(1, 'At least one axle is needed.')
  .max(6)
  .refine((axles) => new Set(axles).size === axles.length, { error: 'Each axle is accepted once.' });

export const NewPlan = z.object({
  id: Id.optional(),
  /** Names; all that have a shop, where none is given. */
  depots: z.array(Name).min(1, 'At least one depot is needed.').max(500).optional(),
  /** First day that may be planned; today where none is given. */
  fromDate: IsoDate.optional(),
  weeks: z.int().min(1, 'One week or more is accepted.').max(52, 'At most 52 weeks are accepted.').default(26),
  /** Share of the cost that need not be proved. */
  gap: z.number().min(0, 'From 0 on is accepted.').max(0.5, 'At most 0.5 is accepted.').default(0.005),
  /** Time for each depot. */
  seconds: z.number().min(0.5, 'From 0.5 s on is accepted.').max(600, 'At most 600 s are accepted.').default(10),
  /** What must be done on the first working day, whatever it moves. */
  urgent: z
    .array(z.object({ unit: Name, axles: Axles }))
    .max(50)
    .default([]),
  /** Where vehicles are to be done, whatever it costs: at another depot, or at their own. */
  doneAt: z
    .array(z.object({ unit: Name, depot: Name }))
    .max(50)
    .refine((wishes) => new Set(wishes.map(({ unit }) => unit.toUpperCase())).size === wishes.length, {
      error: 'Each vehicle is accepted once.',
    })
    .default([]),
});
export type NewPlan = z.input<typeof NewPlan>;

export const PlanAsked = z.object({ id: Id });

/** A visit of a plan. */
export const PlanItem = z.object({
  id: Id,
  unit: z.string(),
  class: z.string(),
  axles: z.array(z.int()),
  depot: z.string(),
  date: IsoDate,
  bay: z.string().nullable(),
  hours: z.number(),
  outside: z.boolean(),
  /** The vehicle’s own depot, where this one does it for that. */
  lentFrom: z.string().nullable(),
  /** Stays where it is, whatever comes. */
  locked: z.boolean(),
  /** A person moved it since it was proposed. */
  byHand: z.boolean(),
  /** The day on which the published plan has it; where that, or the depot, is another. */
  moved: IsoDate.nullable(),
  /** In no published plan yet. */
  fresh: z.boolean(),
  /** The job that it is. */
  jobId: Id.nullable(),
  /** First mile mark of its axles. */
  mark: IsoDate.nullable(),
  why: z.array(z.string()),
});
export type PlanItem = z.infer<typeof PlanItem>;

export const PlanUnplaced = z.object({
  unit: z.string(),
  axle: z.int(),
  depot: z.string(),
  constraint: z.string(),
  remedy: z.string(),
});
export type PlanUnplaced = z.infer<typeof PlanUnplaced>;

const PlanDay = z.object({
  date: IsoDate,
  /** Hours asked of the technicians, and hours there are. */
  asked: z.number(),
  there: z.number(),
  overtime: z.number(),
});

const PlanDepot = z.object({
  depot: z.string(),
  state: z.enum(DEPOT_STATES),
  /** No plan is cheaper by a larger share; null while nothing is proved. */
  provedGap: z.number().nullable(),
  cost: z.number().nullable(),
  bound: z.number().nullable(),
  seconds: z.number().nullable(),
  failure: z.string().nullable(),
  days: z.array(PlanDay),
});

/** What a plan costs, by cause. */
export const PlanShares = z.object({
  lifeThrownAway: z.number(),
  risk: z.number(),
  outOfService: z.number(),
  visits: z.number(),
  overtime: z.number(),
  outside: z.number(),
  transfers: z.number(),
  moves: z.number(),
});
export type PlanShares = z.infer<typeof PlanShares>;

const PlanHeld = z.object({
  depot: z.string(),
  /** The day it is about; null where it is no day's. */
  date: IsoDate.nullable(),
  unit: z.string().nullable(),
  what: z.string(),
});

export const PlanRow = z.object({
  id: Id,
  state: PlanState,
  fromDate: IsoDate,
  weeks: z.int(),
  /** Who asked for it; who published the plan before, where it was made by itself. */
  askedBy: z.string(),
  askedOn: IsoDate,
  /** Made since the published plan no longer holds; nobody asked for it. */
  byItself: z.boolean(),
  publishedBy: z.string().nullable(),
  publishedOn: IsoDate.nullable(),
  revision: z.int(),
});
export type PlanRow = z.infer<typeof PlanRow>;

export const Plan = PlanRow.extend({
  today: IsoDate,
  currency: z.string(),
  /** What of the published plan no longer held when it was made by itself. */
  because: z.array(PlanHeld),
  /** Why it can't be solved; null where it can. */
  failure: z.string().nullable(),
  depots: z.array(PlanDepot),
  /** Of all depots that are done; null before. */
  cost: z.number().nullable(),
  provedGap: z.number().nullable(),
  shares: PlanShares.nullable(),
  /** Cost as a share of what booking by the earliest last day would cost, axle by axle; null before. */
  againstEarliestDueFirst: z.number().nullable(),
  /** The same against a change every so many miles. */
  againstFixedInterval: z.number().nullable(),
  items: z.array(PlanItem),
  /** Whether another plan is published, that this one would take the place of. */
  replaces: z.boolean(),
  /** What staying with the published plan would cost more, moves of this one counted, and how many rules it would break as things stand. */
  againstPublished: z.object({ saves: z.number(), breaks: z.int() }).nullable(),
  /** Visits of the published plan that this one has no longer. */
  gone: z.array(z.object({ unit: z.string(), axles: z.array(z.int()), depot: z.string(), date: IsoDate })),
  unplaced: z.array(PlanUnplaced),
  /** Whether a change by hand can be taken back. */
  canUndo: z.boolean(),
});
export type Plan = z.infer<typeof Plan>;

/** One visit, or some of its axles, on another day. */
const Move = {
  unit: Name,
  axles: Axles,
  date: IsoDate,
  outside: z.boolean().default(false),
};

export const PlanTry = z.object({ planId: Id, ...Move });
export type PlanTry = z.input<typeof PlanTry>;

/** What a move costs and breaks. */
export const PlanTried = z.object({
  /** More (or, below nought, less) than the plan as it stands. */
  difference: z.number(),
  shares: PlanShares,
  breaks: z.array(z.string()),
  currency: z.string(),
});
export type PlanTried = z.infer<typeof PlanTried>;

export const PlanMove = z.object({ id: Id, revision: SeenRevision, ...Move, lock: z.boolean().default(true) });
export type PlanMove = z.input<typeof PlanMove>;

export const PlanLock = z.object({ id: Id, revision: SeenRevision, visitId: Id, locked: z.boolean() });
export type PlanLock = z.input<typeof PlanLock>;

/** What of a published plan no longer holds, as things stand now. */
export const PlanHolds = z.object({ items: z.array(PlanHeld) });
export type PlanHolds = z.infer<typeof PlanHolds>;

export const PlanSeen = z.object({ id: Id, revision: SeenRevision });
export type PlanSeen = z.input<typeof PlanSeen>;

export const Published = z.object({ booked: z.int(), moved: z.int(), calledOff: z.int(), told: z.int() });
export type Published = z.infer<typeof Published>;

/** A day of a depot's bays. */
export const DayBoard = z.object({
  today: IsoDate,
  date: IsoDate,
  depot: z.string(),
  /** Working day after and before, as the shop is open. */
  open: z.boolean(),
  people: z.array(
    z.object({ name: z.string(), certified: z.boolean(), hours: z.number(), away: z.string().nullable() }),
  ),
  jobs: z.array(
    z.object({
      jobId: Id.nullable(),
      unit: z.string(),
      model: z.string(),
      axles: z.array(z.int()),
      state: z.string(),
      bay: z.string().nullable(),
      hours: z.number(),
      people: z.array(z.string()),
      kit: z.string(),
      kitShort: z.boolean(),
      /** It was booked for an earlier day. */
      lateSince: IsoDate.nullable(),
      doNotDrive: z.boolean(),
    }),
  ),
});
export type DayBoard = z.infer<typeof DayBoard>;

export const DayAsked = z.object({ depot: z.string().max(120), date: IsoDate.optional() });

/** When an axle is best looked at. */
export const LookBy = z.object({
  unit: z.string(),
  depot: z.string(),
  axles: z.array(z.int()),
  /** Latest day on which a look still moves the visit cheaply. */
  by: IsoDate,
  /** The day on which the vehicle is in anyway before that, or one on which the shop is open; null where none is left. */
  day: IsoDate.nullable(),
  with: z.string(),
  why: z.string(),
});
export type LookBy = z.infer<typeof LookBy>;

export const CALENDAR_KINDS = ['depot', 'person', 'vehicle'] as const;

export const NewCalendarLink = z.object({ id: Id, kind: z.enum(CALENDAR_KINDS), of: Name });
export type NewCalendarLink = z.input<typeof NewCalendarLink>;

/** A link that was made; its address is told this once. */
export const CalendarLinkMade = z.object({ id: Id, path: z.string() });

export const CalendarLink = z.object({
  id: Id,
  kind: z.enum(CALENDAR_KINDS),
  of: z.string(),
  madeBy: z.string(),
  madeOn: IsoDate,
  lastReadOn: IsoDate.nullable(),
});
export type CalendarLink = z.infer<typeof CalendarLink>;
