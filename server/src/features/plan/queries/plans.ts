import { PlanHolds, PlannedVisit as PlannedDto, PlanRow, type Plan } from '@mile-mark/contract/plan';
import {
  brokenInWords,
  CONSTRAINTS_IN_WORDS,
  movedInWords,
  otherDepotInWords,
  remedyInWords,
} from '@mile-mark/contract/words';
import { sharesOf, weighPlan, type PlannedVisit } from '@mile-mark/core/plan';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { keptProblem, plannedOf, sameAxles, visitsOf, type KeptProblem, type VisitRow } from '../visits.ts';
import { currencyOf } from './shop.ts';

const ROWS = `
  select p.id, p.state, p.from_date::text as "fromDate", p.weeks, a.name as "askedBy", p.asked_on::text as "askedOn", p.because is not null as "byItself",
    b.name as "publishedBy", p.published_on::text as "publishedOn", p.revision
  from plan p join person a on a.id = p.asked_by left join person b on b.id = p.published_by`;
const MOST = 50;
const BecauseSql = z.object({ because: PlanHolds.shape.items.nullable() });

export async function listPlans(em: EntityManager): Promise<z.output<typeof PlanRow>[]> {
  return rowsOf(em, PlanRow, `${ROWS} order by p.serial desc limit ?`, [MOST]);
}

/** Visits of the plan that counts that nobody has made jobs of. */
export async function plannedVisits(em: EntityManager, today: string): Promise<z.output<typeof PlannedDto>[]> {
  return rowsOf(
    em,
    PlannedDto,
    `select v.unit, p.axles, d.name as depot, p.day::text as date, p.plan_id as "planId"
     from plan_visit p join plan s on s.id = p.plan_id join vehicle v on v.id = p.vehicle_id join depot d on d.id = p.depot_id
     where s.state = 'published' and p.job_id is null and p.day >= ?::date order by p.day, v.unit`,
    [today],
  );
}

const Binding = z.enum(['kit', 'away', 'off the road', 'hours', 'dear']);
const DepotSql = z.object({
  id: z.string(),
  depot: z.string(),
  state: z.enum(['waiting', 'solving', 'done', 'stopped', 'failed']),
  provedGap: z.number().nullable(),
  cost: z.number().nullable(),
  bound: z.number().nullable(),
  seconds: z.number().nullable(),
  earliest: z.number().nullable(),
  interval: z.number().nullable(),
  failure: z.string().nullable(),
  unplaced: z.array(z.object({ vehicle: z.string(), axle: z.number(), binds: Binding })),
});
type DepotSql = z.output<typeof DepotSql>;
const DEPOTS = `
  select d.depot_id as id, y.name as depot, d.state, d.proved_gap as "provedGap", d.cost, d.bound, d.seconds,
    d.earliest_cost as earliest, d.interval_cost as interval, d.failure, d.unplaced
  from plan_depot d join depot y on y.id = d.depot_id where d.plan_id = ? order by y.name`;

const VehicleSql = z.object({
  id: z.string(),
  unit: z.string(),
  class: z.string(),
  depot: z.string(),
  marks: z.record(z.string(), z.string()),
});
const VEHICLES = `
  select v.id, v.unit, m.class, d.name as depot, coalesce((select jsonb_object_agg(f.axle, f.mark->>'markDate') from forecast f
    where f.vehicle_id = v.id and f.mark is not null), '{}') as marks
  from vehicle v join model m on m.id = v.model_id join depot d on d.id = v.depot_id
  where v.depot_id in (select depot_id from plan_depot where plan_id = ?) or v.id in (select vehicle_id from plan_visit where plan_id = ?)`;

/** A plan with everything that a person weighs it by. @throws ApiError `not_found` */
export async function planView(em: EntityManager, id: string, today: string): Promise<Plan> {
  const row = await firstRow(em, PlanRow, `${ROWS} where p.id = ?`, [id]);
  const made = await firstRow(em, BecauseSql, 'select because from plan where id = ?', [id]);
  if (!row) throw new ApiError('not_found', 'There is no such plan on record.');
  const depots = await rowsOf(em, DepotSql, DEPOTS, [id]);
  const vehicles = new Map((await rowsOf(em, VehicleSql, VEHICLES, [id, id])).map((one) => [one.id, one]));
  const published = await publishedVisits(em, id);
  const parts: Awaited<ReturnType<typeof depotPart>>[] = [];
  for (const depot of depots) parts.push(await depotPart(em, id, depot));
  const done = parts.filter(({ weighed }) => weighed !== undefined);
  const whole = done.length === depots.length && done.length > 0;
  const sum = (of: (part: (typeof parts)[number]) => number | null | undefined) =>
    done.reduce((total, part) => total + (of(part) ?? 0), 0);
  const cost = sum(({ weighed }) => weighed?.cost);
  const proved = whole && done.every(({ depot }) => depot.provedGap !== null);
  const items = parts.flatMap((part) =>
    part.visits.map((visit): Plan['items'][number] => {
      const own = vehicles.get(visit.vehicle);
      const before = published.find((one) => one.vehicle === visit.vehicle && sameAxles(one.axles, visit.axles));
      const elsewhere = before !== undefined && before.depotId !== part.depot.id;
      const marks = visit.axles.flatMap((axle) => own?.marks[axle] ?? []).sort();
      return {
        id: visit.id,
        unit: visit.unit,
        class: own?.class ?? '',
        axles: visit.axles,
        depot: part.depot.depot,
        date: visit.day,
        bay: visit.bay,
        hours: visit.hours,
        outside: visit.outside,
        lentFrom: own && own.depot !== part.depot.depot ? own.depot : null,
        locked: visit.locked,
        byHand: visit.byHand,
        moved: before && (elsewhere || before.day !== visit.day) ? before.day : null,
        fresh: !before,
        jobId: visit.job,
        mark: marks[0] ?? null,
        why: [
          ...(elsewhere ? [otherDepotInWords(before.depot)] : shutWhy(visit, before?.day, part.days, row.fromDate)),
          ...visit.why,
        ],
      };
    }),
  );
  const inPlan = new Set(parts.map(({ depot }) => depot.id));
  const has = (one: (typeof published)[number]) =>
    parts.some(({ visits }) =>
      visits.some((visit) => visit.vehicle === one.vehicle && sameAxles(visit.axles, one.axles)),
    );
  const undo = await firstRow(
    em,
    z.object({ can: z.boolean() }),
    'select exists (select 1 from plan_change where plan_id = ? and not undone) as can',
    [id],
  );
  return {
    ...row,
    today,
    currency: await currencyOf(em),
    because: made?.because ?? [],
    failure: depots.length > 0 && depots.every(({ state }) => state === 'failed') ? (depots[0]?.failure ?? null) : null,
    depots: parts.map(({ depot, days }) => ({
      depot: depot.depot,
      state: depot.state,
      provedGap: depot.provedGap,
      cost: depot.cost,
      bound: depot.bound,
      seconds: depot.seconds,
      failure: depot.failure,
      days,
    })),
    cost: whole ? cost : null,
    provedGap: proved && cost > 0 ? Math.max(0, cost - sum(({ depot }) => depot.bound)) / cost : null,
    shares: whole ? sharesOf(done.flatMap(({ weighed }) => weighed ?? [])) : null,
    againstEarliestDueFirst: whole
      ? ratio(
          cost,
          sum(({ depot }) => depot.earliest),
        )
      : null,
    againstFixedInterval: whole
      ? ratio(
          cost,
          sum(({ depot }) => depot.interval),
        )
      : null,
    items,
    replaces: published.length > 0,
    againstPublished: whole && published.length > 0 ? againstPublished(parts, published, cost) : null,
    gone: published
      .filter((one) => inPlan.has(one.depotId) && one.day >= row.fromDate && !has(one))
      .map(({ unit, axles, depot, day }) => ({ unit, axles, depot, date: day })),
    unplaced: parts.flatMap(({ depot, unplaced }) =>
      unplaced.map(({ vehicle, axle, binds }) => {
        const unit = vehicles.get(vehicle)?.unit ?? '';
        return {
          unit,
          axle,
          depot: depot.depot,
          constraint: CONSTRAINTS_IN_WORDS[binds],
          remedy: remedyInWords(binds, unit),
        };
      }),
    ),
    canUndo: row.state === 'proposed' && undo?.can === true,
  };
}

/** Why a visit left a day on which nobody works any more: the solver knows working days only. */
function shutWhy(
  { unit, day }: VisitRow,
  before: string | undefined,
  days: readonly { date: string }[],
  from: string,
): string[] {
  if (before === undefined || before === day || before < from || days.some(({ date }) => date === before)) return [];
  return [movedInWords({ from: before, breaks: [brokenInWords('shut', unit, before)], staying: 0, currency: '' })];
}

/** What staying with the published plan would cost and break, as far as it can be stayed with, on what this one was made from. */
function againstPublished(
  parts: readonly Awaited<ReturnType<typeof depotPart>>[],
  published: readonly z.output<typeof PublishedSql>[],
  cost: number,
): NonNullable<Plan['againstPublished']> {
  let [stays, breaks] = [0, 0];
  for (const { kept } of parts) {
    if (!kept) continue;
    const axlesOf = new Map(kept.problem.vehicles.map(({ id, axles }) => [id, axles.map(({ axle }) => axle)]));
    const visits = published.flatMap(({ vehicle, axles, day, outside }): PlannedVisit[] => {
      // What was done meanwhile is no longer to be planned.
      const own = axles.filter((axle) => axlesOf.get(vehicle)?.includes(axle) === true);
      if (own.length === 0) return [];
      const at = kept.dates.indexOf(day);
      if (at < 0) breaks += 1;
      return at < 0 ? [] : [{ vehicle, axles: own, day: at, outside }];
    });
    const weighed = weighPlan(kept.problem, visits);
    stays += weighed.cost;
    breaks += weighed.broken.length;
  }
  return { saves: stays - cost, breaks };
}

const ratio = (cost: number, other: number): number | null => (other > 0 ? cost / other : null);

async function depotPart(em: EntityManager, planId: string, depot: DepotSql) {
  const kept = await keptProblem(em, planId, depot.id);
  const visits = kept ? await visitsOf(em, planId, depot.id) : [];
  const planned = kept ? plannedOf(visits, kept.dates) : [];
  return {
    depot,
    kept,
    visits,
    unplaced: depot.unplaced,
    weighed: kept && weighPlan(kept.problem, planned),
    days: kept ? daysOf(kept, depot.id, planned, visits) : [],
  };
}

/** Hours asked and there by working day, with the overtime that is needed. */
function daysOf(
  { problem, dates }: KeptProblem,
  depotId: string,
  planned: readonly PlannedVisit[],
  visits: readonly VisitRow[],
): Plan['depots'][number]['days'] {
  const depot = problem.depots.find(({ id }) => id === depotId);
  const asked = dates.map(() => 0);
  planned.forEach(({ day, outside }, i) => {
    let left = outside ? 0 : (visits[i]?.hours ?? 0);
    for (let at = day; left > 0 && at < dates.length; at += 1) {
      const now = Math.min(problem.hoursADay, left);
      asked[at] = (asked[at] ?? 0) + now;
      left -= now;
    }
  });
  return dates.map((date, i) => {
    const there = depot?.technicianHours[i] ?? 0;
    return { date, asked: asked[i] ?? 0, there, overtime: Math.max(0, (asked[i] ?? 0) - there) };
  });
}

const PublishedSql = z.object({
  vehicle: z.string(),
  unit: z.string(),
  axles: z.array(z.number()),
  day: z.string(),
  depot: z.string(),
  depotId: z.string(),
  outside: z.boolean(),
});

/** Visits of the plan that counts, other than this one's own. */
async function publishedVisits(em: EntityManager, except: string): Promise<z.output<typeof PublishedSql>[]> {
  return rowsOf(
    em,
    PublishedSql,
    `select p.vehicle_id as vehicle, v.unit, p.axles, p.day::text, d.name as depot, p.depot_id as "depotId", p.outside
     from plan_visit p join plan s on s.id = p.plan_id join vehicle v on v.id = p.vehicle_id join depot d on d.id = p.depot_id
     where s.state = 'published' and s.id <> ?`,
    [except],
  );
}
