import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { keptRecords } from '../../../platform/answers/records.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { setsOf } from '../../../platform/db/sets.ts';
import { groupBy } from '../../../platform/groupBy.ts';
import {
  InstrumentStep,
  instrumentSteps,
  modelsAndDuties,
  onInstrumentOf,
  whoseOf,
  type Whose,
} from '../../register/index.ts';
import {
  LiveReading,
  MeasuredSql,
  OdometerSql,
  PeriodSql,
  RemedySql,
  RotorSql,
  ServiceSql,
  type VehicleRecord,
  VehicleSql,
} from '../record.ts';

/**
 * Vehicles with all that their forecasts rest on, in the order of their units. A few are kept from one asking to the
 * next while their record stands: who enters a look, who makes the forecast that it moves and who shows it ask one after
 * the other. Nobody may change what is given.
 */
export async function loadVehicleRecords(em: EntityManager, ids: string[] | 'all'): Promise<VehicleRecord[]> {
  if (ids === 'all' || ids.length > FEW) return readInPortions(em, ids);
  const records = await keptRecords(
    em,
    ids,
    async (changed) => new Map((await readVehicleRecords(em, changed)).map((record) => [record.id, record])),
  );
  return [...records.values()].sort((a, b) => (a.unit < b.unit ? -1 : 1));
}

/** So many vehicles are read at a time: while their rows become records nobody is answered. */
const PORTION = 40;

/** Reads many vehicles so that others are answered in between. */
export async function readInPortions(
  em: EntityManager,
  whom: string[] | 'all',
  portion = PORTION,
): Promise<VehicleRecord[]> {
  const { whose, params } = whoseOf(whom);
  const ids = (
    await rowsOf(em, z.object({ id: z.string() }), `select id from vehicle where ${whose('id')} order by unit`, params)
  ).map(({ id }) => id);
  const shared = await modelsAndDuties(em);
  const records: VehicleRecord[] = [];
  for (let i = 0; i < ids.length; i += portion)
    records.push(...(await readVehicleRecords(em, ids.slice(i, i + portion), shared)));
  return records;
}

/** Reads them by sets: a handful of queries however many vehicles. */
export async function readVehicleRecords(
  em: EntityManager,
  ids: string[],
  shared?: Awaited<ReturnType<typeof modelsAndDuties>>,
): Promise<VehicleRecord[]> {
  const sets = await rowSetsOf(em, ids);
  const { modelById, dutyById, axlesOf } = shared ?? (await modelsAndDuties(em));
  const { vehicles, periods } = sets;
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
    const model = modelById.get(vehicle.model_id);
    if (!model) throw new Error(`vehicle ${vehicle.unit} has no model`);
    return {
      id: vehicle.id,
      unit: vehicle.unit,
      inputRev: vehicle.input_rev,
      leftOn: vehicle.left_on,
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

/** Vehicles, what they are driven under, and what was read of them, fitted to them and found on them. */
async function rowSetsOf(em: EntityManager, ids: string[]) {
  const { whose, params } = whoseOf(ids);
  const of = <T extends z.ZodType>(row: T, textOf: (whose: Whose) => string) => ({ row, sql: textOf(whose), params });
  const sets = {
    vehicles: of(VehicleSql, vehiclesSql),
    periods: of(PeriodSql, periodsSql),
    readings: of(LiveReading, liveReadings),
    services: of(ServiceSql, servicesSql),
    odometers: of(OdometerSql, odometersSql),
    rotors: of(RotorSql, rotorsSql),
    remedies: of(RemedySql, remediesSql),
    measured: of(MeasuredSql, measuredSql),
    steps: of(InstrumentStep, instrumentSteps),
  };
  if (ids.length <= FEW) return setsOf(em, sets);
  // Of many vehicles each is a statement of its own: together they would be one text as long as all of them.
  const rows = <T extends z.ZodType>(set: { row: T; sql: string }) => rowsOf(em, set.row, set.sql, params);
  // The vehicles come first: what is read after their revision is at least as new as it says.
  const vehicles = await rows(sets.vehicles);
  const [periods, readings, services, odometers, rotors, remedies, measured, steps] = await Promise.all([
    rows(sets.periods),
    rows(sets.readings),
    rows(sets.services),
    rows(sets.odometers),
    rows(sets.rotors),
    rows(sets.remedies),
    rows(sets.measured),
    rows(sets.steps),
  ]);
  return { vehicles, periods, readings, services, odometers, rotors, remedies, measured, steps };
}

/** So many vehicles' rows come in one statement. */
const FEW = 30;

// What is ordered is ordered to the last: the same record is the same input, however it was found.
const vehiclesSql = (whose: Whose) => `
  select id, unit, model_id, input_rev, left_on::text from vehicle where ${whose('id')} order by unit`;
const periodsSql = (whose: Whose) => `
  select id, vehicle_id as "vehicleId", duty_id as "dutyId", from_date::text as "fromDate", to_date::text as "toDate", miles_per_day as "milesPerDay"
  from duty_period where ${whose('vehicle_id')} order by from_date, id`;
const liveReadings = (whose: Whose) => `
  select r.id, r.vehicle_id, r.technician_id, r.measured_on::text, r.odometer_m, r.axle, r.side, r.pad,
         r.thickness_um, r.unit, g.resolution_um, i.gauge_id,
         case when exists (select 1 from live_question_answer q where q.reading_id = r.id and q.answer = 'it_is_so') then 'settled'
           when r.answer = 'measured_twice' then 'twice' else 'typed' end as trust
  from reading r join inspection i on i.id = r.inspection_id join gauge g on g.id = i.gauge_id
  where ${whose('r.vehicle_id')} and r.thickness_um is not null
    and not exists (select 1 from reading later where later.supersedes_id = r.id)
  order by r.vehicle_id, r.measured_on, r.id`;
const servicesSql = (whose: Whose) => `
  select vehicle_id, axle, fitted_on::text, odometer_m, fitted from service
  where ${whose('vehicle_id')} order by fitted_on, odometer_m, axle, id`;
const odometersSql = (whose: Whose) => `
  select vehicle_id, read_on::text, odometer_m from odometer
  where ${whose('vehicle_id')} order by read_on, odometer_m`;
const rotorsSql = (whose: Whose) => `
  select m.vehicle_id, i.measured_on::text, i.odometer_m, m.axle, m.side, (select min(t::float8) from jsonb_array_elements_text(m.thickness_um) as t)::int as thickness_um
  from live_rotor_measurement m join live_inspection i on i.id = m.inspection_id
  where ${whose('m.vehicle_id')}
    and (select min(t::float8) from jsonb_array_elements_text(m.thickness_um) as t) is not null
  order by i.measured_on, i.odometer_m, m.axle, m.side, m.id`;
const remediesSql = (whose: Whose) => `
  select c.vehicle_id, c.axle, c.side, a.at::date::text as found_on
  from wear_change_answer a join wear_change c on c.id = a.change_id
  where ${whose('c.vehicle_id')} and a.answer = 'cause_found' and c.side is not null
  order by a.at, a.id`;
const measuredSql = (whose: Whose) => `
  select vehicle_id, from_date::text, to_date::text, duty from measured_duty
  where ${whose('vehicle_id')} order by from_date, to_date`;
