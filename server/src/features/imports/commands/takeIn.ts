import { createHash, randomUUID } from 'node:crypto';
import type { ImportPreview, ImportResult, Understanding } from '@mile-mark/contract/imports';
import { recordsImported } from '../../../events.ts';
import { type Actor, mustBeAllowed } from '../../../platform/auth/policy.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError } from '../../../platform/errors.ts';
import { type Draft, isTaken, outcomeOf, rowOf } from '../assess.ts';
import { ImportBatchEntity, ImportRowEntity } from '../entities.ts';
import { choiceOf, look, type Looked, actionOf, type Request } from '../look.ts';
import { remember } from '../remembered.ts';
import { FIELDS } from '../understand/fields.ts';
import { fieldAt } from '../understand/places.ts';
import { fieldLabel } from '../understand/understand.ts';
import { COMMIT } from './commit.ts';

function countsOf(drafts: readonly Draft<unknown>[]): ImportResult['counts'] {
  const counts = { accepted: 0, questioned: 0, refused: 0, already: 0 };
  for (const draft of drafts) counts[outcomeOf(draft)] += 1;
  return counts;
}

/** The fields a column may fill; in a sheet of readings also each place that its header tells. */
function fieldsOf({ kind, columns }: Understanding): ImportPreview['fields'] {
  const places = columns.flatMap(({ field }) => (field.startsWith('at:') ? [field] : []));
  const offered = kind === 'readings' ? [...new Set([...PLACE_FIELDS, ...places])] : [];
  return [
    ...FIELDS[kind].map(({ field, label, needed }) => ({ field, label, needed })),
    ...offered.map((field) => ({ field, label: fieldLabel(field), needed: false })),
  ];
}

/** Columns of one pad's figures that may be chosen by hand: those of the first three axles. */
const PLACE_FIELDS = [1, 2, 3].flatMap((axle) =>
  (['left', 'right'] as const).flatMap((side) =>
    (['inner', 'outer'] as const).map((pad) => fieldAt({ axle, side, pad })),
  ),
);

/** Looks at a file: how it is understood, what is still to be said, and what would become of each row. */
export async function previewImport(
  em: EntityManager,
  actor: Actor,
  request: Request,
  today: string,
): Promise<ImportPreview> {
  mustBeAllowed(actor, 'import');
  const { understanding, remembered, drafts, needs, header, notes, evidence, leftOut, sheet } = await look(
    em,
    request,
    today,
  );
  return {
    understanding,
    fields: fieldsOf(understanding),
    needs,
    notes,
    evidence,
    leftOut,
    sheets: sheet.names,
    remembered,
    header,
    rows: drafts.map((draft) => rowOf(draft, choiceOf(request, draft.line))),
    counts: countsOf(drafts),
    records: drafts
      .filter((draft) => isTaken(draft, choiceOf(request, draft.line)))
      .reduce((sum, { records }) => sum + records.length, 0),
  };
}

/** Takes a file in, in one transaction; rows not taken are kept with the import until mended or dismissed. */
export const commitImport = command({
  name: 'startImport',
  action: 'import',
  clientId: 'id',
  run: async (tx, request: Request): Promise<ImportResult> => {
    const { em, actor, today } = tx;
    const id = request.id ?? randomUUID();
    await oneAtATime(em);
    const looked = await look(em, request, today);
    const { kind } = looked.understanding;
    mustBeAllowed(actor, actionOf(kind));
    refuseNeeds(looked.needs);
    const taken = looked.drafts.filter((draft) => isTaken(draft, choiceOf(request, draft.line)));
    const records = taken.flatMap((draft) => draft.records);
    const open = looked.drafts.filter((draft) => isOpen(draft, taken.includes(draft)));
    const counts = countsOf(looked.drafts);
    await keepBatch(tx, id, request, looked, { counts, records: records.length });
    const touched = await COMMIT[kind](em, records as never[], actor.id, id, today);
    await keepOpenRows(em, id, open);
    if (kind === 'readings') await remember(em, looked, actor.id);
    await tx.audit('took in a file', `import/${id}`, { file: request.fileName, kind, records: records.length });
    await tx.emit(recordsImported({ vehicleIds: [...new Set(touched)] }));
    return { id, kind, fileName: request.fileName, counts, records: records.length, open: open.length };
  },
});

/** One import at a time: the second sees what the first wrote, so that the same file twice adds nothing. */
export async function oneAtATime(em: EntityManager): Promise<void> {
  await em.execute('select pg_advisory_xact_lock(?)', [IMPORT_LOCK]);
}

/** Number of the lock under which imports are taken in. */
const IMPORT_LOCK = 460_048;

function refuseNeeds(needs: Looked['needs']): void {
  if (needs.length > 0)
    throw new ApiError(
      'invalid',
      needs[0]?.message,
      needs.map(({ kind, name, message }) => ({ field: `understanding.${name ?? kind}`, message })),
    );
}

async function keepBatch(
  { em, actor }: Transaction,
  id: string,
  { fileName }: Request,
  { header, bytes, understanding }: Looked,
  sums: { counts: ImportResult['counts']; records: number },
): Promise<void> {
  const { kind, technicianId } = understanding;
  const contentHash = createHash('sha256').update(bytes).digest('hex');
  const read = { kind, fileName, contentHash, understanding, header, technicianId };
  await em.insert(ImportBatchEntity, { id, ...read, ...sums, personId: actor.id, at: new Date() });
}

async function keepOpenRows(em: EntityManager, importId: string, open: readonly Draft<unknown>[]): Promise<void> {
  await em.insertMany(
    ImportRowEntity,
    open.map((draft) => {
      const { outcome, reasons } = rowOf(draft, undefined);
      return { importId, line: draft.line, cells: draft.cells, outcome, reasons, state: 'open' };
    }),
  );
}

/** A row stays open where a part of it was refused, or where it was questioned and not taken. */
function isOpen(draft: Draft<unknown>, taken: boolean): boolean {
  const outcome = outcomeOf(draft);
  return outcome === 'refused' || (outcome === 'questioned' && !taken);
}
