import type { ReadingJudgement } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';

/**
 * Adds what was thought of new readings when they were entered to what is kept of the others, so that who looks before the
 * forecast is made anew need not judge them all again. Called in their transaction, after the vehicle was marked as behind;
 * where the others were behind already, what is kept stays behind.
 */
export async function keepJudged(
  em: EntityManager,
  vehicleId: string,
  judged: readonly Pick<ReadingJudgement, 'id' | 'expectedMm' | 'suspicion'>[],
): Promise<void> {
  const kept = judged.map(({ id, expectedMm, suspicion }) => ({ id, expectedMm, suspicion }));
  await em.execute(
    `update vehicle_forecast f set judged = f.judged || ?::jsonb, judged_rev = v.input_rev
     from vehicle v where v.id = ? and f.vehicle_id = v.id and f.judged is not null
       and greatest(f.input_rev, f.judged_rev) = v.input_rev - 1`,
    [JSON.stringify(kept), vehicleId],
  );
}
