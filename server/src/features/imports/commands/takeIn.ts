import { randomUUID } from 'node:crypto';
import type { ImportPreview, ImportResult, RowChoice, Understanding } from '@mile-mark/contract/imports';
import { recordsImported } from '../../../events.ts';
import { type Actor, mustBeAllowed } from '../../../platform/auth/policy.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import { inChunks } from '../../../platform/db/inChunks.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError } from '../../../platform/errors.ts';
import { type Draft, isTaken, outcomeOf, rowOf } from '../assess.ts';
import { type Desk, hashOf } from '../desk.ts';
import { ImportBatchEntity, ImportDraftEntity, ImportRowEntity } from '../entities.ts';
import { actionOf, bytesOf, look, type Looked, type Request } from '../look.ts';
import { remember } from '../remembered.ts';
import { type Stages, UNWATCHED } from '../stages.ts';
import { FIELDS } from '../understand/fields.ts';
import { fieldAt } from '../understand/places.ts';
import type { Sheet } from '../understand/sheet.ts';
import { fieldLabel } from '../understand/understand.ts';
import { writeRecords } from './commit.ts';
import { lockedDraft } from './drafts.ts';

type Choices = Record<string, RowChoice>;

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

/** A file as a whole in one request: what is asked, and the sheet as it was read. */
interface Whole {
  request: Request;
  sheet: Sheet;
}

/** Looks at a file: how it is understood, what is still to be said, and what would become of each row. */
export async function previewImport(
  em: EntityManager,
  actor: Actor,
  { request, sheet }: Whole,
  today: string,
): Promise<ImportPreview> {
  mustBeAllowed(actor, 'import');
  const choices = request.choices ?? {};
  const looked = await look(em, sheet, request, today);
  return {
    ...previewOf(looked, choices),
    rows: looked.drafts.map((draft) => rowOf(draft, choices[String(draft.line)])),
  };
}

/** All of a look but its rows. */
export function previewOf(
  { understanding, remembered, drafts, needs, header, notes, evidence, leftOut, sheet }: Looked,
  choices: Choices,
): Omit<ImportPreview, 'rows'> {
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
    plates: platesOf(drafts),
    counts: countsOf(drafts),
    records: drafts
      .filter((draft) => isTaken(draft, choices[String(draft.line)]))
      .reduce((sum, { records }) => sum + records.length, 0),
  };
}

function platesOf(drafts: readonly Draft<unknown>[]): ImportPreview['plates'] {
  const figures = new Map<string, number>();
  let rows = 0;
  for (const { plates = [] } of drafts) {
    if (plates.length > 0) rows += 1;
    for (const { wheel } of plates) figures.set(wheel, (figures.get(wheel) ?? 0) + 1);
  }
  const wheels = [...figures].sort(([a], [b]) => a.localeCompare(b));
  return { rows, wheels: wheels.map(([wheel, count]) => ({ wheel, figures: count })) };
}

/** Takes a file in that comes whole with the request. */
export const commitImport = command({
  name: 'startImport',
  action: 'import',
  clientId: { field: 'id', of: ({ request }: Whole) => request.id },
  contentOf: ({ request }: Whole) => request,
  run: async (tx, { request, sheet }: Whole): Promise<ImportResult> => {
    await oneAtATime(tx.em);
    return takeIn(tx, {
      id: request.id ?? randomUUID(),
      fileName: request.fileName,
      contentHash: hashOf(bytesOf(request)),
      looked: await look(tx.em, sheet, request, tx.today),
      choices: request.choices ?? {},
    });
  },
});

interface Waiting {
  /** Of the import it becomes. */
  id: string;
  draftId: string;
  revision: number;
  desk: Desk;
}

/** Takes a file in that waits on the desk; where it is stopped, or the process ends, nothing of it is written. */
export const takeInDraft = command({
  name: 'takeInDraft',
  action: 'import',
  clientId: { field: 'id', of: ({ id }: Waiting) => id },
  contentOf: ({ id, draftId, revision }: Waiting) => [id, draftId, revision],
  run: async (tx, { id, draftId, revision, desk }: Waiting): Promise<ImportResult> => {
    await oneAtATime(tx.em);
    const draft = await lockedDraft(tx.em, draftId);
    if (draft.revision !== revision)
      throw new ApiError('changed_meanwhile', 'Somebody said something else of this file meanwhile; look at it again.');
    const { fileName, contentHash, choices } = draft;
    const result = await desk.watched(draftId, async (stages) => {
      const { looked } = await desk.lookAt(tx.em, draft, tx.today);
      return takeIn(tx, { id, fileName, contentHash, looked, choices, stages });
    });
    await tx.em.nativeDelete(ImportDraftEntity, { id: draftId });
    return result;
  },
});

interface Taken {
  id: string;
  fileName: string;
  contentHash: string;
  looked: Looked;
  choices: Choices;
  stages?: Stages;
}

/** Takes in what was looked at; rows not taken are kept with the import until mended or dismissed. */
async function takeIn(tx: Transaction, file: Taken): Promise<ImportResult> {
  const { em, actor, today } = tx;
  const { id, fileName, looked, choices, stages = UNWATCHED } = file;
  const { kind } = looked.understanding;
  mustBeAllowed(actor, actionOf(kind));
  refuseNeeds(looked.needs);
  const taken = looked.drafts.filter((draft) => isTaken(draft, choices[String(draft.line)]));
  const goesIn = new Set(taken);
  const records = taken.flatMap((draft) => draft.records);
  const open = looked.drafts.filter((draft) => isOpen(draft, goesIn.has(draft)));
  const counts = countsOf(looked.drafts);
  await keepBatch(tx, file, { counts, records: records.length });
  const watch = stages.begin('writing', records.length);
  const touched = await writeRecords(em, kind, records, { personId: actor.id, importId: id, today, watch });
  await keepOpenRows(em, id, open);
  if (kind === 'readings') await remember(em, looked, actor.id);
  await tx.audit('took in a file', `import/${id}`, { file: fileName, kind, records: records.length });
  await tx.emit(recordsImported({ vehicleIds: [...new Set(touched)] }));
  return { id, kind, fileName, counts, records: records.length, open: open.length };
}

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
  { id, fileName, contentHash, looked: { header, understanding } }: Taken,
  sums: { counts: ImportResult['counts']; records: number },
): Promise<void> {
  const { kind, technicianId } = understanding;
  const read = { kind, fileName, contentHash, understanding, header, technicianId };
  await em.insert(ImportBatchEntity, { id, ...read, ...sums, personId: actor.id, at: new Date() });
}

async function keepOpenRows(em: EntityManager, importId: string, open: readonly Draft<unknown>[]): Promise<void> {
  await inChunks(open, {}, (chunk) =>
    em.insertMany(
      ImportRowEntity,
      chunk.map((draft) => {
        const { line, cells, outcome, reasons, takeable } = rowOf(draft, undefined);
        return { importId, line, cells, outcome, reasons, takeable, state: 'open' };
      }),
    ),
  );
}

/** A row stays open where a part of it was refused, or where it was questioned and not taken. */
function isOpen(draft: Draft<unknown>, taken: boolean): boolean {
  const outcome = outcomeOf(draft);
  return outcome === 'refused' || (outcome === 'questioned' && !taken);
}
