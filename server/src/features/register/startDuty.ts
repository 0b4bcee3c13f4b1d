import { ApiError } from '../../platform/errors.ts';
import { lockVehicle } from './lookups.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { DutyPeriodEntity } from './entities.ts';

/**
 * Begins a duty on a day: the period that covers the day ends there, the past keeps its duty. The first duty
 * a model's vehicle gets becomes the model's reference.
 */
export async function startDuty(
  em: EntityManager,
  input: { id: string; vehicleId: string; dutyId: string; from: string; milesPerDay?: number | undefined },
): Promise<void> {
  const { id, vehicleId, dutyId, from: fromDate, milesPerDay = null } = input;
  const covering = { $or: [{ toDate: null }, { toDate: { $gt: fromDate } }] };
  await em.nativeUpdate(
    DutyPeriodEntity,
    { vehicleId, fromDate: { $lt: fromDate }, ...covering },
    { toDate: fromDate },
  );
  const [next] = await em.find(
    DutyPeriodEntity,
    { vehicleId, fromDate: { $gt: fromDate } },
    { orderBy: { fromDate: 'asc' }, limit: 1 },
  );
  await em.insert(DutyPeriodEntity, { id, vehicleId, dutyId, fromDate, toDate: next?.fromDate ?? null, milesPerDay });
  await em.execute(
    `update model set reference_duty_id = ? where reference_duty_id is null and id = (select model_id from vehicle where id = ?)`,
    [dutyId, vehicleId],
  );
}

/** Takes back the duty a vehicle began last: the one before goes on to where it ended. */
export async function endDutyBegun(em: EntityManager, id: string): Promise<{ vehicleId: string; from: string }> {
  const period = await em.findOne(DutyPeriodEntity, { id });
  if (!period)
    throw new ApiError('not_found', 'There is no such duty of a vehicle on record; somebody took it back meanwhile.');
  const { vehicleId, fromDate, toDate } = period;
  await lockVehicle(em, vehicleId);
  const all = await em.find(DutyPeriodEntity, { vehicleId }, { orderBy: { fromDate: 'asc' }, refresh: true });
  if (all.at(-1)?.id !== id) throw new ApiError('conflict', 'Another duty was begun since; take that one back first.');
  const before = all.at(-2);
  if (!before) throw new ApiError('conflict', 'It is the only duty of this vehicle; begin another instead.');
  await em.nativeDelete(DutyPeriodEntity, { id });
  if (before.toDate === fromDate)
    await em.nativeUpdate(DutyPeriodEntity, { id: before.id }, { toDate: toDate ?? null });
  return { vehicleId, from: fromDate };
}
