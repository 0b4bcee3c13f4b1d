import { demandDistribution, economicQuantity, reorderPoint, workedBy, type DayQuantile } from '../kits/index.ts';
import { normalQuantile, randomNormal, seededRandom, valueAt } from '../numeric/index.ts';

/** A depot whose axles all take the same part, for a year. */
export interface StockTrialOptions {
  axles: number;
  /** Mean life of a set, days; sets differ by a log-standard deviation of 0.3. */
  lifeDays: number;
  /** How wrong a look tells the life of a set, as a log-standard deviation. */
  errorSd: number;
  leadDays: number;
  service: number;
  days: number;
  seed: number;
}

export interface StockTrialResult {
  /** Lead times that began on a day of the year and whose demand the reorder point covered, share. */
  covered: number;
  /** What the distributions said that share would be; over the service level, as units are whole. */
  foretold: number;
  /** Demand met from the shelf, share. */
  filled: number;
  /** Units on the shelf, mean over the days. */
  meanStock: number;
  /** The same of a fixed least and most stock that meets as much demand; undefined where none up to 60 does. */
  fixed: { least: number; filled: number; meanStock: number } | undefined;
}

/** A set of pads: when it was fitted, how long it really lasts, and what the looks so far make of that. */
interface VirtualSet {
  fitted: number;
  logLife: number;
  /** Believed mean of the logarithm of its life, and the precision of that. */
  mean: number;
  precision: number;
}

/** An axle is looked at so many days apart, in the mean. */
const LOOK_EVERY = 60;
const LIFE_SPREAD = 0.3;
/** A mark is where the chance of being too late is that of the first. */
const SHARES = [0.05, 0.1, 0.25, 0.5, 0.75, 0.9, 0.95];
/** What an order costs as against a year of a unit on the shelf. */
const ORDER_TO_HOLDING = 1;

/**
 * A year of orders on forecasts against the truth: work is done on the day an axle's mark comes, marks move when it is
 * looked at, stock is ordered by what the forecasts say of the lead time. The virtual world shares nothing with the core's
 * model of wear; only the rules of ordering are the core's.
 */
export function tryStock(options: StockTrialOptions): StockTrialResult {
  const { demand, points, foretold } = lifeOf(options);
  const perYear = (demand.reduce((sum, one) => sum + one, 0) * 365) / options.days;
  const batch = Math.max(1, Math.round(economicQuantity(perYear, ORDER_TO_HOLDING, 1)));
  const { leadDays, days } = options;
  let covered = 0;
  for (let day = 0; day + leadDays < days; day += 1) {
    const wanted = demand.slice(day, day + leadDays + 1).reduce((sum, one) => sum + one, 0);
    if (wanted <= valueAt(points, day)) covered += 1;
  }
  const own = runShelf(demand, leadDays, (day, position) =>
    position < valueAt(points, day) ? Math.max(batch, valueAt(points, day) - position) : 0,
  );
  const fixed = Array.from({ length: 60 }, (_, least) => ({
    least,
    ...runShelf(demand, leadDays, (_day, position) => (position < least ? Math.max(batch, least - position) : 0)),
  })).find(({ filled }) => filled >= own.filled);
  return {
    covered: covered / Math.max(1, days - leadDays),
    foretold: foretold.reduce((sum, one) => sum + one, 0) / foretold.length,
    ...own,
    fixed,
  };
}

/** Demand day by day, and what the forecasts of each morning made of it. */
function lifeOf(options: StockTrialOptions) {
  const { leadDays, service, days } = options;
  const world = worldOf(options);
  const demand = new Float64Array(days);
  const points = new Float64Array(days);
  const foretold: number[] = [];
  for (let day = 0; day < days; day += 1) {
    const needs = world.sets.map((set) => {
      const passage = believed(set, day);
      const mark = (passage[0] as DayQuantile).day;
      return { probability: workedBy({ day: mark, booked: false }, passage, LOOK_EVERY)(leadDays), units: 1 };
    });
    const distribution = demandDistribution(needs);
    const point = reorderPoint(distribution, service);
    points[day] = point;
    foretold.push(distribution.slice(0, point + 1).reduce((sum, one) => sum + one, 0));
    demand[day] = world.workOn(day);
  }
  return { demand, points, foretold };
}

/**
 * Sets whose lives scatter about a mean that everybody knows; each look tells the life of a set with an error, and what is
 * believed of it is the posterior of that (normal of known variances, so that beliefs are right on average).
 */
function worldOf({ axles, lifeDays, errorSd, seed }: StockTrialOptions) {
  const random = seededRandom(seed);
  const prior = { mean: Math.log(lifeDays), precision: 1 / LIFE_SPREAD ** 2 };
  const fresh = (fitted: number): VirtualSet => ({
    fitted,
    logLife: prior.mean + LIFE_SPREAD * randomNormal(random),
    ...prior,
  });
  const look = (set: VirtualSet) => {
    const seen = set.logLife + errorSd * randomNormal(random);
    const added = 1 / errorSd ** 2;
    set.mean = (set.mean * set.precision + seen * added) / (set.precision + added);
    set.precision += added;
  };
  const sets = Array.from({ length: axles }, () => {
    const set = fresh(0);
    set.fitted = -Math.exp(set.logLife) * random();
    for (let seen = 0; seen < -set.fitted; seen += LOOK_EVERY) look(set);
    return set;
  });
  const workOn = (day: number): number => {
    let done = 0;
    sets.forEach((set, i) => {
      if (random() < 1 / LOOK_EVERY) look(set);
      if ((believed(set, day)[0] as DayQuantile).day > 0) return;
      done += 1;
      sets[i] = fresh(day);
    });
    return done;
  };
  return { sets, workOn };
}

/** When a set is believed to reach its limit, days from today. */
function believed({ fitted, mean, precision }: VirtualSet, day: number): DayQuantile[] {
  const sd = 1 / Math.sqrt(precision);
  return SHARES.map((p) => ({ p, day: fitted + Math.exp(mean + sd * normalQuantile(p)) - day }));
}

/** A shelf for the days: what is asked for is taken if it is there, or waits until it is. */
function runShelf(demand: Float64Array, leadDays: number, order: (day: number, position: number) => number) {
  let onHand = 0;
  let waiting = 0;
  let stock = 0;
  let asked = 0;
  let met = 0;
  const coming: { day: number; units: number }[] = [];
  // The first weeks fill the shelf; they are not counted.
  const settled = 4 * leadDays;
  demand.forEach((wanted, day) => {
    const arrived = coming.filter((one) => one.day === day).reduce((sum, { units }) => sum + units, 0);
    const owed = Math.min(waiting, arrived);
    waiting -= owed;
    onHand += arrived - owed;
    const open = coming.filter((one) => one.day > day).reduce((sum, { units }) => sum + units, 0);
    const units = order(day, onHand + open - waiting);
    if (units > 0) coming.push({ day: day + leadDays, units });
    const taken = Math.min(onHand, wanted);
    onHand -= taken;
    waiting += wanted - taken;
    if (day < settled) return;
    stock += onHand;
    asked += wanted;
    met += taken;
  });
  return { filled: asked === 0 ? 1 : met / asked, meanStock: stock / Math.max(1, demand.length - settled) };
}
