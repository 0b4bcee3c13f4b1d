import { itemAt, valueAt } from '../numeric/index.ts';
import type { PlanDepot, PlanProblem } from './model.ts';
import { usesOf, type VehicleCosts, type Visit } from './visits.ts';

/** A resource of a depot whose hours a day are bounded, with the overtime that all of them share. */
interface Resource {
  there: Float64Array;
  asked: Float64Array;
}

/** What a depot's days carry: hours by resource, overtime, vehicles off the road. A visit is tried before it is put in. */
export class ShopLoad {
  private readonly problem: PlanProblem;
  private readonly technician: Resource;
  private readonly certified: Resource;
  private readonly bays = new Map<string, Resource>();
  private readonly overtimeMost: Float64Array;
  private readonly off = new Map<string, { most: Float64Array; there: Float64Array }>();

  /** @param vehicles of the depot; what is locked there is let in whatever it takes */
  constructor(problem: PlanProblem, depot: PlanDepot, vehicles: readonly VehicleCosts[]) {
    const resource = (there: readonly number[]): Resource => ({
      there: Float64Array.from(there),
      asked: new Float64Array(there.length),
    });
    this.problem = problem;
    this.technician = resource(depot.technicianHours);
    this.certified = resource(depot.certifiedHours);
    for (const [kind, hours] of Object.entries(depot.bayHours)) this.bays.set(kind, resource(hours));
    this.overtimeMost = Float64Array.from(depot.overtimeHours);
    const days = depot.technicianHours.length;
    for (const [name, most] of Object.entries(depot.offRoad))
      this.off.set(name, { most: new Float64Array(days).fill(most), there: new Float64Array(days) });
    this.letLocksIn(vehicles);
  }

  /** Bounds are as wide as what is locked needs: a lock is a promise, and a plan is found all the same. */
  private letLocksIn(vehicles: readonly VehicleCosts[]): void {
    const locks = vehicles.flatMap((costs) =>
      costs.locked && costs.vehicle.lock ? [{ costs, set: costs.locked, day: costs.vehicle.lock.day }] : [],
    );
    for (const { costs, set, day } of locks) this.put(costs, { set, day, outside: false }, 1);
    for (let day = 0; day < this.overtimeMost.length; day += 1) {
      this.overtimeMost[day] = Math.max(valueAt(this.overtimeMost, day), this.overtimeAt(day));
      for (const { most, there } of this.off.values()) most[day] = Math.max(valueAt(most, day), valueAt(there, day));
    }
    for (const { costs, set, day } of locks) this.put(costs, { set, day, outside: false }, -1);
  }

  /** Overtime that a day needs as it is loaded. */
  overtimeAt(day: number): number {
    let most = 0;
    for (const { there, asked } of this.resources()) most = Math.max(most, valueAt(asked, day) - valueAt(there, day));
    return most;
  }

  private *resources(): Iterable<Resource> {
    yield this.technician;
    yield this.certified;
    yield* this.bays.values();
  }

  /** What the overtime costs that a visit adds; Infinity where the day has no room for it. */
  costOf(costs: VehicleCosts, visit: Pick<Visit, 'set' | 'day' | 'outside'>): number {
    const { overtimePerHour } = this.problem.prices;
    const off = this.off.get(costs.vehicle.class);
    const bay = this.bays.get(costs.vehicle.bay);
    let cost = 0;
    for (const { day, hours, certifiedHours } of usesOf(
      itemAt(costs.sets, visit.set),
      visit.day,
      this.problem.hoursADay,
    )) {
      if (off && valueAt(off.there, day) + 1 > valueAt(off.most, day)) return Infinity;
      if (visit.outside) continue;
      const before = this.overtimeAt(day);
      const excess = ({ there, asked }: Resource, more: number) => valueAt(asked, day) + more - valueAt(there, day);
      const after = Math.max(
        before,
        excess(this.technician, hours),
        excess(this.certified, certifiedHours),
        bay ? excess(bay, hours) : 0,
      );
      if (after > valueAt(this.overtimeMost, day) + 1e-9) return Infinity;
      cost += overtimePerHour * (after - before);
    }
    return cost;
  }

  /** Puts a visit in (1), or takes it out again (−1). */
  put(costs: VehicleCosts, visit: Pick<Visit, 'set' | 'day' | 'outside'>, sign: 1 | -1): void {
    const off = this.off.get(costs.vehicle.class);
    const plus = (array: Float64Array | undefined, day: number, more: number) => {
      if (array) array[day] = valueAt(array, day) + sign * more;
    };
    for (const { day, hours, certifiedHours } of usesOf(
      itemAt(costs.sets, visit.set),
      visit.day,
      this.problem.hoursADay,
    )) {
      plus(off?.there, day, 1);
      if (visit.outside) continue;
      plus(this.technician.asked, day, hours);
      plus(this.certified.asked, day, certifiedHours);
      plus(this.bays.get(costs.vehicle.bay)?.asked, day, hours);
    }
  }

  /** What all overtime costs as it stands. */
  overtimeCost(): number {
    let sum = 0;
    for (let day = 0; day < this.overtimeMost.length; day += 1) sum += this.overtimeAt(day);
    return sum * this.problem.prices.overtimePerHour;
  }

  /** The bounds, as the exact model takes them. */
  bounds() {
    return {
      technician: this.technician.there,
      certified: this.certified.there,
      bays: new Map([...this.bays].map(([kind, { there }]) => [kind, there])),
      overtime: this.overtimeMost,
      off: new Map([...this.off].map(([name, { most }]) => [name, most])),
    };
  }
}
