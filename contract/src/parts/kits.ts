import { z } from 'zod';
import { Id, IsoDate } from '../common.ts';
import { KitSide, PartKind } from './fields.ts';

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
