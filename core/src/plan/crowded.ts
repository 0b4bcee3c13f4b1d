import { planTrial } from './planTrial.ts';
import type { PlanProblem } from './model.ts';

/**
 * A small shop with more to do than its days hold, for tests: all of it due within the weeks that are planned, nearly all at
 * once, days of three hours, and one vehicle of four axles of which no day takes more than two.
 */
export function crowded(seed: number): PlanProblem {
  const drawn = planTrial({ vehicles: 9, depots: 1, load: 0.75, weeks: 3, seed });
  const every = (value: number) => drawn.days.map(() => value);
  return {
    ...drawn,
    depots: drawn.depots.map((depot) => ({
      ...depot,
      technicianHours: every(3.1),
      certifiedHours: every(1.9),
      bayHours: { light: every(2.9), heavy: every(3.1) },
      overtimeHours: every(2.3),
    })),
    vehicles: drawn.vehicles.map((vehicle, i) => ({
      ...vehicle,
      lock: undefined,
      axles: [...vehicle.axles, ...(i === 0 ? [3, 4] : [])]
        .flatMap((axle) =>
          typeof axle === 'number' ? vehicle.axles.slice(0, 1).map((one) => ({ ...one, axle })) : [axle],
        )
        .filter(({ axle }, at, all) => all.findIndex((one) => one.axle === axle) === at)
        .map((axle, k) => ({
          ...axle,
          kitDay: 0,
          latest: 6 + ((i + k) % 5),
          passage: axle.passage.map(({ p }) => ({ p, day: 12 + ((i + k) % 5) + 10 * (p - 0.5) })),
        })),
    })),
  };
}
