import {
  DutyEntity,
  DutyPeriodEntity,
  LimitRuleEntity,
  ModelAxleEntity,
  ModelEntity,
  VehicleEntity,
} from '../db/entities.ts';
import { limitRuleOf, type LiveReading, type VehicleRecord } from '../db/mappers.ts';
import type { EntityManager } from '../db/orm.ts';
import { uuidArray } from '../db/uuidArray.ts';
import type { LimitRule, WearPrior } from '@mile-mark/core';
import { readSettings, type Settings } from './settings.ts';

/** Loads vehicles with all that their forecasts rest on, by sets: a handful of queries however many vehicles. */
export async function loadVehicleRecords(em: EntityManager, ids: string[] | 'all'): Promise<VehicleRecord[]> {
  const vehicles = await em.find(VehicleEntity, ids === 'all' ? {} : { id: { $in: ids } }, {
    orderBy: { unit: 'asc' },
  });
  const [models, axles, duties, periods] = [
    await em.find(ModelEntity, {}),
    await em.find(ModelAxleEntity, {}, { orderBy: { axle: 'asc' } }),
    await em.find(DutyEntity, {}),
    await em.find(DutyPeriodEntity, ids === 'all' ? {} : { vehicleId: { $in: ids } }, { orderBy: { fromDate: 'asc' } }),
  ];
  const [readings, services, odometers] = [
    await em.execute<LiveReading[]>(LIVE_READINGS, [ids === 'all', uuidArray(ids === 'all' ? [] : ids)]),
    await em.execute<(VehicleRecord['services'][number] & { vehicle_id: string })[]>(SERVICES, [
      ids === 'all',
      uuidArray(ids === 'all' ? [] : ids),
    ]),
    await em.execute<(VehicleRecord['odometers'][number] & { vehicle_id: string })[]>(ODOMETERS, [
      ids === 'all',
      uuidArray(ids === 'all' ? [] : ids),
    ]),
  ];
  const modelById = new Map(models.map((model) => [model.id, model]));
  const dutyById = new Map(duties.map((duty) => [duty.id, duty]));
  const axlesOf = groupBy(axles, ({ modelId }) => modelId);
  const periodsOf = groupBy(periods, ({ vehicleId }) => vehicleId);
  const readingsOf = groupBy(readings, ({ vehicle_id }) => vehicle_id);
  const servicesOf = groupBy(services, ({ vehicle_id }) => vehicle_id);
  const odometersOf = groupBy(odometers, ({ vehicle_id }) => vehicle_id);
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
    };
  });
}

const LIVE_READINGS = `
  select r.id, r.vehicle_id, r.technician_id, r.measured_on::text, r.odometer_m, r.axle, r.side, r.pad,
         r.thickness_um, r.unit, g.resolution_um
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

function groupBy<T, K>(rows: readonly T[], key: (row: T) => K): Map<K, T[]> {
  const groups = new Map<K, T[]>();
  for (const row of rows) {
    const own = groups.get(key(row));
    if (own) own.push(row);
    else groups.set(key(row), [row]);
  }
  return groups;
}

/** What, besides a vehicle's own record, its forecast rests on. */
export interface ForecastGround {
  rules: LimitRule[];
  settings: Settings;
  priors: (modelId: string, axle: number) => WearPrior | undefined;
}

export async function loadForecastGround(em: EntityManager): Promise<ForecastGround> {
  const rules = (await em.find(LimitRuleEntity, {})).map(limitRuleOf);
  const settings = await readSettings(em);
  const groups = await em.execute<
    { model_id: string; axle: number; mean: number; sd_vehicle: number; sd_axle: number; sd_pad: number }[]
  >('select model_id, axle, mean, sd_vehicle, sd_axle, sd_pad from wear_group');
  const byKey = new Map(
    groups.map((row) => [
      `${row.model_id}/${row.axle}`,
      { mean: row.mean, sdVehicle: row.sd_vehicle, sdAxle: row.sd_axle, sdPad: row.sd_pad },
    ]),
  );
  return { rules, settings, priors: (modelId, axle) => byKey.get(`${modelId}/${axle}`) };
}
