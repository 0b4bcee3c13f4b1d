import type { z } from 'zod';
import type { QuestionAnswer } from '@mile-mark/contract/inspections';
import { questionSettled, readingCorrected } from '../../../events.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { lockVehicle } from '../../register/index.ts';
import {
  InspectionEntity,
  InspectionWithdrawalEntity,
  QuestionAnswerEntity,
  type QuestionAnswerRow,
  QuestionUndoEntity,
  ReadingEntity,
  type ReadingRow,
} from '../entities.ts';
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
    await lockVehicle(em, vehicleId);
    if (await settledBy(em, subject))
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

/** The answer that settles a question now; undefined where it is open, or open again. */
async function settledBy(
  em: EntityManager,
  subject: { readingId: string | null; inspectionId: string | null },
): Promise<QuestionAnswerRow | undefined> {
  const answers = await em.find(QuestionAnswerEntity, subject);
  const undone = await em.find(QuestionUndoEntity, { answerId: { $in: answers.map(({ id }) => id) } });
  return answers.find(({ id }) => !undone.some(({ answerId }) => answerId === id));
}

/**
 * Takes an answer back: the question is open again. A figure that it corrected or withdrew stands again as it was typed,
 * superseding what stood since; nothing is erased.
 */
export const undoAnswer = command({
  name: 'undoAnswer',
  action: 'decide',
  clientId: 'id',
  run: async (tx, { id, answerId }: { id: string; answerId: string }) => {
    const { em, actor, audit, emit } = tx;
    const answer = await em.findOne(QuestionAnswerEntity, { id: answerId });
    if (!answer) throw new ApiError('not_found', 'There is no such answer on record.');
    const reading = answer.readingId ? await em.findOneOrFail(ReadingEntity, { id: answer.readingId }) : null;
    const inspection = answer.inspectionId
      ? await em.findOneOrFail(InspectionEntity, { id: answer.inspectionId })
      : null;
    const vehicleId = (reading ?? inspection)?.vehicleId ?? '';
    await lockVehicle(em, vehicleId);
    if (await em.findOne(QuestionUndoEntity, { answerId }))
      throw new ApiError('conflict', 'Somebody took this answer back meanwhile.');
    if (inspection && answer.answer === 'correct')
      throw new ApiError(
        'conflict',
        'An odometer that was corrected is corrected again on its vehicle’s page, not undone here.',
      );
    await em.insert(QuestionUndoEntity, { id, answerId, personId: actor.id, at: new Date() });
    if (reading && (answer.answer === 'correct' || answer.answer === 'withdraw')) await restore(tx, reading);
    await audit('took back an answer', `vehicle/${vehicleId}`, { answer: answerId, was: answer.answer });
    await emit(readingCorrected({ vehicleIds: [vehicleId] }));
    return { id };
  },
});

/** The figure as it was typed stands again; refuses where somebody corrected it once more since. */
async function restore({ em, actor }: Transaction, old: ReadingRow): Promise<void> {
  if (await em.findOne(InspectionWithdrawalEntity, { inspectionId: old.inspectionId }))
    throw new ApiError('conflict', 'Its whole inspection was taken back since.');
  const [stands] = await em.find(ReadingEntity, { supersedesId: old.id });
  const later = stands && (await em.findOne(ReadingEntity, { supersedesId: stands.id }));
  if (!stands || later)
    throw new ApiError('conflict', 'It was corrected once more since; correct it on its vehicle’s page.');
  const {
    thicknessUm = null,
    typed,
    unit,
    answer = null,
    inspectionId,
    vehicleId,
    technicianId,
    measuredOn,
    odometerM,
  } = old;
  const { axle, side, pad } = old;
  await em.insert(ReadingEntity, {
    ...{
      inspectionId,
      vehicleId,
      technicianId,
      measuredOn,
      odometerM,
      axle,
      side,
      pad,
      thicknessUm,
      typed,
      unit,
      answer,
    },
    id: crypto.randomUUID(),
    supersedesId: stands.id,
    reason: 'the answer to its question was taken back',
    enteredBy: actor.id,
    enteredAt: new Date(),
  });
}

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
