import type { EntityManager } from '../../platform/db/orm.ts';
import { DutyPeriodEntity } from './entities.ts';

/**
 * Begins a duty on a day: the period that covers the day ends there, the past keeps its duty. The first duty
 * a model's vehicle gets becomes the model's reference.
 */
export async function startDuty(
  em: EntityManager,
  input: { id: string; vehicleId: string; dutyId: string; from: string },
): Promise<void> {
  const { id, vehicleId, dutyId, from: fromDate } = input;
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
  await em.insert(DutyPeriodEntity, { id, vehicleId, dutyId, fromDate, toDate: next?.fromDate ?? null });
  await em.execute(
    `update model set reference_duty_id = ? where reference_duty_id is null and id = (select model_id from vehicle where id = ?)`,
    [dutyId, vehicleId],
  );
}
