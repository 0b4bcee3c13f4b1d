import { z } from 'zod';
import { IsoDate, Name, VehicleClass } from '../common.ts';
import { Duty, OwnMilesPerDay } from '../register/index.ts';
import { Mark } from './changes.ts';

/** What can move a mark, in the order in which each is taken in on top of those before: so their days add up. */
export const MARK_CAUSES = ['others', 'limits', 'policy', 'driven', 'pace', 'severity', 'readings', 'pads'] as const;
const MarkCause = z.enum(MARK_CAUSES);
export type MarkCause = z.infer<typeof MarkCause>;

/** What moved each mark since about a month ago, one cause after another. */
export const WhyMark = z.object({
  unit: z.string(),
  /** Null where nothing is kept of a month ago. */
  since: z.string().nullable(),
  /** Learnt afterwards from the record of that day, not kept then. */
  afterwards: z.boolean(),
  axles: z.array(
    z.object({
      axle: z.int(),
      from: Mark,
      steps: z.array(z.object({ cause: MarkCause, to: Mark })),
    }),
  ),
});
export type WhyMark = z.infer<typeof WhyMark>;

/** A duty that is thought of: nothing begins yet. */
export const DutyAsked = z.object({
  duty: Name,
  from: IsoDate,
  milesPerDay: z.coerce.number().pipe(OwnMilesPerDay).optional(),
});

/** Where the marks of a vehicle would stand under another duty, beside where they stand. */
export const DutyPreview = z.object({
  unit: z.string(),
  milesPerDay: z.object({ now: z.number(), then: z.number() }),
  axles: z.array(z.object({ axle: z.int(), now: Mark, then: Mark })),
});
export type DutyPreview = z.infer<typeof DutyPreview>;

/** All that one vehicle's forecast rests on, for the same computation in the browser; shapes are the core's. */
export const ForecastInput = z.object({
  unit: z.string(),
  class: VehicleClass,
  tareKg: z.number(),
  gvwrKg: z.number(),
  retarder: z.boolean(),
  shares: z.array(z.object({ axle: z.int(), brakeShare: z.number() })),
  /** Whether readings, and how who made them reads, are in it; without them nothing can be computed anew. */
  whole: z.boolean(),
  input: z.unknown(),
  policy: z.unknown(),
  currency: z.string().nullable(),
  reference: Duty.nullable(),
  present: Duty.nullable(),
});
export type ForecastInput = z.infer<typeof ForecastInput>;
