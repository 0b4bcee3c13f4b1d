import { z } from 'zod';

const Summary = z.object({
  readings: z.int(),
  medianMm: z.number(),
  twoPointMedianMm: z.number(),
  leastSquaresMedianMm: z.number(),
  within50: z.number(),
  within80: z.number(),
  within90: z.number(),
});
export type BacktestView = z.infer<typeof Summary>;

/** How readings of this fleet came out against what was backtested of them; null before anything could be backtested. */
export const Validation = z.object({
  computedAt: z.string().nullable(),
  all: Summary.nullable(),
  /** By miles since the pad was looked at before. */
  byAhead: z.array(Summary.extend({ label: z.string() })),
  /** By quarter of the reading. */
  byQuarter: z.array(Summary.extend({ label: z.string() })),
  byClass: z.array(Summary.extend({ label: z.string() })),
});
export type Validation = z.infer<typeof Validation>;
