import {
  type DraftPreview,
  type DraftRows,
  type ImportDraft,
  ImportKind,
  type RowsShown,
} from '@mile-mark/contract/imports';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { ApiError } from '../../platform/errors.ts';
import { type Draft, outcomeOf, rowOf } from './assess.ts';
import { previewOf } from './commands/takeIn.ts';
import { type Desk, noDraft, Superseded } from './desk.ts';
import { ImportDraftEntity, type ImportDraftRow } from './entities.ts';
import type { Looked } from './look.ts';

/** Rows of one page. */
const PAGE = 200;

const DraftSql = z.object({ id: z.string(), fileName: z.string(), kind: ImportKind, by: z.string(), at: z.string() });

/** The files that wait, whoever dropped them; those of one person, where they see no others'. */
export async function listDrafts(em: EntityManager, personId?: string): Promise<ImportDraft[]> {
  return rowsOf(
    em,
    DraftSql,
    `select d.id, d.file_name as "fileName", d.kind, p.name as by, d.at::text
     from import_draft d join person p on p.id = d.person_id where ?::uuid is null or d.person_id = ?::uuid
     order by d.at, d.file_name limit 200`,
    [personId ?? null, personId ?? null],
  );
}

/** A file that waits, as it would go in now, with its first rows. */
export async function previewDraft(em: EntityManager, desk: Desk, id: string, today: string): Promise<DraftPreview> {
  const draft = await draftOf(em, id);
  const glance = await desk.glanceAt(em, draft, today).catch((error: unknown) => {
    if (error instanceof Superseded) return undefined;
    throw error;
  });
  // Somebody answered meanwhile: what they said is looked at.
  if (!glance) return previewDraft(em.fork(), desk, id, today);
  const { id: look, looked, judging } = glance;
  return {
    ...previewOf(looked, draft.choices),
    fileName: draft.fileName,
    revision: draft.revision,
    look,
    judging,
    mended: Object.keys(draft.edits).map(Number),
    rows: page(looked, draft, 'all', 0).rows,
  };
}

/** A page of rows of the look that was asked for. @throws ApiError `changed_meanwhile` where it is another by now */
export async function draftRows(
  em: EntityManager,
  desk: Desk,
  id: string,
  asked: { look: string; shown: RowsShown; from: number },
): Promise<DraftRows> {
  const draft = await draftOf(em, id);
  const known = await desk.lookOf(id, asked.look);
  if (!known) throw new ApiError('changed_meanwhile', 'The file is looked at anew; ask for its first rows again.');
  return page(known.looked, draft, asked.shown, asked.from);
}

/** The rows of a look whose figures seem to include the backing plate, each such cell of the wheel (or all) without it. */
export async function cellsWithoutPlate(
  desk: Desk,
  draftId: string,
  { look, wheel }: { look: string; wheel: string | null },
): Promise<Record<string, string[]>> {
  const known = await desk.lookOf(draftId, look);
  if (!known) throw new ApiError('changed_meanwhile', 'The file is looked at anew; see which figures are meant first.');
  const edits: Record<string, string[]> = {};
  for (const { line, cells, plates = [] } of known.looked.drafts) {
    const meant = plates.filter((one) => wheel === null || one.wheel === wheel);
    if (meant.length === 0) continue;
    const mended = [...cells];
    for (const { column, cell } of meant) mended[column] = cell;
    edits[String(line)] = mended;
  }
  return edits;
}

async function draftOf(em: EntityManager, id: string): Promise<ImportDraftRow> {
  const draft = await em.findOne(ImportDraftEntity, { id });
  if (!draft) throw noDraft();
  return draft;
}

const RANK = { refused: 0, questioned: 1, accepted: 2, already: 3 } as const;

/** Rows of each look in the order in which they are shown: it is found once. */
const orders = new WeakMap<Looked, Draft<unknown>[]>();

/** Rows that need a look first; among the accepted, those understood otherwise than typed. */
function inOrder(looked: Looked): Draft<unknown>[] {
  const known = orders.get(looked);
  if (known) return known;
  const ranked = looked.drafts.map((draft) => ({
    draft,
    rank: RANK[outcomeOf(draft)] - (draft.notes.length > 0 ? 0.5 : 0),
  }));
  const sorted = ranked.sort((a, b) => a.rank - b.rank || a.draft.line - b.draft.line).map(({ draft }) => draft);
  orders.set(looked, sorted);
  return sorted;
}

function page(looked: Looked, { choices }: ImportDraftRow, shown: RowsShown, from: number): DraftRows {
  const all = inOrder(looked).filter((draft) => shown === 'all' || outcomeOf(draft) === shown);
  const rows = all.slice(from, from + PAGE).map((draft) => rowOf(draft, choices[String(draft.line)]));
  return { rows, next: from + PAGE < all.length ? from + PAGE : null };
}
