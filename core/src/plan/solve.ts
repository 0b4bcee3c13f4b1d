import { itemAt } from '../numeric/index.ts';
import { provePlan, type ExactUntil } from './exact.ts';
import type { PlanAxle, PlannedVisit, PlanProblem } from './model.ts';
import { improve } from './anneal.ts';
import { DepotShop, firstPlan, publishedPlan, type DepotPlan } from './search.ts';
import { axlesOf } from './visits.ts';

/** A depot's plan, what it costs, and what was proved of it. */
export interface SolvedDepot {
  depot: string;
  visits: PlannedVisit[];
  cost: number;
  bound: number;
  /** (cost − bound) ÷ cost: no plan is cheaper by a larger share. */
  provedGap: number;
  seconds: number;
}

export interface SolveUntil extends ExactUntil {
  seed: number;
}

/** Rounds of the search by vehicle: so many that it is mostly within a per cent before anything is proved. */
const ROUNDS_EACH = 300;
const LEAST_ROUNDS = 400;
/** Of the time there is, so much for the search at most. */
export const SEARCH_SHARE = 0.25;

const visitsOf = (shop: DepotShop, { visits }: DepotPlan): PlannedVisit[] =>
  visits.flat().map(({ vehicle, set, day, outside }) => {
    const costs = itemAt(shop.vehicles, vehicle);
    return { vehicle: costs.vehicle.id, axles: axlesOf(costs, set), day, outside };
  });

/** Where the search begins: from the published plan where there is one, unless beginning anew is better already. */
function beginning(shop: DepotShop): DepotPlan {
  const anew = firstPlan(shop);
  const published = publishedPlan(shop);
  return published && published.cost <= anew.cost ? published : anew;
}

const depotOf = (problem: PlanProblem, id: string) => {
  const depot = problem.depots.find((one) => one.id === id);
  if (!depot) throw new RangeError(`there is no depot ${id}`);
  return depot;
};

const solvedOf = (shop: DepotShop, plan: DepotPlan, bound: number, seconds: number): SolvedDepot => ({
  depot: shop.depot.id,
  visits: visitsOf(shop, plan),
  cost: plan.cost,
  bound,
  provedGap: plan.cost > 0 ? Math.min(1, Math.max(0, plan.cost - bound) / plan.cost) : 0,
  seconds,
});

/** A depot's plan by search alone, mostly within a per cent or two of the best; nothing is proved of it (bound 0). */
export function searchDepot(problem: PlanProblem, depotId: string, until: SolveUntil): SolvedDepot {
  const begun = until.now();
  const shop = new DepotShop(problem, depotOf(problem, depotId));
  const plan = searched(shop, until, begun + until.seconds);
  return solvedOf(shop, plan, 0, until.now() - begun);
}

function searched(shop: DepotShop, until: SolveUntil, ends: number): DepotPlan {
  const begun = until.now();
  return improve(shop, beginning(shop), {
    rounds: Math.max(LEAST_ROUNDS, ROUNDS_EACH * shop.vehicles.length),
    seed: until.seed,
    spent: () => (until.stop?.() ? 1 : (until.now() - begun) / Math.max(1e-9, ends - begun)),
  });
}

/**
 * Proves how good a depot's plan is, and makes it better where it can be: by cuts and branching from the plan that is known.
 *
 * @param visits a plan that breaks nothing
 */
export async function proveDepot(
  problem: PlanProblem,
  depotId: string,
  visits: readonly PlannedVisit[],
  until: SolveUntil,
): Promise<SolvedDepot> {
  const begun = until.now();
  const shop = new DepotShop(problem, depotOf(problem, depotId));
  const { plan, bound } = await provePlan(shop, shop.planOf(visits), until);
  return solvedOf(shop, plan, bound, until.now() - begun);
}

/**
 * Plans one depot: a first plan, the search, then the proof. There is a plan whenever it is stopped.
 *
 * @throws RangeError where the problem has no such depot
 */
export async function planDepot(problem: PlanProblem, depotId: string, until: SolveUntil): Promise<SolvedDepot> {
  const begun = until.now();
  const shop = new DepotShop(problem, depotOf(problem, depotId));
  const known = searched(shop, until, begun + SEARCH_SHARE * until.seconds);
  const left = Math.max(0, begun + until.seconds - until.now());
  const { plan, bound } = await provePlan(shop, known, { ...until, seconds: left });
  return solvedOf(shop, plan, bound, until.now() - begun);
}

/** Axles that come in together, and the day by which or from which they are booked. */
interface Group {
  v: number;
  set: number;
  due: number;
}

/**
 * What a careful person does without arithmetic: axles in the order of their last day, each booked on the latest day with
 * room before it, or on the first with room after it.
 *
 * @param grouped axles of a vehicle that are due within so many days of each other come at one visit, where a day has room
 */
export function earliestDueFirst(problem: PlanProblem, depotId: string, grouped: number | undefined): PlannedVisit[] {
  return bookInOrder(problem, depotId, ({ latest }) => latest, grouped, 'before');
}

/**
 * What a shop does that changes pads every so many miles: each axle on the first day with room from its interval's end on.
 *
 * @param which of the intervals that its axles name
 */
export function everyInterval(problem: PlanProblem, depotId: string, which: number): PlannedVisit[] {
  return bookInOrder(problem, depotId, ({ intervalDays, latest }) => intervalDays?.[which] ?? latest, 0, 'from');
}

function bookInOrder(
  problem: PlanProblem,
  depotId: string,
  dueOf: (axle: PlanAxle) => number,
  grouped: number | undefined,
  side: 'before' | 'from',
): PlannedVisit[] {
  const shop = new DepotShop(problem, depotOf(problem, depotId));
  const load = shop.load();
  const end = problem.days.at(-1) ?? 0;
  const visits: PlannedVisit[] = [];
  const book = ({ v, set, due }: Group): boolean => {
    const costs = itemAt(shop.vehicles, v);
    const byDay = shop.costsByDay(v, set);
    const roomAt = (day: number) =>
      (byDay[day] ?? Infinity) < Infinity && load.costOf(costs, { set, day, outside: false }) < Infinity;
    const free = problem.days.flatMap((calendar, day) => (roomAt(day) ? [{ calendar, day }] : []));
    const before = free.findLast(({ calendar }) => calendar <= due);
    const after = free.find(({ calendar }) => calendar >= due);
    const found = side === 'before' ? (before ?? free[0]) : (after ?? before);
    if (!found) return false;
    load.put(costs, { set, day: found.day, outside: false }, 1);
    visits.push({ vehicle: costs.vehicle.id, axles: axlesOf(costs, set), day: found.day, outside: false });
    return true;
  };
  for (const group of groupsOf(shop, dueOf, grouped, end)) {
    if (book(group)) continue;
    for (let rest = group.set; rest > 0; rest &= rest - 1) book({ ...group, set: rest & -rest });
  }
  return visits;
}

/** Axles that fall due within the plan, those of a vehicle together that lie near each other; in the order of their days. */
function groupsOf(
  shop: DepotShop,
  dueOf: (axle: PlanAxle) => number,
  grouped: number | undefined,
  end: number,
): Group[] {
  const groups = shop.vehicles.flatMap(({ vehicle }, v) => {
    const own: Group[] = [];
    const due = vehicle.axles
      .map((axle, i) => ({ due: dueOf(axle), bit: 1 << i }))
      .filter((one) => one.due <= end)
      .sort((a, b) => a.due - b.due);
    for (const { due: day, bit } of due) {
      const last = own.at(-1);
      if (last && grouped !== undefined && day - last.due <= grouped) last.set |= bit;
      else own.push({ v, set: bit, due: day });
    }
    return own;
  });
  return groups.sort((a, b) => a.due - b.due);
}
