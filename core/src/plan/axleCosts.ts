import type { DayQuantile } from '../kits/index.ts';
import type { PlanAxle, PlanPrices } from './model.ts';

/** The day of passing a limit as a distribution: the chance that it is passed by a day, and the days still to come of it. */
interface Passage {
  by: (day: number) => number;
  /** E[(T − day)⁺], days. */
  left: (day: number) => number;
}

/** Between quantiles the distribution is a straight line; beyond the outermost it goes on as steep as there. */
export function passageOf(quantiles: readonly DayQuantile[]): Passage {
  const inner = [...quantiles].sort((a, b) => a.p - b.p).map(({ p, day }): [number, number] => [day, p]);
  const first = inner[0] ?? [0, 0.5];
  const last = inner.at(-1) ?? first;
  const knots: [number, number][] = [
    [first[0] - slopeAt(inner, 0) * first[1], 0],
    ...inner,
    [last[0] + slopeAt(inner, inner.length - 2) * (1 - last[1]), 1],
  ];
  return {
    by: (day) => {
      let at = day < (knots[0]?.[0] ?? 0) ? 0 : 1;
      for (let i = 1; i < knots.length; i += 1) {
        const [[x0, y0], [x1, y1]] = [knots[i - 1], knots[i]] as [[number, number], [number, number]];
        if (day >= x0 && day < x1) at = y0 + ((y1 - y0) * (day - x0)) / (x1 - x0);
      }
      return at;
    },
    // ∫ (1 − F) from the day on: trapezia between knots, and the whole way up to the first where the day is before it.
    left: (day) => {
      let sum = Math.max(0, (knots[0]?.[0] ?? 0) - day);
      for (let i = 1; i < knots.length; i += 1) {
        const [[x0, y0], [x1, y1]] = [knots[i - 1], knots[i]] as [[number, number], [number, number]];
        const from = Math.max(day, x0);
        if (from >= x1) continue;
        const y = y0 + ((y1 - y0) * (from - x0)) / (x1 - x0);
        sum += ((1 - y + (1 - y1)) / 2) * (x1 - from);
      }
      return sum;
    },
  };
}

/** Days to a whole share at a stretch of quantiles; half a day to a tenth where there is only one. */
function slopeAt(knots: readonly [number, number][], at: number): number {
  const [a, b] = [knots[Math.max(0, at)], knots[Math.max(0, at) + 1]];
  if (!a || !b) return 5;
  return Math.max(0.5, b[0] - a[0]) / Math.max(1e-9, b[1] - a[1]);
}

/** What an axle costs by the working day on which it is done, and where it isn't within the plan. */
export interface AxleCosts {
  on: Float64Array;
  never: number;
}

/**
 * Pad life thrown away, the risk of being below the limit by then, days out of service, and the distance from the
 * published plan.
 *
 * @param days working days, days from today
 * @param published working day of the published plan (index)
 */
export function axleCosts(
  { passage, lifePerDay, failure, latest }: PlanAxle,
  days: readonly number[],
  { outOfServicePerDay, move }: PlanPrices,
  published: number | undefined,
): AxleCosts {
  const { by, left } = passageOf(passage);
  const stood = published === undefined ? undefined : days[published];
  const moved = (day: number | undefined): number => {
    if (stood === undefined || day === stood) return 0;
    const times = stood <= move.nearDays ? move.nearTimes : 1;
    return times * (move.fixed + move.perDay * Math.abs((day ?? days.at(-1) ?? stood) - stood));
  };
  // What is past is past: only days from today on can still be saved.
  const late = (day: number) => outOfServicePerDay * Math.max(0, day - Math.max(0, latest));
  const on = Float64Array.from(days, (day) => lifePerDay * left(day) + failure * by(day) + late(day) + moved(day));
  const end = days.at(-1) ?? 0;
  return { on, never: failure * by(end) + late(end) + moved(undefined) };
}
