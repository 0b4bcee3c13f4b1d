import type { PlanTermsStated } from '@mile-mark/contract/plan';
import { dateOfDay, dayNumber } from '@mile-mark/core';
import { guestOf, placesLent, shopDays, weekdayOf, type PlanProblem, type PlanVehicle } from '@mile-mark/core/plan';
import type { EntityManager } from '../../platform/db/orm.ts';
import { expectedScopes, standingUnits, type Scope } from '../jobs/index.ts';
import { kitDays, type KitDays } from '../parts/index.ts';
import { readSettings, type Settings } from '../register/index.ts';
import { MOVE_NEAR } from './defaults.ts';
import { hoursByScope, type HoursOf } from './hours.ts';
import { absencesFrom, depotShops, planTerms, type AbsenceRow, type DepotShop } from './queries/shop.ts';
import { axlesByVehicle, openJobs, plannedBefore, vehicleOf, type Around, type AxleRow } from './vehicles.ts';

/** A depot's problem, with what its days and vehicles are called. */
export interface DepotProblem {
  problem: PlanProblem;
  /** Working days as dates. */
  dates: string[];
}

/** A vehicle that another depot does than its own, as it was decided for a plan. */
export interface KeptLoan {
  vehicle: string;
  class: string;
  from: string;
  to: string;
  /** What each visit costs for the way, in the shop's currency, and the hours on it. */
  cost: number;
  hours: number;
  /** The days on which alone it may be off the road there; null where its own depot does not bound its class. */
  only: string[] | null;
}

/** What is asked of a plan. */
export interface PlanAsk {
  planId: string;
  from: string;
  weeks: number;
  today: string;
  urgent: readonly { unit: string; axles: readonly number[] }[];
  /** Where vehicles are to be done, by id. */
  doneAt: readonly { vehicle: string; depot: string }[];
  /** Hours that axles without a job were planned with, by vehicle and axle; they are not asked anew then. */
  hours?: ReadonlyMap<string, number> | undefined;
}

/** What all depots of a plan are built from, read once. */
export interface PlanBasis {
  shops: DepotShop[];
  terms: PlanTermsStated;
  settings: Settings;
  absences: AbsenceRow[];
  kitsAt: KitDays;
  hoursOf: HoursOf;
  /** What a job of a vehicle would do at each axle; asked once of each. */
  scopeOf: (unit: string) => Promise<ReadonlyMap<number, Scope>>;
  /** Units that may not be driven. */
  standing: ReadonlySet<string>;
}

export async function planBasis(em: EntityManager, today: string): Promise<PlanBasis> {
  const scopes = new Map<string, ReturnType<PlanBasis['scopeOf']>>();
  return {
    shops: await depotShops(em),
    terms: await planTerms(em),
    settings: await readSettings(em),
    absences: await absencesFrom(em, today),
    kitsAt: await kitDays(em, today),
    hoursOf: await hoursByScope(em),
    scopeOf: (unit) => {
      const known = scopes.get(unit) ?? expectedScopes(em.fork({ keepTransactionContext: true }), unit, today);
      scopes.set(unit, known);
      return known;
    },
    standing: await standingUnits(em, today),
  };
}

/** Why a depot can't be planned for, in words that are shown. */
export class NotPlannable extends Error {}

/** A depot as it can be planned: its problem, and what its vehicles are seen by. */
export interface DepotGround extends DepotProblem {
  rows: ReadonlyMap<string, readonly AxleRow[]>;
  /** What jobs of those that may come in soon would do, by `vehicle/axle`. */
  scopes: ReadonlyMap<string, Scope>;
  around: Around;
}

/**
 * A depot's problem from marks, kits, jobs and shop as they stand.
 *
 * @param loans who is done at another depot than its own
 * @throws NotPlannable where the shop is not stated so far that anything could be planned
 */
export async function depotGround(
  em: EntityManager,
  basis: PlanBasis,
  depotId: string,
  ask: PlanAsk,
  loans: readonly KeptLoan[],
): Promise<DepotGround> {
  const shop = basis.shops.find(({ id }) => id === depotId);
  if (!shop) throw new NotPlannable('this depot has no vehicles and no shop');
  if (shop.week.people.length === 0)
    throw new NotPlannable(`nobody is said to work at ${shop.depot}; state its shop first: people, their hours, bays`);
  const away = basis.absences.flatMap(({ kind, subject, from, to }) => {
    if (kind === 'vehicle' || (kind === 'depot' && subject !== depotId)) return [];
    return [{ person: kind === 'person' ? subject : undefined, from, to }];
  });
  const jobs = await openJobs(em, depotId);
  // What a person booked stays on its day, whether or not the shop usually works then.
  const also = new Set(jobs.flatMap(({ day, planned }) => (day === null || planned ? [] : [day])));
  const { dates, days, ...hours } = shopDays(weekOf(shop), {
    from: ask.from,
    today: ask.today,
    weeks: ask.weeks,
    away,
    also,
  });
  if (dates.length === 0)
    throw new NotPlannable(`${shop.depot} has no working day in these weeks; open days and people’s hours are needed`);
  const lent = loans.filter(({ from }) => from === depotId);
  const guests = loans.filter(({ to }) => to === depotId);
  const idsOf = (some: readonly KeptLoan[]) => some.map(({ vehicle }) => vehicle);
  const own = await axlesByVehicle(em, depotId, idsOf(lent), idsOf(guests));
  const scopes = await scopesSoon(own, basis, ask);
  const rows = withActions(own, scopes);
  const kits = basis.kitsAt(new Map(loans.map(({ vehicle, to }) => [vehicle, to])), scopes);
  const around = { dates, basis, kits, ask, jobs, ...(await plannedBefore(em, depotId, [...rows.keys()])) };
  const dayOf = (date: string) => dayNumber(date) - dayNumber(ask.today);
  const onlyOf = ({ only }: KeptLoan) => only?.map(dayOf);
  const vehicles = [...rows.values()]
    .flatMap((own) => vehicleOf(own, depotId, around))
    .map((one) => {
      const loan = guests.find(({ vehicle }) => vehicle === one.id);
      return loan ? guestOf(comingFrom(one, loan), onlyOf(loan), days) : one;
    });
  const classOf = new Map(lent.map((one) => [one.vehicle, one.class]));
  const places = lent.map((loan) => ({ ...loan, only: onlyOf(loan) }));
  return {
    dates,
    rows,
    scopes,
    around,
    problem: {
      days,
      hoursADay: basis.terms.hoursADay,
      depots: [{ id: depotId, ...hours, lentOff: placesLent(places, (id) => classOf.get(id) ?? '', days) }],
      vehicles,
      prices: pricesOf(basis.terms),
    },
  };
}

/** Weeks beyond those whose visits become jobs, in which what a job would do is worked out beforehand. */
const MORE_WEEKS = 2;
const WEEK = 7;

/**
 * What jobs of vehicles that may come in soon will do, by `vehicle/axle`: a job that is booked has its own scope, and neither
 * a day that was filled on other hours nor a shelf that was looked at for another kit would do for it.
 */
async function scopesSoon(
  vehicles: ReadonlyMap<string, readonly AxleRow[]>,
  { terms, scopeOf }: PlanBasis,
  { today, hours }: PlanAsk,
): Promise<Map<string, Scope>> {
  const soon = dateAfter(today, WEEK * (terms.bookWeeks + MORE_WEEKS));
  const found = new Map<string, Scope>();
  for (const [vehicle, rows] of vehicles) {
    const [first] = rows;
    const comes = rows.some(({ dates }) => Object.values(dates ?? {}).some((date) => date <= soon));
    if (!first || hours || !comes || rows.some(({ actions }) => actions !== null)) continue;
    const scopes = await scopeOf(first.unit);
    for (const { axle } of rows) found.set(`${vehicle}/${axle}`, scopes.get(axle) ?? []);
  }
  return found;
}

function withActions(vehicles: ReadonlyMap<string, readonly AxleRow[]>, scopes: ReadonlyMap<string, Scope>) {
  const known = (row: AxleRow): AxleRow => {
    const scope = scopes.get(`${row.vehicle}/${row.axle}`);
    return scope ? { ...row, actions: scope.map(({ action }) => action) } : row;
  };
  return new Map([...vehicles].map(([vehicle, rows]) => [vehicle, rows.map(known)]));
}

/** A vehicle at a depot that is not its own: other work that it comes in for is at its own. */
export const comingFrom = (
  vehicle: PlanVehicle,
  { from, cost, hours }: Pick<KeptLoan, 'from' | 'cost' | 'hours'>,
): PlanVehicle => ({ ...vehicle, trips: [], lent: { from, cost, hours } });

/** The same without what its vehicles are seen by. @throws NotPlannable */
export async function depotProblem(...asked: Parameters<typeof depotGround>): Promise<DepotProblem> {
  const { problem, dates } = await depotGround(...asked);
  return { problem, dates };
}

const MINOR = 100;
const pricesOf = (terms: PlanTermsStated): PlanProblem['prices'] => ({
  visit: terms.visitMinor / MINOR,
  setUpHours: terms.setUpHours,
  downtimePerHour: terms.downtimePerHourMinor / MINOR,
  overtimePerHour: terms.overtimePerHourMinor / MINOR,
  outside: terms.outside
    ? { fixed: terms.outside.fixedMinor / MINOR, perHour: terms.outside.perHourMinor / MINOR }
    : undefined,
  outOfServicePerDay: terms.outOfServicePerDayMinor / MINOR,
  move: { fixed: terms.moveMinor / MINOR, perDay: terms.movePerDayMinor / MINOR, ...MOVE_NEAR },
});

const MINUTES = 60;
const hoursOpen = (open: { from: string; to: string } | null): number => {
  if (!open) return 0;
  const minutesOf = (text: string) => MINUTES * Number(text.slice(0, 2)) + Number(text.slice(3, 5));
  return (minutesOf(open.to) - minutesOf(open.from)) / MINUTES;
};

/** When a shop opens on a date; as on its first open day, where it is shut then. */
export function weekdayOpening({ week }: DepotShop, date: string): string {
  return (week.open[weekdayOf(date)] ?? week.open.find((one) => one !== null))?.from ?? '07:00';
}

export const weekOf = ({ week }: DepotShop) => ({
  open: week.open.map(hoursOpen),
  bays: week.bays,
  people: week.people.map(({ personId, certified, hours }) => ({ id: personId, certified, hours })),
  overtimeHours: week.overtimeHours,
  offRoad: Object.fromEntries(week.offRoad.map((cap) => [cap.class, cap.most])),
});

/** A date so many days from another. */
export const dateAfter = (today: string, days: number): string => dateOfDay(dayNumber(today) + days);
