import { LockMode } from '@mikro-orm/core';
import type { ImportRow, Understanding } from '@mile-mark/contract/imports';
import { rowMended } from '../../../events.ts';
import { mustBeAllowed } from '../../../platform/auth/policy.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import { ApiError } from '../../../platform/errors.ts';
import { rowOf } from '../assess.ts';
import { ImportBatchEntity, ImportRowEntity, ImportWithdrawalEntity } from '../entities.ts';
import { assess, actionOf } from '../look.ts';
import { writeRecords } from './commit.ts';
import { oneAtATime } from './takeIn.ts';

/** What an import of an earlier version does not tell of how it was understood. */
const BEFORE_IT_WAS_KEPT = { personNames: {}, pad: null, lengthUnit: 'mm', massUnit: 'kg' } as const;

interface Mended {
  id: string;
  line: number;
  action: 'take' | 'dismiss';
  cells?: string[] | undefined;
}

/** Takes one open row as mended, or dismisses it. */
export const fixRow = command({
  name: 'fixRow',
  action: 'import',
  run: async (tx, input: Mended): Promise<{ row: ImportRow; done: boolean }> => {
    const { em, actor, today, audit } = tx;
    const { id, line } = input;
    await oneAtATime(em);
    const { batch, kept } = await openRow(tx, input);
    const understanding = { ...BEFORE_IT_WAS_KEPT, ...(batch.understanding as Understanding) };
    mustBeAllowed(actor, actionOf(understanding.kind));
    const cells = batch.header.map((_, index) => input.cells?.[index] ?? kept.cells[index] ?? '');
    const [draft] = await assess(em, [{ line, cells }], understanding, today);
    if (!draft) throw new ApiError('not_found');
    const row = rowOf(draft, 'take');
    const settle = (state: string) =>
      em.nativeUpdate(
        ImportRowEntity,
        { importId: id, line },
        { state, cells, settledBy: actor.id, settledAt: new Date() },
      );
    if (input.action === 'dismiss') {
      await settle('dismissed');
      await audit('dismissed a row', `import/${id}`, { line });
      return { row, done: true };
    }
    if (row.outcome === 'refused' || (draft.records.length > 0 && !row.taken)) {
      tx.changedNothing();
      return { row, done: false };
    }
    const touched = await writeRecords(em, understanding.kind, draft.records, {
      personId: actor.id,
      importId: id,
      today,
      watch: {},
    });
    await settle('taken');
    await audit('took a mended row', `import/${id}`, { line, before: kept.cells, after: cells });
    await tx.emit(rowMended({ vehicleIds: [...new Set(touched)] }));
    return { row, done: true };
  },
});

/** The row, held until the end of the transaction; refused where it is not on record or settled already. */
async function openRow({ em }: Transaction, { id, line }: Mended) {
  const lock = { lockMode: LockMode.PESSIMISTIC_WRITE };
  const batch = await em.findOne(ImportBatchEntity, { id });
  if (await em.findOne(ImportWithdrawalEntity, { importId: id }))
    throw new ApiError('conflict', 'This import was taken back; drop the mended file anew.');
  const kept = await em.findOne(ImportRowEntity, { importId: id, line }, lock);
  if (!batch || !kept) throw new ApiError('not_found', 'There is no such row on record.');
  if (kept.state !== 'open') throw new ApiError('conflict', `Somebody settled this row meanwhile (${kept.state}).`);
  return { batch, kept };
}
