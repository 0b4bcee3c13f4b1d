import type { ImportWithdrawal, ImportWithdrawn } from '@mile-mark/contract/imports';
import { z } from 'zod';
import { readingCorrected } from '../../../events.ts';
import { mustBeOwn } from '../../../platform/auth/own.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { InspectionEntity, ReadingEntity, withdrawMany } from '../../inspections/index.ts';
import { lockVehicle } from '../../register/index.ts';
import { ImportBatchEntity, ImportRowEntity, ImportWithdrawalEntity } from '../entities.ts';
import { oneAtATime } from './takeIn.ts';

/**
 * Takes an import of readings back whole: what it put in no longer counts and stays to be seen, its open rows are
 * settled, and the same file may come in again. Where something later rests on it, it says what does.
 */
export const withdrawImport = command({
  name: 'withdrawImport',
  action: 'import',
  clientId: 'id',
  run: async (
    tx,
    { id, reason, importId }: z.output<typeof ImportWithdrawal> & { importId: string },
  ): Promise<z.output<typeof ImportWithdrawn>> => {
    const { em, actor } = tx;
    await oneAtATime(em);
    const batch = await em.findOne(ImportBatchEntity, { id: importId });
    if (!batch) throw new ApiError('not_found', 'There is no such import on record.');
    mustBeOwn(actor, { by: [batch.personId], at: batch.at });
    if (await em.findOne(ImportWithdrawalEntity, { importId }))
      throw new ApiError('conflict', 'Somebody took this import back meanwhile.');
    if (batch.kind !== 'readings')
      throw new ApiError(
        'conflict',
        `Only a sheet of readings can be taken back whole; what a file of ${batch.kind} put in is corrected where it stands.`,
      );
    const inspections = await em.find(InspectionEntity, { importId });
    const vehicleIds = [...new Set(inspections.map(({ vehicleId }) => vehicleId))];
    await lockVehicle(em, ...vehicleIds);
    const resting = await restingOn(em, importId);
    if (resting.length > 0)
      throw new ApiError('conflict', `Something later rests on this import: ${inWords(resting)} Take that back first.`);
    const inspectionIds = inspections.map((one) => one.id);
    const readings = await em.find(ReadingEntity, { inspectionId: { $in: inspectionIds } });
    await withdrawMany(tx, { inspectionIds, readings, reason });
    await em.nativeUpdate(
      ImportRowEntity,
      { importId, state: 'open' },
      { state: 'dismissed', settledBy: actor.id, settledAt: new Date() },
    );
    await em.insert(ImportWithdrawalEntity, { id, importId, reason, personId: actor.id, at: new Date() });
    await tx.audit('took an import back', `import/${importId}`, {
      file: batch.fileName,
      reason,
      readings: readings.length,
    });
    await tx.emit(readingCorrected({ vehicleIds }));
    return { id, readings: readings.length, vehicles: vehicleIds.length };
  },
});

const Resting = z.object({ unit: z.string(), date: z.string(), what: z.string() });
type Resting = z.output<typeof Resting>;

/** What was done later with what the import put in: corrections, withdrawals of single looks, answers to questions. */
async function restingOn(em: EntityManager, importId: string): Promise<Resting[]> {
  return rowsOf(
    em,
    Resting,
    `select distinct v.unit, i.measured_on::text as date, rests.what
     from inspection i join vehicle v on v.id = i.vehicle_id
     cross join lateral (
       select 'was entered anew' as what from inspection later where later.supersedes_id = i.id
       union select 'was withdrawn by itself' from inspection_withdrawal w where w.inspection_id = i.id
       union select 'had a reading corrected' from reading r join reading later on later.supersedes_id = r.id
         where r.inspection_id = i.id
           and not exists (select 1 from inspection anew where anew.supersedes_id = i.id)
           and not exists (select 1 from inspection_withdrawal w where w.inspection_id = i.id)
       union select 'had a question about it answered' from live_question_answer a
         where a.inspection_id = i.id
           or a.reading_id in (select r.id from reading r where r.inspection_id = i.id)
     ) rests
     where i.import_id = ? order by v.unit, date limit 20`,
    [importId],
  );
}

/** So many of them are named; the others are counted. */
const NAMED = 4;

function inWords(resting: readonly Resting[]): string {
  const named = resting.slice(0, NAMED).map(({ unit, date, what }) => `${unit}’s look of ${date} ${what}`);
  const more = resting.length - named.length;
  return `${named.join('; ')}${more > 0 ? `, and ${more} more` : ''}.`;
}
