import type { z } from 'zod';
import { LockMode } from '@mikro-orm/core';
import type { ChangeAnswer } from '@mile-mark/contract/forecasts';
import { changeSettled } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { ApiError } from '../../../platform/errors.ts';
import { lockVehicle } from '../../register/index.ts';
import { WearChangeAnswerEntity, WearChangeEntity } from '../entities.ts';

/** Puts on record what was decided about a change of wear; it stays with who and when, and settles it once. */
export const answerChange = command({
  name: 'answerChange',
  action: 'decide',
  clientId: 'id',
  run: async ({ em, actor, audit, emit }, input: z.output<typeof ChangeAnswer> & { changeId: string }) => {
    const { id, changeId, answer, note = null } = input;
    const known = await em.findOne(WearChangeEntity, { id: changeId });
    // The vehicle first, as whoever saves its forecast does.
    if (known) await lockVehicle(em, known.vehicleId);
    const change = await em.findOne(
      WearChangeEntity,
      { id: changeId },
      { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true },
    );
    if (!change) throw new ApiError('not_found', 'There is no such finding on record.');
    if (await em.findOne(WearChangeAnswerEntity, { changeId, answer: { $ne: 'look' } }))
      throw new ApiError('conflict', 'Somebody settled this finding meanwhile; look at the list again.');
    await em.insert(WearChangeAnswerEntity, { id, changeId, answer, note, personId: actor.id, at: new Date() });
    await audit('decided on a change of wear', `vehicle/${change.vehicleId}`, { change: changeId, answer });
    if (answer === 'cause_found') await emit(changeSettled({ vehicleIds: [change.vehicleId] }));
    return { id };
  },
});
