import { Defect } from '@mile-mark/contract/jobs';
import { Side } from '@mile-mark/contract';
import {
  COMPLAINTS,
  dayNumber,
  escalated,
  FINDING_CATALOGUE,
  metresToMiles,
  SEVERITIES,
  type Complaint,
} from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { onInstrumentNow } from '../../register/index.ts';

const DefectSql = Defect.pick({
  id: true,
  unit: true,
  depot: true,
  kind: true,
  severity: true,
  note: true,
  saidBy: true,
  foundOn: true,
  jobId: true,
  deferred: true,
  lifted: true,
}).extend({
  axle: z.number().nullable(),
  side: Side.nullable(),
  item: z.string(),
  state: z.string().nullable(),
  odometer_m: z.number().nullable(),
});
type DefectSql = z.output<typeof DefectSql>;

/** Defects nobody has closed, re-checks once the odometer is there; with the last word on putting off and on driving all the same. */
const OPEN = `
  select d.id, v.unit, y.name as depot, d.kind, d.axle, d.side, d.item, d.state, d.severity, d.note, d.said_by as "saidBy",
    d.found_on::text as "foundOn", d.odometer_m, d.job_id as "jobId",
    (select jsonb_build_object('until', s.until, 'reason', s.reason, 'by', p.name) from defect_settlement s
       join person p on p.id = s.person_id where s.defect_id = d.id and s.how = 'deferred' order by s.at desc limit 1) as deferred,
    (select jsonb_build_object('reason', s.reason, 'by', p.name, 'on', s.settled_on) from defect_settlement s
       join person p on p.id = s.person_id where s.defect_id = d.id and s.how = 'lifted' order by s.at desc limit 1) as lifted
  from defect d join vehicle_in_fleet v on v.id = d.vehicle_id join depot y on y.id = v.depot_id
  where not exists (select 1 from defect_settlement s where s.defect_id = d.id and s.how = 'closed')
    and (d.kind <> 're-check' or ${onInstrumentNow('d.vehicle_id', 'd.found_on', 'd.due_m')} <= (select (f.detail->>'odometerNowMi')::float8 * 1609.344 from vehicle_forecast f where f.vehicle_id = v.id))`;

function textOf({ kind, item, state }: DefectSql): string {
  if (kind === 'complaint') return item;
  if (kind === 're-check') return `${item}: to be re-checked`;
  return kind === 'limit' ? `${item} under the legal limit: ${state ?? ''}` : `${item} ${state ?? ''}`;
}

function lookFor({ kind, item }: DefectSql): string[] {
  if (kind === 'complaint') return [...COMPLAINTS[item as Complaint].look];
  return item in FINDING_CATALOGUE ? [item] : [];
}

function defectOf(row: DefectSql, today: string): Defect {
  const ageDays = Math.max(0, dayNumber(today) - dayNumber(row.foundOn));
  const every = row.kind === 'complaint' ? COMPLAINTS[row.item as Complaint].escalatesAfterDays : 0;
  const { item: _item, state: _state, odometer_m, ...rest } = row;
  return {
    ...rest,
    text: textOf(row),
    severity: escalated(row.severity, ageDays, every),
    odometerMi: odometer_m === null ? null : Math.round(metresToMiles(odometer_m)),
    ageDays,
    look: lookFor(row),
  };
}

/** Open defects, the worst and oldest first. @param vehicleId of one vehicle; of all where left out */
export async function openDefects(em: EntityManager, today: string, vehicleId?: string): Promise<Defect[]> {
  const rows =
    vehicleId === undefined
      ? await rowsOf(em, DefectSql, OPEN)
      : await rowsOf(em, DefectSql, `${OPEN} and d.vehicle_id = ?`, [vehicleId]);
  return rows
    .map((row) => defectOf(row, today))
    .sort(
      (a, b) =>
        SEVERITIES.indexOf(b.severity) - SEVERITIES.indexOf(a.severity) ||
        b.ageDays - a.ageDays ||
        a.unit.localeCompare(b.unit),
    );
}

/** Units that may not be driven. */
export async function standingUnits(em: EntityManager, today: string): Promise<Set<string>> {
  const open = await openDefects(em, today);
  return new Set(
    open.filter(({ severity, lifted }) => severity === 'do not drive' && lifted === null).map(({ unit }) => unit),
  );
}

/** Whether a defect has to be settled now: put off to a later day, it has not. */
export function isDue({ deferred }: Pick<Defect, 'deferred'>, today: string): boolean {
  return deferred === null || deferred.until <= today;
}
