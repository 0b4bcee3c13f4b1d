import { JOB_ACTIONS } from '@mile-mark/core';
import { z } from 'zod';
import { Id, IsoDate, Name, SeenRevision } from '../common.ts';
import { KitSide, PartKind, Reason } from './fields.ts';

const NeedNow = z.discriminatedUnion('state', [
  z.object({ state: z.literal('there'), part: z.string(), units: z.int(), instead: z.boolean() }),
  z.object({ state: z.literal('comes'), part: z.string(), units: z.int(), day: IsoDate, inTime: z.boolean() }),
  z.object({ state: z.literal('short'), missing: z.int() }),
]);

/** A line of a job's kit, and where it stands. */
export const JobKitNeed = z.object({
  kind: PartKind,
  axle: z.int().nullable(),
  side: KitSide,
  pieces: z.int(),
  /** Of a consumable, mL or g. */
  amount: z.number().nullable(),
  /** Numbers that would do, the one to take first before the others. */
  options: z.array(z.object({ part: z.string(), name: z.string(), units: z.int() })),
  picked: z.int(),
  now: NeedNow,
});
export type JobKitNeed = z.infer<typeof JobKitNeed>;

export const JobKit = z.object({
  jobId: Id,
  unit: z.string(),
  model: z.string(),
  depot: z.string(),
  jobState: z.string(),
  /** The day on which the parts are wanted, and whether it is booked. */
  day: IsoDate,
  booked: z.boolean(),
  /** How it stands; of a job that is over, what was picked is all there is to it. */
  state: z.enum(['complete', 'substitutable', 'short', 'over']),
  until: IsoDate.nullable(),
  needs: z.array(JobKitNeed),
  /** Version of the model's kits that it takes: one more with every change that the shop made by hand. */
  version: z.int(),
  /** Why it can't be complete as the catalogue stands. */
  faults: z.array(z.string()),
  notices: z.array(z.object({ text: z.string(), at: z.string() })),
  /** What was picked for it and not put back, with the bin it came from. */
  picks: z.array(
    z.object({ part: z.string(), name: z.string(), bin: z.string(), lot: z.string().nullable(), units: z.int() }),
  ),
});
export type JobKit = z.infer<typeof JobKit>;

/** Weeks in which kits will be short, by depot; and what to order for them. */
export const KitWeeks = z.object({
  depot: z.string(),
  week: IsoDate,
  short: z.int(),
  units: z.array(z.string()),
  /** Parts that would run out even if they were ordered today. */
  parts: z.array(z.string()),
});
export type KitWeeks = z.infer<typeof KitWeeks>;

const Amount = z
  .number('A number is needed.')
  .min(0, 'Nought, which leaves it out, or more is accepted.')
  .max(100_000, 'Up to 100,000 is accepted.');

/** A line of a model's kit: what it takes with a work, and from which numbers. */
const ModelKitLine = z.object({
  kind: PartKind,
  side: KitSide,
  pieces: z.int(),
  amount: z.number().nullable(),
  oneTimeUse: z.boolean(),
  options: z.array(z.object({ part: z.string(), name: z.string(), units: z.int() })),
  /** Who made it other than usual, and why. */
  changed: z.object({ by: z.string(), on: IsoDate, reason: z.string() }).nullable(),
});
export type ModelKitLine = z.infer<typeof ModelKitLine>;

/** What a work at an axle takes beside what every set of pads does. */
const ModelKitWork = z.object({
  action: z.enum(JOB_ACTIONS),
  /** How likely a job does it, with its 90 % interval, and how many closed jobs of the model told; null where every job does. */
  chance: z.object({ mean: z.number(), low: z.number(), high: z.number(), jobs: z.int() }).nullable(),
  lines: z.array(ModelKitLine),
});
export type ModelKitWork = z.infer<typeof ModelKitWork>;

/** The kits of a model, axle by axle and work by work, and every change that was made by hand. */
export const ModelKits = z.object({
  model: z.string(),
  version: z.int(),
  axles: z.array(
    z.object({ axle: z.int(), build: z.string(), works: z.array(ModelKitWork), faults: z.array(z.string()) }),
  ),
  changes: z.array(
    z.object({
      version: z.int(),
      axle: z.int(),
      kind: PartKind,
      action: z.enum(JOB_ACTIONS),
      quantity: z.number().nullable(),
      reason: z.string(),
      by: z.string(),
      on: IsoDate,
      /** Whether it counts still. */
      counts: z.boolean(),
    }),
  ),
});
export type ModelKits = z.infer<typeof ModelKits>;

/** What a shop takes at an axle other than usual: pieces a wheel, mL or g an axle, 0 for none, null for as usual again. */
export const NewKitChange = z.object({
  id: Id,
  /** The version that was seen. */
  version: SeenRevision,
  model: Name,
  axle: z.int().min(1).max(6),
  kind: PartKind,
  action: z.enum(JOB_ACTIONS),
  quantity: Amount.nullable(),
  reason: Reason,
});
export type NewKitChange = z.input<typeof NewKitChange>;

/** The kit that an axle without a job will want at its mark, and what has to be ordered for it. */
export const AxleKit = z.object({
  unit: z.string(),
  axle: z.int(),
  day: IsoDate,
  state: z.enum(['complete', 'substitutable', 'short']),
  until: IsoDate.nullable(),
  orders: z.array(
    z.object({
      part: z.string(),
      name: z.string(),
      units: z.int(),
      /** At whom; null where nobody sells it. */
      supplier: z.string().nullable(),
      leadDays: z.int().nullable(),
      /** By when at the latest. */
      by: IsoDate,
    }),
  ),
  faults: z.array(z.string()),
});
export type AxleKit = z.infer<typeof AxleKit>;
