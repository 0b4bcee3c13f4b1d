import { LockMode } from '@mikro-orm/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import { ApiError } from '../../platform/errors.ts';
import { DepotEntity, type DepotRow, VehicleEntity, type VehicleRow } from './entities.ts';
import { lockVehicle, vehicleOfUnit } from './lookups.ts';

/** What a row's revision becomes with a change. */
export const raised = (revision: number) => ({ revision: revision + 1 });

/** The revision seen beside the one on record; the vehicle is locked for whoever changes it. */
export async function revisionOfVehicle(
  em: EntityManager,
  unit: string,
  seen: number | undefined,
): Promise<{ seen: number | undefined; onRecord: number }> {
  const { revision } = await lockedVehicle(em, unit);
  return { seen, onRecord: revision };
}

/** The vehicle of a unit number, as it is once nobody else writes about it. */
export async function lockedVehicle(em: EntityManager, unit: string): Promise<VehicleRow> {
  const { id } = await vehicleOfUnit(em, unit, 'unit');
  await lockVehicle(em, id);
  return em.findOneOrFail(VehicleEntity, { id }, { refresh: true });
}

/** The depot of an id, locked. @throws ApiError `not_found` */
export async function lockedDepot(em: EntityManager, id: string): Promise<DepotRow> {
  const depot = await em.findOne(DepotEntity, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true });
  if (!depot) throw new ApiError('not_found', 'There is no such depot on record.');
  return depot;
}
