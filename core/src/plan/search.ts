import { itemAt, type Random, seededRandom, valueAt } from '../numeric/index.ts';
import type { PlanDepot, PlannedVisit, PlanProblem } from './model.ts';
import { ShopLoad } from './shopLoad.ts';
import { mayBegin, neverCost, vehicleCosts, visitCost, type VehicleCosts, type Visit } from './visits.ts';

/** Where a set of axles may go, and what it costs there by itself: Infinity where it may not. */
type CostsByDay = Float64Array;

/** A depot's part of a plan: the visits of each vehicle, and what the whole costs. */
export interface DepotPlan {
  visits: Visit[][];
  cost: number;
}

/** A depot with everything worked out that its plans are made of. */
export class DepotShop {
  readonly problem: PlanProblem;
  readonly depot: PlanDepot;
  readonly vehicles: VehicleCosts[];
  private readonly byDay: Map<number, CostsByDay>[];

  constructor(problem: PlanProblem, depot: PlanDepot) {
    this.problem = problem;
    this.depot = depot;
    this.vehicles = vehicleCosts(problem, depot);
    this.byDay = this.vehicles.map(() => new Map<number, CostsByDay>());
  }

  load(): ShopLoad {
    return new ShopLoad(this.problem, this.depot, this.vehicles);
  }

  /** What a set of axles costs by the day it begins on, in the depot's own bays. */
  costsByDay(vehicle: number, set: number): CostsByDay {
    const kept = itemAt(this.byDay, vehicle);
    const there = kept.get(set);
    if (there) return there;
    const costs = itemAt(this.vehicles, vehicle);
    const made = Float64Array.from(this.problem.days, (_day, day) =>
      mayBegin(costs, set, day, this.problem) ? visitCost(costs, set, day, false, this.problem) : Infinity,
    );
    kept.set(set, made);
    return made;
  }

  /** What an outside shop asks for a set of axles; Infinity where there is none. */
  outsideCost(vehicle: number, set: number): number {
    const { outside } = this.problem.prices;
    return outside
      ? outside.fixed + outside.perHour * itemAt(itemAt(this.vehicles, vehicle).sets, set).hours
      : Infinity;
  }

  /** The best day of a set as the shop is loaded; undefined where it has none better than not being done at all. */
  best(vehicle: number, set: number, load: ShopLoad): Visit | undefined {
    const costs = itemAt(this.vehicles, vehicle);
    const byDay = this.costsByDay(vehicle, set);
    const outside = this.outsideCost(vehicle, set);
    // What is locked is done, whatever it costs.
    let least = set & costs.locked ? Infinity : neverCost(costs, set);
    let best: Visit | undefined;
    for (let day = 0; day < byDay.length; day += 1) {
      const cost = valueAt(byDay, day);
      if (cost >= least) continue;
      const own = cost + load.costOf(costs, { set, day, outside: false });
      if (own < least) {
        least = own;
        best = { vehicle, set, day, outside: false, cost };
      }
      if (cost + outside < least && load.costOf(costs, { set, day, outside: true }) < Infinity) {
        least = cost + outside;
        best = { vehicle, set, day, outside: true, cost: cost + outside };
      }
    }
    return best;
  }

  /** Visits as they are told, in the shop's own terms; what it does not know is left out. */
  planOf(told: readonly PlannedVisit[]): DepotPlan {
    const load = this.load();
    const visits: Visit[][] = this.vehicles.map(() => []);
    for (const { vehicle: id, axles, day, outside } of told) {
      const vehicle = this.vehicles.findIndex((one) => one.vehicle.id === id);
      const costs = this.vehicles[vehicle];
      if (!costs) continue;
      const set = costs.vehicle.axles.reduce((bits, { axle }, i) => bits | (axles.includes(axle) ? 1 << i : 0), 0);
      const cost = visitCost(costs, set, day, outside, this.problem);
      visits[vehicle]?.push({ vehicle, set, day, outside, cost });
      load.put(costs, { set, day, outside }, 1);
    }
    return { visits, cost: this.costOf(visits, load) };
  }

  /** What a plan costs: its visits, what is not placed, and overtime. */
  costOf(visits: readonly Visit[][], load: ShopLoad): number {
    let cost = load.overtimeCost();
    visits.forEach((own, vehicle) => {
      const costs = itemAt(this.vehicles, vehicle);
      const placed = own.reduce((bits, visit) => bits | visit.set, 0);
      cost += neverCost(costs, (costs.sets.length - 1) & ~placed);
      for (const visit of own) cost += visit.cost;
    });
    return cost;
  }

  /**
   * The best visits of a vehicle as the shop is loaded: each set of its axles at its own best, and the split of all axles
   * into such sets that costs least.
   */
  insert(vehicle: number, load: ShopLoad): Visit[] {
    const costs = itemAt(this.vehicles, vehicle);
    const full = costs.sets.length - 1;
    const options: (Visit | undefined)[] = [];
    const alone = new Float64Array(full + 1);
    for (let set = 1; set <= full; set += 1) {
      options[set] = this.best(vehicle, set, load);
      const visit = options[set];
      alone[set] = visit
        ? visit.cost + load.costOf(costs, visit)
        : set & costs.locked
          ? Infinity
          : neverCost(costs, set);
    }
    const least = new Float64Array(full + 1).fill(Infinity);
    const cut = new Int32Array(full + 1);
    least[0] = 0;
    for (let set = 1; set <= full; set += 1) {
      const lowest = set & -set;
      for (let part = set; part > 0; part = (part - 1) & set) {
        if (!(part & lowest)) continue;
        const cost = valueAt(alone, part) + valueAt(least, set & ~part);
        if (cost < valueAt(least, set)) {
          least[set] = cost;
          cut[set] = part;
        }
      }
    }
    const visits: Visit[] = [];
    for (let set = full; set > 0;) {
      const part = cut[set] ?? 0;
      if (part === 0) break;
      const visit = options[part];
      if (visit) {
        // Two parts were each tried alone: where together they have no room, the second is looked for again.
        const own = load.costOf(costs, visit) < Infinity ? visit : this.best(vehicle, part, load);
        if (own) {
          load.put(costs, own, 1);
          visits.push(own);
        }
      }
      set &= ~part;
    }
    return visits;
  }
}

/** How long a search goes on. */
export interface SearchUntil {
  /** Rounds of taking out and putting back. */
  rounds: number;
  seed: number;
  /** Asked now and then; true ends the search with what it has. */
  stop?: (() => boolean) | undefined;
}

/** How many vehicles are taken out at a time. */
const [FEWEST, MOST] = [2, 7];
/** Worse plans are gone on with at first, up to this share of the cost with a chance of 1/e. */
const WARM = 0.002;
const ASK_EVERY = 32;

/**
 * Takes out the visits of a few vehicles near one day and puts them back at their best, again and again; a plan that is a
 * little worse is gone on with, less and less (ruin and recreate by annealing: G. Schrimpf and others, Record breaking
 * optimization results using the ruin and recreate principle, Journal of Computational Physics 159 (2000), from memory).
 */
export function improve(shop: DepotShop, from: DepotPlan, { rounds, seed, stop }: SearchUntil): DepotPlan {
  const random = seededRandom(seed);
  const load = shop.load();
  const now = from.visits.map((own) => [...own]);
  now.forEach((own, vehicle) => {
    for (const visit of own) load.put(itemAt(shop.vehicles, vehicle), visit, 1);
  });
  let cost = shop.costOf(now, load);
  let best: DepotPlan = { visits: now.map((own) => [...own]), cost };
  if (shop.vehicles.length === 0) return best;
  for (let round = 0; round < rounds; round += 1) {
    if (round % ASK_EVERY === 0 && stop?.()) break;
    const out = ruined(now, shop.problem.days.length, random);
    const before = out.map((vehicle) => itemAt(now, vehicle));
    out.forEach((vehicle) => takeOut(shop, load, now, vehicle));
    for (const vehicle of out) now[vehicle] = shop.insert(vehicle, load);
    const next = shop.costOf(now, load);
    const warmth = WARM * best.cost * (1 - round / rounds);
    if (next <= cost || random() < Math.exp(-(next - cost) / Math.max(1e-9, warmth))) {
      cost = next;
      if (cost < best.cost - 1e-9) best = { visits: now.map((own) => [...own]), cost };
      continue;
    }
    out.forEach((vehicle) => takeOut(shop, load, now, vehicle));
    out.forEach((vehicle, i) => {
      const own = itemAt(before, i);
      now[vehicle] = own;
      for (const visit of own) load.put(itemAt(shop.vehicles, vehicle), visit, 1);
    });
  }
  return best;
}

function takeOut(shop: DepotShop, load: ShopLoad, now: Visit[][], vehicle: number): void {
  for (const visit of itemAt(now, vehicle)) load.put(itemAt(shop.vehicles, vehicle), visit, -1);
  now[vehicle] = [];
}

/** A few vehicles whose visits lie near one day, in an order drawn anew; some that have none are among them. */
function ruined(now: readonly (readonly Visit[])[], days: number, random: Random): number[] {
  const count = Math.min(now.length, FEWEST + Math.floor(random() * (MOST - FEWEST + 1)));
  const seed = Math.floor(random() * now.length);
  const dayOf = (vehicle: number) => now[vehicle]?.[0]?.day;
  const centre = dayOf(seed) ?? Math.floor(random() * days);
  const near = now
    .map((_own, vehicle) => ({
      vehicle,
      away: Math.abs((dayOf(vehicle) ?? centre + 20 * random()) - centre) + 3 * random(),
    }))
    .sort((a, b) => a.away - b.away)
    .slice(0, count)
    .map(({ vehicle }) => vehicle);
  for (let i = near.length - 1; i > 0; i -= 1) {
    const k = Math.floor(random() * (i + 1));
    [near[i], near[k]] = [itemAt(near, k), itemAt(near, i)];
  }
  return near;
}

/** Every vehicle put in by itself, in the order of its first mark: where the search begins. */
export function firstPlan(shop: DepotShop): DepotPlan {
  const load = shop.load();
  const visits: Visit[][] = shop.vehicles.map(() => []);
  const dueOf = ({ vehicle }: VehicleCosts) => Math.min(...vehicle.axles.map(({ latest }) => latest));
  const order = shop.vehicles
    .map((costs, vehicle) => ({ vehicle, due: dueOf(costs), locked: costs.locked !== 0 }))
    .sort((a, b) => Number(b.locked) - Number(a.locked) || a.due - b.due);
  for (const { vehicle } of order) visits[vehicle] = shop.insert(vehicle, load);
  return { visits, cost: shop.costOf(visits, load) };
}

/**
 * The published plan as far as it still holds, with everything else put in beside it; undefined where nothing is published.
 * Vehicles stay together as they were published; what has no room any more on its day is placed anew.
 */
export function publishedPlan(shop: DepotShop): DepotPlan | undefined {
  if (shop.vehicles.every(({ vehicle }) => vehicle.published.size === 0)) return undefined;
  const load = shop.load();
  const visits: Visit[][] = shop.vehicles.map(() => []);
  const left: number[] = [];
  shop.vehicles.forEach((costs, v) => {
    const sets = publishedSets(costs);
    const whole = sets.every(
      ({ set, day }) =>
        valueAt(shop.costsByDay(v, set), day) < Infinity && load.costOf(costs, { set, day, outside: false }) < Infinity,
    );
    const locked = costs.locked === 0 || sets.some(({ set }) => (set & costs.locked) === costs.locked);
    if (sets.length === 0 || !whole || !locked) {
      left.push(v);
      return;
    }
    for (const { set, day } of sets) {
      load.put(costs, { set, day, outside: false }, 1);
      visits[v]?.push({ vehicle: v, set, day, outside: false, cost: valueAt(shop.costsByDay(v, set), day) });
    }
  });
  for (const v of left) visits[v] = shop.insert(v, load);
  return { visits, cost: shop.costOf(visits, load) };
}

/** A vehicle's published visits: its axles by the day they are published on. */
function publishedSets({ vehicle }: VehicleCosts): { set: number; day: number }[] {
  const byDay = new Map<number, number>();
  vehicle.axles.forEach(({ axle }, i) => {
    const day = vehicle.published.get(axle);
    if (day !== undefined) byDay.set(day, (byDay.get(day) ?? 0) | (1 << i));
  });
  return [...byDay].map(([day, set]) => ({ set, day }));
}
