import { JobRow, type JobFilter } from '@mile-mark/contract/jobs';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

/** What is told of each job; the jobs themselves are chosen and put in order first, so that the rest is read of those only. */
const told = (chosen: string) => `
  select j.id, j.unit, m.name as model, j.depot, j.state, j.day::text, j.bay,
    array(select p.name from job_person x join person p on p.id = x.person_id where x.job_id = j.id order by p.name) as people,
    (select coalesce(jsonb_agg(jsonb_build_object('axle', a.axle, 'scope', a.scope, 'declined', a.declined) order by a.axle), '[]')
      from job_axle a where a.job_id = j.id) as axles,
    j.created_on::text as "createdOn", j.closed_on::text as "closedOn", j.revision,
    case when j.state = 'in work' then (select count(distinct e.step)::int from job_entry e where e.job_id = j.id and e.step is not null
      and e.kind <> 'note' and not exists (select 1 from job_entry u where u.job_id = j.id and u.step = e.step and u.kind = 'undo' and u.serial > e.serial))
      else 0 end as "stepsDone"
  from (${chosen}) j join model m on m.id = j.model_id order by j.place`;

const ORDER = `j.state in ('closed', 'called off'), case when j.state in ('closed', 'called off') then null else j.day end nulls last,
  j.closed_on desc nulls last, j.created_at desc`;

/** As many closed jobs are listed, the newest first. */
const MOST = 200;

/** Jobs, those ahead first by their day, closed ones after them. */
export async function listJobs(em: EntityManager, filter: JobFilter & { id?: string }): Promise<JobRow[]> {
  const where: string[] = [];
  const values: unknown[] = [];
  const add = (sql: string, ...own: unknown[]) => {
    where.push(sql);
    values.push(...own);
  };
  if (filter.id !== undefined) add('j.id = ?', filter.id);
  if (filter.state === 'open') add(`j.state in ('proposed', 'booked', 'in work')`);
  else if (filter.state !== undefined) add('j.state = ?', filter.state);
  if (filter.unit !== undefined) add('v.unit = upper(?)', filter.unit.trim());
  if (filter.depot !== undefined) add('y.name = ?', filter.depot);
  // Only what is told: reasons and policies of thousands of jobs are not carried through the sort.
  const chosen = `select j.id, j.state, j.day, j.bay, j.created_on, j.created_at, j.closed_on, j.revision, v.unit, v.model_id, y.name as depot, row_number() over (order by ${ORDER}) as place
    from job j join vehicle v on v.id = j.vehicle_id join depot y on y.id = j.depot_id
    ${where.length > 0 ? `where ${where.join(' and ')}` : ''} order by ${ORDER} limit ?`;
  return rowsOf(em, JobRow, told(chosen), [...values, MOST]);
}
