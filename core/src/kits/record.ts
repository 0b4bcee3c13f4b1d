import { studentQuantile } from '../numeric/index.ts';

/** What one axle's set of a part number did: from its fitting to its end, or to today where it still runs. */
export interface PartLife {
  /** Material worn, mm, of the pad that wore most. */
  wornMm: number;
  /** Miles driven since it was fitted. */
  miles: number;
  /** How hard its duty was meanwhile, in the mean: 1 is the model's reference duty; 1 where it is not known. */
  severity: number;
  /** That it ended by a failure (lining came off, cracked), not by wear. */
  failed: boolean;
}

export interface PartRecord {
  sets: number;
  /** Wear, mm per 1,000 miles of the reference duty: its geometric mean with the 80 % interval of that mean. */
  rate: { value: number; low: number; high: number } | undefined;
  failures: number;
  /** Miles over all sets. */
  miles: number;
}

/** Sets with less than this many miles tell nothing yet. */
const LEAST_MILES = 2000;

/**
 * A part number's own record. A mile of harder duty counts for more, so that a set on the hills is held fairly against one on
 * the plain. Rates are lognormal from set to set, so their logarithms are averaged; the interval is
 * Student's. Of one set no interval can be told, and none is.
 */
export function partRecord(lives: readonly PartLife[]): PartRecord {
  const told = lives.filter(({ miles, wornMm, severity }) => miles >= LEAST_MILES && wornMm > 0 && severity > 0);
  const logs = told.map(({ wornMm, miles, severity }) => Math.log((1000 * wornMm) / (miles * severity)));
  return {
    sets: lives.length,
    rate: logs.length < 2 ? undefined : geometricMean(logs),
    failures: lives.filter(({ failed }) => failed).length,
    miles: lives.reduce((sum, { miles }) => sum + miles, 0),
  };
}

function geometricMean(logs: readonly number[]): { value: number; low: number; high: number } {
  const n = logs.length;
  const mean = logs.reduce((sum, log) => sum + log, 0) / n;
  const variance = logs.reduce((sum, log) => sum + (log - mean) ** 2, 0) / (n - 1);
  const half = studentQuantile(0.9, n - 1) * Math.sqrt(variance / n);
  return { value: Math.exp(mean), low: Math.exp(mean - half), high: Math.exp(mean + half) };
}

/**
 * What a set costs a mile: its price over the miles it lasts, which are the material it may lose over its rate, and the
 * labour of every change.
 *
 * @param usableMm from new to the limit
 */
export function costPerMile(price: number, labour: number, ratePer1000: number, usableMm: number): number {
  return (price + labour) / ((1000 * usableMm) / ratePer1000);
}
