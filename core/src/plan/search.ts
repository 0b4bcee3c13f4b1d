import { itemAt, valueAt } from '../numeric/index.ts';
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

/** A visit with all that it costs as the shop is loaded. */
interface Found {
  visit: Visit;
  cost: number;
}

/** A depot with everything worked out that its plans are made of. */
export class DepotShop {
  readonly problem: PlanProblem;
  readonly depot: PlanDepot;
  readonly vehicles: VehicleCosts[];
  private readonly byDay: Map<number, CostsByDay>[];
  private readonly cheapest: Map<number, Uint16Array>[];

  constructor(problem: PlanProblem, depot: PlanDepot) {
    this.problem = problem;
    this.depot = depot;
    this.vehicles = vehicleCosts(problem, depot);
    this.byDay = this.vehicles.map(() => new Map<number, CostsByDay>());
    this.cheapest = this.vehicles.map(() => new Map<number, Uint16Array>());
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

  /** The days a set of axles may begin on, the cheapest by itself first. */
  private daysByCost(vehicle: number, set: number): Uint16Array {
    const kept = itemAt(this.cheapest, vehicle);
    const there = kept.get(set);
    if (there) return there;
    const costs = this.costsByDay(vehicle, set);
    const days = this.problem.days.map((_day, day) => day).filter((day) => valueAt(costs, day) < Infinity);
    const made = Uint16Array.from(days.sort((a, b) => valueAt(costs, a) - valueAt(costs, b) || a - b));
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

  /**
   * The best day of a set as the shop is loaded; undefined where it has none better than not being done at all.
   *
   * @param skip a day that is passed over this time: how the search leaves what looks best at first
   */
  best(vehicle: number, set: number, load: ShopLoad, skip?: () => boolean): Found | undefined {
    const costs = itemAt(this.vehicles, vehicle);
    const byDay = this.costsByDay(vehicle, set);
    const outside = this.outsideCost(vehicle, set);
    // What is locked is done, whatever it costs.
    let least = set & costs.locked ? Infinity : neverCost(costs, set);
    let found: Found | undefined;
    const order = this.daysByCost(vehicle, set);
    for (const day of order) {
      const cost = valueAt(byDay, day);
      // Hours only add to what a day costs by itself: none of those that follow is better.
      if (cost >= least) break;
      // What is locked has this day and no other.
      if ((set & costs.locked) === 0 && skip?.() === true) continue;
      const own = cost + load.costOf(costs, { set, day, outside: false });
      if (own < least) {
        least = own;
        found = { visit: { vehicle, set, day, outside: false, cost }, cost: own };
      }
      if (cost + outside < least && load.costOf(costs, { set, day, outside: true }) < Infinity) {
        least = cost + outside;
        found = { visit: { vehicle, set, day, outside: true, cost: cost + outside }, cost: least };
      }
    }
    return found;
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
    return visits.reduce((sum, own, vehicle) => sum + this.ownCost(vehicle, own), load.overtimeCost());
  }

  /** What a plan costs, its days' load worked out anew. */
  planCost(visits: readonly Visit[][]): number {
    const load = this.load();
    visits.forEach((own, vehicle) => {
      for (const visit of own) load.put(itemAt(this.vehicles, vehicle), visit, 1);
    });
    return this.costOf(visits, load);
  }

  /** Whether a vehicle's lock is among its visits, where it has one that can be kept. */
  keepsLock(vehicle: number, visits: readonly Visit[]): boolean {
    const { locked } = itemAt(this.vehicles, vehicle);
    if (locked === 0 || visits.some(({ set }) => (set & locked) === locked)) return true;
    return this.daysByCost(vehicle, locked).length === 0;
  }

  /** What a vehicle's visits cost by themselves, with what is not placed of it. */
  ownCost(vehicle: number, visits: readonly Visit[]): number {
    const costs = itemAt(this.vehicles, vehicle);
    const placed = visits.reduce((bits, visit) => bits | visit.set, 0);
    return visits.reduce((sum, { cost }) => sum + cost, neverCost(costs, (costs.sets.length - 1) & ~placed));
  }

  /**
   * The best visits of a vehicle as the shop is loaded: each set of its axles at its own best, and the split of all axles
   * into such sets that costs least.
   */
  insert(vehicle: number, load: ShopLoad, skip?: () => boolean): Visit[] {
    const costs = itemAt(this.vehicles, vehicle);
    const full = costs.sets.length - 1;
    const options: (Visit | undefined)[] = [];
    const alone = new Float64Array(full + 1);
    for (let set = 1; set <= full; set += 1) {
      const found = this.best(vehicle, set, load, skip);
      options[set] = found?.visit;
      alone[set] = found ? found.cost : set & costs.locked ? Infinity : neverCost(costs, set);
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
        const own = load.costOf(costs, visit) < Infinity ? visit : this.best(vehicle, part, load)?.visit;
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
