import { valueAt, choleskyLower, sortedQuantile } from '../numeric/index.ts';
import type { ChangedHistory } from './changes.ts';
import { contextOf, padsAhead, standToday } from './standing.ts';
import { roadsAhead } from './horizon.ts';
import type { Quantiles } from './outcome.ts';
import { commonDraws } from './passage.ts';
import type { RiskPolicy, VehicleInput } from './types.ts';

/** Thinnest pad of an axle over the miles ahead. */
export interface WearFan {
  odometerMi: number[];
  /** Days from today at each. */
  days: number[];
  /** Thickness of the axle's thinnest pad at each, mm. */
  thinnestMm: Quantiles[];
}

/**
 * How the thinnest pad of an axle will wear, if nothing is done: quantiles over draws of thickness and rate, at
 * evenly spaced miles from now on.
 *
 * @param untilMi miles from now, > 0
 * @param steps number of points after the first
 */
export function wearFan(
  run: ChangedHistory,
  input: VehicleInput,
  policy: RiskPolicy,
  axleNumber: number,
  untilMi: number,
  steps = 24,
): WearFan | undefined {
  const axle = input.axles.find((one) => one.axle === axleNumber);
  if (!axle) return undefined;
  const context = contextOf(standToday(run.history, input), input, policy, axle);
  const { part, noise, ahead: duty } = padsAhead(context);
  const size = part.cov.size;
  const pads = size / 2;
  const lower = choleskyLower(part.cov);
  const draws = commonDraws(policy.draws, size + 1, policy.seed);
  const { perDay, odometerNowMi } = context;
  const roads = roadsAhead({ ...input, ahead: duty }, perDay.mean, axleNumber, {
    count: policy.draws,
    seed: policy.seed,
  });
  const grid = Array.from({ length: steps + 1 }, (_, k) => (untilMi * k) / steps);
  const daysAt = grid.map((miles) => miles / perDay.mean);
  const values = grid.map(() => new Float64Array(policy.draws));
  const own = new Float64Array(size);
  for (let i = 0; i < policy.draws; i += 1) {
    const row = i * (size + 1);
    for (let j = 0; j < size; j += 1) {
      let sum = valueAt(part.mean, j);
      for (let k = 0; k <= j; k += 1) sum += valueAt(lower, j * size + k) * valueAt(draws, row + k);
      own[j] = sum;
    }
    daysAt.forEach((ahead, g) => {
      const exposure = roads.exposureIn(ahead, i);
      const periods = Math.max(0.25, exposure / noise.exposurePerPeriod);
      const thousandMiles = Math.max(0.25, exposure * noise.milesPerExposure);
      const sd = Math.sqrt(noise.perPeriod ** 2 / periods + noise.perPad ** 2 / thousandMiles);
      const scatter = Math.exp(-sd * valueAt(draws, row + size) - (sd * sd) / 2);
      let least = Infinity;
      for (let p = 0; p < pads; p += 1)
        least = Math.min(least, valueAt(own, pads + p) - Math.exp(valueAt(own, p)) * exposure * scatter);
      (values[g] as Float64Array)[i] = least;
    });
  }
  return {
    odometerMi: grid.map((miles) => odometerNowMi + miles),
    days: daysAt,
    thinnestMm: values.map((column) => {
      const sorted = column.sort();
      const at = (p: number) => Math.max(0, sortedQuantile(sorted, p));
      return { p05: at(0.05), p10: at(0.1), p25: at(0.25), p50: at(0.5), p75: at(0.75), p90: at(0.9), p95: at(0.95) };
    }),
  };
}
