import { normalPdf, normalQuantile } from '../numeric/index.ts';

/** How many times wider than computed intervals are made, near and far ahead: 1 and more. */
export interface Widening {
  near: number;
  far: number;
}

/** Up to this many miles ahead the near factor holds; from twice as many on, the far one (common practice, no source). */
export const NEAR_MI = 8000;

/** What came of forecasts of one class and distance. */
export interface Calibration {
  /** Looks that were foreseen, and axles of vehicles they were of. */
  looks: number;
  axles: number;
  within80: number;
  within90: number;
  /** How wide errors were beside what was foreseen: 1 where intervals keep their word. */
  spread: number;
  /** By how many times intervals are widened for it; never below 1, the width that was validated. */
  factor: number;
}

/** A foreseen look, and which axle of which vehicle it was of. */
export interface CalibrationLook {
  of: string;
  z: number;
}

/** So many axles that kept their word are taken as seen before the first: a few misses widen nothing much. */
const PRIOR_AXLES = 15;
const MOST = 2.5;
/** How far below its estimate a factor stands, standard deviations. */
const SURE_BY = 0.5;
/** The interval whose width is asked for. */
const SHARE = 0.8;

/**
 * By how much intervals must be widened to hold, from how looks fell among what was foreseen of them: the spread at
 * which four in five would have fallen within their 80 % interval (gross readings, being fewer than one in five, move it
 * little), drawn towards 1 by a prior, each axle counting once however often it was looked at. The factor is half
 * a standard deviation below that, so that it goes up and down without a jump and only as far as it is shown.
 *
 * @returns factor 1 where nothing was foreseen
 */
export function calibrate(looks: readonly CalibrationLook[]): Calibration {
  const times = new Map<string, number>();
  for (const { of } of looks) times.set(of, (times.get(of) ?? 0) + 1);
  const axles = times.size;
  const weighed = looks.map(({ of, z }) => ({ size: Math.abs(z), weight: 1 / (times.get(of) ?? 1) }));
  const spread = axles > 0 ? weightedQuantile(weighed, SHARE) / normalQuantile(0.5 + SHARE / 2) : 1;
  const believed = axles / (axles + PRIOR_AXLES);
  const log = believed * Math.log(Math.max(0.1, spread)) - (SURE_BY * SPREAD_SD) / Math.sqrt(axles + PRIOR_AXLES);
  const within = (share: number) => {
    const most = normalQuantile(0.5 + share / 2);
    return looks.length > 0 ? looks.filter(({ z }) => Math.abs(z) <= most).length / looks.length : 1;
  };
  const factor = Math.min(MOST, Math.max(1, Math.exp(log)));
  return { looks: looks.length, axles, within80: within(0.8), within90: within(0.9), spread, factor };
}

/**
 * Standard deviation of the logarithm of such a quantile of one normal error: √(p(1 − p)) ÷ (density × quantile), of the
 * absolute value. Source: the asymptotic variance of a sample quantile (Mosteller 1946, from memory).
 */
const SPREAD_SD = (() => {
  const q = normalQuantile(0.5 + SHARE / 2);
  return Math.sqrt(SHARE * (1 - SHARE)) / (2 * normalPdf(q) * q);
})();

/** The size below which a share of the weight lies; half of a size's own weight counts as below it. */
function weightedQuantile(values: readonly { size: number; weight: number }[], share: number): number {
  const sorted = [...values].sort((a, b) => a.size - b.size);
  const total = sorted.reduce((sum, { weight }) => sum + weight, 0);
  let below = 0;
  for (const { size, weight } of sorted) {
    below += weight;
    if (below - weight / 2 >= share * total) return size;
  }
  return sorted.at(-1)?.size ?? 0;
}

/** The factor for what lies so many miles ahead; 1 where none is known. */
export function wideningAt(widening: Widening | undefined, milesAhead: number): number {
  if (!widening) return 1;
  const share = Math.min(1, Math.max(0, milesAhead / NEAR_MI - 1));
  return Math.max(1, widening.near + share * (widening.far - widening.near));
}
