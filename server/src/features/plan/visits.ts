import { brokenInWords, movedInWords, visitInWords } from '@mile-mark/contract/words';
import {
  hoursOf,
  placeInBays,
  tellMove,
  tellVisits,
  unpackProblem,
  type PackedProblem,
  type PlannedVisit,
  type PlanProblem,
} from '@mile-mark/core/plan';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../platform/db/rows.ts';
import { PlanVisitEntity } from './entities.ts';

const VisitSql = z.object({
  id: z.string(),
  vehicle: z.string(),
  unit: z.string(),
  /** The vehicle's own depot. */
  home: z.string(),
  axles: z.array(z.number()),
  day: z.string(),
  bay: z.string().nullable(),
  hours: z.number(),
  outside: z.boolean(),
  locked: z.boolean(),
  byHand: z.boolean(),
  why: z.array(z.string()),
  job: z.string().nullable(),
});
export type VisitRow = z.output<typeof VisitSql>;

/** A depot's visits in a plan. */
export async function visitsOf(em: EntityManager, planId: string, depotId: string): Promise<VisitRow[]> {
  return rowsOf(
    em,
    VisitSql,
    `select p.id, p.vehicle_id as vehicle, v.unit, v.depot_id as home, p.axles, p.day::text, p.bay, p.hours, p.outside, p.locked, p.by_hand as "byHand",
       p.why, p.job_id as job
     from plan_visit p join vehicle v on v.id = p.vehicle_id where p.plan_id = ? and p.depot_id = ? order by p.day, v.unit`,
    [planId, depotId],
  );
}

/** A depot's problem as it stood when it was solved. */
export interface KeptProblem {
  problem: PlanProblem;
  dates: string[];
}

const KeptSql = z.object({ problem: z.custom<PackedProblem>(), dates: z.array(z.string()) });

export async function keptProblem(
  em: EntityManager,
  planId: string,
  depotId: string,
): Promise<KeptProblem | undefined> {
  const row = await firstRow(
    em,
    KeptSql,
    'select problem, dates from plan_depot where plan_id = ? and depot_id = ? and problem is not null',
    [planId, depotId],
  );
  return row && { problem: unpackProblem(row.problem), dates: row.dates };
}

/** Visits as the solver has them; days that are not of the plan are left out. */
export function plannedOf(visits: readonly VisitRow[], dates: readonly string[]): PlannedVisit[] {
  return visits.flatMap(({ vehicle, axles, day, outside }) => {
    const at = dates.indexOf(day);
    return at < 0 ? [] : [{ vehicle, axles, day: at, outside }];
  });
}

/** What is kept of a visit when the others around it change. */
interface Marks {
  locked: boolean;
  byHand: boolean;
}

/**
 * Writes a depot's visits in place of those it had: each with its bay, its hours, the reasons for its day, and the open job
 * that it is.
 *
 * @param marksOf what is locked, or was moved by hand
 */
export async function writeVisits(
  em: EntityManager,
  at: { planId: string; depotId: string },
  { problem, dates }: KeptProblem,
  visits: readonly PlannedVisit[],
  around: {
    bays: Parameters<typeof placeInBays>[1];
    currency: string;
    marksOf: (visit: PlannedVisit) => Marks;
  },
): Promise<void> {
  const byId = new Map(problem.vehicles.map((one) => [one.id, one]));
  const vehicleOf = ({ vehicle }: PlannedVisit) => {
    const own = byId.get(vehicle);
    if (!own) throw new Error(`vehicle ${vehicle} is not of this plan`);
    return own;
  };
  const hours = visits.map((visit) => hoursOf(problem, vehicleOf(visit), visit.axles));
  const bays = placeInBays(visits, around.bays, (visit) => ({
    kind: vehicleOf(visit).bay,
    hours: hours[visits.indexOf(visit)] ?? 0,
  }));
  const told = tellVisits(problem, at.depotId, visits);
  const jobs = await jobsByVehicle(em, [...byId.keys()]);
  const known = await knownUids(em, [...byId.keys()]);
  const units = await unitsOf(em, [...byId.keys()]);
  const depots = await depotNames(em);
  const movedWhy = (visit: PlannedVisit): string[] => {
    const moved = tellMove(problem, visits, visit);
    if (!moved) return [];
    const breaks = moved.breaks.map(({ code, vehicle, day }) =>
      brokenInWords(code, units.get(vehicle) ?? '', dates[day] ?? ''),
    );
    const { currency } = around;
    return [
      movedInWords({ from: dates[moved.from] ?? '', breaks: [...new Set(breaks)], staying: moved.staying, currency }),
    ];
  };
  await em.nativeDelete(PlanVisitEntity, { planId: at.planId, depotId: at.depotId });
  if (visits.length === 0) return;
  await em.insertMany(
    PlanVisitEntity,
    visits.map((visit, i) => {
      const { vehicle, axles, day, outside } = visit;
      const { trips, lent } = vehicleOf(visit);
      const { locked, byHand } = around.marksOf(visit);
      const better = told[i]?.better;
      const job = jobs.get(vehicle);
      return {
        id: randomUUID(),
        uid: known.get(uidKey(vehicle, axles)) ?? randomUUID(),
        ...at,
        vehicleId: vehicle,
        axles: [...axles],
        day: dates[day] ?? '',
        bay: bays[i] ?? null,
        hours: hours[i] ?? 0,
        outside,
        locked,
        byHand,
        jobId: job && sameAxles(job.axles, axles) ? job.id : null,
        why: [
          ...movedWhy(visit),
          ...visitInWords({
            axles: told[i]?.axles ?? [],
            better: better && { date: dates[better.day] ?? '', more: better.more, shut: better.shut },
            outside,
            locked,
            sharesTrip: trips?.some(({ from, to }) => day >= from && day <= to) === true,
            lent: lent && { ...lent, from: depots.get(lent.from) ?? '' },
            currency: around.currency,
          }),
        ],
      };
    }),
  );
}

export const sameAxles = (a: readonly number[], b: readonly number[]): boolean =>
  a.length === b.length && a.every((axle) => b.includes(axle));

/** Unit numbers of vehicles. */
export async function unitsOf(em: EntityManager, vehicles: readonly string[]): Promise<Map<string, string>> {
  const rows = await rowsOf(
    em,
    z.object({ id: z.string(), unit: z.string() }),
    'select id, unit from vehicle where id = any(?::uuid[])',
    [`{${vehicles.join()}}`],
  );
  return new Map(rows.map(({ id, unit }) => [id, unit]));
}

async function depotNames(em: EntityManager): Promise<Map<string, string>> {
  const rows = await rowsOf(em, z.object({ id: z.string(), name: z.string() }), 'select id, name from depot');
  return new Map(rows.map(({ id, name }) => [id, name]));
}

const UidSql = z.object({ vehicle: z.string(), axles: z.array(z.number()), uid: z.string() });
const uidKey = (vehicle: string, axles: readonly number[]) => `${vehicle}/${[...axles].sort().join(' ')}`;

/** What calendars know visits of the published plan by; what is done already is another visit the next time. */
async function knownUids(em: EntityManager, vehicles: readonly string[]): Promise<Map<string, string>> {
  const rows = await rowsOf(
    em,
    UidSql,
    `select p.vehicle_id as vehicle, p.axles, p.uid from plan_visit p join plan s on s.id = p.plan_id left join job j on j.id = p.job_id
     where s.state = 'published' and p.vehicle_id = any(?::uuid[]) and (j.state is null or j.state in ('proposed', 'booked', 'in work'))`,
    [`{${vehicles.join()}}`],
  );
  return new Map(rows.map(({ vehicle, axles, uid }) => [uidKey(vehicle, axles), uid]));
}

const JobSql = z.object({ vehicle: z.string(), id: z.string(), axles: z.array(z.number()) });

/** The open job of each vehicle. */
async function jobsByVehicle(
  em: EntityManager,
  vehicles: readonly string[],
): Promise<Map<string, z.output<typeof JobSql>>> {
  const rows = await rowsOf(
    em,
    JobSql,
    `select j.vehicle_id as vehicle, j.id, array(select a.axle from job_axle a where a.job_id = j.id order by 1) as axles
     from job j where j.vehicle_id = any(?::uuid[]) and j.state in ('booked', 'in work')`,
    [`{${vehicles.join()}}`],
  );
  return new Map(rows.map((row) => [row.vehicle, row]));
}
