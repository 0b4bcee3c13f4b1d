import { betaQuantile, valueAt } from '../numeric/index.ts';

/** One axle's need of a part: how likely it comes up within the time asked about, and how many units it takes then. */
export interface Need {
  /** Chance, 0 to 1. */
  probability: number;
  /** Units, ≥ 1. */
  units: number;
}

/** A chance that is itself uncertain: beta with these parameters, both > 0. */
export interface Chance {
  a: number;
  b: number;
}

/** Chances below this are left out: a thousand of them together are under one in a thousand. */
const NEVER = 1e-6;
/** Points at which an uncertain chance is averaged over: the middles of equal shares of its distribution. */
const POINTS = 16;

/**
 * The distribution of how many units are needed: element k is the chance of exactly k (Poisson-binomial; where units
 * differ, its compound form). Exact, by convolution one need at a time; all terms are ≥ 0, so nothing cancels.
 * Source: Y. Hong, On computing the distribution function for the Poisson binomial distribution, Computational Statistics
 * & Data Analysis 59 (2013), direct convolution.
 *
 * @throws RangeError where a probability is outside 0 to 1 or units are no positive whole number
 */
export function demandDistribution(needs: readonly Need[]): Float64Array {
  let most = 0;
  for (const { probability, units } of needs) {
    if (!(probability >= 0 && probability <= 1)) throw new RangeError(`${probability} is no probability`);
    if (!(Number.isInteger(units) && units >= 1)) throw new RangeError(`${units} is no number of units`);
    if (probability > NEVER) most += units;
  }
  const chances = new Float64Array(most + 1);
  chances[0] = 1;
  let top = 0;
  for (const { probability, units } of needs) {
    if (probability <= NEVER) continue;
    top = addNeed(chances, top, { probability, units });
  }
  return chances;
}

/** Chances that are dropped from a distribution's end: those of a thousand axles together are none. */
const NEGLIGIBLE = 1e-18;

/**
 * Adds one more need to a distribution in place. What is beyond any chance at its end is dropped, so that a thousand needs
 * of which ten come cost as much as ten.
 *
 * @param top most units of the distribution so far
 * @returns most units of it now
 */
export function addNeed(chances: Float64Array, top: number, { probability, units }: Need): number {
  let most = top + units;
  for (let k = most; k >= units; k -= 1)
    chances[k] = valueAt(chances, k) * (1 - probability) + valueAt(chances, k - units) * probability;
  for (let k = units - 1; k >= 0; k -= 1) chances[k] = valueAt(chances, k) * (1 - probability);
  for (; most > 0 && valueAt(chances, most) < NEGLIGIBLE; most -= 1) chances[most] = 0;
  return most;
}

/**
 * The same for a part that only some jobs take: each need is thinned by a chance of use that all of them share and nobody
 * knows exactly, so demand is averaged over it; its spread is wider than if the chance were known.
 */
export function thinnedDistribution(needs: readonly Need[], chance: Chance): Float64Array {
  return averaged(needs, chancePoints(chance));
}

/** Equally likely values of an uncertain chance. */
export function chancePoints({ a, b }: Chance): number[] {
  return Array.from({ length: POINTS }, (_, i) => betaQuantile((i + 0.5) / POINTS, a, b));
}

/** Demand averaged over equally likely chances of use. */
export function averaged(needs: readonly Need[], points: readonly number[]): Float64Array {
  const all = points.map((use) =>
    demandDistribution(needs.map(({ probability, units }) => ({ probability: probability * use, units }))),
  );
  const mean = new Float64Array(Math.max(1, ...all.map(({ length }) => length)));
  for (const one of all) one.forEach((chance, k) => (mean[k] = valueAt(mean, k) + chance / all.length));
  return mean;
}

/** Mean of a distribution over 0, 1, 2 … */
export function meanUnits(distribution: Float64Array): number {
  return distribution.reduce((sum, chance, k) => sum + k * chance, 0);
}

/** The least number that suffices with this chance. */
export function unitsFor(distribution: Float64Array, chance: number): number {
  let sum = 0;
  for (let k = 0; k < distribution.length; k += 1) {
    sum += valueAt(distribution, k);
    // Sums of many small terms end a hair under one.
    if (sum >= chance - 1e-9) return k;
  }
  return distribution.length - 1;
}

/** Units expected to be missing where so many are there: E[(demand − there)⁺]. */
export function expectedShort(distribution: Float64Array, there: number): number {
  return distribution.reduce((sum, chance, k) => sum + Math.max(0, k - there) * chance, 0);
}

/** Quantiles of the day on which something comes up, days from today, rising. */
export interface DayQuantile {
  p: number;
  day: number;
}

/** Days from one look at an axle to the next, where nobody says otherwise (common practice, no source). */
const LOOK_EVERY_DAYS = 60;

/**
 * When the work on an axle is done: at its mark, which stays where it is until somebody looks. Looks come at random, so
 * many days apart in the mean, and each is taken to tell as much as is known already: after n of them the spread of what
 * is believed is 1/√(n + 1) of today's, so that the median has moved by √(n/(n + 1)) of it and the margin before the
 * median has shrunk to 1/√(n + 1). A booked day is that day. What is overdue is needed today.
 * (Our model: no source; `simulate/stockTrial.ts` holds it against years of orders.)
 *
 * @returns the chance that it is done by a day, days from today
 */
export function workedBy(
  when: { day: number; booked: boolean },
  passage: readonly DayQuantile[],
  lookEveryDays = LOOK_EVERY_DAYS,
): (day: number) => number {
  const mark = Math.max(0, when.day);
  const stays = (day: number) => (day >= mark ? 1 : 0);
  if (when.booked || passage.length < 2) return stays;
  const knots = [...passage].sort((a, b) => a.p - b.p);
  const median = interpolate(
    0.5,
    knots.map(({ p, day }) => [p, day]),
  );
  const looks = Math.max(1, mark / lookEveryDays);
  const left = 1 / Math.sqrt(looks + 1);
  const settled = Math.sqrt(looks / (looks + 1));
  const centre = median - (median - when.day) * left;
  const spread = withTails(knots.map(({ p, day }) => [centre + (day - median) * settled, p]));
  // A mark that comes nearer than it stood was looked at before that day.
  const lookedBy = (day: number) => 1 - Math.exp(-Math.min(day, mark) / lookEveryDays);
  return (day) => {
    if (day < 0) return 0;
    const moved = Math.min(1, Math.max(0, interpolate(day, spread)));
    return (1 - lookedBy(mark)) * stays(day) + lookedBy(day) * moved;
  };
}

/** Tails as far again as the outermost two quantiles lie apart for their share. */
function withTails(knots: [number, number][]): [number, number][] {
  const [first, second] = knots as [[number, number], [number, number]];
  const [last, before] = [...knots].reverse() as [[number, number], [number, number]];
  const slope = (a: [number, number], b: [number, number]) =>
    Math.max(0.5, Math.abs(b[0] - a[0])) / Math.max(1e-9, Math.abs(b[1] - a[1]));
  return [
    [first[0] - slope(first, second) * first[1], 0],
    ...knots,
    [last[0] + slope(before, last) * (1 - last[1]), 1],
  ];
}

function interpolate(x: number, knots: readonly (readonly [number, number])[]): number {
  const [first] = knots;
  const last = knots.at(-1);
  if (!first || !last) return 0;
  if (x < first[0]) return first[1];
  for (let i = 1; i < knots.length; i += 1) {
    const [[x0, y0], [x1, y1]] = [knots[i - 1], knots[i]] as [[number, number], [number, number]];
    if (x < x1) return y0 + ((y1 - y0) * (x - x0)) / Math.max(1e-9, x1 - x0);
  }
  return last[1];
}
