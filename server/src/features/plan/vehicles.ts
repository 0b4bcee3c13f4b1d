import { JobAction } from '@mile-mark/contract/jobs';
import { dayNumber, type DayQuantile } from '@mile-mark/core';
import type { PlanAxle, PlanVehicle } from '@mile-mark/core/plan';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { policyOf } from '../register/index.ts';
import type { PlanAsk, PlanBasis } from './problem.ts';
import type { AbsenceRow } from './queries/shop.ts';

const AxleSql = z.object({
  vehicle: z.string(),
  unit: z.string(),
  class: z.string(),
  axle: z.number(),
  brake: z.string(),
  dates: z.record(z.string(), z.string()).nullable(),
  fitted: z.object({ date: z.string(), miles: z.number() }).nullable(),
  odometer: z.number().nullable(),
  miles_per_day: z.number().nullable(),
  /** What its open job does there. */
  actions: z.array(JobAction).nullable(),
});
export type AxleRow = z.output<typeof AxleSql>;
/** Axles with a mark, and those that a job is open for: of a depot's vehicles but for some, and of some others. */
const AXLES = `
  select v.id as vehicle, v.unit, m.class, x.axle, x.brake, f.detail->'decision'->'dates' as dates,
    nullif(f.detail->'fitted', 'null'::jsonb) as fitted, (o.detail->>'odometerNowMi')::float8 as odometer,
    (o.detail->'milesPerDay'->>'mean')::float8 as miles_per_day,
    (select jsonb_path_query_array(a.scope, '$[*].action') from job j join job_axle a on a.job_id = j.id
      where j.vehicle_id = v.id and a.axle = x.axle and j.state in ('booked', 'in work') limit 1) as actions
  from vehicle v join model m on m.id = v.model_id join model_axle x on x.model_id = m.id
    left join forecast f on f.vehicle_id = v.id and f.axle = x.axle and f.mark is not null
    left join vehicle_forecast o on o.vehicle_id = v.id
  where ((v.depot_id = ? and v.id <> all(?::uuid[])) or v.id = any(?::uuid[])) and (f.detail->'decision'->'dates' is not null or exists (select 1 from job j join job_axle a on a.job_id = j.id
    where j.vehicle_id = v.id and a.axle = x.axle and j.state in ('booked', 'in work')))
  order by v.unit, x.axle`;

const JobSql = z.object({
  vehicle: z.string(),
  state: z.string(),
  day: z.string().nullable(),
  axles: z.array(z.number()),
  planned: z.boolean(),
});
type OpenJob = z.output<typeof JobSql>;
/** Open jobs; `planned` where the published plan booked them and nobody locked them since. */
const JOBS = `
  select j.vehicle_id as vehicle, j.state, j.day::text, array(select a.axle from job_axle a where a.job_id = j.id order by 1) as axles,
    exists (select 1 from plan_visit p join plan s on s.id = p.plan_id where p.job_id = j.id and s.state = 'published'
      and not p.locked and p.day = j.day) as planned
  from job j where j.depot_id = ? and j.state in ('booked', 'in work')`;

const VisitSql = z.object({
  vehicle: z.string(),
  axles: z.array(z.number()),
  day: z.string(),
  locked: z.boolean(),
});
/** Visits of the published plan, wherever they are. */
const PUBLISHED = `
  select p.vehicle_id as vehicle, p.axles, p.day::text, p.locked from plan_visit p join plan s on s.id = p.plan_id
  where s.state = 'published' and p.vehicle_id = any(?::uuid[]) order by p.day`;

/** Locks of the newest plan of a depot that is proposed or published: a lock holds before it is published, too. */
const LOCKS = `
  select p.vehicle_id as vehicle, p.axles, p.day::text, p.locked from plan_visit p where p.locked and p.depot_id = ? and p.plan_id = (
    select s.id from plan s join plan_depot d on d.plan_id = s.id where s.state in ('proposed', 'published') and d.depot_id = p.depot_id
      and d.problem is not null order by s.serial desc limit 1) order by p.day`;

/** Where the shop has not said what services cost: planned, and when pads wore out first, in its currency. */
const [PLANNED, FAILED] = [400, 1200];
/** Days a set of pads lasts where nobody knows when it was fitted (common practice, no source). */
const FALLBACK_LIFE_DAYS = 700;
const LEAST_LIFE_DAYS = 60;
/** A shop that goes by fixed miles would find what suits it: so many times the interval that is stated. */
export const INTERVAL_TIMES = [0.5, 0.75, 1, 1.5, 2];
/** Beyond any plan. */
const NEVER_DAY = 100_000;

const MINOR = 100;

/** What a depot's vehicles are seen by. */
export interface Around {
  dates: readonly string[];
  basis: PlanBasis;
  /** Days on which kits are there, by vehicle and axle. */
  kits: ReadonlyMap<string, number>;
  ask: PlanAsk;
  jobs: readonly OpenJob[];
  published: readonly z.output<typeof VisitSql>[];
  locks: readonly z.output<typeof VisitSql>[];
}

/** A depot's vehicles with their axles, in their order. @param lent of its own, done elsewhere @param guests of others, done here */
export async function axlesByVehicle(
  em: EntityManager,
  depotId: string,
  lent: readonly string[],
  guests: readonly string[],
): Promise<Map<string, AxleRow[]>> {
  const byVehicle = new Map<string, AxleRow[]>();
  for (const row of await rowsOf(em, AxleSql, AXLES, [depotId, `{${lent.join()}}`, `{${guests.join()}}`]))
    byVehicle.set(row.vehicle, [...(byVehicle.get(row.vehicle) ?? []), row]);
  return byVehicle;
}

/** Jobs that are open at a depot. */
export const openJobs = (em: EntityManager, depotId: string): Promise<OpenJob[]> => rowsOf(em, JobSql, JOBS, [depotId]);

/** Visits of the published plan, and what is locked at a depot. */
export async function plannedBefore(
  em: EntityManager,
  depotId: string,
  vehicles: readonly string[],
): Promise<Pick<Around, 'published' | 'locks'>> {
  return {
    published: await rowsOf(em, VisitSql, PUBLISHED, [`{${vehicles.join()}}`]),
    locks: await rowsOf(em, VisitSql, LOCKS, [depotId]),
  };
}

/** The working day that a date falls on, or the first after it; undefined beyond the plan. */
function indexOf(dates: readonly string[], date: string): number | undefined {
  const at = dates.findIndex((one) => one >= date);
  return at < 0 ? undefined : at;
}

/** Kinds of bays that classes go to. */
const bayKindOf = (vehicleClass: string) => (vehicleClass === 'heavy' ? 'heavy' : 'light');

/** A vehicle as a depot would do it, on that depot's days; none where nothing of it is to be planned. */
export function vehicleOf(rows: readonly AxleRow[], depot: string, around: Around): PlanVehicle[] {
  const [first] = rows;
  if (!first) return [];
  const { dates, basis, ask } = around;
  const job = around.jobs.find(({ vehicle }) => vehicle === first.vehicle);
  const urgent = ask.urgent.find(({ unit }) => unit.toUpperCase() === first.unit);
  // What is booked for a day after the plan's end is done by then, and not planned here.
  const beyond = job && !job.planned && job.day !== null && indexOf(dates, job.day) === undefined ? job.axles : [];
  const axles = rows.filter(({ axle }) => !beyond.includes(axle)).map((row) => axleOf(row, around));
  if (axles.length === 0) return [];
  const names = axles.map(({ axle }) => axle);
  const own = around.published.filter(({ vehicle }) => vehicle === first.vehicle);
  const span = ({ from, to }: AbsenceRow) => dates.flatMap((date, i) => (date >= from && date <= to ? [i] : []));
  const absences = basis.absences.filter(({ kind, subject }) => kind === 'vehicle' && subject === first.vehicle);
  return [
    {
      id: first.vehicle,
      depot,
      class: first.class,
      bay: bayKindOf(first.class),
      axles,
      closed: new Set(absences.filter(({ comesIn }) => !comesIn).flatMap(span)),
      trips: absences
        .filter(({ comesIn }) => comesIn)
        .flatMap((one) => {
          const days = span(one);
          return days.length === 0 ? [] : [{ from: Math.min(...days), to: Math.max(...days) }];
        }),
      lock: lockOf(
        {
          names,
          job,
          urgent,
          locked: around.locks.find((one) => one.vehicle === first.vehicle && one.day >= ask.today),
        },
        dates,
      ),
      published: new Map(
        own.flatMap(({ axles: done, day }) => {
          const at = day < ask.from ? undefined : indexOf(dates, day);
          return at === undefined
            ? []
            : done.filter((axle) => names.includes(axle)).map((axle): [number, number] => [axle, at]);
        }),
      ),
    },
  ];
}

/** What stays where it is: what is urgent, in work, booked by hand, or locked in the newest plan. */
function lockOf(
  {
    names,
    job,
    urgent,
    locked,
  }: {
    names: readonly number[];
    job: OpenJob | undefined;
    urgent: { axles: readonly number[] } | undefined;
    locked: z.output<typeof VisitSql> | undefined;
  },
  dates: readonly string[],
): PlanVehicle['lock'] {
  const of = (axles: readonly number[], day: number | undefined) => {
    const own = axles.filter((axle) => names.includes(axle));
    return day === undefined || own.length === 0 ? undefined : { axles: own, day };
  };
  if (job?.state === 'in work') return of(job.axles, 0);
  if (urgent) return of(urgent.axles, 0);
  if (job && !job.planned) return of(job.axles, indexOf(dates, job.day ?? ''));
  return locked ? of(locked.axles, indexOf(dates, locked.day)) : undefined;
}

function axleOf(
  row: AxleRow,
  { basis: { settings, terms, hoursOf }, kits, ask: { today, hours: before } }: Around,
): PlanAxle {
  const now = dayNumber(today);
  const known = row.actions === null ? before?.get(`${row.vehicle}/${row.axle}`) : undefined;
  const hours = known ?? hoursOf(row.class, row.actions);
  const heavy = row.class === 'heavy';
  const costs = heavy ? settings.costs?.heavy : settings.costs?.light;
  const [planned, failed] = costs ? [costs.plannedMinor / MINOR, costs.failureMinor / MINOR] : [PLANNED, FAILED];
  const passage = row.dates ? quantilesOf(row.dates, now) : [];
  const base = { axle: row.axle, hours, certifiedHours: row.brake === 'air' ? hours : 0 };
  const kit = kits.get(`${row.vehicle}/${row.axle}`) ?? 0;
  const kitDay = Number.isFinite(kit) ? kit : NEVER_DAY;
  if (passage.length === 0)
    // In work or booked without a forecast: it takes its hours, and nothing is known to be thrown away.
    return { ...base, passage: [{ p: 0.5, day: NEVER_DAY }], lifePerDay: 0, failure: 0, latest: NEVER_DAY, kitDay };
  const median = atShare(passage, 0.5);
  const life = row.fitted ? now + median - dayNumber(row.fitted.date) : FALLBACK_LIFE_DAYS;
  return {
    ...base,
    passage,
    lifePerDay: planned / Math.max(LEAST_LIFE_DAYS, life),
    failure: Math.max(0, failed - planned),
    latest: Math.floor(atShare(passage, policyOf(settings, row.class).riskTarget)),
    kitDay,
    intervalDays: INTERVAL_TIMES.map((times) =>
      intervalDay(row, times * (heavy ? terms.intervalMi.heavy : terms.intervalMi.light)),
    ),
  };
}

const quantilesOf = (dates: Readonly<Record<string, string>>, now: number): DayQuantile[] =>
  Object.entries(dates)
    .map(([p, date]) => ({ p: Number(p.slice(1)) / 100, day: dayNumber(date) - now }))
    .sort((a, b) => a.p - b.p);

/** The day of a share of a distribution, on straight lines between its quantiles; the outermost beyond them. */
function atShare(passage: readonly DayQuantile[], p: number): number {
  const after = passage.findIndex((one) => one.p >= p);
  const [a, b] = [passage[after - 1], passage[after]];
  if (!b) return passage.at(-1)?.day ?? 0;
  if (!a) return b.day;
  return a.day + ((b.day - a.day) * (p - a.p)) / (b.p - a.p);
}

/** The day on which so many miles since the last pads are driven; now, where nobody knows. */
function intervalDay({ fitted, odometer, miles_per_day }: AxleRow, interval: number): number {
  if (!fitted || odometer === null || !miles_per_day || miles_per_day <= 0) return 0;
  return Math.ceil((fitted.miles + interval - odometer) / miles_per_day);
}
