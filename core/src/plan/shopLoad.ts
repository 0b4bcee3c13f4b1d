import { itemAt, valueAt } from '../numeric/index.ts';
import { offRoadMost, type PlanDepot, type PlanProblem } from './model.ts';
import { inOwnBays, type VehicleCosts, type Visit } from './visits.ts';

/** A resource of a depot whose hours a day are bounded. */
interface Resource {
  there: Float64Array;
  /** Hours asked beyond those that are there; below nought while some are left. */
  over: Float64Array;
}

/** Vehicles of a class that may be off the road, and how many are. */
interface OffRoad {
  most: Float64Array;
  there: Float64Array;
}

type Place = Pick<Visit, 'set' | 'day' | 'outside'>;

/**
 * What a depot's days carry: hours by resource, the overtime that all of them share, vehicles off the road. A visit is tried
 * before it is put in, a hundred thousand times a second: overtime is kept by day and as a sum.
 */
export class ShopLoad {
  private readonly price: number;
  private readonly technician: Resource;
  private readonly certified: Resource;
  private readonly bays = new Map<string, Resource>();
  private readonly resources: Resource[];
  private readonly overtimeMost: Float64Array;
  private readonly overtime: Float64Array;
  private overtimeSum = 0;
  private readonly off = new Map<string, OffRoad>();

  /** @param vehicles of the depot; what is locked there is let in whatever it takes */
  constructor({ prices }: PlanProblem, depot: PlanDepot, vehicles: readonly VehicleCosts[]) {
    const resource = (there: readonly number[]): Resource => ({
      there: Float64Array.from(there),
      over: Float64Array.from(there, (hours) => -hours),
    });
    this.price = prices.overtimePerHour;
    this.technician = resource(depot.technicianHours);
    this.certified = resource(depot.certifiedHours);
    for (const [kind, hours] of Object.entries(depot.bayHours)) this.bays.set(kind, resource(hours));
    this.resources = [this.technician, this.certified, ...this.bays.values()];
    this.overtimeMost = Float64Array.from(depot.overtimeHours);
    const days = depot.technicianHours.length;
    this.overtime = new Float64Array(days);
    for (const name of Object.keys(depot.offRoad)) {
      const most = Float64Array.from({ length: days }, (_one, day) => offRoadMost(depot, name, day));
      this.off.set(name, { most, there: new Float64Array(days) });
    }
    this.letLocksIn(vehicles);
  }

  /** Bounds are as wide as what is locked needs: a lock is a promise, and a plan is found all the same. */
  private letLocksIn(vehicles: readonly VehicleCosts[]): void {
    const locks = vehicles.flatMap((costs) =>
      costs.locked && costs.vehicle.lock ? [{ costs, set: costs.locked, day: costs.vehicle.lock.day }] : [],
    );
    for (const { costs, set, day } of locks) this.put(costs, { set, day, outside: false }, 1);
    for (let day = 0; day < this.overtimeMost.length; day += 1) {
      this.overtimeMost[day] = Math.max(valueAt(this.overtimeMost, day), valueAt(this.overtime, day));
      for (const { most, there } of this.off.values()) most[day] = Math.max(valueAt(most, day), valueAt(there, day));
    }
    for (const { costs, set, day } of locks) this.put(costs, { set, day, outside: false }, -1);
  }

  /** Overtime that a day needs as it is loaded, hours. */
  overtimeAt(day: number): number {
    return valueAt(this.overtime, day);
  }

  /** Places that a class has left off the road on a working day. */
  placesLeft(name: string, day: number): number {
    const off = this.off.get(name);
    return off ? valueAt(off.most, day) - valueAt(off.there, day) : Infinity;
  }

  /** What the overtime costs that a visit adds; Infinity where the day has no room for it. */
  costOf(costs: VehicleCosts, { set, day: from, outside }: Place): number {
    if (!outside && !inOwnBays(costs, set, from)) return Infinity;
    const off = this.off.get(costs.vehicle.class);
    const bay = this.bays.get(costs.vehicle.bay);
    let more = 0;
    for (const use of itemAt(costs.sets, set).uses) {
      const day = from + use.day;
      if (off && valueAt(off.there, day) + 1 > valueAt(off.most, day)) return Infinity;
      if (outside) continue;
      const before = valueAt(this.overtime, day);
      const after = Math.max(
        before,
        valueAt(this.technician.over, day) + use.hours,
        valueAt(this.certified.over, day) + use.certifiedHours,
        bay ? valueAt(bay.over, day) + use.hours : 0,
      );
      if (after > valueAt(this.overtimeMost, day) + 1e-9) return Infinity;
      more += after - before;
    }
    return this.price * more;
  }

  /** Puts a visit in (1), or takes it out again (−1). */
  put(costs: VehicleCosts, { set, day: from, outside }: Place, sign: 1 | -1): void {
    const off = this.off.get(costs.vehicle.class);
    const bay = this.bays.get(costs.vehicle.bay);
    for (const use of itemAt(costs.sets, set).uses) {
      const day = from + use.day;
      if (off) off.there[day] = valueAt(off.there, day) + sign;
      if (outside) continue;
      const { technician, certified } = this;
      technician.over[day] = valueAt(technician.over, day) + sign * use.hours;
      certified.over[day] = valueAt(certified.over, day) + sign * use.certifiedHours;
      if (bay) bay.over[day] = valueAt(bay.over, day) + sign * use.hours;
      let needed = 0;
      for (const { over } of this.resources) needed = Math.max(needed, valueAt(over, day));
      // What sums of hours leave over is no overtime.
      if (needed < 1e-9) needed = 0;
      this.overtimeSum += needed - valueAt(this.overtime, day);
      this.overtime[day] = needed;
    }
  }

  /** Puts all visits of a vehicle in (1), or takes them out again (−1). */
  putAll(costs: VehicleCosts, places: readonly Place[], sign: 1 | -1): void {
    for (const place of places) this.put(costs, place, sign);
  }

  /** A place off the road that a vehicle elsewhere takes (1) or gives back (−1), where the class is bounded. */
  lend(name: string, day: number, sign: 1 | -1): void {
    const off = this.off.get(name);
    if (off) off.there[day] = valueAt(off.there, day) + sign;
  }

  /** What all overtime costs as it stands. */
  overtimeCost(): number {
    return this.price * this.overtimeSum;
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
