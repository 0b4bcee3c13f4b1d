import { OwnInspection } from '@mile-mark/contract/inspections';
import { metresToMiles } from '@mile-mark/core';
import { z } from 'zod';
import { type Actor, mustBeAllowed } from '../../../platform/auth/policy.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { vehicleOfUnit } from '../../register/index.ts';

const OwnSql = OwnInspection.omit({ odometerMi: true }).extend({ odometer_m: z.number() });

/** An inspection entered anew at another odometer counts once, with what hangs on the earlier ones. */
const sheetsWhere = (which: string) => `
  with recursive own as (
    select i.id, i.id as part, i.supersedes_id from inspection i
      where ${which}
        and not exists (select 1 from inspection later where later.supersedes_id = i.id)
    union all select own.id, i.id, i.supersedes_id from own join inspection i on i.id = own.supersedes_id)
  select i.id, v.unit, i.measured_on::text as date, i.odometer_m, i.entered_at::text as "enteredAt", p.name as technician,
    (select count(*) from reading r where r.inspection_id = i.id and r.thickness_um is not null
      and (w.id is not null or not exists (select 1 from reading later where later.supersedes_id = r.id)))::int as readings,
    (select count(*) from finding f join own on own.part = f.inspection_id where own.id = i.id
      and not exists (select 1 from finding_withdrawal g where g.finding_id = f.id))::int as findings,
    (select count(*) from rotor_measurement x join own on own.part = x.inspection_id where own.id = i.id)::int as rotors,
    (select count(*) from photo x join own on own.part = x.inspection_id where own.id = i.id)::int as photos,
    exists (select 1 from defect d where d.severity = 'do not drive'
      and not exists (select 1 from defect_settlement s where s.defect_id = d.id and s.how = 'closed')
      and (d.source_id in (select f.id from finding f join own on own.part = f.inspection_id where own.id = i.id)
        or d.source_id in (select r.id from reading r where r.inspection_id = i.id))) as forbids,
    case when w.id is null then null else jsonb_build_object('at', w.at, 'reason', w.reason, 'movedTo', t.unit) end as withdrawn
  from inspection i join vehicle v on v.id = i.vehicle_id join person p on p.id = i.technician_id
    left join inspection_withdrawal w on w.inspection_id = i.id
    left join inspection m on m.id = w.moved_to left join vehicle t on t.id = m.vehicle_id
  where i.id in (select id from own) order by i.entered_at desc, i.measured_on desc limit 40`;

const OWN = sheetsWhere("i.entered_by = ? and i.import_id is null and i.entered_at > now() - interval '1 day'");
const OF_VEHICLE = sheetsWhere('i.vehicle_id = ?');

/** What a person entered within a day, newest first: what they may still take back themselves. */
export async function ownInspections(em: EntityManager, actor: Actor): Promise<OwnInspection[]> {
  mustBeAllowed(actor, 'measure');
  return sheetsOf(em, OWN, actor.id);
}

/** The last forty inspections of a vehicle, whoever entered them: what the coordinator may take back or move. */
export async function vehicleSheets(em: EntityManager, actor: Actor, unit: string): Promise<OwnInspection[]> {
  mustBeAllowed(actor, 'correctOthers');
  const { id } = await vehicleOfUnit(em, unit, 'unit');
  return sheetsOf(em, OF_VEHICLE, id);
}

async function sheetsOf(em: EntityManager, sql: string, of: string): Promise<OwnInspection[]> {
  const rows = await rowsOf(em, OwnSql, sql, [of]);
  return rows.map(({ odometer_m, ...row }) => ({ ...row, odometerMi: Math.round(metresToMiles(odometer_m)) }));
}
