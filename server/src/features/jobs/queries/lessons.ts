import { JobAction, type JobLessons } from '@mile-mark/contract/jobs';
import { VehicleClass } from '@mile-mark/contract';
import { dayNumber, paceOf, shareOf, STEPS, workKind, type TimeSums, type Told, type WorkKind } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

/** A fault that comes so soon after a job at its axle is held against the job (common practice, no source). */
const WITHIN_DAYS = 120;
/** As many faults are listed one by one. */
const MOST_FOLLOWED = 50;

const ClosedSql = z.object({
  id: z.string(),
  class: VehicleClass,
  closedOn: z.string(),
  worked: z.number().nullable(),
  usual: z.number().nullable(),
  axles: z.int(),
  actions: z.array(z.array(JobAction)).transform((byAxle) => byAxle.flat()),
});
type ClosedSql = z.output<typeof ClosedSql>;
const CLOSED = `
  select j.id, m.class, j.closed_on::text as "closedOn", j.worked_min as worked, j.usual_min as usual, a.axles, a.actions
  from job j join vehicle v on v.id = j.vehicle_id join model m on m.id = v.model_id
    join (select x.job_id, count(*)::int as axles, jsonb_agg(jsonb_path_query_array(x.scope, '$[*].action')) as actions
      from job_axle x group by x.job_id) a on a.job_id = j.id
  where j.state = 'closed'`;

const StepSql = z.object({ class: VehicleClass, step: z.string(), n: z.int(), sumLn: z.number(), sumLn2: z.number() });
const PartSql = z.object({ class: VehicleClass, what: z.string(), quantity: z.int(), jobs: z.int() });
const PARTS = `
  select m.class, min(trim(e.detail->>'what')) as what, sum((e.detail->>'quantity')::int)::int as quantity, count(distinct j.id)::int as jobs
  from job_entry e join job j on j.id = e.job_id join vehicle v on v.id = j.vehicle_id join model m on m.id = v.model_id
  where e.kind = 'part' and j.state = 'closed' group by m.class, lower(trim(e.detail->>'what')) order by jobs desc, what`;

const FollowedSql = z.object({
  unit: z.string(),
  text: z.string(),
  foundOn: z.string(),
  closedOn: z.string(),
  jobId: z.string(),
  by: z.array(z.string()),
});
/** Complaints and findings with the last job closed before them that was at their axle. */
const FOLLOWED = `
  select v.unit, case when d.kind = 'complaint' then d.item else d.item || ' ' || coalesce(d.state, '') end as text,
    d.found_on::text as "foundOn", j.closed_on::text as "closedOn", j.id as "jobId",
    array(select p.name from job_person x join person p on p.id = x.person_id where x.job_id = j.id order by p.name) as by
  from defect d join vehicle v on v.id = d.vehicle_id
    cross join lateral (
      select j.id, j.closed_on from job j join job_move m on m.job_id = j.id and m.verb = 'close'
      where j.vehicle_id = d.vehicle_id and j.state = 'closed' and j.closed_on <= d.found_on and m.at < d.at
        and (d.axle is null or exists (select 1 from job_axle a where a.job_id = j.id and a.axle = d.axle))
      order by j.closed_on desc, m.at desc limit 1) j
  where d.kind in ('complaint', 'finding') and d.found_on - j.closed_on <= ?
  order by d.found_on desc, v.unit`;

/** What closed jobs have taught. @param today ISO; jobs younger than the time in which faults follow don't count for them */
export async function jobLessons(em: EntityManager, today: string): Promise<JobLessons> {
  const own = () => em.fork();
  const [closed, steps, parts, followed] = await Promise.all([
    rowsOf(own(), ClosedSql, CLOSED),
    rowsOf(own(), StepSql, 'select class, step, n, sum_ln as "sumLn", sum_ln2 as "sumLn2" from step_time'),
    rowsOf(own(), PartSql, PARTS),
    rowsOf(own(), FollowedSql, FOLLOWED, [WITHIN_DAYS]),
  ]);
  const work = new Map(closed.map((one) => [one.id, workKind(one.actions)]));
  const ofClass = (name: string) => closed.filter((one) => one.class === name).length;
  return {
    closed: closed.length,
    jobs: jobTimes(closed),
    steps: steps.flatMap(stepTime).sort((a, b) => departure(b.minutes, b.usualMin) - departure(a.minutes, a.usualMin)),
    parts: parts.map((one) => ({ ...one, of: ofClass(one.class), share: shareOf(one.jobs, ofClass(one.class)) })),
    withinDays: WITHIN_DAYS,
    faults: faultShares(closed, followed, work, today),
    followed: followed.slice(0, MOST_FOLLOWED).map(({ closedOn, ...one }) => ({
      ...one,
      days: dayNumber(one.foundOn) - dayNumber(closedOn),
      work: work.get(one.jobId) ?? 'other work',
    })),
  };
}

/** Minutes by which something surely is off the usual: nought where the usual lies in the interval. */
function departure({ low, high }: Told, usual: number): number {
  return Math.max(0, low - usual, usual - high);
}

function jobTimes(closed: readonly ClosedSql[]): JobLessons['jobs'] {
  const groups = new Map<string, { first: ClosedSql; sums: TimeSums; usual: number }>();
  for (const one of closed) {
    if (one.worked === null || one.usual === null) continue;
    const key = `${one.class}/${workKind(one.actions)}/${one.axles}`;
    const group = groups.get(key) ?? { first: one, sums: { n: 0, sumLn: 0, sumLn2: 0 }, usual: 0 };
    const ln = Math.log(one.worked / one.usual);
    group.sums = { n: group.sums.n + 1, sumLn: group.sums.sumLn + ln, sumLn2: group.sums.sumLn2 + ln * ln };
    group.usual += one.usual;
    groups.set(key, group);
  }
  return [...groups.values()]
    .map(({ first, sums, usual }) => {
      const usualMin = usual / sums.n;
      return {
        class: first.class,
        work: workKind(first.actions),
        axles: first.axles,
        jobs: sums.n,
        usualMin,
        minutes: times(paceOf(sums), usualMin),
      };
    })
    .sort((a, b) => b.jobs - a.jobs);
}

const times = ({ value, low, high }: Told, by: number): Told => ({ value: value * by, low: low * by, high: high * by });

/** Usual minutes of a step by its name; a step the card no longer has is left out. */
function stepTime({ class: name, step, ...sums }: z.output<typeof StepSql>): JobLessons['steps'] {
  const usualMin = STEPS.find(({ id }) => id === step)?.minutes;
  if (usualMin === undefined) return [];
  return [{ class: name, step, jobs: sums.n, usualMin, minutes: times(paceOf(sums), usualMin) }];
}

/** Of the jobs old enough for a fault to have followed: how many were followed by which. */
function faultShares(
  closed: readonly ClosedSql[],
  followed: readonly z.output<typeof FollowedSql>[],
  work: ReadonlyMap<string, WorkKind>,
  today: string,
): JobLessons['faults'] {
  const old = closed.filter(({ closedOn }) => dayNumber(today) - dayNumber(closedOn) >= WITHIN_DAYS);
  const seen = new Set(old.map(({ id }) => id));
  const jobsOf = new Map<string, Set<string>>();
  for (const { text, jobId } of followed) {
    if (!seen.has(jobId)) continue;
    const key = JSON.stringify([text, work.get(jobId)]);
    jobsOf.set(key, (jobsOf.get(key) ?? new Set()).add(jobId));
  }
  return [...jobsOf]
    .map(([key, jobs]) => {
      const [text, kind] = JSON.parse(key) as [string, WorkKind];
      const of = old.filter(({ id }) => work.get(id) === kind).length;
      return { text, work: kind, jobs: jobs.size, of, share: shareOf(jobs.size, of) };
    })
    .sort((a, b) => b.share.low - a.share.low || b.jobs - a.jobs);
}
