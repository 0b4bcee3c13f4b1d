/** One reading of a pad, carried to the day the pool is for. */
export interface PoolItem {
  id: string;
  technician: string;
  /** The reading less the technician's known bias and the wear since, mm. */
  carriedMm: number;
  /** Variance of what is carried: appraiser, gauge resolution (r²/12) and wear since, mm². */
  variance: number;
  /** Probability that the reading is regular, 0 to 1: a suspected one weighs less. */
  regular: number;
}

/** Readings of one place put together, mm. */
export interface Pooled {
  valueMm: number;
  /** One standard deviation, mm. */
  sdMm: number;
  readings: number;
  technicians: number;
  /** Share of each reading in the value; together 1. */
  weights: Map<string, number>;
}

/** Variance that a gauge of resolution r adds: the figure is anywhere within ± r/2, so r²/12 (uniform distribution). */
export function resolutionVariance(resolutionMm: number): number {
  return (resolutionMm * resolutionMm) / 12;
}

/**
 * Pools readings of one pad into one value: the mean weighted by precision, each reading's precision scaled
 * by the chance that it is regular.
 *
 * @returns the pooled value, or undefined where no reading carries weight
 */
export function poolReadings(items: readonly PoolItem[]): Pooled | undefined {
  const precision = items.map(({ variance, regular }) => regular / variance);
  const total = precision.reduce((sum, one) => sum + one, 0);
  if (!(total > 0)) return undefined;
  const valueMm = items.reduce((sum, { carriedMm }, index) => sum + carriedMm * (precision[index] ?? 0), 0) / total;
  return {
    valueMm,
    sdMm: Math.sqrt(1 / total),
    readings: items.length,
    technicians: new Set(items.map(({ technician }) => technician)).size,
    weights: new Map(items.map(({ id }, index) => [id, (precision[index] ?? 0) / total])),
  };
}
