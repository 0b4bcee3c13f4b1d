import type { DayQuantile } from '../kits/index.ts';

/** An axle that is to be done some day. */
export interface PlanAxle {
  axle: number;
  /** Hours of a technician; of them, hours only a certified one may do. */
  hours: number;
  certifiedHours: number;
  /** Quantiles of the day on which it passes its limit, days from today. */
  passage: readonly DayQuantile[];
  /** What a day of pad life thrown away costs. */
  lifePerDay: number;
  /** What it costs to be below the limit: rotor, fine, roadside. */
  failure: number;
  /** Last day on which it may still run, days from today; later each day, from today on, is a day out of service. */
  latest: number;
  /** First day on which its kit is there, days from today. */
  kitDay: number;
  /** Days on which it would be done at each of several fixed intervals, days from today; only the comparison reads them. */
  intervalDays?: readonly number[] | undefined;
}

/** A vehicle with the axles that are to be planned. */
export interface PlanVehicle {
  id: string;
  depot: string;
  class: string;
  /** Kind of bay that it needs. */
  bay: string;
  axles: readonly PlanAxle[];
  /** Working days (indices) on which it can't come. */
  closed: ReadonlySet<number>;
  /** Axles that stay on a working day, whatever comes. */
  lock?: { axles: readonly number[]; day: number } | undefined;
  /** Working days (first and last) on which the vehicle comes anyway, for other work: a visit then needs no trip of its own. */
  trips?: readonly { from: number; to: number }[] | undefined;
  /** Working day of each axle in the published plan. */
  published: ReadonlyMap<number, number>;
  /** Done at a depot that is not its own: what each visit costs for going there and back, and the hours on the road. */
  lent?: { from: string; cost: number; hours: number } | undefined;
}

/** A depot's shop, by working day. */
export interface PlanDepot {
  id: string;
  /** Hours of each kind of bay. */
  bayHours: Readonly<Record<string, readonly number[]>>;
  technicianHours: readonly number[];
  certifiedHours: readonly number[];
  /** The most that a day may be lengthened by, hours. */
  overtimeHours: readonly number[];
  /** How many of a class may be off the road at once; classes that are not named are not bounded. */
  offRoad: Readonly<Record<string, number>>;
  /** Places of those that its vehicles at other depots take, by working day. */
  lentOff?: Readonly<Record<string, readonly number[]>> | undefined;
}

/** What things cost, in one money. */
export interface PlanPrices {
  /** A visit's bringing, setting up and driving off. */
  visit: number;
  /** Hours that a visit takes once, whatever is done. */
  setUpHours: number;
  /** An hour of the vehicle off the road. */
  downtimePerHour: number;
  overtimePerHour: number;
  /** An outside shop, where there is one: it takes no hours of the depot. */
  outside: { fixed: number; perHour: number } | undefined;
  outOfServicePerDay: number;
  /** A booking that moves, fixed and by the day; so many times as much where it was due within so many days. */
  move: { fixed: number; perDay: number; nearDays: number; nearTimes: number };
}

export interface PlanProblem {
  /** Working days, as days from today, rising. */
  days: readonly number[];
  /** Hours that one vehicle can be worked on in a day. */
  hoursADay: number;
  depots: readonly PlanDepot[];
  vehicles: readonly PlanVehicle[];
  prices: PlanPrices;
}

/** A visit of a plan: a vehicle, some of its axles, the working day on which it begins. */
export interface PlannedVisit {
  vehicle: string;
  axles: readonly number[];
  day: number;
  outside: boolean;
}

/** What is wrong with a problem as it is stated, with the field that would have to change. */
export interface PlanFault {
  code: 'days' | 'depot' | 'lengths' | 'hours' | 'passage' | 'money' | 'lock' | 'axles';
  at: string;
}

/** A problem as it is kept: what JSON has no word for as lists. */
export type PackedProblem = Omit<PlanProblem, 'vehicles'> & {
  vehicles: (Omit<PlanVehicle, 'closed' | 'published'> & { closed: number[]; published: [number, number][] })[];
};

export const packProblem = (problem: PlanProblem): PackedProblem => ({
  ...problem,
  vehicles: problem.vehicles.map((one) => ({ ...one, closed: [...one.closed], published: [...one.published] })),
});

export const unpackProblem = (packed: PackedProblem): PlanProblem => ({
  ...packed,
  vehicles: packed.vehicles.map((one) => ({
    ...one,
    closed: new Set(one.closed),
    published: new Map(one.published),
  })),
});

/** How many of a class may be off the road on a working day, those apart that are lent. */
export const offRoadMost = ({ offRoad, lentOff }: PlanDepot, name: string, day: number): number =>
  Math.max(0, (offRoad[name] ?? Infinity) - (lentOff?.[name]?.[day] ?? 0));

/** What each visit of a vehicle that is lent costs beyond that of one that is not. */
export const transferCost = ({ lent }: PlanVehicle, { downtimePerHour }: PlanPrices): number =>
  lent ? lent.cost + downtimePerHour * lent.hours : 0;

/** Whether a vehicle that begins on a working day comes for nothing else: then the trip is the visit's own. */
export const needsTrip = ({ trips }: PlanVehicle, day: number): boolean =>
  trips?.some(({ from, to }) => day >= from && day <= to) !== true;

const MOST_AXLES = 6;

/**
 * Faults of a problem: days that do not rise, a vehicle of no depot, a calendar of another length, hours of nought, a lock of an axle that is not to be planned.
 */
export function planFaults({ days, hoursADay, depots, vehicles, prices }: PlanProblem): PlanFault[] {
  const faults: PlanFault[] = [];
  const found = (wrong: boolean, code: PlanFault['code'], at: string) => {
    if (wrong) faults.push({ code, at });
  };
  found(days.length === 0 || days.some((day, i) => i > 0 && !(day > (days[i - 1] ?? day))), 'days', 'days');
  found(!(hoursADay > 0), 'hours', 'hoursADay');
  const sums = [prices.visit, prices.downtimePerHour, prices.overtimePerHour, prices.outOfServicePerDay];
  found(sums.some((sum) => !(sum >= 0)) || !(prices.setUpHours >= 0), 'money', 'prices');
  const byId = new Map(depots.map((depot) => [depot.id, depot]));
  for (const depot of depots) {
    const calendars = [
      depot.technicianHours,
      depot.certifiedHours,
      depot.overtimeHours,
      ...Object.values(depot.bayHours),
      ...Object.values(depot.lentOff ?? {}),
    ];
    found(
      calendars.some((one) => one.length !== days.length || one.some((hours) => !(hours >= 0))),
      'lengths',
      depot.id,
    );
  }
  for (const vehicle of vehicles) {
    const depot = byId.get(vehicle.depot);
    found(!depot, 'depot', vehicle.id);
    const names = vehicle.axles.map(({ axle }) => axle);
    found(names.length === 0 || names.length > MOST_AXLES || new Set(names).size !== names.length, 'axles', vehicle.id);
    found(
      vehicle.axles.some(
        ({ hours, certifiedHours }) => !(hours > 0) || !(certifiedHours >= 0) || certifiedHours > hours,
      ),
      'hours',
      vehicle.id,
    );
    found(
      vehicle.axles.some(({ passage }) => passage.length === 0),
      'passage',
      vehicle.id,
    );
    found(
      vehicle.axles.some(({ lifePerDay, failure }) => !(lifePerDay >= 0) || !(failure >= 0)) ||
        !(transferCost(vehicle, prices) >= 0),
      'money',
      vehicle.id,
    );
    const { lock } = vehicle;
    found(
      lock !== undefined &&
        (!(lock.day >= 0 && lock.day < days.length) || !lock.axles.every((axle) => names.includes(axle))),
      'lock',
      vehicle.id,
    );
  }
  return faults;
}
