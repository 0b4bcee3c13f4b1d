import type { KitPart } from '../inspect/index.ts';
import { itemAt, valueAt } from '../numeric/index.ts';
import { addNeed, chancePoints, meanUnits, unitsFor, workedBy, type Chance, type DayQuantile } from './demand.ts';
import type { KitNeed, Option } from './kit.ts';
import { reorderPoint } from './reorder.ts';

/** An axle that will want a kit. */
export interface AxleAhead {
  depot: string;
  /** Which of the kits it takes. */
  kit: string;
  /** Day of the work from today: the booked one, or its mark. */
  when: { day: number; booked: boolean };
  /** Quantiles of the first passage, days from today. */
  passage: readonly DayQuantile[];
  /** Kinds that its job is known to take; of the others the chance decides. Undefined where no job is made yet. */
  sure?: readonly KitPart[] | undefined;
  /** Kinds that were taken from the shelf for its job already. */
  taken?: readonly KitPart[] | undefined;
}

export interface KitAhead {
  needs: readonly KitNeed[];
  /** Chance that a job takes a kind; kinds without one are always taken. */
  chances: Partial<Record<KitPart, Chance>>;
}

export interface WeekDemand {
  mean: number;
  p05: number;
  p50: number;
  p95: number;
}

export interface PartDemand {
  depot: string;
  part: string;
  weeks: WeekDemand[];
  /** Distribution over the time that an order takes, with the review it waits for. */
  lead: WeekDemand & { days: number };
  /** Stock and orders at which a new order goes out. */
  point: number;
  /** Day until which stock and orders suffice with the service level; undefined where they do over all weeks. */
  sufficesUntil: number | undefined;
  /** Axles that may want it within the weeks, and what they want together in a year, in the mean. */
  axles: number;
  perYear: number;
}

export interface DemandAsked {
  axles: readonly AxleAhead[];
  kits: ReadonlyMap<string, KitAhead>;
  /** Days from an order to the shelf, by part. */
  leadDays: ReadonlyMap<string, number>;
  /** On hand and on order, by `depot part`. */
  positions: ReadonlyMap<string, number>;
  /** Share of order cycles without a shortage, 0 to 1. */
  service: number;
  /** How many weeks ahead. */
  weeks: number;
}

/** What is taken for a part that nobody offers. */
const UNKNOWN_LEAD_DAYS = 14;
/** Orders are looked at once a day. */
const REVIEW_DAYS = 1;
const WEEK = 7;
const DAYS_PER_YEAR = 365.25;

/** When an axle's work is done: the chance by a day, and by the end of each week, worked out once for all its parts. */
interface Work {
  by: (day: number) => number;
  /** Element w: the chance that it is done before week w begins. */
  before: Float64Array;
}

interface Wanting {
  work: Work;
  units: number;
  /** Chance that it has to be opened anew: jobs that use up a fifth of a bottle open one in five times. */
  opens: number;
  /** Equally likely chances that the job takes it; undefined where it surely does. */
  use: readonly number[] | undefined;
}

/**
 * What each depot will need of each part, week by week and over the lead time: over all axles that take it, each with the
 * chance that its work falls into that time, thinned by the chance that the job takes the part.
 *
 * @throws RangeError where the service level is not between 0 and 1
 */
export function demandAhead({ axles, kits, leadDays, positions, service, weeks }: DemandAsked): PartDemand[] {
  if (!(service > 0 && service < 1)) throw new RangeError('a service level lies between 0 and 1');
  const wanting = wantingOf(axles, kits, weeks);
  return [...wanting].map(([key, all]) => {
    const [depot, part] = splitKey(key);
    const days = (leadDays.get(part) ?? UNKNOWN_LEAD_DAYS) + REVIEW_DAYS;
    const horizon = weeks * WEEK;
    const own = all.filter(({ work }) => Math.max(valueAt(work.before, weeks), work.by(days)) > NEVER);
    const leadDemand = distributionOf(own, ({ by }) => by(days));
    const total = own.reduce(
      (sum, one) => sum + one.units * one.opens * valueAt(one.work.before, weeks) * meanUse(one),
      0,
    );
    return {
      depot,
      part,
      weeks: Array.from({ length: weeks }, (_, w) =>
        summary(distributionOf(own, ({ before }) => valueAt(before, w + 1) - (w === 0 ? 0 : valueAt(before, w)))),
      ),
      lead: { ...summary(leadDemand), days },
      point: reorderPoint(leadDemand, service),
      sufficesUntil: suffices(own, positions.get(key) ?? 0, service, weeks),
      axles: new Set(own.map(({ work }) => work)).size,
      perYear: (total * DAYS_PER_YEAR) / horizon,
    };
  });
}

/** The last day whose demand is covered with the chance asked for, by halves: demand up to a day only grows with it. */
function suffices(own: readonly Wanting[], there: number, service: number, weeks: number): number | undefined {
  const enough = (week: number) =>
    unitsFor(
      distributionOf(own, ({ before }) => valueAt(before, week)),
      service,
    ) <= there;
  if (enough(weeks)) return undefined;
  let [covered, not] = [0, weeks];
  while (not - covered > 1) {
    const middle = (covered + not) >> 1;
    if (enough(middle)) covered = middle;
    else not = middle;
  }
  return covered * WEEK;
}

/** How positions are keyed. */
export const keyOf = (depot: string, part: string) => `${depot} ${part}`;
const splitKey = (key: string) => key.split(' ') as [string, string];
const meanUse = ({ use }: Wanting) => (use ? use.reduce((sum, one) => sum + one, 0) / use.length : 1);

/** Chances below this are left out. */
const NEVER = 1e-6;

function wantingOf(
  axles: readonly AxleAhead[],
  kits: ReadonlyMap<string, KitAhead>,
  weeks: number,
): Map<string, Wanting[]> {
  const points = new Map<Chance, number[]>();
  const usesOf = (chance: Chance | undefined) => {
    if (!chance) return undefined;
    const there = points.get(chance) ?? chancePoints(chance);
    points.set(chance, there);
    return there;
  };
  const wanting = new Map<string, Wanting[]>();
  for (const axle of axles) {
    const kit = kits.get(axle.kit);
    if (!kit) continue;
    const by = workedBy(axle.when, axle.passage);
    const work = { by, before: Float64Array.from({ length: weeks + 1 }, (_, w) => by(w * WEEK - 1)) };
    for (const { kind, order } of kit.needs) {
      if (!order || axle.taken?.includes(kind)) continue;
      const key = keyOf(axle.depot, order.part);
      const use = axle.sure?.includes(kind) ? undefined : usesOf(kit.chances[kind]);
      const there = wanting.get(key) ?? [];
      wanting.set(key, there);
      for (const { units, opens } of openedFor(order)) there.push({ work, units, opens, use });
    }
  }
  return wanting;
}

/** Whole units that a line surely opens, and the one it opens in as many cases as it uses up of it. */
function openedFor({ units, used }: Option): { units: number; opens: number }[] {
  if (used === undefined) return [{ units, opens: 1 }];
  const whole = Math.floor(used + 1e-9);
  const rest = used - whole;
  return [...(whole > 0 ? [{ units: whole, opens: 1 }] : []), ...(rest > 1e-9 ? [{ units: 1, opens: rest }] : [])];
}

/** Nothing is needed, surely. */
const NOTHING = Float64Array.of(1);
/** Places that are used again at every call: thousands of parts are asked for by the week. */
const scratch = { wanting: [] as Wanting[], probabilities: new Float64Array(64) };

/** Demand where each axle's work falls into a time with this chance; uncertain chances of use are averaged over, one value for all at a time. */
function distributionOf(all: readonly Wanting[], chanceOf: (work: Work) => number): Float64Array {
  let [count, most, points] = [0, 0, 1];
  if (scratch.probabilities.length < all.length) scratch.probabilities = new Float64Array(2 * all.length);
  for (const one of all) {
    const probability = Math.max(0, chanceOf(one.work)) * one.opens;
    if (probability <= NEVER) continue;
    scratch.wanting[count] = one;
    scratch.probabilities[count] = probability;
    count += 1;
    most += one.units;
    if (one.use && one.use.length > points) points = one.use.length;
  }
  if (count === 0) return NOTHING;
  const mean = new Float64Array(most + 1);
  const chances = points === 1 ? mean : new Float64Array(most + 1);
  for (let point = 0; point < points; point += 1) {
    chances.fill(0);
    chances[0] = 1;
    let top = 0;
    for (let i = 0; i < count; i += 1) {
      const { units, use } = itemAt(scratch.wanting, i);
      top = addNeed(chances, top, {
        units,
        probability: valueAt(scratch.probabilities, i) * (use ? itemAt(use, point) : 1),
      });
    }
    if (points > 1) for (let k = 0; k <= most; k += 1) mean[k] = valueAt(mean, k) + valueAt(chances, k) / points;
  }
  return mean;
}

function summary(distribution: Float64Array): WeekDemand {
  return {
    mean: meanUnits(distribution),
    p05: unitsFor(distribution, 0.05),
    p50: unitsFor(distribution, 0.5),
    p95: unitsFor(distribution, 0.95),
  };
}
