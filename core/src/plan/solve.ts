import { itemAt } from '../numeric/index.ts';
import { provePlan, type ExactUntil } from './exact.ts';
import type { PlannedVisit, PlanProblem } from './model.ts';
import { DepotShop, firstPlan, improve, type DepotPlan } from './search.ts';
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
const ROUNDS_EACH = 30;
const LEAST_ROUNDS = 400;
/** Of the time there is, so much for the search at most. */
const SEARCH_SHARE = 0.4;

const visitsOf = (shop: DepotShop, { visits }: DepotPlan): PlannedVisit[] =>
  visits.flat().map(({ vehicle, set, day, outside }) => {
    const costs = itemAt(shop.vehicles, vehicle);
    return { vehicle: costs.vehicle.id, axles: axlesOf(costs, set), day, outside };
  });

/**
 * Plans one depot: a first plan, the search, then the proof. There is a plan whenever it is stopped.
 *
 * @throws RangeError where the problem has no such depot
 */
export async function planDepot(problem: PlanProblem, depotId: string, until: SolveUntil): Promise<SolvedDepot> {
  const depot = problem.depots.find(({ id }) => id === depotId);
  if (!depot) throw new RangeError(`there is no depot ${depotId}`);
  const begun = until.now();
  const shop = new DepotShop(problem, depot);
  const searchEnds = begun + SEARCH_SHARE * until.seconds;
  const searched = improve(shop, firstPlan(shop), {
    rounds: Math.max(LEAST_ROUNDS, ROUNDS_EACH * shop.vehicles.length),
    seed: until.seed,
    stop: () => until.now() >= searchEnds || until.stop?.() === true,
  });
  const left = Math.max(0, begun + until.seconds - until.now());
  const { plan, bound } = await provePlan(shop, searched, { ...until, seconds: left });
  return {
    depot: depotId,
    visits: visitsOf(shop, plan),
    cost: plan.cost,
    bound,
    provedGap: plan.cost > 0 ? Math.max(0, plan.cost - bound) / plan.cost : 0,
    seconds: until.now() - begun,
  };
}

/**
 * What a careful person does without arithmetic: axles in the order of their last day, each booked on the latest day with
 * room before it, or on the first with room after it.
 *
 * @param grouped axles of a vehicle that are due within so many days of each other come at one visit, where a day has room
 */
export function earliestDueFirst(problem: PlanProblem, depotId: string, grouped: number | undefined): PlannedVisit[] {
  const depot = problem.depots.find(({ id }) => id === depotId);
  if (!depot) throw new RangeError(`there is no depot ${depotId}`);
  const shop = new DepotShop(problem, depot);
  const load = shop.load();
  const end = problem.days.at(-1) ?? 0;
  const groups = shop.vehicles.flatMap(({ vehicle }, v) => {
    const due = vehicle.axles
      .map(({ latest }, i) => ({ latest, bit: 1 << i }))
      .filter(({ latest }) => latest <= end)
      .sort((a, b) => a.latest - b.latest);
    const sets: { v: number; set: number; latest: number }[] = [];
    for (const { latest, bit } of due) {
      const last = sets.at(-1);
      if (last && grouped !== undefined && latest - last.latest <= grouped) last.set |= bit;
      else sets.push({ v, set: bit, latest });
    }
    return sets;
  });
  const visits: PlannedVisit[] = [];
  const book = (v: number, set: number, latest: number): boolean => {
    const costs = itemAt(shop.vehicles, v);
    const byDay = shop.costsByDay(v, set);
    const roomAt = (day: number) =>
      (byDay[day] ?? Infinity) < Infinity && load.costOf(costs, { set, day, outside: false }) < Infinity;
    const free = problem.days.flatMap((calendar, day) => (roomAt(day) ? [{ calendar, day }] : []));
    const found = free.findLast(({ calendar }) => calendar <= latest) ?? free[0];
    if (!found) return false;
    load.put(costs, { set, day: found.day, outside: false }, 1);
    visits.push({ vehicle: costs.vehicle.id, axles: axlesOf(costs, set), day: found.day, outside: false });
    return true;
  };
  for (const { v, set, latest } of groups.sort((a, b) => a.latest - b.latest)) {
    if (book(v, set, latest)) continue;
    for (let rest = set; rest > 0; rest &= rest - 1) book(v, rest & -rest, latest);
  }
  return visits;
}
