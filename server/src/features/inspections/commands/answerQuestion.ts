import type { z } from 'zod';
import type { QuestionAnswer } from '@mile-mark/contract/inspections';
import { questionSettled } from '../../../events.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { InspectionEntity, QuestionAnswerEntity, ReadingEntity } from '../entities.ts';
import { supersedeOdometer } from './correctOdometer.ts';
import { supersedeReading } from './correctReading.ts';

type Answer = z.output<typeof QuestionAnswer> & { subjectId: string };

/**
 * Settles a question: it is so (the figure is believed from now on), corrected, withdrawn, or to be measured again
 * (the figure stays doubted). Kept with who and when; a question is settled once.
 */
export const answerQuestion = command({
  name: 'answerQuestion',
  action: 'decide',
  clientId: 'id',
  run: async (tx, input: Answer) => {
    const { em, actor } = tx;
    const { id, subjectId, answer, note = null } = input;
    const reading = await em.findOne(ReadingEntity, { id: subjectId });
    const inspection = await em.findOne(InspectionEntity, { id: subjectId });
    const vehicleId = reading?.vehicleId ?? inspection?.vehicleId;
    if (!vehicleId) throw new ApiError('not_found', 'There is no such reading or inspection on record.');
    const subject = { readingId: reading ? subjectId : null, inspectionId: reading ? null : subjectId };
    if (await em.findOne(QuestionAnswerEntity, subject))
      throw new ApiError('conflict', 'Somebody settled this question meanwhile; look at the list again.');
    if (!reading) refuseForOdometer(input);
    if (answer === 'correct' && input.value === undefined)
      throw invalidField('value', 'The value as it should have been is needed.');
    await em.insert(QuestionAnswerEntity, { id, ...subject, answer, note, personId: actor.id, at: new Date() });
    if (answer === 'correct' || answer === 'withdraw') await correct(tx, input, reading !== null);
    await tx.audit('settled a question', `vehicle/${vehicleId}`, { about: subjectId, answer });
    await tx.emit(questionSettled({ vehicleIds: [vehicleId] }));
    return { id };
  },
});

function refuseForOdometer({ answer }: Answer): void {
  if (answer !== 'it_is_so' && answer !== 'correct')
    throw invalidField('answer', 'An odometer is believed or corrected; its readings are withdrawn one by one.');
}

/** Corrects or withdraws the figure in question, as its own correction would. */
async function correct(tx: Transaction, input: Answer, isReading: boolean): Promise<void> {
  const { subjectId, note, answer, value, unit } = input;
  const reason = note && note.length >= 3 ? note : 'settled in the list of questions';
  const id = crypto.randomUUID();
  const distance = unit === 'mi' || unit === 'km' ? unit : undefined;
  if (!isReading) {
    await supersedeOdometer(tx, {
      id,
      inspectionId: subjectId,
      odometer: String(value),
      odometerUnit: distance,
      reason,
    });
    return;
  }
  const thicknessUnit = unit === 'mi' || unit === 'km' ? undefined : unit;
  const figures = answer === 'withdraw' ? {} : { thickness: value, thicknessUnit };
  await supersedeReading(tx, { id, readingId: subjectId, reason, ...figures });
}
