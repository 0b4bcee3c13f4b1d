import { valueAt } from '../numeric/index.ts';
import type { WearState } from './state.ts';
import type { VehicleInput } from './types.ts';

/** How many times what its duty explains a vehicle's pads wear, against others of its models and axles. */
export interface DutyExplained {
  p05: number;
  p50: number;
  p95: number;
}

/**
 * The common part of a vehicle's log rates over those of its groups: mean of L − μ over its axles, with its
 * uncertainty. What readings say of the vehicle and its route beyond the stated duty: 1 where the duty explains all.
 */
export function dutyExplained(input: VehicleInput, { places, mean, cov }: WearState): DutyExplained {
  const prior = new Map(input.axles.map(({ axle, prior: { mean: level } }) => [axle, level]));
  const perAxle = new Map<number, number>();
  for (const { axle } of places) perAxle.set(axle, (perAxle.get(axle) ?? 0) + 1);
  const weights = places.map(({ axle }) => 1 / (perAxle.get(axle) ?? 1) / perAxle.size);
  let [log, variance] = [0, 0];
  places.forEach(({ axle }, p) => {
    log += (weights[p] ?? 0) * (valueAt(mean, p) - (prior.get(axle) ?? 0));
    places.forEach((_, q) => {
      variance += (weights[p] ?? 0) * (weights[q] ?? 0) * valueAt(cov.data, p * cov.size + q);
    });
  });
  const sd = Math.sqrt(Math.max(0, variance));
  return { p05: Math.exp(log - 1.6449 * sd), p50: Math.exp(log), p95: Math.exp(log + 1.6449 * sd) };
}
