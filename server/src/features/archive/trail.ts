import { Deed, type Trail, type TrailQuery } from '@mile-mark/contract/archive';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { vehicleOfUnit } from '../register/index.ts';

/** Deeds told at a time. */
const PAGE = 100;

/** What a subject is called: the name of its row, by the table that its first part means. */
const SUBJECT = `
  case split_part(a.subject, '/', 1)
    when 'vehicle' then (select unit from vehicle where id::text = split_part(a.subject, '/', 2))
    when 'person' then (select name from person where id::text = split_part(a.subject, '/', 2))
    when 'model' then (select name from model where id::text = split_part(a.subject, '/', 2))
    when 'depot' then (select name from depot where id::text = split_part(a.subject, '/', 2))
    when 'duty' then (select name from duty where id::text = split_part(a.subject, '/', 2))
    when 'gauge' then (select name from gauge where id::text = split_part(a.subject, '/', 2))
    when 'import' then (select file_name from import_batch where id::text = split_part(a.subject, '/', 2))
    when 'job' then (select v.unit from job j join vehicle v on v.id = j.vehicle_id where j.id::text = split_part(a.subject, '/', 2))
  end`;

const OF_VEHICLE = `
  (a.subject = 'vehicle/' || ? or (a.subject like 'job/%' and exists (select 1 from job j
    where j.vehicle_id = ?::uuid and j.id::text = split_part(a.subject, '/', 2))))`;

/** Who did what, newest first; of one vehicle or by one person, where asked. */
export async function readTrail(em: EntityManager, { unit, by, before, signIns }: TrailQuery): Promise<Trail> {
  const vehicle = unit === undefined ? undefined : await vehicleOfUnit(em, unit, 'unit');
  const wheres = [
    ...(signIns ? [] : [`a.action <> 'signed in'`]),
    ...(vehicle ? [OF_VEHICLE] : []),
    ...(by === undefined ? [] : ['a.person_id = ?']),
    ...(before === undefined ? [] : ['a.id < ?::bigint']),
  ];
  const values = [...(vehicle ? [vehicle.id, vehicle.id] : []), ...(by ? [by] : []), ...(before ? [before] : [])];
  const rows = await rowsOf(
    em,
    Deed,
    `select a.id::text, to_char(a.at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at, coalesce(p.name, 'Mile Mark itself') as by, a.action,
       ${SUBJECT} as subject, case when a.subject like 'vehicle/%' or a.subject like 'job/%' then ${SUBJECT} end as unit,
       a.detail
     from audit a left join person p on p.id = a.person_id ${wheres.length > 0 ? `where ${wheres.join(' and ')}` : ''}
     order by a.id desc limit ${PAGE + 1}`,
    values,
  );
  return { items: rows.slice(0, PAGE), more: rows.length > PAGE };
}
