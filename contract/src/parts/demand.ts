import { z } from 'zod';
import { IsoDate } from '../common.ts';

export const DemandAsked = z.object({ part: z.string().min(1), depot: z.string().min(1) });
const Quantiles = z.object({ '0.05': z.int(), '0.5': z.int(), '0.95': z.int() });
export const Demand = z.object({
  part: z.string(),
  depot: z.string(),
  computedOn: IsoDate,
  /** Each of the coming 26 weeks by its first day, from the day it was computed. */
  items: z.array(z.object({ week: IsoDate, mean: z.number(), quantiles: Quantiles })),
  lead: z.object({ days: z.int(), mean: z.number(), quantiles: Quantiles }),
  onHand: z.int(),
  onOrder: z.int(),
  reorderPoint: z.int(),
  orderQuantity: z.int(),
  /** Each figure, how it came about. */
  why: z.array(z.string()),
});
export type Demand = z.infer<typeof Demand>;

/** What a part number did on the road. */
export const PartRecord = z.object({
  part: z.string(),
  name: z.string(),
  maker: z.string(),
  model: z.string(),
  axle: z.int(),
  sets: z.int(),
  rate: z.object({ value: z.number(), low: z.number(), high: z.number() }).nullable(),
  failures: z.int(),
  miles: z.number(),
  costPerMileMinor: z.number().nullable(),
  currency: z.string().nullable(),
});
export type PartRecord = z.infer<typeof PartRecord>;
