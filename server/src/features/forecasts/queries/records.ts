import type { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { shared } from '../../../platform/answers/shared.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { setsOf } from '../../../platform/db/sets.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { groupBy } from '../../../platform/groupBy.ts';
import {
  DutyEntity,
  DutyPeriodEntity,
  INSTRUMENT_STEPS,
  InstrumentStep,
  ModelAxleEntity,
  ModelEntity,
  onInstrumentOf,
  VehicleEntity,
} from '../../register/index.ts';
import {
  LiveReading,
  MeasuredSql,
  OdometerSql,
  RemedySql,
  RotorSql,
  ServiceSql,
  type VehicleRecord,
} from '../record.ts';

/** Loads vehicles with all that their forecasts rest on, by sets: a handful of queries however many vehicles. */
export async function loadVehicleRecords(em: EntityManager, ids: string[] | 'all'): Promise<VehicleRecord[]> {
  const vehicles = await em.find(VehicleEntity, ids === 'all' ? {} : { id: { $in: ids } }, {
    orderBy: { unit: 'asc' },
  });
  // The vehicles come first: what is read after their revision is at least as new as it says.
  const own = () => em.fork({ keepTransactionContext: true });
  const [{ modelById, dutyById, axlesOf }, periods, sets] = await Promise.all([
    sharedOf(em),
    own().find(DutyPeriodEntity, ids === 'all' ? {} : { vehicleId: { $in: ids } }, { orderBy: { fromDate: 'asc' } }),
    rowSetsOf(em, ids),
  ]);
  const { readings, services, odometers, rotors, remedies, measured, steps } = sets;
  // Every figure counts as the instrument of today would have shown it: so do the marks that come of them.
  const now = onInstrumentOf(steps);
  const shownNow = <T extends { vehicle_id: string; odometer_m: number }>(rows: T[], dayOf: (row: T) => string): T[] =>
    rows.map((row) => {
      const metres = now(row.vehicle_id, dayOf(row), row.odometer_m);
      return metres === row.odometer_m ? row : { ...row, odometer_m: metres };
    });
  const periodsOf = groupBy(periods, ({ vehicleId }) => vehicleId);
  const readingsOf = groupBy(
    shownNow(readings, ({ measured_on }) => measured_on),
    ({ vehicle_id }) => vehicle_id,
  );
  const servicesOf = groupBy(
    shownNow(services, ({ fitted_on }) => fitted_on),
    ({ vehicle_id }) => vehicle_id,
  );
  const odometersOf = groupBy(
    shownNow(odometers, ({ read_on }) => read_on),
    ({ vehicle_id }) => vehicle_id,
  );
  const rotorsOf = groupBy(
    shownNow(rotors, ({ measured_on }) => measured_on),
    ({ vehicle_id }) => vehicle_id,
  );
  const remediesOf = groupBy(remedies, ({ vehicle_id }) => vehicle_id);
  const measuredOf = groupBy(measured, ({ vehicle_id }) => vehicle_id);
  return vehicles.map((vehicle) => {
    const model = modelById.get(vehicle.modelId);
    if (!model) throw new Error(`vehicle ${vehicle.unit} has no model`);
    return {
      id: vehicle.id,
      unit: vehicle.unit,
      inputRev: vehicle.inputRev,
      leftOn: vehicle.leftOn ?? null,
      model,
      axles: axlesOf.get(model.id) ?? [],
      dutyPeriods: (periodsOf.get(vehicle.id) ?? []).flatMap((period) => {
        const duty = dutyById.get(period.dutyId);
        return duty ? [{ period, duty }] : [];
      }),
      reference: model.referenceDutyId ? dutyById.get(model.referenceDutyId) : undefined,
      readings: readingsOf.get(vehicle.id) ?? [],
      services: servicesOf.get(vehicle.id) ?? [],
      odometers: odometersOf.get(vehicle.id) ?? [],
      rotors: rotorsOf.get(vehicle.id) ?? [],
      remedies: remediesOf.get(vehicle.id) ?? [],
      measured: measuredOf.get(vehicle.id) ?? [],
    };
  });
}

/** What was read of vehicles, fitted to them and found on them. */
async function rowSetsOf(em: EntityManager, ids: string[] | 'all') {
  const all = ids === 'all';
  const params = [all, uuidArray(all ? [] : ids)];
  const sets = {
    readings: { row: LiveReading, sql: LIVE_READINGS, params },
    services: { row: ServiceSql, sql: SERVICES, params },
    odometers: { row: OdometerSql, sql: ODOMETERS, params },
    rotors: { row: RotorSql, sql: ROTORS, params },
    remedies: { row: RemedySql, sql: REMEDIES, params },
    measured: { row: MeasuredSql, sql: MEASURED, params },
    steps: { row: InstrumentStep, sql: INSTRUMENT_STEPS, params },
  };
  if (!all && ids.length <= FEW) return setsOf(em, sets);
  // Of many vehicles each is a statement of its own: together they would be one text as long as all of them.
  const of = <T extends z.ZodType>({ row, sql }: { row: T; sql: string }) => rowsOf(em, row, sql, params);
  const [readings, services, odometers, rotors, remedies, measured, steps] = await Promise.all([
    of(sets.readings),
    of(sets.services),
    of(sets.odometers),
    of(sets.rotors),
    of(sets.remedies),
    of(sets.measured),
    of(sets.steps),
  ]);
  return { readings, services, odometers, rotors, remedies, measured, steps };
}

/** So many vehicles' rows come in one statement. */
const FEW = 30;

/** Models with their axles, and duties: what vehicles have in common. */
const sharedOf = (em: EntityManager) =>
  shared(em, 'models and duties', async () => {
    const own = () => em.fork({ keepTransactionContext: true });
    const [models, axles, duties] = await Promise.all([
      own().find(ModelEntity, {}),
      own().find(ModelAxleEntity, {}, { orderBy: { axle: 'asc' } }),
      own().find(DutyEntity, {}),
    ]);
    return {
      modelById: new Map(models.map((model) => [model.id, model])),
      dutyById: new Map(duties.map((duty) => [duty.id, duty])),
      axlesOf: groupBy(axles, ({ modelId }) => modelId),
    };
  });

const LIVE_READINGS = `
  select r.id, r.vehicle_id, r.technician_id, r.measured_on::text, r.odometer_m, r.axle, r.side, r.pad,
         r.thickness_um, r.unit, g.resolution_um, i.gauge_id,
         case when exists (select 1 from live_question_answer q where q.reading_id = r.id and q.answer = 'it_is_so') then 'settled'
           when r.answer = 'measured_twice' then 'twice' else 'typed' end as trust
  from reading r join inspection i on i.id = r.inspection_id join gauge g on g.id = i.gauge_id
  where (? or r.vehicle_id = any(?::uuid[])) and r.thickness_um is not null
    and not exists (select 1 from reading later where later.supersedes_id = r.id)
  order by r.vehicle_id, r.measured_on, r.id`;
const SERVICES = `
  select vehicle_id, axle, fitted_on::text, odometer_m, fitted from service
  where (? or vehicle_id = any(?::uuid[])) order by fitted_on`;
const ODOMETERS = `
  select vehicle_id, read_on::text, odometer_m from odometer
  where (? or vehicle_id = any(?::uuid[])) order by read_on`;
const ROTORS = `
  select m.vehicle_id, i.measured_on::text, i.odometer_m, m.axle, m.side, (select min(t::float8) from jsonb_array_elements_text(m.thickness_um) as t)::int as thickness_um
  from live_rotor_measurement m join live_inspection i on i.id = m.inspection_id
  where (? or m.vehicle_id = any(?::uuid[]))
    and (select min(t::float8) from jsonb_array_elements_text(m.thickness_um) as t) is not null
  order by i.measured_on`;
const REMEDIES = `
  select c.vehicle_id, c.axle, c.side, a.at::date::text as found_on
  from wear_change_answer a join wear_change c on c.id = a.change_id
  where (? or c.vehicle_id = any(?::uuid[])) and a.answer = 'cause_found' and c.side is not null
  order by a.at`;
const MEASURED = `
  select vehicle_id, from_date::text, to_date::text, duty from measured_duty
  where (? or vehicle_id = any(?::uuid[])) order by from_date`;
