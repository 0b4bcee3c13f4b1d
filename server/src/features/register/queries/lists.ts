import { type Axle, Depot, type Duty, type DutyInUse, type Limit, type Model } from '@mile-mark/contract/register';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import {
  DutyEntity,
  type DutyRow,
  LimitRuleEntity,
  type LimitRuleRow,
  ModelAxleEntity,
  type ModelAxleRow,
  ModelEntity,
} from '../entities.ts';
import { limitsInForce, mm } from '../mappers.ts';

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

/** Depots, also those that closed, with how many vehicles stand there now. */
export async function listDepots(em: EntityManager): Promise<Depot[]> {
  return rowsOf(
    em,
    Depot,
    `select d.id, d.name, d.time_zone as "timeZone", d.closed_on::text as "closedOn", d.revision,
       (select count(*)::int from vehicle_in_fleet v where v.depot_id = d.id) as vehicles from depot d order by d.name`,
  );
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
    reservoirMl: model.reservoirMl ?? null,
    liftingPoints: model.liftingPoints ?? null,
    retarder: model.retarder,
    revision: model.revision,
  }));
}

/** Duties, with how many vehicles drive each today. */
export async function listDuties(em: EntityManager, today: string): Promise<DutyInUse[]> {
  const used = await rowsOf(
    em,
    z.object({ duty_id: z.string(), vehicles: z.number() }),
    `select duty_id, count(*)::int as vehicles from duty_period
     where from_date <= ?::date and (to_date is null or to_date > ?::date) group by duty_id`,
    [today, today],
  );
  const count = new Map(used.map(({ duty_id, vehicles }) => [duty_id, vehicles]));
  const rows = await em.find(DutyEntity, {}, { orderBy: { name: 'asc' } });
  return rows.map((row) => ({ ...dutyDto(row), vehicles: count.get(row.id) ?? 0 }));
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
