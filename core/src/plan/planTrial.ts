import { itemAt, seededRandom, type Random } from '../numeric/index.ts';
import type { PlanAxle, PlanDepot, PlanPrices, PlanProblem, PlanVehicle } from './model.ts';

/** A fleet to plan for, drawn by a seed. */
export interface PlanTrial {
  vehicles: number;
  depots: number;
  /** Hours asked for as a share of the technicians' hours. */
  load: number;
  /** How a technician's hours lie: a few every working day (as it is where nothing is said), or in whole shifts on some. */
  shifts?: 'every day' | 'whole days' | undefined;
  weeks: number;
  seed: number;
}

const CALENDAR_WEEK = 7;
const WORKDAYS = 5;
const HOURS_A_DAY = 8;
const SPREADS = [0.1, 0.15, 0.2, 0.3];
/** Quantiles of a normal, so that spreads are standard deviations: 5, 10, 25, 50, 75, 90, 95 %. */
const NORMAL: readonly [number, number][] = [
  [0.05, -1.645],
  [0.1, -1.282],
  [0.25, -0.674],
  [0.5, 0],
  [0.75, 0.674],
  [0.9, 1.282],
  [0.95, 1.645],
];

/** What a trial's shop weighs; invented. */
export const TRIAL_PRICES: PlanPrices = {
  visit: 90,
  setUpHours: 0.5,
  downtimePerHour: 18,
  overtimePerHour: 65,
  outside: { fixed: 350, perHour: 130 },
  outOfServicePerDay: 280,
  move: { fixed: 60, perDay: 3, nearDays: 10, nearTimes: 3 },
};

/**
 * A seeded fleet with its shops: axles that come due over the horizon and beyond with 10 to 30 % of spread, two kinds of
 * bays, technicians' and certified hours, kits that come later, days on which vehicles are away, caps off the road, and one
 * booking in twenty that is locked.
 */
export function planTrial({ vehicles, depots, load, weeks, seed, shifts = 'every day' }: PlanTrial): PlanProblem {
  const random = seededRandom(seed);
  const days = Array.from(
    { length: weeks * WORKDAYS },
    (_, i) => CALENDAR_WEEK * Math.floor(i / WORKDAYS) + (i % WORKDAYS) + 1,
  );
  const fleet = Array.from({ length: vehicles }, (_, i) => vehicleOf(i, `depot ${i % depots}`, days, random));
  const asked = (depot: string) =>
    fleet
      .filter((one) => one.depot === depot)
      .flatMap(({ axles }) => axles)
      .filter(({ latest }) => latest <= (days.at(-1) ?? 0))
      .reduce((sum, { hours }) => sum + hours, 0);
  const wanted = (depot: string) => asked(depot) / load;
  const ids = Array.from({ length: depots }, (_, i) => `depot ${i}`);
  // Shops that work in whole shifts are on brakes on as many weekdays as the least of them fills.
  const least = Math.min(...ids.map(wanted)) / HOURS_A_DAY / weeks;
  const weekdays = shifts === 'every day' ? WORKDAYS : Math.min(WORKDAYS, Math.max(1, Math.floor(least)));
  const open = days.flatMap((_day, i) => (((i % WORKDAYS) * weekdays) % WORKDAYS < weekdays ? [i] : []));
  return {
    days: open.map((i) => itemAt(days, i)),
    hoursADay: HOURS_A_DAY,
    depots: ids.map((id) =>
      shifts === 'every day' ? everyDay(id, wanted(id), days.length) : wholeDays(id, wanted(id), open.length),
    ),
    vehicles: fleet.map((vehicle) => onDays(vehicle, open)),
    prices: TRIAL_PRICES,
  };
}

/** A vehicle's working days as the shop counts its own; what is locked is locked on the next of them. */
function onDays(vehicle: PlanVehicle, open: readonly number[]): PlanVehicle {
  const day = vehicle.lock ? open.findIndex((one) => one >= (vehicle.lock?.day ?? 0)) : -1;
  return {
    ...vehicle,
    closed: new Set(open.flatMap((one, i) => (vehicle.closed.has(one) ? [i] : []))),
    lock: vehicle.lock && day >= 0 ? { ...vehicle.lock, day } : undefined,
  };
}

/**
 * Whole shifts on the days the shop works on brakes, spread evenly; a little under half of them by who is certified, and one
 * at least on each of those days.
 */
function wholeDays(id: string, wanted: number, days: number): PlanDepot {
  const shifts = Math.max(days, Math.round(wanted / HOURS_A_DAY));
  const spread = (count: number) =>
    Array.from({ length: days }, (_, day) => Math.floor(((day + 1) * count) / days) - Math.floor((day * count) / days));
  const all = spread(shifts);
  const bays = (share: number) => all.map((count) => HOURS_A_DAY * Math.max(1, Math.ceil(count * share)));
  return {
    id,
    bayHours: { light: bays(0.75), heavy: bays(0.6) },
    technicianHours: all.map((count) => HOURS_A_DAY * count),
    certifiedHours: spread(Math.max(1, Math.round(0.45 * shifts))).map((count) => HOURS_A_DAY * count),
    overtimeHours: all.map(() => 3),
    offRoad: { heavy: 3, van: 4 },
  };
}

/** A shop with so many hours over so many days, the same every working day, whatever a shift is. */
export function everyDay(id: string, wanted: number, days: number): PlanDepot {
  const hours = Math.max(4, wanted / days);
  const every = (value: number) => Array.from({ length: days }, () => value);
  return {
    id,
    bayHours: { light: every(Math.max(4, hours * 0.75)), heavy: every(Math.max(4, hours * 0.6)) },
    technicianHours: every(hours),
    certifiedHours: every(Math.max(2, hours * 0.45)),
    overtimeHours: every(3),
    offRoad: { heavy: 3, van: 4 },
  };
}

function vehicleOf(i: number, depot: string, days: readonly number[], random: Random): PlanVehicle {
  const kind = random() < 0.35 ? 'heavy' : random() < 0.5 ? 'van' : 'pickup';
  const count = kind === 'heavy' ? 3 : 2;
  const end = days.at(-1) ?? 0;
  const first = random() * end * 1.6;
  const axles = Array.from({ length: count }, (_, k) =>
    axleOf(k + 1, kind, first + (random() - 0.3) * 160, end, random),
  );
  const closed = new Set<number>();
  for (let block = 0; block < 2; block += 1) {
    const from = Math.floor(random() * days.length);
    for (let day = from; day < from + 1 + Math.floor(random() * 6); day += 1) closed.add(day);
  }
  const day = 3 + Math.floor(random() * (days.length - 10));
  const locked = random() < 0.05 ? { axles: [1], day } : undefined;
  return {
    id: `v${i}`,
    depot,
    class: kind,
    bay: kind === 'heavy' ? 'heavy' : 'light',
    axles,
    closed,
    lock: locked,
    published: new Map(),
  };
}

function axleOf(axle: number, kind: string, median: number, end: number, random: Random): PlanAxle {
  const spread = SPREADS[Math.floor(random() * SPREADS.length)] ?? 0.2;
  const sd = Math.max(4, spread * Math.max(30, median));
  const heavy = kind === 'heavy';
  const hours = (heavy ? 2.8 : 1.6) + random();
  return {
    axle,
    hours,
    certifiedHours: heavy ? hours * 0.6 : 0,
    passage: NORMAL.map(([p, z]) => ({ p, day: median + z * sd })),
    lifePerDay: (heavy ? 0.9 : 0.45) * (0.8 + 0.4 * random()),
    failure: heavy ? 1600 : 700,
    latest: median - 1.645 * sd + 14,
    kitDay: random() < 0.15 ? Math.floor(random() * 0.25 * end) : 0,
  };
}
