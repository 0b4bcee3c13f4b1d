import type { DayBoard } from '@mile-mark/contract/plan';
import { JobAction } from '@mile-mark/contract/jobs';
import { dayInWords } from '@mile-mark/contract/words';
import { weekdayOf } from '@mile-mark/core/plan';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { invalidField } from '../../../platform/errors.ts';
import { standingUnits } from '../../jobs/index.ts';
import { jobKits } from '../../parts/index.ts';
import { hoursByScope } from '../hours.ts';
import { weekOf } from '../problem.ts';
import { absencesFrom, depotShops, planTerms, type AbsenceRow, type DepotShop } from './shop.ts';

const JobSql = z.object({
  jobId: z.string(),
  unit: z.string(),
  vehicle: z.string(),
  model: z.string(),
  class: z.string(),
  axles: z.array(z.number()),
  actions: z.array(z.array(JobAction)),
  state: z.string(),
  day: z.string(),
  bay: z.string().nullable(),
  hours: z.number().nullable(),
  people: z.array(z.string()),
});
/** Jobs of a depot's day; on today's board what is in work, and what was booked for a day before, too. */
const JOBS = `
  select j.id as "jobId", v.unit, v.id as vehicle, m.name as model, m.class, j.state, j.day::text, j.bay,
    array(select a.axle from job_axle a where a.job_id = j.id order by 1) as axles,
    (select jsonb_agg(jsonb_path_query_array(a.scope, '$[*].action')) from job_axle a where a.job_id = j.id) as actions,
    (select p.hours from plan_visit p join plan s on s.id = p.plan_id where p.job_id = j.id and s.state = 'published' limit 1) as hours,
    array(select p.name from job_person x join person p on p.id = x.person_id where x.job_id = j.id order by p.name) as people
  from job j join vehicle v on v.id = j.vehicle_id join model m on m.id = v.model_id
  where j.depot_id = ? and j.day is not null and ((j.state in ('booked', 'in work', 'closed') and j.day = ?::date)
    or (?::boolean and j.state in ('booked', 'in work') and j.day < ?::date))
  order by j.bay nulls last, j.day, v.unit`;

/** A day of a depot's bays: who is there, what is to be done in which bay, and whether its kit is. */
export async function dayBoard(
  em: EntityManager,
  { depot: name, date }: { depot: string; date?: string | undefined },
  today: string,
): Promise<DayBoard> {
  const day = date ?? today;
  const shop = (await depotShops(em)).find(({ depot }) => depot === name);
  if (!shop) throw invalidField('depot', `There is no depot ${name} with vehicles; one on record is accepted.`);
  const jobs = await rowsOf(em, JobSql, JOBS, [shop.id, day, day === today, day]);
  const kits = new Map((await jobKits(em, today)).map((kit) => [kit.jobId, kit]));
  const forbidden = await standingUnits(em, today);
  const { setUpHours } = await planTerms(em);
  const hoursOf = await hoursByScope(em);
  const absences = await absencesFrom(em, day < today ? day : today);
  const open = (weekOf(shop).open[weekdayOf(day)] ?? 0) > 0 && !isAway(absences, shop.id, day);
  return {
    today,
    date: day,
    depot: name,
    open,
    people: await peopleOf(em, shop, day, absences),
    jobs: jobs.map((job) => {
      const kit = kits.get(job.jobId);
      return {
        jobId: job.jobId,
        unit: job.unit,
        model: job.model,
        axles: job.axles,
        state: job.state,
        bay: job.bay,
        hours: job.hours ?? job.actions.reduce((sum, own) => sum + hoursOf(job.class, own), setUpHours),
        people: job.people,
        kit: kit === undefined || kit.state === 'over' ? '' : kitInWords(kit),
        kitShort: kit?.state === 'short',
        lateSince: job.day < day && job.state === 'booked' ? job.day : null,
        doNotDrive: forbidden.has(job.unit),
      };
    }),
  };
}

function kitInWords({ state, until }: { state: string; until: string | null }): string {
  if (state !== 'short') return state === 'complete' ? 'kit complete' : 'kit with a substitute';
  return until === null ? 'kit short, not on order' : `kit short until ${dayInWords(until)}`;
}

const isAway = (absences: readonly AbsenceRow[], subject: string, day: string): boolean =>
  absences.some((one) => one.subject === subject && !one.comesIn && one.from <= day && day <= one.to);

async function peopleOf(
  em: EntityManager,
  shop: DepotShop,
  day: string,
  absences: readonly AbsenceRow[],
): Promise<DayBoard['people']> {
  const names = new Map(
    (await rowsOf(em, z.object({ id: z.string(), name: z.string() }), 'select id, name from person')).map(
      ({ id, name }) => [id, name],
    ),
  );
  return shop.week.people.map(({ personId, certified, hours }) => ({
    name: names.get(personId) ?? '',
    certified,
    hours: hours[weekdayOf(day)] ?? 0,
    away: absences.find((one) => one.subject === personId && one.from <= day && day <= one.to)?.reason ?? null,
  }));
}
