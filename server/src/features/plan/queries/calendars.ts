import type { CalendarLink } from '@mile-mark/contract/plan';
import { CalendarLink as CalendarLinkDto } from '@mile-mark/contract/plan';
import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { writeCalendar, type CalendarVisit } from '../calendarOut.ts';
import { dateAfter, weekdayOpening } from '../problem.ts';
import { depotShops } from './shop.ts';

export const hashOf = (token: string) => createHash('sha256').update(token).digest('hex');

export async function listCalendarLinks(em: EntityManager): Promise<CalendarLink[]> {
  return rowsOf(
    em,
    CalendarLinkDto,
    `select l.id, l.kind, coalesce(d.name, v.unit, p.name, '') as of, m.name as "madeBy", l.made_on::text as "madeOn", l.last_read_on::text as "lastReadOn"
     from calendar_link l join person m on m.id = l.made_by left join depot d on d.id = l.subject_id left join vehicle v on v.id = l.subject_id
       left join person p on p.id = l.subject_id where l.withdrawn_on is null order by l.made_on desc, l.id`,
  );
}

const LinkSql = z.object({
  id: z.string(),
  kind: z.enum(['depot', 'person', 'vehicle']),
  subject: z.string(),
  name: z.string(),
});

const VisitSql = z.object({
  uid: z.string(),
  unit: z.string(),
  axles: z.array(z.number()),
  depotId: z.string(),
  depot: z.string(),
  date: z.string(),
  hours: z.number(),
  bay: z.string().nullable(),
  people: z.array(z.string()),
  cancelled: z.boolean(),
});

/** Visits that were cancelled so long ago are no longer told as that, days. */
const TOLD_DAYS = 60;
const USUAL_HOURS = 2;

/**
 * Visits of the plan that counts (where a job was moved by hand since, as the job stands), jobs that no plan has, and
 * what was planned or booked and is no longer, as cancelled: of a depot, also what another does since.
 */
const VISITS = `
  with live as (
    select p.uid, p.vehicle_id, p.depot_id, p.axles, coalesce(case when j.state in ('booked', 'in work') then j.day end, p.day) as day,
      p.hours, coalesce(j.bay, p.bay) as bay, p.job_id, coalesce(j.state = 'called off', false) as cancelled
    from plan_visit p join plan s on s.id = p.plan_id left join job j on j.id = p.job_id where s.state = 'published'),
  jobs as (
    select coalesce((select p.uid from plan_visit p join plan s on s.id = p.plan_id where p.job_id = j.id and s.state = 'replaced'
        order by s.serial desc limit 1), j.id) as uid, j.vehicle_id, j.depot_id, (select jsonb_agg(a.axle order by a.axle) from job_axle a where a.job_id = j.id) as axles, j.day,
      ${USUAL_HOURS}::float8 as hours, j.bay, j.id as job_id, j.state = 'called off' as cancelled
    from job j where j.day is not null and j.state in ('booked', 'in work', 'called off') and j.day >= ?::date
      and not exists (select 1 from live l where l.job_id = j.id)),
  gone as (
    select distinct on (p.uid, case ? when 'depot' then p.depot_id end) p.uid, p.vehicle_id, p.depot_id, p.axles, p.day, p.hours, p.bay, null::uuid as job_id, true as cancelled
    from plan_visit p join plan s on s.id = p.plan_id where s.state = 'replaced' and p.day >= ?::date and not exists (select 1 from live l where l.uid = p.uid and (? <> 'depot' or l.depot_id = p.depot_id))
      and not exists (select 1 from jobs o where o.uid = p.uid and (? <> 'depot' or o.depot_id = p.depot_id)) and not exists (select 1 from job j where j.id = p.job_id and j.state in ('closed', 'in work'))
    order by p.uid, case ? when 'depot' then p.depot_id end, s.serial desc)
  select x.uid, v.unit, x.axles, x.depot_id as "depotId", d.name as depot, x.day::text as date, x.hours, x.bay, x.cancelled,
    array(select p.name from job_person q join person p on p.id = q.person_id where q.job_id = x.job_id order by p.name) as people
  from (select * from live union all select * from jobs union all select * from gone) x
    join vehicle v on v.id = x.vehicle_id join depot d on d.id = x.depot_id
  where case ? when 'depot' then x.depot_id = ?::uuid when 'vehicle' then x.vehicle_id = ?::uuid
    else exists (select 1 from job_person q where q.job_id = x.job_id and q.person_id = ?::uuid) end
  order by x.day, v.unit, x.uid`;

/** The calendar whose token this is. @throws ApiError `not_found`, for a token that was withdrawn as for one that never was */
export async function calendarOf(em: EntityManager, token: string, today: string): Promise<string> {
  const link = await firstRow(
    em,
    LinkSql,
    `select l.id, l.kind, l.subject_id as subject, coalesce(d.name, v.unit, p.name, '') as name from calendar_link l
       left join depot d on d.id = l.subject_id left join vehicle v on v.id = l.subject_id left join person p on p.id = l.subject_id
     where l.token_hash = ? and l.withdrawn_on is null`,
    [hashOf(token)],
  );
  if (!link) throw new ApiError('not_found', 'There is no such calendar.');
  await em.execute('update calendar_link set last_read_on = ? where id = ? and last_read_on is distinct from ?::date', [
    today,
    link.id,
    today,
  ]);
  const since = dateAfter(today, -TOLD_DAYS);
  const rows = await rowsOf(em, VisitSql, VISITS, [
    since,
    link.kind,
    since,
    link.kind,
    link.kind,
    link.kind,
    link.kind,
    link.subject,
    link.subject,
    link.subject,
  ]);
  const shops = new Map((await depotShops(em)).map((shop) => [shop.id, shop]));
  const visits = rows.map(({ depotId, ...row }): CalendarVisit => {
    const shop = shops.get(depotId);
    return { ...row, zone: shop?.zone ?? 'UTC', opens: shop ? weekdayOpening(shop, row.date) : '07:00' };
  });
  const version = await firstRow(
    em,
    z.object({ sequence: z.coerce.number(), stamp: z.string() }),
    `select (select count(*) from job_move) + (select coalesce(max(serial), 0) from plan) as sequence,
       to_char(greatest((select max(at) from job_move), (select max(at) from audit where action = 'published a plan'), 'epoch'::timestamptz) at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as stamp`,
  );
  return writeCalendar(`Brakes, ${link.name}`, visits, version ?? { sequence: 0, stamp: `${today}T00:00:00Z` });
}
