import { randomUUID } from 'node:crypto';
import type { Transaction } from '../../../platform/command/command.ts';
import { InspectionWithdrawalEntity, ReadingEntity, type ReadingRow } from '../entities.ts';
import { mustNotLift, withdrawn } from './takeBack.ts';

/**
 * Takes many inspections back at once, with the readings that stand of them; the caller holds their vehicles and has
 * made sure that nothing later rests on them.
 *
 * @throws ApiError where one of them forbids driving and the actor may not lift that
 * @param readings the readings of these inspections that nothing supersedes
 */
export async function withdrawMany(
  { em, actor }: Transaction,
  {
    inspectionIds,
    readings,
    reason,
  }: { inspectionIds: readonly string[]; readings: readonly ReadingRow[]; reason: string },
): Promise<void> {
  await mustNotLift(em, actor, readings);
  const at = new Date();
  await em.insertMany(
    ReadingEntity,
    readings.map((reading) => withdrawn(reading, actor, reason)),
  );
  await em.insertMany(
    InspectionWithdrawalEntity,
    inspectionIds.map((inspectionId) => ({
      ...{ id: randomUUID(), inspectionId, movedTo: null, reason },
      ...{ personId: actor.id, at },
    })),
  );
}
