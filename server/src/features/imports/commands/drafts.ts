import { LockMode } from '@mikro-orm/core';
import type { ImportDraft, ImportKind, RowChoice, Understanding } from '@mile-mark/contract/imports';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { hashOf, noDraft } from '../desk.ts';
import { ImportDraftEntity, type ImportDraftRow } from '../entities.ts';
import { onlyStated } from '../look.ts';

interface Dropped {
  id: string;
  fileName: string;
  kind: ImportKind;
  content: Uint8Array;
}

/** Keeps a file that was dropped, so that the work on it outlives the page, the session and the process. */
export const dropFile = command({
  name: 'dropFile',
  action: 'import',
  clientId: 'id',
  contentOf: ({ id, fileName, content }: Dropped) => [id, fileName, hashOf(content)],
  run: async ({ em, actor, audit }, { content, ...file }: Dropped): Promise<ImportDraft> => {
    const at = new Date();
    await em.insert(ImportDraftEntity, {
      ...file,
      content: Buffer.from(content),
      contentHash: hashOf(content),
      personId: actor.id,
      stated: {},
      edits: {},
      choices: {},
      revision: 1,
      at,
      changedAt: at,
    });
    await audit('dropped a file', `import/${file.id}`, { file: file.fileName, bytes: content.byteLength });
    return { ...file, by: actor.name, at: at.toISOString() };
  },
});

interface Answers {
  id: string;
  revision: number;
  understanding?: { [K in keyof Understanding]?: Understanding[K] | undefined } | undefined;
  edits?: Record<string, string[]> | undefined;
  choices?: Record<string, RowChoice> | undefined;
}

/** Adds to what was said of a file; what others said of other parts of it stays. */
export const answerDraft = command({
  name: 'answerDraft',
  action: 'import',
  revisionOf: revisionOfDraft,
  run: async ({ em, changedNothing }, answers: Answers): Promise<{ revision: number }> => {
    const draft = await lockedDraft(em, answers.id);
    draft.stated = statedWith(draft.stated, onlyStated(answers.understanding ?? {}));
    draft.edits = { ...draft.edits, ...answers.edits };
    draft.choices = { ...draft.choices, ...answers.choices };
    draft.revision += 1;
    draft.changedAt = new Date();
    await em.flush();
    // Nothing on record changes before the file is taken in, and that is written down.
    changedNothing();
    return { revision: draft.revision };
  },
});

/** Puts a file away that is not to be taken in. */
export const putAwayDraft = command({
  name: 'putAwayDraft',
  action: 'import',
  run: async ({ em, audit }, { id }: { id: string }): Promise<void> => {
    const { fileName } = await lockedDraft(em, id);
    await em.nativeDelete(ImportDraftEntity, { id });
    await audit('put a file away', `import/${id}`, { file: fileName });
  },
});

/** The revision seen beside the one on record; the draft is locked for whoever changes it. */
async function revisionOfDraft(
  em: EntityManager,
  { id, revision: seen }: { id: string; revision: number },
): Promise<{ seen: number; onRecord: number }> {
  return { seen, onRecord: (await lockedDraft(em, id)).revision };
}

export async function lockedDraft(em: EntityManager, id: string): Promise<ImportDraftRow> {
  const lock = { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true };
  const draft = await em.findOne(ImportDraftEntity, { id }, lock);
  if (!draft) throw noDraft();
  return draft;
}

/** What was said so far with what is said now; an answer about one name leaves those about others as they are. */
function statedWith(before: Partial<Understanding>, now: Partial<Understanding>): Partial<Understanding> {
  const all = { ...before, ...now };
  if (now.wheelNames) all.wheelNames = { ...before.wheelNames, ...now.wheelNames };
  if (now.gaugeNames) all.gaugeNames = { ...before.gaugeNames, ...now.gaugeNames };
  if (now.personNames) all.personNames = { ...before.personNames, ...now.personNames };
  return all;
}

/** A file that nobody touched for so long is put away, days. */
const KEPT_DAYS = 90;

/** Puts away what nobody came back to. */
export async function forgetDrafts(em: EntityManager): Promise<void> {
  await em.execute('delete from import_draft where changed_at < now() - make_interval(days => ?)', [KEPT_DAYS]);
}
