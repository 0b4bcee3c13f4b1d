import { type NewRevision, SpecificationValues } from '@mile-mark/contract/specifications';
import { z } from 'zod';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { faultsOf, readContext } from '../judgeEntry.ts';
import { changesBetween } from '../queries/specifications.ts';

/** A revision to be kept, and the file it came from. */
export type RevisionToKeep = NewRevision & { importedFrom?: string };

const ENTRY = `jsonb_to_recordset(?::jsonb) as e(id uuid, model_id uuid, axle int, joint_kind_id uuid, position text,
  detail jsonb, document text, page text, revision text, dated date, confirmed jsonb, imported_from text)`;
const AT_PLACE = `s.model_id = e.model_id and s.axle = e.axle and s.joint_kind_id is not distinct from e.joint_kind_id
  and s.position = e.position`;

/** Keeps new revisions, each of another joint; those that are in already add nothing. */
export async function keepRevisions(tx: Transaction, inputs: readonly RevisionToKeep[]): Promise<void> {
  const { em, actor, today, auditAll, changedNothing } = tx;
  const entries = JSON.stringify(inputs.map(entryOf));
  await em.execute(
    `insert into specification (id, model_id, axle, joint_kind_id, position)
     select gen_random_uuid(), e.model_id, e.axle, e.joint_kind_id, e.position from ${ENTRY}
     on conflict on constraint specification_place do nothing`,
    [entries],
  );
  const fresh = await lockPlaces(em, entries);
  const ids = uuidArray(fresh.map(({ revisionId }) => revisionId));
  await em.execute(
    `insert into specification_revision (id, specification_id, number, detail, document, page, revision, dated, confirmed,
       imported_from, entered_by, entered_on)
     select e.id, s.id, (select coalesce(max(r.number), 0) + 1 from specification_revision r where r.specification_id = s.id),
       e.detail, e.document, e.page, e.revision, e.dated, e.confirmed, e.imported_from, ?, ?::date
     from specification s join ${ENTRY} on ${AT_PLACE} where e.id = any(?::uuid[])`,
    [actor.id, today, entries, ids],
  );
  await em.execute(
    `update specification s set open_revision_id = r.id from specification_revision r
     where r.specification_id = s.id and r.id = any(?::uuid[])`,
    [ids],
  );
  if (fresh.length === 0) changedNothing();
  else
    await auditAll(
      'entered a specification',
      fresh.map(({ specificationId, revisionId }) => ({
        subject: `specification/${specificationId}`,
        detail: { revision: revisionId },
      })),
    );
}

function entryOf({
  id,
  modelId,
  axle,
  jointKindId,
  position,
  values,
  source,
  confirmed,
  importedFrom,
}: RevisionToKeep) {
  return {
    id,
    model_id: modelId,
    axle,
    joint_kind_id: jointKindId,
    position,
    detail: values,
    document: source.document,
    page: source.page,
    revision: source.revision,
    dated: source.date,
    confirmed,
    imported_from: importedFrom ?? null,
  };
}

/** Holds the joints until the end of the transaction; those where a revision waits already are refused. */
async function lockPlaces(
  em: EntityManager,
  entries: string,
): Promise<{ specificationId: string; revisionId: string }[]> {
  const places = await rowsOf(
    em,
    z.object({ id: z.string(), revision_id: z.string(), open_revision_id: z.string().nullable() }),
    `select s.id, e.id as revision_id, s.open_revision_id from specification s join ${ENTRY} on ${AT_PLACE}
     order by s.id for update of s`,
    [entries],
  );
  const taken = places.find((one) => one.open_revision_id !== null && one.open_revision_id !== one.revision_id);
  if (taken) throw await waitsAlready(em, taken.open_revision_id ?? '');
  return places
    .filter((one) => one.open_revision_id === null)
    .map(({ id, revision_id }) => ({ specificationId: id, revisionId: revision_id }));
}

async function waitsAlready(em: EntityManager, revisionId: string): Promise<ApiError> {
  const [open] = await rowsOf(
    em,
    z.object({ number: z.number(), name: z.string(), entered_on: z.string() }),
    `select r.number, p.name, r.entered_on::text from specification_revision r join person p on p.id = r.entered_by where r.id = ?`,
    [revisionId],
  );
  const message = `Revision ${open?.number}, entered by ${open?.name} on ${open?.entered_on}, still waits to be released. Two can't wait at once: release it or take it back first.`;
  return new ApiError('conflict', message, [{ field: 'jointKindId', message }]);
}

/** Refuses a revision that says, from the same page of the same document, what counts already. */
async function refuseSame(em: EntityManager, input: NewRevision): Promise<void> {
  const [counts] = await rowsOf(
    em,
    z.object({ detail: z.unknown(), document: z.string(), page: z.string(), revision: z.string(), dated: z.string() }),
    `select rel.detail, r.document, r.page, r.revision, r.dated::text from specification s
       join specification_release rel on rel.revision_id = s.released_revision_id
       join specification_revision r on r.id = s.released_revision_id
     where s.model_id = ? and s.axle = ? and s.joint_kind_id is not distinct from ?::uuid and s.position = ?`,
    [input.modelId, input.axle, input.jointKindId, input.position],
  );
  const { document, page, revision, date } = input.source;
  const sameSource =
    counts?.document === document && counts.page === page && counts.revision === revision && counts.dated === date;
  if (counts && sameSource && changesBetween(SpecificationValues.parse(counts.detail), input.values).length === 0)
    throw invalidField(
      'values',
      'What counts already says the same, from the same page; a change, or a newer document, is accepted.',
    );
}

/** Enters a revision; it counts only once somebody else has released it. */
export const addRevision = command({
  name: 'addRevision',
  action: 'specify',
  clientId: 'id',
  run: async (tx, input: NewRevision) => {
    if (input.source.date > tx.today)
      throw invalidField('source.date', `${input.source.date} is in the future; the document's own date is accepted.`);
    const { refused, questions } = faultsOf(await readContext(tx.em, [input.modelId]), input);
    const faults = [...refused, ...questions];
    if (faults.length > 0) throw new ApiError('invalid', undefined, faults);
    await refuseSame(tx.em, input);
    await keepRevisions(tx, [input]);
    return { id: input.id };
  },
});
