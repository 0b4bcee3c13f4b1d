import type { PlanHolds } from '@mile-mark/contract/plan';
import { brokenInWords, dueSinceInWords } from '@mile-mark/contract/words';
import { dateOfDay, dayNumber } from '@mile-mark/core';
import { weighPlan, type PlannedVisit } from '@mile-mark/core/plan';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { keptLoans } from '../loans.ts';
import { depotProblem, NotPlannable, planBasis, type DepotProblem } from '../problem.ts';
import { keptProblem, plannedOf, unitsOf, visitsOf, type VisitRow } from '../visits.ts';

const WEEK = 7;
const PlanSql = z.object({ from: z.string(), weeks: z.number(), state: z.string() });
const DepotSql = z.object({
  id: z.string(),
  depot: z.string(),
  unplaced: z.array(z.object({ vehicle: z.string(), axle: z.number() })),
});
const DEPOTS = `
  select d.depot_id as id, y.name as depot, d.unplaced from plan_depot d join depot y on y.id = d.depot_id
  where d.plan_id = ? and d.problem is not null order by y.name`;

/**
 * What of a published plan no longer holds as things stand: its visits are weighed on marks, kits, people and absences of
 * now, and axles that came due since are named. Nothing of a plan that is not published, or is over.
 *
 * @throws ApiError `not_found`
 */
export async function planHolds(em: EntityManager, planId: string, today: string): Promise<PlanHolds> {
  const plan = await firstRow(em, PlanSql, 'select from_date::text as "from", weeks, state from plan where id = ?', [
    planId,
  ]);
  if (!plan) throw new ApiError('not_found', 'There is no such plan on record.');
  const from = plan.from < today ? today : plan.from;
  const weeks = Math.ceil((dayNumber(plan.from) + WEEK * plan.weeks - dayNumber(from)) / WEEK);
  if (plan.state !== 'published' || weeks <= 0) return { items: [] };
  const basis = await planBasis(em, today);
  const loans = (await keptLoans(em, planId)) ?? [];
  const items: PlanHolds['items'] = [];
  for (const { id, depot, unplaced } of await rowsOf(em, DepotSql, DEPOTS, [planId])) {
    const visits = (await visitsOf(em, planId, id)).filter(({ day }) => day >= from);
    const kept = await keptProblem(em, planId, id);
    const hours = new Map(
      kept?.problem.vehicles.flatMap((one) => one.axles.map((axle) => [`${one.id}/${axle.axle}`, axle.hours] as const)),
    );
    const ask = { planId, from, weeks, today, urgent: [], doneAt: [], hours };
    const now = await depotProblem(em, basis, id, ask, loans).catch((error: unknown) => {
      // A shop that nobody works at any more can keep nothing.
      if (!(error instanceof NotPlannable)) throw error;
      items.push({ depot, date: null, unit: null, what: `${error.message}.` });
      return undefined;
    });
    if (!now) continue;
    const known = unplaced.map(({ vehicle, axle }) => `${vehicle}/${axle}`);
    // What it broke when it was made (somebody's own booking on a day without hours) is nothing that came since.
    const before = kept ? brokenDays(kept, plannedOf(visits, kept.dates)).map(({ key }) => key) : [];
    items.push(
      ...brokenOf(now, depot, visits, new Set(before)),
      ...dueSince(now, depot, {
        visits,
        known,
        today,
        units: await unitsOf(
          em,
          now.problem.vehicles.map((one) => one.id),
        ),
      }),
    );
  }
  return { items: items.sort((a, b) => (a.date ?? '').localeCompare(b.date ?? '')) };
}

/** What a plan breaks, each with its day. */
const brokenDays = ({ problem, dates }: DepotProblem, visits: readonly PlannedVisit[]) =>
  weighPlan(problem, visits).broken.map(({ code, vehicle, day }) => {
    const date = dates[day] ?? '';
    return { key: `${code}/${vehicle}/${date}`, code, vehicle, date };
  });

/** Visits that break something now, and those on days on which nobody works any more. */
function brokenOf(
  { problem, dates }: DepotProblem,
  depot: string,
  visits: readonly VisitRow[],
  before: ReadonlySet<string>,
): PlanHolds['items'] {
  const axlesOf = new Map(problem.vehicles.map(({ id, axles }) => [id, axles.map(({ axle }) => axle)]));
  const units = new Map(visits.map(({ vehicle, unit }) => [vehicle, unit]));
  const items: PlanHolds['items'] = [];
  const planned = visits.flatMap(({ vehicle, unit, axles, day, outside }): PlannedVisit[] => {
    // What was done meanwhile is no longer to be planned.
    const own = axles.filter((axle) => axlesOf.get(vehicle)?.includes(axle) === true);
    if (own.length === 0) return [];
    const at = dates.indexOf(day);
    if (at >= 0) return [{ vehicle, axles: own, day: at, outside }];
    items.push({ depot, date: day, unit, what: brokenInWords('shut', unit, day) });
    return [];
  });
  for (const { key, code, vehicle, date } of brokenDays({ problem, dates }, planned)) {
    if (before.has(key)) continue;
    const unit = code === 'hours' ? null : (units.get(vehicle) ?? null);
    items.push({ depot, date, unit, what: brokenInWords(code, unit ?? '', date) });
  }
  return items;
}

/** Axles whose risk target falls within the plan and that no visit does, beside those that it could not place. */
function dueSince(
  { problem, dates }: DepotProblem,
  depot: string,
  {
    visits,
    known,
    today,
    units,
  }: { visits: readonly VisitRow[]; known: readonly string[]; today: string; units: ReadonlyMap<string, string> },
): PlanHolds['items'] {
  const placed = new Set([
    ...known,
    ...visits.flatMap(({ vehicle, axles }) => axles.map((axle) => `${vehicle}/${axle}`)),
  ]);
  const end = dates.at(-1) ?? today;
  return problem.vehicles.flatMap(({ id, axles, lock }) =>
    axles.flatMap(({ axle, latest }) => {
      if (placed.has(`${id}/${axle}`) || lock?.axles.includes(axle) === true) return [];
      if (latest > dayNumber(end) - dayNumber(today)) return [];
      const unit = units.get(id) ?? '';
      const due = dateOfDay(dayNumber(today) + Math.max(0, Math.floor(latest)));
      return [{ depot, date: due, unit, what: dueSinceInWords(unit, axle, due) }];
    }),
  );
}
