import { itemAt, valueAt } from '../numeric/index.ts';
import { axleCosts, type AxleCosts } from './axleCosts.ts';
import { needsTrip, transferCost, type PlanDepot, type PlanProblem, type PlanVehicle } from './model.ts';

/** What a visit takes of its depot on a working day, counted from the one it begins on. */
interface Use {
  day: number;
  hours: number;
  certifiedHours: number;
}

/** A vehicle with all that its visits cost, worked out once. */
export interface VehicleCosts {
  vehicle: PlanVehicle;
  depot: PlanDepot;
  axles: AxleCosts[];
  /** By set of axles (bits in the order of its axles): its hours, what it takes day by day, first working day with its kits. */
  sets: { hours: number; uses: Use[]; from: number }[];
  /** Bits of the axles that are locked; 0 where none is. */
  locked: number;
}

/** A visit that may be: a set of axles from a working day on. */
export interface Visit {
  vehicle: number;
  set: number;
  day: number;
  outside: boolean;
  cost: number;
}

/**
 * Whether the depot itself may do a set from a working day on: it has a bay of the vehicle's kind, and somebody certified on
 * each day that asks for one (overtime lengthens the day of who is there); or somebody locked it there.
 */
export function inOwnBays({ vehicle, depot, locked, sets }: VehicleCosts, set: number, day: number): boolean {
  if ((set & locked) !== 0) return true;
  if (depot.bayHours[vehicle.bay] === undefined) return false;
  for (const use of itemAt(sets, set).uses)
    if (use.certifiedHours > 0 && !((depot.certifiedHours[day + use.day] ?? 0) > 0)) return false;
  return true;
}

/** The axles of a set. */
export const axlesOf = ({ vehicle }: VehicleCosts, set: number): number[] =>
  vehicle.axles.filter((_one, i) => (set >> i) & 1).map(({ axle }) => axle);

/** Costs of all vehicles of a depot. */
export function vehicleCosts(problem: PlanProblem, depot: PlanDepot): VehicleCosts[] {
  const { days, prices } = problem;
  return problem.vehicles
    .filter((vehicle) => vehicle.depot === depot.id)
    .map((vehicle) => {
      const bitOf = (axle: number) => 1 << vehicle.axles.findIndex((one) => one.axle === axle);
      return {
        vehicle,
        depot,
        axles: vehicle.axles.map((axle) => axleCosts(axle, days, prices, vehicle.published.get(axle.axle))),
        locked: (vehicle.lock?.axles ?? []).reduce((bits, axle) => bits | bitOf(axle), 0),
        sets: Array.from({ length: 1 << vehicle.axles.length }, (_, set) => {
          const own = vehicle.axles.filter((_one, i) => (set >> i) & 1);
          // A lock waives no kit: neither its own axles' nor those of others that join the visit.
          const kits = Math.max(0, ...own.map(({ kitDay }) => kitDay));
          const first = days.findIndex((day) => day >= kits);
          const hours = own.reduce((sum, one) => sum + one.hours, prices.setUpHours);
          const certifiedHours = own.reduce((sum, one) => sum + one.certifiedHours, 0);
          return {
            hours,
            uses: usesOf(hours, certifiedHours, problem.hoursADay),
            from: first < 0 ? days.length : first,
          };
        }),
      };
    });
}

/** Working days that so many hours take. */
const spanOf = (hours: number, hoursADay: number): number => Math.max(1, Math.ceil(hours / hoursADay - 1e-9));

/** What so many hours take, day by day: the certified ones go with the first. */
function usesOf(hours: number, certifiedHours: number, hoursADay: number): Use[] {
  let [left, certified] = [hours, certifiedHours];
  return Array.from({ length: spanOf(hours, hoursADay) }, (_, day) => {
    const own = Math.min(hoursADay, left);
    const ownCertified = Math.min(own, certified);
    left -= own;
    certified -= ownCertified;
    return { day, hours: own, certifiedHours: ownCertified };
  });
}

/**
 * Whether a set of axles may begin on a working day: kits there, the vehicle not away, all of it within the plan, and a
 * lock kept (its axles together on its day, and only then).
 */
export function mayBegin(costs: VehicleCosts, set: number, day: number, problem: PlanProblem): boolean {
  const { vehicle, locked } = costs;
  const own = itemAt(costs.sets, set);
  const span = own.uses.length;
  if (day + span > problem.days.length) return false;
  const holds = (set & locked) !== 0;
  if (holds && ((set & locked) !== locked || day !== vehicle.lock?.day)) return false;
  // What was locked before its kit was known stays where it is; who joins it waits for theirs.
  if (day < own.from && set !== locked) return false;
  for (let k = 0; k < span; k += 1) if (vehicle.closed.has(day + k) && !holds) return false;
  return true;
}

/** What a visit costs by itself, apart from the hours that others want too. */
export function visitCost(
  costs: VehicleCosts,
  set: number,
  day: number,
  outside: boolean,
  problem: PlanProblem,
): number {
  const { prices, hoursADay } = problem;
  const { hours, uses } = itemAt(costs.sets, set);
  let cost = (needsTrip(costs.vehicle, day) ? prices.visit : 0) + prices.downtimePerHour * uses.length * hoursADay;
  cost += transferCost(costs.vehicle, prices);
  for (let i = 0; i < costs.axles.length; i += 1) if ((set >> i) & 1) cost += valueAt(itemAt(costs.axles, i).on, day);
  return cost + (outside && prices.outside ? prices.outside.fixed + prices.outside.perHour * hours : 0);
}

/** What it costs that the axles of a set are not placed. */
export function neverCost(costs: VehicleCosts, set: number): number {
  return costs.axles.reduce((sum, { never }, i) => sum + ((set >> i) & 1 ? never : 0), 0);
}
