import {
  DutyEntity,
  DutyPeriodEntity,
  LimitRuleEntity,
  ModelAxleEntity,
  ModelEntity,
  VehicleEntity,
} from '../db/entities.ts';
import {
  handKey,
  limitRuleOf,
  partsOfHand,
  type InputGround,
  type LiveReading,
  type VehicleRecord,
} from '../db/mappers.ts';
import type { EntityManager } from '../db/orm.ts';
import { groupBy } from '../groupBy.ts';
import { uuidArray } from '../db/uuidArray.ts';
import { BIAS_SPREAD, UNKNOWN_HAND } from '@mile-mark/core';
import { readSettings, type Settings } from './settings.ts';

/** Loads vehicles with all that their forecasts rest on, by sets: a handful of queries however many vehicles. */
export async function loadVehicleRecords(em: EntityManager, ids: string[] | 'all'): Promise<VehicleRecord[]> {
  const vehicles = await em.find(VehicleEntity, ids === 'all' ? {} : { id: { $in: ids } }, {
    orderBy: { unit: 'asc' },
  });
  // The vehicles come first: what is read after their revision is at least as new as it says.
  const all = ids === 'all';
  const sets = <T>(sql: string) => em.execute<(T & { vehicle_id: string })[]>(sql, [all, uuidArray(all ? [] : ids)]);
  const own = () => em.fork({ keepTransactionContext: true });
  const [models, axles, duties, periods, readings, services, odometers, rotors, measured] = await Promise.all([
    own().find(ModelEntity, {}),
    own().find(ModelAxleEntity, {}, { orderBy: { axle: 'asc' } }),
    own().find(DutyEntity, {}),
    own().find(DutyPeriodEntity, all ? {} : { vehicleId: { $in: ids } }, { orderBy: { fromDate: 'asc' } }),
    sets<LiveReading>(LIVE_READINGS),
    sets<VehicleRecord['services'][number]>(SERVICES),
    sets<VehicleRecord['odometers'][number]>(ODOMETERS),
    sets<VehicleRecord['rotors'][number]>(ROTORS),
    sets<VehicleRecord['measured'][number]>(MEASURED),
  ]);
  const modelById = new Map(models.map((model) => [model.id, model]));
  const dutyById = new Map(duties.map((duty) => [duty.id, duty]));
  const axlesOf = groupBy(axles, ({ modelId }) => modelId);
  const periodsOf = groupBy(periods, ({ vehicleId }) => vehicleId);
  const readingsOf = groupBy(readings, ({ vehicle_id }) => vehicle_id);
  const servicesOf = groupBy(services, ({ vehicle_id }) => vehicle_id);
  const odometersOf = groupBy(odometers, ({ vehicle_id }) => vehicle_id);
  const rotorsOf = groupBy(rotors, ({ vehicle_id }) => vehicle_id);
  const measuredOf = groupBy(measured, ({ vehicle_id }) => vehicle_id);
  return vehicles.map((vehicle) => {
    const model = modelById.get(vehicle.modelId);
    if (!model) throw new Error(`vehicle ${vehicle.unit} has no model`);
    return {
      id: vehicle.id,
      unit: vehicle.unit,
      inputRev: vehicle.inputRev,
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
      measured: measuredOf.get(vehicle.id) ?? [],
    };
  });
}

const LIVE_READINGS = `
  select r.id, r.vehicle_id, r.technician_id, r.measured_on::text, r.odometer_m, r.axle, r.side, r.pad,
         r.thickness_um, r.unit, g.resolution_um, i.gauge_id,
         case when exists (select 1 from question_answer q where q.reading_id = r.id and q.answer = 'it_is_so') then 'settled'
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
  from rotor_measurement m join inspection i on i.id = m.inspection_id
  where (? or m.vehicle_id = any(?::uuid[])) and not exists (select 1 from inspection later where later.supersedes_id = i.id)
    and (select min(t::float8) from jsonb_array_elements_text(m.thickness_um) as t) is not null
  order by i.measured_on`;
const MEASURED = `
  select vehicle_id, from_date::text, to_date::text, duty from measured_duty
  where (? or vehicle_id = any(?::uuid[])) order by from_date`;

/** What, besides a vehicle's own record, its forecast rests on, as settings and the fleet's learning have it. */
export interface ForecastGround extends InputGround {
  settings: Settings;
}

export async function loadForecastGround(em: EntityManager): Promise<ForecastGround> {
  const [limits, settings, groups, handOf] = await Promise.all([
    em.fork({ keepTransactionContext: true }).find(LimitRuleEntity, {}),
    readSettings(em),
    em.execute<{ model_id: string; axle: number; mean: number; sd_vehicle: number; sd_axle: number; sd_pad: number }[]>(
      'select model_id, axle, mean, sd_vehicle, sd_axle, sd_pad from wear_group',
    ),
    loadHands(em),
  ]);
  const byKey = new Map(
    groups.map((row) => [
      `${row.model_id}/${row.axle}`,
      { mean: row.mean, sdVehicle: row.sd_vehicle, sdAxle: row.sd_axle, sdPad: row.sd_pad },
    ]),
  );
  return {
    rules: limits.map(limitRuleOf),
    settings,
    marginShare: settings.marginShare,
    priors: (modelId, axle) => byKey.get(`${modelId}/${axle}`),
    handOf,
  };
}

/** What is known of each hand; one never seen is put together from its technician's and its gauge's share. */
async function loadHands(em: EntityManager): Promise<ForecastGround['handOf']> {
  const hands = await em.execute<
    { technician_id: string; gauge_id: string; bias_mm: number; bias_sd_mm: number; repeatability_mm: number }[]
  >('select technician_id, gauge_id, bias_mm, bias_sd_mm, repeatability_mm from hand');
  const shares = await em.execute<{ kind: string; subject_id: string; bias_mm: number; bias_sd_mm: number }[]>(
    'select kind, subject_id, bias_mm, bias_sd_mm from hand_share',
  );
  const known = new Map(
    hands.map((row) => [
      handKey(row.technician_id, row.gauge_id),
      { biasMm: row.bias_mm, biasSdMm: row.bias_sd_mm, repeatabilityMm: row.repeatability_mm },
    ]),
  );
  const share = new Map(shares.map((row) => [`${row.kind}/${row.subject_id}`, row]));
  const unknown = (kind: 'technician' | 'gauge') => ({ bias_mm: 0, bias_sd_mm: BIAS_SPREAD[kind] });
  return (key) => {
    const own = known.get(key);
    if (own) return own;
    const { technicianId, gaugeId } = partsOfHand(key);
    const person = share.get(`technician/${technicianId}`) ?? unknown('technician');
    const gauge = share.get(`gauge/${gaugeId}`) ?? unknown('gauge');
    return {
      biasMm: person.bias_mm + gauge.bias_mm,
      biasSdMm: Math.hypot(person.bias_sd_mm, gauge.bias_sd_mm, BIAS_SPREAD.both),
      repeatabilityMm: UNKNOWN_HAND.repeatabilityMm,
    };
  };
}
