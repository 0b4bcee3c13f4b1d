import { dateOfDay, dayNumber } from '../units/index.ts';
import type { PlanDepot, PlannedVisit } from './model.ts';

/** How a depot's shop works by the week; days of a week begin with Monday. */
export interface ShopWeek {
  /** Hours it is open on each day of a week; 0 where it is shut. */
  open: readonly number[];
  bays: readonly { name: string; kind: string }[];
  people: readonly { id: string; certified: boolean; hours: readonly number[] }[];
  /** The most that a day may be lengthened by, hours. */
  overtimeHours: number;
  /** How many of a class may be off the road at once; classes that are not named are not bounded. */
  offRoad: Readonly<Record<string, number>>;
}

/** Somebody who is away, or a shop that is shut, from a date to another, both included. */
export interface Away {
  /** The person; undefined: the whole shop. */
  person?: string | undefined;
  from: string;
  to: string;
}

/** A depot's shop over a horizon: its working days, as dates and as days from today, and the hours of each. */
export interface ShopDays extends Omit<PlanDepot, 'id'> {
  dates: string[];
  days: number[];
}

const WEEK = 7;
/** Monday 0; the first day of the count was a Thursday. */
export const weekdayOf = (date: string): number => (((dayNumber(date) + 3) % WEEK) + WEEK) % WEEK;

/**
 * The working days of a shop: those on which it is open and somebody is there, with the hours of its technicians, of the
 * certified among them, and of each kind of bay (bays × hours open).
 *
 * @param from first date that may be a working day
 * @param today the day that the others are counted from
 * @param also dates that are kept though the shop is shut: something is booked there, and has no hours but what it takes itself
 */
export function shopDays(
  { open, bays, people, overtimeHours, offRoad }: ShopWeek,
  {
    from,
    today,
    weeks,
    away,
    also = new Set(),
  }: { from: string; today: string; weeks: number; away: readonly Away[]; also?: ReadonlySet<string> },
): ShopDays {
  const kinds = [...new Set(bays.map(({ kind }) => kind))];
  const found: ShopDays = {
    dates: [],
    days: [],
    technicianHours: [],
    certifiedHours: [],
    bayHours: {},
    overtimeHours: [],
    offRoad,
  };
  const bayHours = new Map(kinds.map((kind): [string, number[]] => [kind, []]));
  const technician: number[] = [];
  const certified: number[] = [];
  const overtime: number[] = [];
  for (let day = dayNumber(from); day < dayNumber(from) + weeks * WEEK; day += 1) {
    const date = dateOfDay(day);
    const weekday = weekdayOf(date);
    const gone = away.filter((one) => one.from <= date && date <= one.to);
    const hours = gone.some(({ person }) => person === undefined) ? 0 : (open[weekday] ?? 0);
    const there = people.filter(({ id }) => !gone.some(({ person }) => person === id));
    const hoursOf = (some: typeof there) =>
      some.reduce((sum, own) => sum + Math.min(hours, own.hours[weekday] ?? 0), 0);
    const all = hoursOf(there);
    const works = hours > 0 && all > 0;
    if (!works && !also.has(date)) continue;
    found.dates.push(date);
    found.days.push(day - dayNumber(today));
    technician.push(all);
    certified.push(hoursOf(there.filter((one) => one.certified)));
    overtime.push(works ? overtimeHours : 0);
    for (const [kind, own] of bayHours) own.push(works ? hours * bays.filter((one) => one.kind === kind).length : 0);
  }
  return {
    ...found,
    technicianHours: technician,
    certifiedHours: certified,
    bayHours: Object.fromEntries(bayHours),
    overtimeHours: overtime,
  };
}

/**
 * The bay of each visit: on each day, those that take longest first, into the bay of their kind that has least to do by
 * then. What an outside shop does has none.
 *
 * @param of the kind of bay that a visit needs, and its hours
 * @returns names in the order of the visits; undefined where the shop has no such bay
 */
export function placeInBays(
  visits: readonly PlannedVisit[],
  bays: ShopWeek['bays'],
  of: (visit: PlannedVisit) => { kind: string; hours: number },
): (string | undefined)[] {
  const names: (string | undefined)[] = visits.map(() => undefined);
  const taken = new Map<string, number>();
  const order = visits
    .map((visit, i) => ({ visit, i, ...of(visit) }))
    .filter(({ visit }) => !visit.outside)
    .sort((a, b) => a.visit.day - b.visit.day || b.hours - a.hours);
  for (const { visit, i, kind, hours } of order) {
    const own = bays.filter((bay) => bay.kind === kind);
    const load = (name: string) => taken.get(`${visit.day}/${name}`) ?? 0;
    const [least] = own.sort((a, b) => load(a.name) - load(b.name));
    if (!least) continue;
    names[i] = least.name;
    taken.set(`${visit.day}/${least.name}`, load(least.name) + hours);
  }
  return names;
}
