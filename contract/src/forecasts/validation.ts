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

/** What came of forecasts that were made again as of half a year and a year ago, of a class and distance. */
const Calibrated = z.object({
  class: z.string(),
  distance: z.enum(['near', 'far']),
  looks: z.int(),
  axles: z.int(),
  within80: z.number(),
  within90: z.number(),
  /** How wide errors were beside what was foreseen. */
  spread: z.number(),
  /** By how many times intervals are widened for it, 1 and more. */
  factor: z.number(),
});
export type CalibratedView = z.infer<typeof Calibrated>;

/** How the looks of one group came out, by what forecasts take for granted of it; errors in standard deviations. */
const StrainRow = z.object({
  assumption: z.enum(['technician', 'season', 'route', 'age', 'odometer', 'width', 'run']),
  group: z.string(),
  looks: z.int(),
  mean: z.number(),
  meanSd: z.number(),
  spread: z.number(),
  strained: z.boolean(),
});
export type StrainView = z.infer<typeof StrainRow>;

/** How readings of this fleet came out against what was backtested of them; null before anything could be backtested. */
export const Validation = z.object({
  computedAt: z.string().nullable(),
  all: Summary.nullable(),
  /** By miles since the pad was looked at before. */
  byAhead: z.array(Summary.extend({ label: z.string() })),
  /** By quarter of the reading. */
  byQuarter: z.array(Summary.extend({ label: z.string() })),
  byClass: z.array(Summary.extend({ label: z.string() })),
  calibrations: z.array(Calibrated),
  strains: z.array(StrainRow),
});
export type Validation = z.infer<typeof Validation>;
