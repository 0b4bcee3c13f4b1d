import { z } from 'zod';
import { VehicleClass } from '../common.ts';
import { Duty } from '../register/index.ts';
import { Mark } from './changes.ts';

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
      steps: z.array(z.object({ cause: z.enum(['fleet', 'policy', 'miles', 'duty', 'readings', 'pads']), to: Mark })),
    }),
  ),
});
export type WhyMark = z.infer<typeof WhyMark>;

/** All that one vehicle's forecast rests on, for the same computation in the browser; shapes are the core's. */
export const ForecastInput = z.object({
  unit: z.string(),
  class: VehicleClass,
  tareKg: z.number(),
  gvwrKg: z.number(),
  shares: z.array(z.object({ axle: z.int(), brakeShare: z.number() })),
  input: z.unknown(),
  policy: z.unknown(),
  currency: z.string().nullable(),
  reference: Duty.nullable(),
  present: Duty.nullable(),
});
export type ForecastInput = z.infer<typeof ForecastInput>;
