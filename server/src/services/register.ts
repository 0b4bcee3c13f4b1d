import type { z } from 'zod';
import type {
  Axle,
  Duty,
  DutyInUse,
  Gauge,
  Limit,
  Model,
  NewDuty,
  NewGauge,
  NewLimit,
  NewVehicle,
} from '@mile-mark/contract';
import { parseDistance } from '@mile-mark/core';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import {
  DepotEntity,
  DutyEntity,
  DutyPeriodEntity,
  GaugeEntity,
  LimitRuleEntity,
  ModelAxleEntity,
  ModelEntity,
  OdometerEntity,
  VehicleEntity,
  type DutyRow,
  type GaugeRow,
  type LimitRuleRow,
  type ModelAxleRow,
} from '../db/entities.ts';
import { limitsInForce } from '../db/mappers.ts';
import type { EntityManager } from '../db/orm.ts';
import { refuseField } from '../errors.ts';
import { recordDeed } from './audit.ts';
import { bumpInputs, normaliseUnit, refuseFuture, vehicleOfUnit } from './lookups.ts';

const mm = (um: number | null | undefined) => (um == null ? null : um / 1000);

export function axleOf(row: ModelAxleRow): Axle {
  const limits = limitsInForce(row);
  return {
    axle: row.axle,
    brake: row.brake as Axle['brake'],
    brakeDetail: row.brakeDetail,
    padNewMm: row.padNewUm / 1000,
    backingPlateMm: row.backingPlateUm / 1000,
    padMakerMinMm: limits.padMakerMinUm / 1000,
    rotorNewMm: mm(row.rotorNewUm),
    rotorDiscardMm: mm(limits.rotorDiscardUm),
    rotorMachineToMm: mm(limits.rotorMachineToUm),
    pistonsMm: row.pistonsMm ?? null,
    brakeShare: row.brakeShare,
  };
}

export function dutyDto(row: DutyRow): Duty {
  const { id, name, milesPerDay, longestDescentM, source, sourceNote } = row;
  const { stopsPerMile, mphBeforeStop, payloadShare, descentMPerMile, retarderShare, towedKg } = row;
  const { slowdownsPerMile, slowdownFromMph, slowdownToMph } = row;
  return {
    id,
    name,
    stopsPerMile,
    mphBeforeStop,
    payloadShare,
    descentMPerMile,
    retarderShare,
    towedKg,
    milesPerDay,
    slowdownsPerMile,
    slowdownFromMph,
    slowdownToMph,
    longestDescentM,
    source: source as Duty['source'],
    sourceNote: sourceNote ?? null,
  };
}

export async function listDepots(em: EntityManager): Promise<{ id: string; name: string }[]> {
  return (await em.find(DepotEntity, {}, { orderBy: { name: 'asc' } })).map(({ id, name }) => ({ id, name }));
}

export async function listModels(em: EntityManager): Promise<Model[]> {
  const models = await em.find(ModelEntity, {}, { orderBy: { name: 'asc' } });
  const axles = await em.find(ModelAxleEntity, {}, { orderBy: { axle: 'asc' } });
  const duties = new Map((await em.find(DutyEntity, {})).map(({ id, name }) => [id, name]));
  return models.map((model) => ({
    id: model.id,
    name: model.name,
    class: model.class as Model['class'],
    tareKg: model.tareKg,
    gvwrKg: model.gvwrKg,
    referenceDuty: (model.referenceDutyId && duties.get(model.referenceDutyId)) || null,
    axles: axles.filter(({ modelId }) => modelId === model.id).map(axleOf),
  }));
}

/** Duties, with how many vehicles drive each today. */
export async function listDuties(em: EntityManager, today: string): Promise<DutyInUse[]> {
  const used = await em.execute<{ duty_id: string; vehicles: number }[]>(
    `select duty_id, count(*)::int as vehicles from duty_period
     where from_date <= ?::date and (to_date is null or to_date > ?::date) group by duty_id`,
    [today, today],
  );
  const count = new Map(used.map(({ duty_id, vehicles }) => [duty_id, vehicles]));
  const rows = await em.find(DutyEntity, {}, { orderBy: { name: 'asc' } });
  return rows.map((row) => ({ ...dutyDto(row), vehicles: count.get(row.id) ?? 0 }));
}

/** Puts a duty on record. It is never changed afterwards: what vehicles drove under it stays what it was. */
export async function addDuty(
  em: EntityManager,
  actor: Actor,
  input: z.output<typeof NewDuty>,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  await em.transactional(async (inner) => {
    const [there] = await inner.execute<{ id: string }[]>('select id from duty where lower(name) = lower(?)', [
      input.name,
    ]);
    if (there?.id === input.id) return;
    if (there) throw refuseField('name', `There is a duty “${input.name}” already; another name is accepted.`);
    await inner.insert(DutyEntity, { ...input, sourceNote: input.sourceNote ?? null, madeBy: actor.id });
    await recordDeed(inner, actor.id, 'put a duty on record', `duty/${input.id}`, {
      name: input.name,
      source: input.source,
    });
  });
  return { id: input.id };
}

export async function listGauges(em: EntityManager): Promise<Gauge[]> {
  return (await em.find(GaugeEntity, {}, { orderBy: { name: 'asc' } })).map((row: GaugeRow) => ({
    id: row.id,
    name: row.name,
    kind: row.kind,
    resolutionMm: row.resolutionUm / 1000,
    unit: row.unit as Gauge['unit'],
    calibrationDue: row.calibrationDue ?? null,
  }));
}

export async function addGauge(em: EntityManager, actor: Actor, input: NewGauge): Promise<{ id: string }> {
  mustBeAllowed(actor, 'measure');
  await em.transactional(async (inner) => {
    await inner.insert(GaugeEntity, {
      id: input.id,
      name: input.name,
      kind: input.kind,
      resolutionUm: input.resolutionMm * 1000,
      unit: input.unit,
      calibrationDue: input.calibrationDue ?? null,
    });
    await recordDeed(inner, actor.id, 'put a gauge on record', `gauge/${input.id}`, { name: input.name });
  });
  return { id: input.id };
}

export async function listLimits(em: EntityManager): Promise<Limit[]> {
  return (await em.find(LimitRuleEntity, {}, { orderBy: { authority: 'asc', leastUm: 'desc' } })).map(
    (row: LimitRuleRow) => ({
      id: row.id,
      jurisdiction: row.jurisdiction,
      authority: row.authority as Limit['authority'],
      brake: row.brake as Limit['brake'],
      aboveGvwrKg: row.aboveGvwrKg ?? null,
      upToGvwrKg: row.upToGvwrKg ?? null,
      leastMm: row.leastUm / 1000,
      equalityPasses: row.equalityPasses,
      source: row.source,
      revision: row.revision,
      checkedBy: row.checkedBy,
    }),
  );
}

/** Enters a limit; every forecast may hang on it, so all are brought up to date. */
export async function addLimit(
  em: EntityManager,
  actor: Actor,
  input: z.output<typeof NewLimit>,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  const { leastMm, aboveGvwrKg, upToGvwrKg, ...rest } = input;
  await em.transactional(async (inner) => {
    await inner.insert(LimitRuleEntity, {
      ...rest,
      leastUm: Math.round(leastMm * 1000),
      aboveGvwrKg: aboveGvwrKg ?? null,
      upToGvwrKg: upToGvwrKg ?? null,
      checkedBy: actor.name,
    });
    await inner.execute('update vehicle set input_rev = input_rev + 1');
    await recordDeed(inner, actor.id, 'entered a limit', `limit/${input.id}`, input);
  });
  return { id: input.id };
}

/** The row of a name, whatever its capitals; refuses the field where there is none. */
async function idByName(
  em: EntityManager,
  table: 'model' | 'duty' | 'depot',
  name: string,
  field: string,
): Promise<string> {
  const [row] = await em.execute<{ id: string }[]>(`select id from ${table} where lower(name) = lower(?)`, [name]);
  if (!row) throw refuseField(field, `There is no ${table} “${name}” on record; one of the ${table} list is accepted.`);
  return row.id;
}

export async function addVehicle(
  em: EntityManager,
  actor: Actor,
  input: z.output<typeof NewVehicle>,
  today: string,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  refuseFuture(input.dutyFrom, today, 'dutyFrom');
  const odometer = parseDistance(input.odometer, { unit: 'mi' });
  if (!odometer.ok) throw refuseField('odometer', odometer.failure.message);
  await em.transactional(async (inner) => {
    const modelId = await idByName(inner, 'model', input.model, 'model');
    const depotId = await idByName(inner, 'depot', input.depot, 'depot');
    const dutyId = await idByName(inner, 'duty', input.duty, 'duty');
    await inner.insert(VehicleEntity, { id: input.id, unit: normaliseUnit(input.unit), modelId, depotId, inputRev: 1 });
    await startDuty(inner, { id: crypto.randomUUID(), vehicleId: input.id, dutyId, from: input.dutyFrom });
    await inner.insert(OdometerEntity, {
      id: crypto.randomUUID(),
      vehicleId: input.id,
      readOn: input.dutyFrom,
      odometerM: Math.round(odometer.value.metres),
      source: 'start of record',
      enteredBy: actor.id,
      enteredAt: new Date(),
    });
    await recordDeed(inner, actor.id, 'entered a vehicle', `vehicle/${input.id}`, { unit: input.unit });
  });
  return { id: input.id };
}

/**
 * Begins a duty on a day: the period that covers the day ends there, the past keeps its duty. The first duty
 * a model's vehicle gets becomes the model's reference.
 */
export async function startDuty(
  em: EntityManager,
  input: { id: string; vehicleId: string; dutyId: string; from: string },
): Promise<void> {
  await em.execute(
    `update duty_period set to_date = ?::date where vehicle_id = ? and from_date < ?::date and (to_date is null or to_date > ?::date)`,
    [input.from, input.vehicleId, input.from, input.from],
  );
  const [next] = await em.execute<{ from_date: string }[]>(
    `select from_date::text from duty_period where vehicle_id = ? and from_date > ?::date order by from_date limit 1`,
    [input.vehicleId, input.from],
  );
  await em.insert(DutyPeriodEntity, {
    id: input.id,
    vehicleId: input.vehicleId,
    dutyId: input.dutyId,
    fromDate: input.from,
    toDate: next?.from_date ?? null,
  });
  await em.execute(
    `update model set reference_duty_id = ? where reference_duty_id is null and id = (select model_id from vehicle where id = ?)`,
    [input.dutyId, input.vehicleId],
  );
}

export async function changeDuty(
  em: EntityManager,
  actor: Actor,
  unit: string,
  input: { id: string; duty: string; from: string },
): Promise<{ id: string; vehicleId: string }> {
  mustBeAllowed(actor, 'register');
  const vehicle = await vehicleOfUnit(em, unit, 'unit');
  await em.transactional(async (inner) => {
    await bumpInputs(inner, [vehicle.id]);
    const dutyId = await idByName(inner, 'duty', input.duty, 'duty');
    await startDuty(inner, { id: input.id, vehicleId: vehicle.id, dutyId, from: input.from });
    await recordDeed(inner, actor.id, 'began a duty', `vehicle/${vehicle.id}`, input);
  });
  return { id: input.id, vehicleId: vehicle.id };
}
