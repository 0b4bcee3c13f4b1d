import { severityOn, type DutyAhead, type DutySpan } from '../duty/index.ts';
import { normalCdf, valueAt } from '../numeric/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';
import type { Pace } from './milesPerDay.ts';
import { commonDraws } from './passage.ts';

/** Roads of equally many stretches, each under one duty, one road after another. */
interface Roads {
  stretches: number;
  /** Days from today on which each stretch begins. */
  from: Float64Array;
  /** Thousands of duty-weighted miles a day on each; one that is not a number yet is worked out when it is driven. */
  perDay: Float64Array;
  /** Works one out, where they wait for that. */
  work?: (at: number) => number;
}

function paceOn({ perDay, work }: Roads, at: number): number {
  const pace = valueAt(perDay, at);
  return work && Number.isNaN(pace) ? (perDay[at] = work(at)) : pace;
}

/** The road ahead, through changes of duty that are already dated. */
function plainRoad(spans: readonly DutySpan[], today: IsoDate, milesPerDay: number, axle?: number): Roads {
  const start = dayNumber(today);
  const changes = spans.map(({ from }) => dayNumber(from)).filter((from) => from > start);
  const days = [start, ...changes];
  return {
    stretches: days.length,
    from: Float64Array.from(days, (day) => day - start),
    perDay: Float64Array.from(days, (day) => (severityOn(spans, day, axle) * milesPerDay) / 1000),
  };
}

/** Days to an exposure on one of the roads; before today under today's duty. */
function daysThrough(roads: Roads, road: number, exposure: number): number {
  const { stretches, from } = roads;
  const first = road * stretches;
  if (exposure <= 0) return exposure / paceOn(roads, first);
  let left = exposure;
  for (let k = first; k < first + stretches; k += 1) {
    const end = k + 1 < first + stretches ? valueAt(from, k + 1) : Infinity;
    const pace = paceOn(roads, k);
    const possible = (end - valueAt(from, k)) * pace;
    if (possible >= left) return valueAt(from, k) + left / pace;
    left -= possible;
  }
  return Infinity;
}

/** Exposure within days from today on one of the roads, ≥ 0. */
function exposureThrough(roads: Roads, road: number, days: number): number {
  const { stretches, from } = roads;
  const first = road * stretches;
  let sum = 0;
  for (let k = first; k < first + stretches; k += 1) {
    const to = Math.min(days, k + 1 < first + stretches ? valueAt(from, k + 1) : Infinity);
    if (to > valueAt(from, k)) sum += (to - valueAt(from, k)) * paceOn(roads, k);
  }
  return sum;
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
  const road = plainRoad(spans, today, milesPerDay, axle);
  return (exposure) => daysThrough(road, 0, exposure);
}

/** Roads that may lie ahead, one for each draw: exposure and days, each from the other. */
export interface RoadsAhead {
  daysTo: (exposure: number, draw: number) => number;
  exposureIn: (days: number, draw: number) => number;
}

const PERIOD_DAYS = 28;
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
  const plain = plainRoad(duty, today, milesPerDay, axle);
  if (!ahead)
    return {
      daysTo: (exposure) => daysThrough(plain, 0, exposure),
      exposureIn: (days) => exposureThrough(plain, 0, days),
    };
  const roads =
    plain.stretches > 1 ? dated(plain, ahead, count, seed) : open(valueAt(plain.perDay, 0), ahead, { count, seed });
  return {
    daysTo: (exposure, draw) => daysThrough(roads, draw, exposure),
    exposureIn: (days, draw) => exposureThrough(roads, draw, days),
  };
}

/** Of each draw: level, then wait (in mean waits) and level of each change of route. */
const WIDTH = 1 + 2 * MOST_CHANGES;
const TURNS = new Map<string, Float64Array>();

/** The draws all roads are made of: standard normal but for the waits, which are exponential with mean 1. */
function commonTurns(count: number, seed: number): Float64Array {
  const key = `${count}/${seed}`;
  const kept = TURNS.get(key);
  if (kept) return kept;
  const turns = commonDraws(count, WIDTH, seed + 2).slice();
  for (let i = 0; i < count; i += 1)
    for (let k = 0; k < MOST_CHANGES; k += 1) {
      const at = i * WIDTH + 1 + 2 * k;
      turns[at] = -Math.log(Math.max(1e-12, 1 - normalCdf(valueAt(turns, at))));
    }
  TURNS.set(key, turns);
  return turns;
}

/** Roads whose changes are dated: only the present level is drawn. */
function dated({ stretches, from, perDay }: Roads, ahead: DutyAhead, count: number, seed: number): Roads {
  const turns = commonTurns(count, seed);
  const own = new Float64Array(count * stretches);
  for (let i = 0; i < count; i += 1) {
    own.set(perDay, i * stretches);
    own[i * stretches] = valueAt(perDay, 0) * Math.exp(ahead.levelSd * valueAt(turns, i * WIDTH));
  }
  return {
    stretches,
    from: Float64Array.from({ length: own.length }, (_, k) => valueAt(from, k % stretches)),
    perDay: own,
  };
}

/** Roads on which other routes follow with the hazard; some may have begun in the days before today of which nothing is told. */
function open(
  present: number,
  { levelSd, hazardPerDay, change }: DutyAhead,
  { count, seed, untoldDays = 0 }: { count: number; seed: number; untoldDays?: number },
): Roads {
  const turns = commonTurns(count, seed);
  const stretches = 1 + MOST_CHANGES;
  const from = new Float64Array(count * stretches);
  const wait = 1 / Math.max(1e-9, hazardPerDay);
  for (let i = 0; i < count; i += 1) {
    let begins = -untoldDays;
    for (let k = 1; k < stretches; k += 1) {
      begins += wait * valueAt(turns, i * WIDTH + 2 * k - 1);
      from[i * stretches + k] = Math.max(0, begins);
    }
  }
  const work = (at: number) => {
    const k = at % stretches;
    const turn = ((at - k) / stretches) * WIDTH;
    return k === 0
      ? present * Math.exp(levelSd * valueAt(turns, turn))
      : present * Math.exp(change.mean + change.sd * valueAt(turns, turn + 2 * k));
  };
  return { stretches, from, perDay: new Float64Array(count * stretches).fill(NaN), work };
}

/** Draws of the pace are others than those of the duty. */
const PACE_SEED = 7;

/**
 * How miles ahead turn into days, draw by draw: the level of the pace is drawn, with the hazard others follow, and a
 * stretch scatters about them the less, the longer it is.
 *
 * @param widened how much wider what is uncertain of the class is made
 * @returns a function of miles from today, ≥ 0, and a draw; days
 */
export function pacesAhead(
  { mean, ahead, untoldDays }: Pick<Pace, 'mean' | 'ahead' | 'untoldDays'>,
  { count, seed, widened = 1 }: { count: number; seed: number; widened?: number },
): (miles: number, draw: number) => number {
  const own = { ...ahead, levelSd: widened * ahead.levelSd };
  const roads = open(mean, own, { count, seed: seed + PACE_SEED, untoldDays });
  const scatter = commonDraws(count, 1, seed + 1);
  const perPeriod = widened * ahead.perPeriod;
  return (miles, draw) => {
    const days = daysThrough(roads, draw, miles);
    return days * Math.exp(-perPeriod * Math.sqrt(PERIOD_DAYS / Math.max(1, days)) * valueAt(scatter, draw));
  };
}
