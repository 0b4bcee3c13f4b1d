import { ImportKind, type ImportWithdrawal, type ImportWithdrawn } from '@mile-mark/contract/imports';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { importTakenBack, stockMoved } from '../../../events.ts';
import { mustBeOwn } from '../../../platform/auth/own.ts';
import { mustBeAllowed } from '../../../platform/auth/policy.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import {
  InspectionEntity,
  ReadingEntity,
  ServiceEntity,
  ServiceWithdrawalEntity,
  withdrawMany,
} from '../../inspections/index.ts';
import { lockVehicle } from '../../register/index.ts';
import { ImportBatchEntity, type ImportBatchRow, ImportRowEntity, ImportWithdrawalEntity } from '../entities.ts';
import { withdrawCounts } from '../../parts/index.ts';
import { actionOf } from '../look.ts';
import { oneAtATime } from './takeIn.ts';
import { withdrawList } from './withdrawList.ts';

/**
 * Takes an import back whole: what it put in no longer counts and stays to be seen, its open rows are settled, and the
 * same file may come in again. Where something later rests on it, it says what does.
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
    mustBeAllowed(actor, actionOf(ImportKind.parse(batch.kind)));
    mustBeOwn(actor, { by: [batch.personId], at: batch.at });
    if (await em.findOne(ImportWithdrawalEntity, { importId }))
      throw new ApiError('conflict', 'Somebody took this import back meanwhile.');
    const { vehicleIds, records } = await withdrawRecords(tx, batch, reason);
    await em.nativeUpdate(
      ImportRowEntity,
      { importId, state: 'open' },
      { state: 'dismissed', settledBy: actor.id, settledAt: new Date() },
    );
    await em.insert(ImportWithdrawalEntity, { id, importId, reason, personId: actor.id, at: new Date() });
    await tx.audit('took an import back', `import/${importId}`, {
      file: batch.fileName,
      reason,
      records,
    });
    return { id, records, vehicles: vehicleIds.length };
  },
});

/** What was taken back, and whose it was. */
export interface Gone {
  vehicleIds: string[];
  records: number;
}

async function withdrawRecords(tx: Transaction, { id, kind }: ImportBatchRow, reason: string): Promise<Gone> {
  if (kind === 'readings') return withdrawReadings(tx, id, reason);
  if (kind === 'services') return withdrawServices(tx, id, reason);
  if (kind === 'stock') {
    const { counts, resting } = await withdrawCounts(tx.em, id, { personId: tx.actor.id, today: tx.today });
    refuseResting(
      resting.map((one) => ({ ...one, what: 'was followed by another movement' })),
      'count',
    );
    await tx.emit(stockMoved({}));
    return { vehicleIds: [], records: counts };
  }
  return withdrawList(tx, id, ImportKind.parse(kind));
}

async function withdrawReadings(tx: Transaction, importId: string, reason: string): Promise<Gone> {
  const { em } = tx;
  const inspections = await em.find(InspectionEntity, { importId });
  const vehicleIds = [...new Set(inspections.map(({ vehicleId }) => vehicleId))];
  await lockVehicle(em, ...vehicleIds);
  refuseResting(await restingOn(em, importId), 'look');
  const inspectionIds = inspections.map((one) => one.id);
  const readings = await em.find(ReadingEntity, { inspectionId: { $in: inspectionIds } });
  await withdrawMany(tx, { inspectionIds, readings, reason });
  await tx.emit(importTakenBack({ vehicleIds }));
  return { vehicleIds, records: readings.length };
}

async function withdrawServices({ em, actor, emit }: Transaction, importId: string, reason: string): Promise<Gone> {
  const services = await em.find(ServiceEntity, { importId });
  const vehicleIds = [...new Set(services.map(({ vehicleId }) => vehicleId))];
  await lockVehicle(em, ...vehicleIds);
  refuseResting(await restingOnServices(em, importId), 'service');
  const said = { reason, personId: actor.id, at: new Date() };
  await em.insertMany(
    ServiceWithdrawalEntity,
    services.map(({ id: serviceId }) => ({ id: randomUUID(), serviceId, ...said })),
  );
  await emit(importTakenBack({ vehicleIds }));
  return { vehicleIds, records: services.length };
}

function refuseResting(resting: readonly Resting[], noun: string): void {
  if (resting.length > 0)
    throw new ApiError(
      'conflict',
      `Something later rests on this import: ${inWords(resting, noun)} Take that back first.`,
    );
}

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

/** Services of the import that were taken back one by one already. */
async function restingOnServices(em: EntityManager, importId: string): Promise<Resting[]> {
  return rowsOf(
    em,
    Resting,
    `select v.unit, s.fitted_on::text as date, 'was withdrawn by itself' as what
     from service_record s join vehicle v on v.id = s.vehicle_id join service_withdrawal w on w.service_id = s.id
     where s.import_id = ? order by v.unit, date limit 20`,
    [importId],
  );
}

/** So many of them are named; the others are counted. */
const NAMED = 4;

function inWords(resting: readonly Resting[], noun: string): string {
  const named = resting.slice(0, NAMED).map(({ unit, date, what }) => `${unit}’s ${noun} of ${date} ${what}`);
  const more = resting.length - named.length;
  return `${named.join('; ')}${more > 0 ? `, and ${more} more` : ''}.`;
}
