import {
  needsTrip,
  offRoadMost,
  transferCost,
  type PlanDepot,
  type PlannedVisit,
  type PlanProblem,
  type PlanVehicle,
} from './model.ts';
import { passageOf } from './axleCosts.ts';

/** What a plan breaks that must hold. */
export interface Broken {
  code: 'unknown' | 'twice' | 'kit' | 'closed' | 'lock' | 'off the road' | 'hours' | 'beyond' | 'outside' | 'bay';
  vehicle: string;
  day: number;
}

/** A plan as it is weighed: what it costs and why, and what it breaks. */
export interface Weighed {
  cost: number;
  /** Shares of the cost, together its whole. */
  of: {
    lifeThrownAway: number;
    risk: number;
    outOfService: number;
    visits: number;
    overtime: number;
    outside: number;
    transfers: number;
    moves: number;
  };
  unplaced: { vehicle: string; axle: number }[];
  broken: Broken[];
}

const nothing = (): Weighed['of'] => ({
  lifeThrownAway: 0,
  risk: 0,
  outOfService: 0,
  visits: 0,
  overtime: 0,
  outside: 0,
  transfers: 0,
  moves: 0,
});

/** Shares of the cost of several plans together. */
export function sharesOf(plans: readonly Weighed[]): Weighed['of'] {
  const sum = nothing();
  for (const { of } of plans) for (const name of Object.keys(sum) as (keyof typeof sum)[]) sum[name] += of[name];
  return sum;
}

/**
 * Weighs a plan from the problem alone, axle by axle and day by day: nothing of the solver's own tables is used, so that
 * what it claims can be held against this.
 */
export function weighPlan(problem: PlanProblem, visits: readonly PlannedVisit[]): Weighed {
  const { days, hoursADay, prices, depots, vehicles } = problem;
  const of = nothing();
  const broken: Broken[] = [];
  const unplaced: Weighed['unplaced'] = [];
  const byId = new Map(vehicles.map((vehicle) => [vehicle.id, vehicle]));
  const last = days.length - 1;
  const load = new Map(depots.map((depot) => [depot.id, new DepotLoad(depot, days.length)]));
  const placed = new Map<string, Map<number, PlannedVisit>>();
  for (const visit of visits) {
    const vehicle = byId.get(visit.vehicle);
    const breaks = (code: Broken['code']) => broken.push({ code, vehicle: visit.vehicle, day: visit.day });
    const axles = visit.axles.flatMap((axle) => vehicle?.axles.find((one) => one.axle === axle) ?? []);
    if (!vehicle || axles.length !== visit.axles.length || axles.length === 0) {
      breaks('unknown');
      continue;
    }
    const own = placed.get(vehicle.id) ?? new Map<number, PlannedVisit>();
    placed.set(vehicle.id, own);
    for (const { axle } of axles) {
      if (own.has(axle)) breaks('twice');
      own.set(axle, visit);
    }
    const hours = axles.reduce((sum, axle) => sum + axle.hours, prices.setUpHours);
    const span = Math.max(1, Math.ceil(hours / hoursADay - 1e-9));
    if (visit.day < 0 || visit.day + span - 1 > last) breaks('beyond');
    const begins = days[visit.day] ?? 0;
    const isLock =
      vehicle.lock !== undefined &&
      vehicle.lock.day === visit.day &&
      vehicle.lock.axles.every((axle) => visit.axles.includes(axle));
    const onlyLock = isLock && visit.axles.length === vehicle.lock?.axles.length;
    if (!onlyLock && axles.some(({ kitDay }) => kitDay > begins)) breaks('kit');
    if (visit.axles.some((axle) => vehicle.lock?.axles.includes(axle)) && !isLock) breaks('lock');
    of.visits += (needsTrip(vehicle, visit.day) ? prices.visit : 0) + prices.downtimePerHour * span * hoursADay;
    of.transfers += transferCost(vehicle, prices);
    const depot = depots.find(({ id }) => id === vehicle.depot);
    if (!visit.outside && !isLock && depot?.bayHours[vehicle.bay] === undefined) breaks('bay');
    if (visit.outside) {
      if (prices.outside) of.outside += prices.outside.fixed + prices.outside.perHour * hours;
      else breaks('outside');
    }
    let [left, certified] = [hours, axles.reduce((sum, axle) => sum + axle.certifiedHours, 0)];
    for (let k = 0; k < span; k += 1) {
      const day = visit.day + k;
      if (vehicle.closed.has(day) && !isLock) breaks('closed');
      const now = Math.min(hoursADay, left);
      const certifiedNow = Math.min(now, certified);
      left -= now;
      certified -= certifiedNow;
      load.get(vehicle.depot)?.add(vehicle, day, visit.outside ? 0 : now, visit.outside ? 0 : certifiedNow);
    }
  }
  for (const vehicle of vehicles)
    for (const axle of vehicle.axles) {
      const visit = placed.get(vehicle.id)?.get(axle.axle);
      if (!visit) unplaced.push({ vehicle: vehicle.id, axle: axle.axle });
      const day = days[visit?.day ?? last] ?? 0;
      const passage = passageOf(axle.passage);
      if (visit) of.lifeThrownAway += axle.lifePerDay * passage.left(day);
      of.risk += axle.failure * passage.by(day);
      of.outOfService += prices.outOfServicePerDay * Math.max(0, day - Math.max(0, axle.latest));
      const before = vehicle.published.get(axle.axle);
      const stood = before === undefined ? undefined : (days[before] ?? 0);
      if (stood !== undefined && (!visit || day !== stood))
        of.moves +=
          (stood <= prices.move.nearDays ? prices.move.nearTimes : 1) *
          (prices.move.fixed + prices.move.perDay * Math.abs(day - stood));
    }
  for (const one of load.values()) {
    const { overtime, over } = one.needs();
    of.overtime += overtime * prices.overtimePerHour;
    broken.push(...over);
  }
  return { cost: Object.values(of).reduce((sum, share) => sum + share, 0), of, unplaced, broken };
}

/** Hours asked of a depot by day, and vehicles of each class that are off the road. */
class DepotLoad {
  private readonly depot: PlanDepot;
  private readonly technician: Float64Array;
  private readonly certified: Float64Array;
  private readonly bays = new Map<string, Float64Array>();
  private readonly off = new Map<string, Map<number, string[]>>();

  constructor(depot: PlanDepot, days: number) {
    this.depot = depot;
    this.technician = new Float64Array(days);
    this.certified = new Float64Array(days);
    for (const kind of Object.keys(depot.bayHours)) this.bays.set(kind, new Float64Array(days));
  }

  add(vehicle: PlanVehicle, day: number, hours: number, certifiedHours: number): void {
    const plus = (hoursOf: Float64Array | undefined, more: number) => {
      if (hoursOf && day < hoursOf.length) hoursOf[day] = (hoursOf[day] ?? 0) + more;
    };
    plus(this.technician, hours);
    plus(this.certified, certifiedHours);
    plus(this.bays.get(vehicle.bay), hours);
    const days = this.off.get(vehicle.class) ?? new Map<number, string[]>();
    this.off.set(vehicle.class, days);
    days.set(day, [...(days.get(day) ?? []), vehicle.id]);
  }

  /** Overtime that the days need, and what even that does not cover. */
  needs(): { overtime: number; over: Broken[] } {
    const over: Broken[] = [];
    let overtime = 0;
    const { depot } = this;
    this.technician.forEach((hours, day) => {
      const excess = Math.max(
        0,
        hours - (depot.technicianHours[day] ?? 0),
        (this.certified[day] ?? 0) - (depot.certifiedHours[day] ?? 0),
        ...[...this.bays].map(([kind, own]) => (own[day] ?? 0) - (depot.bayHours[kind]?.[day] ?? 0)),
      );
      overtime += excess;
      // Overtime lengthens the day of who is there.
      const nobody = (this.certified[day] ?? 0) > 1e-9 && !((depot.certifiedHours[day] ?? 0) > 0);
      if (nobody || excess > (depot.overtimeHours[day] ?? 0) + 1e-6) over.push({ code: 'hours', vehicle: '', day });
    });
    for (const [name, days] of this.off)
      for (const [day, units] of days)
        if (units.length > offRoadMost(depot, name, day))
          over.push({ code: 'off the road', vehicle: units.at(-1) ?? '', day });
    return { overtime, over };
  }
}
