import type { PlanSeen, Published } from '@mile-mark/contract/plan';
import { countInWords, dayInWords } from '@mile-mark/contract/words';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { planPublished } from '../../../events.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { advanceJob, enterJob } from '../../jobs/index.ts';
import { MailEntity, PlanDepotEntity, PlanEntity, PlanVisitEntity } from '../entities.ts';
import { dateAfter } from '../problem.ts';
import { depotShops, planTerms } from '../queries/shop.ts';
import { sameAxles, visitsOf, type VisitRow } from '../visits.ts';
import { lockedPlan, revisionOfPlan } from './plans.ts';

const WEEK = 7;
/** What a job at an outside shop has in place of a bay. */
const OUTSIDE = 'outside shop';

/** What publishing changed, by depot, as it is told. */
interface Change {
  depotId: string;
  /** The vehicle's own depot, where that is another. */
  home?: string;
  unit: string;
  line: string;
  kind: keyof Omit<Published, 'told'>;
}

/**
 * Makes a proposed plan the one that counts: visits that begin soon become jobs, jobs that it moves are moved, those it
 * has no longer are called off; depots that it does not plan stay as they are published. Who works there is told.
 */
export const publishPlan = command({
  name: 'publishPlan',
  action: 'plan',
  clientId: 'id',
  revisionOf: revisionOfPlan,
  run: async (tx, { planId }: z.output<typeof PlanSeen> & { planId: string }): Promise<Published> => {
    const { em, actor, today, audit, emit } = tx;
    const plan = await lockedPlan(em, planId);
    if (plan.state !== 'proposed')
      throw new ApiError('conflict', `This plan is ${plan.state}; only a proposed one can be published.`);
    if (await em.count(PlanDepotEntity, { planId, problem: null }))
      throw new ApiError(
        'conflict',
        'A depot of this plan could not be solved; propose one without it, or mend what it says.',
      );
    const [before] = await em.find(PlanEntity, { state: 'published' });
    const bookedBefore = before ? await bookedBy(em, before.id) : [];
    if (before) {
      await em.nativeUpdate(PlanEntity, { id: before.id }, { state: 'replaced' });
      await keepOtherDepots(em, before.id, planId);
    }
    await em.execute(`update plan set state = 'dropped' where state = 'proposed' and id <> ?`, [planId]);
    await em.nativeUpdate(
      PlanEntity,
      { id: planId },
      { state: 'published', publishedBy: actor.id, publishedOn: today, revision: plan.revision + 1 },
    );
    const { bookWeeks } = await planTerms(em);
    const changes: Change[] = [];
    const depots = await em.find(PlanDepotEntity, { planId });
    const visits = new Map<string, VisitRow[]>();
    for (const { depotId } of depots) visits.set(depotId, await visitsOf(em, planId, depotId));
    const kept = new Set([...visits.values()].flat().map(({ vehicle }) => vehicle));
    for (const [depotId, own] of visits)
      changes.push(...(await book(tx, depotId, own, dateAfter(today, bookWeeks * WEEK))));
    for (const depotId of visits.keys()) changes.push(...(await callOff(tx, depotId, kept, bookedBefore)));
    const told = await tell(
      em,
      depots.map(({ depotId }) => depotId),
      changes,
      plan.fromDate,
    );
    const count = (kind: Change['kind']) => changes.filter((one) => one.kind === kind).length;
    const done = { booked: count('booked'), moved: count('moved'), calledOff: count('calledOff'), told };
    await audit('published a plan', `plan/${planId}`, done);
    await emit(planPublished({}));
    return done;
  },
});

/** Depots that the new plan leaves alone go on as they were published. */
async function keepOtherDepots(em: EntityManager, from: string, to: string): Promise<void> {
  const columns =
    'state, attempt, heartbeat_at, problem, dates, cost, bound, proved_gap, seconds, earliest_cost, interval_cost, unplaced, failure';
  const kept = await rowsOf(
    em,
    z.object({ depot: z.string() }),
    `insert into plan_depot (plan_id, depot_id, ${columns}) select ?, o.depot_id, ${columns} from plan_depot o
     where o.plan_id = ? and not exists (select 1 from plan_depot n where n.plan_id = ? and n.depot_id = o.depot_id)
     returning depot_id as depot`,
    [to, from, to],
  );
  await em.execute(
    `insert into plan_visit (id, uid, plan_id, depot_id, vehicle_id, axles, day, bay, hours, outside, locked, by_hand, why, job_id)
     select gen_random_uuid(), v.uid, ?, v.depot_id, v.vehicle_id, v.axles, v.day, v.bay, v.hours, v.outside, v.locked, v.by_hand, v.why, v.job_id
     from plan_visit v where v.plan_id = ? and v.depot_id = any(?::uuid[])`,
    [to, from, `{${kept.map(({ depot }) => depot).join()}}`],
  );
  // Who is lent to them stays lent; a loan between one of them and one that was planned is in both already.
  await em.execute(
    `update plan n set loans = coalesce(n.loans, '[]') || coalesce((select jsonb_agg(l) from plan o, jsonb_array_elements(o.loans) l
       where o.id = ? and not exists (select 1 from jsonb_array_elements(n.loans) k where k->>'vehicle' = l->>'vehicle')
         and exists (select 1 from plan_visit p where p.plan_id = n.id and p.vehicle_id = (l->>'vehicle')::uuid
           and p.depot_id = (l->>'to')::uuid)), '[]')
     where n.id = ?`,
    [from, to],
  );
}

const OpenSql = z.object({
  id: z.string(),
  vehicle: z.string(),
  depot: z.string(),
  state: z.string(),
  day: z.string().nullable(),
  bay: z.string().nullable(),
  axles: z.array(z.number()),
  revision: z.number(),
});
type Open = z.output<typeof OpenSql>;

/** Open jobs at a depot, and those of some vehicles wherever they are. */
async function openJobsOf(
  em: EntityManager,
  depotId: string,
  vehicles: readonly string[] = [],
): Promise<Map<string, Open>> {
  const rows = await rowsOf(
    em,
    OpenSql,
    `select j.id, j.vehicle_id as vehicle, j.depot_id as depot, j.state, j.day::text, j.bay, j.revision,
       array(select a.axle from job_axle a where a.job_id = j.id order by 1) as axles
     from job j where (j.depot_id = ? or j.vehicle_id = any(?::uuid[])) and j.state in ('proposed', 'booked', 'in work')`,
    [depotId, `{${vehicles.join()}}`],
  );
  return new Map(rows.map((row) => [row.vehicle, row]));
}

const BookedSql = z.object({ job: z.string(), day: z.string() });

/** Jobs that a plan booked. */
async function bookedBy(em: EntityManager, planId: string): Promise<z.output<typeof BookedSql>[]> {
  return rowsOf(
    em,
    BookedSql,
    'select job_id as job, day::text from plan_visit where plan_id = ? and job_id is not null and not locked',
    [planId],
  );
}

/** The first visit of each vehicle becomes its job where it begins soon, or where the vehicle has that job already. */
async function book(tx: Transaction, depotId: string, visits: readonly VisitRow[], until: string): Promise<Change[]> {
  const { em } = tx;
  const open = await openJobsOf(
    em,
    depotId,
    visits.map(({ vehicle }) => vehicle),
  );
  const changes: Change[] = [];
  const seen = new Set<string>();
  for (const visit of [...visits].sort((a, b) => (a.day < b.day ? -1 : 1))) {
    // Proposed days ago, published now: what was for a day that is past is nobody's booking.
    if (seen.has(visit.vehicle) || visit.day < tx.today) continue;
    seen.add(visit.vehicle);
    const job = open.get(visit.vehicle);
    const bay = visit.outside ? OUTSIDE : visit.bay;
    const where = { depotId, home: visit.home, unit: visit.unit };
    const to = `${dayInWords(visit.day)}${bay === null ? '' : `, ${bay}`}`;
    if (!job) {
      if (visit.day > until) continue;
      const id = await newJob(tx, visit, bay, depotId);
      await em.nativeUpdate(PlanVisitEntity, { id: visit.id }, { jobId: id });
      changes.push({ ...where, kind: 'booked', line: `${visit.unit}, ${axlesInWords(visit.axles)}: ${to}` });
    } else if (job.state === 'in work') continue;
    else if (sameAxles(job.axles, visit.axles)) {
      await em.nativeUpdate(PlanVisitEntity, { id: visit.id }, { jobId: job.id });
      const stays = job.depot === depotId;
      if (stays && job.day === visit.day && (job.bay === bay || visit.locked)) continue;
      await advanceJob(
        tx,
        {
          id: randomUUID(),
          jobId: job.id,
          verb: 'book',
          day: visit.day,
          bay: bay ?? undefined,
          revision: job.revision,
        },
        depotId,
      );
      const from = job.day === null ? 'proposed' : dayInWords(job.day);
      if (job.day !== visit.day || !stays)
        changes.push({ ...where, kind: 'moved', line: `${visit.unit}, ${axlesInWords(visit.axles)}: ${from} → ${to}` });
    } else if (job.state === 'booked') {
      await advanceJob(tx, {
        id: randomUUID(),
        jobId: job.id,
        verb: 'call off',
        reason: 'The plan does other axles at its visit.',
        revision: job.revision,
      });
      const id = await newJob(tx, visit, bay, depotId);
      await em.nativeUpdate(PlanVisitEntity, { id: visit.id }, { jobId: id });
      changes.push({
        ...where,
        kind: 'moved',
        line: `${visit.unit}, ${axlesInWords(visit.axles)}: ${to}, in place of ${axlesInWords(job.axles)}`,
      });
    }
  }
  return changes;
}

async function newJob(tx: Transaction, visit: VisitRow, bay: string | null, depotId: string): Promise<string> {
  const axles = visit.axles.map((axle) => ({
    axle,
    added: [{ action: 'pads' as const, sides: 'both' as const, reason: 'The plan has it on this day.' }],
    declined: [],
  }));
  const job = { id: randomUUID(), unit: visit.unit, axles, day: visit.day, bay: bay ?? undefined };
  const { id } = await enterJob(tx, job, depotId);
  return id;
}

/** Jobs that the plan before had booked and this one has no longer. @param kept vehicles that it has, at whatever depot */
async function callOff(
  tx: Transaction,
  depotId: string,
  kept: ReadonlySet<string>,
  before: readonly { job: string; day: string }[],
): Promise<Change[]> {
  const open = await openJobsOf(tx.em, depotId);
  const changes: Change[] = [];
  for (const job of open.values()) {
    // What somebody moved by hand since is that person's booking now.
    const planned = before.some((one) => one.job === job.id && one.day === job.day);
    if (!planned || job.state !== 'booked' || kept.has(job.vehicle)) continue;
    const row = await advanceJob(tx, {
      id: randomUUID(),
      jobId: job.id,
      verb: 'call off',
      reason: 'The new plan has no visit for it.',
      revision: job.revision,
    });
    changes.push({
      depotId,
      unit: row.unit,
      kind: 'calledOff',
      line: `${row.unit}, ${axlesInWords(job.axles)}: no longer ${dayInWords(job.day ?? '')}`,
    });
  }
  return changes;
}

const axlesInWords = (axles: readonly number[]) =>
  axles.length === 1 ? `axle ${axles[0]}` : `axles ${axles.join(' and ')}`;

const PersonSql = z.object({ id: z.string(), role: z.string() });

/** A mail to everybody who works at a depot where something changed, and to the parts keepers: what, and when. */
async function tell(
  em: EntityManager,
  depotIds: readonly string[],
  changes: readonly Change[],
  from: string,
): Promise<number> {
  if (changes.length === 0) return 0;
  const all = await depotShops(em);
  const nameOf = (id: string) => all.find((one) => one.id === id)?.depot ?? '';
  const shops = all.filter(({ id }) => depotIds.includes(id));
  const people = await rowsOf(em, PersonSql, `select id, role from person where left_on is null and email is not null`);
  const mails = people.flatMap(({ id, role }) => {
    const own = shops.filter(
      ({ week }) => role === 'parts keeper' || week.people.some(({ personId }) => personId === id),
    );
    const lines = own.flatMap((shop) => {
      const there = changes.filter(({ depotId, home }) => depotId === shop.id || home === shop.id);
      const lineOf = ({ depotId, line }: Change) => `  ${line}${depotId === shop.id ? '' : `, at ${nameOf(depotId)}`}`;
      return there.length === 0 ? [] : [`${shop.depot}:`, ...there.map(lineOf), ''];
    });
    if (lines.length === 0) return [];
    const count = changes.filter(({ depotId, home }) => own.some(({ id }) => id === depotId || id === home)).length;
    return [
      {
        id: randomUUID(),
        personId: id,
        subject: `The plan from ${dayInWords(from)}: ${countInWords(count, 'booking')} changed`,
        body: [...lines, 'The maker’s instructions, local codes and licensed practice come first.'].join('\n'),
        sentAt: null,
        failure: null,
      },
    ];
  });
  if (mails.length > 0) await em.insertMany(MailEntity, mails);
  return mails.length;
}
