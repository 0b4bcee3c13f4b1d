import { severityOn, type DutyAhead, type DutySpan } from '../duty/index.ts';
import { normalCdf, valueAt } from '../numeric/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';
import { commonDraws } from './passage.ts';

/** A stretch of the road ahead under one duty. */
interface Stretch {
  /** Days from today on which it begins. */
  from: number;
  /** Thousands of duty-weighted miles a day. */
  perDay: number;
}

/** The road ahead, through changes of duty that are already dated. */
function stretchesAhead(spans: readonly DutySpan[], today: IsoDate, milesPerDay: number, axle?: number): Stretch[] {
  const start = dayNumber(today);
  const changes = spans.map(({ from }) => dayNumber(from)).filter((from) => from > start);
  return [start, ...changes].map((day) => ({
    from: day - start,
    perDay: (severityOn(spans, day, axle) * milesPerDay) / 1000,
  }));
}

/** Days to an exposure; before today under today's duty. */
function daysThrough(stretches: readonly Stretch[], exposure: number): number {
  const first = stretches[0] as Stretch;
  if (exposure <= 0) return exposure / first.perDay;
  let left = exposure;
  for (let k = 0; k < stretches.length; k += 1) {
    const { from, perDay } = stretches[k] as Stretch;
    const possible = ((stretches[k + 1]?.from ?? Infinity) - from) * perDay;
    if (possible >= left) return from + left / perDay;
    left -= possible;
  }
  return Infinity;
}

/** Exposure within days from today, ≥ 0. */
function exposureThrough(stretches: readonly Stretch[], days: number): number {
  return stretches.reduce((sum, { from, perDay }, k) => {
    const to = Math.min(days, stretches[k + 1]?.from ?? Infinity);
    return to > from ? sum + (to - from) * perDay : sum;
  }, 0);
}

/**
 * How exposure ahead turns into days, at a steady number of miles a day, through changes of duty that are
 * already dated ahead.
 *
 * @param axle whose severity counts; the vehicle's where left out
 * @returns a function of thousands of duty-weighted miles from today (negative looks back under today's
 *   duty) that gives days, fractional and negative where they are
 */
export function horizon(
  spans: readonly DutySpan[],
  today: IsoDate,
  milesPerDay: number,
  axle?: number,
): (exposure: number) => number {
  const stretches = stretchesAhead(spans, today, milesPerDay, axle);
  return (exposure) => daysThrough(stretches, exposure);
}

/** Roads that may lie ahead, one for each draw: exposure and days, each from the other. */
export interface RoadsAhead {
  daysTo: (exposure: number, draw: number) => number;
  exposureIn: (days: number, draw: number) => number;
}

/** No more changes of route than this are drawn on one road. */
const MOST_CHANGES = 3;

/**
 * Roads ahead of a vehicle: where its duty is stated, one and the same; where it was measured, the level of its present
 * route is drawn, and with the hazard other routes follow. Duties dated ahead are believed: no route changes before them.
 *
 * @param count draws; draw i uses the same numbers for every axle and vehicle
 */
export function roadsAhead(
  { duty, today, ahead }: { duty: readonly DutySpan[]; today: IsoDate; ahead?: DutyAhead | undefined },
  milesPerDay: number,
  axle: number,
  { count, seed }: { count: number; seed: number },
): RoadsAhead {
  const plain = stretchesAhead(duty, today, milesPerDay, axle);
  if (!ahead)
    return { daysTo: (exposure) => daysThrough(plain, exposure), exposureIn: (days) => exposureThrough(plain, days) };
  const draws = commonDraws(count, 1 + 2 * MOST_CHANGES, seed + 2);
  const width = 1 + 2 * MOST_CHANGES;
  const [present] = plain as [Stretch];
  const roads = Array.from({ length: count }, (_, i): Stretch[] => {
    const level = Math.exp(ahead.levelSd * valueAt(draws, i * width));
    const road = plain.map(({ from, perDay }, k) => ({ from, perDay: k === 0 ? perDay * level : perDay }));
    if (plain.length > 1) return road;
    let from = 0;
    for (let k = 0; k < MOST_CHANGES; k += 1) {
      const at = i * width + 1 + 2 * k;
      from += -Math.log(Math.max(1e-12, 1 - normalCdf(valueAt(draws, at)))) / Math.max(1e-9, ahead.hazardPerDay);
      const { mean, sd } = ahead.change;
      road.push({ from, perDay: present.perDay * Math.exp(mean + sd * valueAt(draws, at + 1)) });
    }
    return road;
  });
  return {
    daysTo: (exposure, draw) => daysThrough(roads[draw] as Stretch[], exposure),
    exposureIn: (days, draw) => exposureThrough(roads[draw] as Stretch[], days),
  };
}
