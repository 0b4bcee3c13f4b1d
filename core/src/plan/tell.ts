import { itemAt, valueAt } from '../numeric/index.ts';
import { passageOf } from './axleCosts.ts';
import { weighPlan, type Broken, type Weighed } from './evaluate.ts';
import type { PlanAxle, PlannedVisit, PlanProblem, PlanVehicle } from './model.ts';
import { DepotShop } from './search.ts';

/** What an axle gives away or risks on the day of its visit. */
interface AxleOnDay {
  axle: number;
  /** Expected days that its pads would still have lasted. */
  earlyDays: number;
  /** Chance that it is below its limit by then. */
  chance: number;
  /** Days past the last on which it may run; 0 before. */
  lateDays: number;
}

/** Why a visit is on its day. */
export interface VisitTold {
  axles: AxleOnDay[];
  /** What it costs by itself there, hours of the shop apart. */
  cost: number;
  /**
   * The working day on which it would cost least by itself, and what the planned day costs more; undefined where it is that
   * day. `shut`: even alone it has not the hours there.
   */
  better: { day: number; more: number; shut: boolean } | undefined;
}

/** Why each visit of a depot's plan is on its day, in the order of the visits. */
export function tellVisits(problem: PlanProblem, depotId: string, visits: readonly PlannedVisit[]): VisitTold[] {
  const shop = shopOf(problem, depotId);
  const empty = shop.load();
  return visits.map(({ vehicle: id, axles, day, outside }) => {
    const v = shop.vehicles.findIndex((one) => one.vehicle.id === id);
    const { vehicle } = itemAt(shop.vehicles, v);
    const set = vehicle.axles.reduce((bits, { axle }, i) => bits | (axles.includes(axle) ? 1 << i : 0), 0);
    const byDay = shop.costsByDay(v, set);
    const own = valueAt(byDay, day);
    const best = byDay.reduce((least, cost, at) => (cost < valueAt(byDay, least) ? at : least), day);
    const more = own - valueAt(byDay, best);
    return {
      axles: vehicle.axles
        .filter(({ axle }) => axles.includes(axle))
        .map((axle) => axleOn(axle, problem.days[day] ?? 0)),
      cost: own + (outside ? shop.outsideCost(v, set) : 0),
      better:
        best === day || !(more > 0)
          ? undefined
          : {
              day: best,
              more,
              shut: empty.costOf(itemAt(shop.vehicles, v), { set, day: best, outside: false }) >= more,
            },
    };
  });
}

function axleOn({ axle, passage, latest }: PlanAxle, day: number): AxleOnDay {
  const { by, left } = passageOf(passage);
  return { axle, earlyDays: left(day), chance: by(day), lateDays: Math.max(0, day - latest) };
}

const shopOf = (problem: PlanProblem, depotId: string): DepotShop => {
  const depot = problem.depots.find(({ id }) => id === depotId);
  if (!depot) throw new RangeError(`there is no depot ${depotId}`);
  return new DepotShop(problem, depot);
};

/** What keeps an axle out of a plan. */
export type Binding = 'kit' | 'away' | 'off the road' | 'bay' | 'hours' | 'dear';

export interface Unplaced {
  vehicle: string;
  axle: number;
  binds: Binding;
  /** Of a kit: the day on which it comes, days from today; Infinity where it does not. */
  day?: number | undefined;
}

/**
 * Axles that fall due within the plan and have no visit, each with what binds: its kit, the vehicle's absence, the cap of
 * vehicles off the road, a bay of its kind, hours (overtime and an outside shop included), or that doing it costs more than not.
 */
export function unplacedOf(problem: PlanProblem, depotId: string, visits: readonly PlannedVisit[]): Unplaced[] {
  const shop = shopOf(problem, depotId);
  const end = problem.days.at(-1) ?? 0;
  const placed = new Set(visits.flatMap(({ vehicle, axles }) => axles.map((axle) => `${vehicle}/${axle}`)));
  const load = shop.load();
  shop.planOf(visits).visits.forEach((own, v) => own.forEach((visit) => load.put(itemAt(shop.vehicles, v), visit, 1)));
  return shop.vehicles.flatMap((costs, v) =>
    costs.vehicle.axles.flatMap((axle, i): Unplaced[] => {
      if (placed.has(`${costs.vehicle.id}/${axle.axle}`) || axle.latest > end) return [];
      const set = 1 << i;
      const own = { vehicle: costs.vehicle.id, axle: axle.axle };
      if (axle.kitDay > end) return [{ ...own, binds: 'kit', day: axle.kitDay }];
      const byDay = shop.costsByDay(v, set);
      const days = problem.days.flatMap((_day, day) => (valueAt(byDay, day) < Infinity ? [day] : []));
      if (days.length === 0) return [{ ...own, binds: 'away' }];
      const onRoad = days.filter((day) => load.costOf(costs, { set, day, outside: true }) < Infinity);
      if (onRoad.length === 0) return [{ ...own, binds: 'off the road' }];
      const noBay = costs.depot.bayHours[costs.vehicle.bay] === undefined;
      if (shop.outsideCost(v, set) === Infinity && noBay) return [{ ...own, binds: 'bay' }];
      const room =
        shop.outsideCost(v, set) < Infinity ||
        onRoad.some((day) => load.costOf(costs, { set, day, outside: false }) < Infinity);
      return [{ ...own, binds: room ? 'dear' : 'hours' }];
    }),
  );
}

/** What one change of a plan costs and breaks. */
export interface Tried {
  before: Weighed;
  after: Weighed;
  /** What it breaks that was whole before. */
  breaks: Broken[];
}

/** Weighs a plan before and after a change. */
export function tryChange(
  problem: PlanProblem,
  before: readonly PlannedVisit[],
  after: readonly PlannedVisit[],
): Tried {
  const [had, has] = [weighPlan(problem, before), weighPlan(problem, after)];
  const keyOf = ({ code, vehicle, day }: Broken) => `${code}/${vehicle}/${day}`;
  const known = new Set(had.broken.map(keyOf));
  return { before: had, after: has, breaks: has.broken.filter((one) => !known.has(keyOf(one))) };
}

/** Why a visit no longer is on the day on which the published plan has it. */
export interface MovedTold {
  /** The published working day. */
  from: number;
  /** What staying would break. */
  breaks: Broken[];
  /** What staying would cost more (or, below nought, less); only a saving that pays for the move itself moves a visit. */
  staying: number;
}

/** Why a visit of a plan moved; undefined where the published plan has it on the same day, or not as it is. */
export function tellMove(
  problem: PlanProblem,
  visits: readonly PlannedVisit[],
  visit: PlannedVisit,
): MovedTold | undefined {
  const vehicle = problem.vehicles.find(({ id }) => id === visit.vehicle);
  const days = new Set(visit.axles.map((axle) => vehicle?.published.get(axle)));
  const [from] = days;
  if (days.size !== 1 || from === undefined || from === visit.day) return undefined;
  const { before, after, breaks } = tryChange(problem, visits, movedTo(visits, { ...visit, day: from }));
  return { from, breaks, staying: after.cost - before.cost };
}

/** The axles of a vehicle moved to another working day: out of the visits they were in, into the one of that day. */
export function movedTo(
  visits: readonly PlannedVisit[],
  { vehicle, axles, day, outside }: PlannedVisit,
): PlannedVisit[] {
  const rest = visits.flatMap((one) => {
    if (one.vehicle !== vehicle) return [one];
    const left = one.axles.filter((axle) => !axles.includes(axle));
    return left.length === 0 ? [] : [{ ...one, axles: left }];
  });
  const there = rest.find((one) => one.vehicle === vehicle && one.day === day && one.outside === outside);
  const joined = [...(there?.axles ?? []), ...axles].sort((a, b) => a - b);
  return [...rest.filter((one) => one !== there), { vehicle, axles: joined, day, outside }];
}

/** Hours that a visit takes, set-up included. @throws RangeError where the vehicle has no such axle */
export function hoursOf({ prices }: PlanProblem, vehicle: PlanVehicle, axles: readonly number[]): number {
  return axles.reduce((sum, axle) => {
    const own = vehicle.axles.find((one) => one.axle === axle);
    if (!own) throw new RangeError(`${vehicle.id} has no axle ${axle} in this plan`);
    return sum + own.hours;
  }, prices.setUpHours);
}
