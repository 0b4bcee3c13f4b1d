import {
  FIELD_NAMES,
  fieldsWithTorque,
  type FigureChange,
  LibraryEntry,
  LibraryFile,
  type LibraryImport,
  type LibraryImported,
  type LibraryRow,
  Source,
  SpecificationValues,
} from '@mile-mark/contract/specifications';
import { z } from 'zod';
import { command } from '../../platform/command/command.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { type FieldError, ApiError } from '../../platform/errors.ts';
import { keepRevisions } from './commands/enterRevision.ts';
import { faultsOf, readContext, type SpecificationContext } from './judgeEntry.ts';
import { libraryFromCsv, type LibraryLine, libraryToCsv } from './libraryCsv.ts';
import { changesBetween } from './queries/specifications.ts';

/** As many as a file of the largest size can hold. */
const MOST_ENTRIES = 50_000;

const EntrySql = z.object({
  model: z.string(),
  axle: z.number(),
  joint: z.string().nullable(),
  position: z.string(),
  detail: z.unknown(),
  source: Source,
});
type EntrySql = z.output<typeof EntrySql>;

/** Released specifications, as a file holds them. */
async function libraryEntries(em: EntityManager): Promise<LibraryEntry[]> {
  const rows = await rowsOf(
    em,
    EntrySql,
    `select m.name as model, s.axle, k.name as joint, s.position, rel.detail,
       jsonb_build_object('document', r.document, 'page', r.page, 'revision', r.revision, 'date', r.dated) as source
     from specification s join model m on m.id = s.model_id join specification_release rel on rel.revision_id = s.released_revision_id
       join specification_revision r on r.id = s.released_revision_id left join joint_kind k on k.id = s.joint_kind_id
     order by m.name, s.axle, k.place nulls last, s.position`,
  );
  return rows.map(({ detail, ...row }) => ({ ...row, values: SpecificationValues.parse(detail) }));
}

export async function exportCsv(em: EntityManager): Promise<string> {
  return libraryToCsv(await libraryEntries(em));
}

export async function exportJson(em: EntityManager): Promise<LibraryFile> {
  return { format: 'mile-mark-specifications', version: 1, specifications: await libraryEntries(em) };
}

function linesOf({ format, text }: LibraryImport): LibraryLine[] {
  if (format === 'csv') {
    const { lines, faults } = libraryFromCsv(text);
    if (faults.length > 0) throw new ApiError('invalid', undefined, faults);
    return lines;
  }
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new ApiError(
      'invalid',
      'This is not JSON; a library file as docs/specification-library.md describes is accepted.',
      [{ field: 'text', message: 'A library file of JSON is accepted.' }],
    );
  }
  const frame = LibraryFile.omit({ specifications: true }).safeParse(json);
  const list = (json as { specifications?: unknown } | null)?.specifications;
  const faults: FieldError[] = frame.success
    ? []
    : frame.error.issues.map(({ path, message }) => ({ field: path.join('.') || 'text', message }));
  if (!Array.isArray(list)) faults.push({ field: 'specifications', message: 'A list of specifications is accepted.' });
  else if (list.length > MOST_ENTRIES)
    faults.push({ field: 'specifications', message: `At most ${MOST_ENTRIES} specifications a file are accepted.` });
  if (faults.length > 0 || !Array.isArray(list)) throw new ApiError('invalid', undefined, faults);
  return list.map((item: unknown, index) => lineOfJson(item, index + 1));
}

function lineOfJson(item: unknown, line: number): LibraryLine {
  const parsed = LibraryEntry.safeParse(item);
  const raw = (typeof item === 'object' && item !== null ? item : {}) as Record<string, unknown>;
  const say = (value: unknown) => (typeof value === 'string' || typeof value === 'number' ? String(value) : '');
  const name = { model: say(raw.model), axle: say(raw.axle), joint: say(raw.joint) };
  if (parsed.success) return { line, name, entry: parsed.data, problems: [] };
  return {
    line,
    name,
    problems: parsed.error.issues.map(({ path, message }) => ({ field: path.map(String).join('.'), message })),
  };
}

interface Here {
  models: Map<string, string>;
  kinds: Map<string, string>;
  /** By model, axle, joint and position: what counts, and whether a revision waits. */
  released: Map<string, { values: SpecificationValues; source: Source }>;
  waiting: Set<string>;
  context: SpecificationContext;
}

const placeKey = (modelId: string, axle: number, jointKindId: string | null, position: string) =>
  `${modelId} ${axle} ${jointKindId ?? ''} ${position}`;

async function readHere(em: EntityManager): Promise<Here> {
  const names = async (table: 'model' | 'joint_kind') =>
    new Map(
      (
        await rowsOf(em, z.object({ id: z.string(), name: z.string() }), `select id, lower(name) as name from ${table}`)
      ).map(({ id, name }) => [name, id]),
    );
  const rows = await rowsOf(
    em,
    z.object({
      model_id: z.string(),
      axle: z.number(),
      joint_kind_id: z.string().nullable(),
      position: z.string(),
      detail: z.unknown(),
      source: Source.nullable(),
      waits: z.boolean(),
    }),
    `select s.model_id, s.axle, s.joint_kind_id, s.position, rel.detail, s.open_revision_id is not null as waits,
       case when r.id is not null then jsonb_build_object('document', r.document, 'page', r.page, 'revision', r.revision,
         'date', r.dated) end as source
     from specification s left join specification_release rel on rel.revision_id = s.released_revision_id
       left join specification_revision r on r.id = s.released_revision_id`,
  );
  const models = await names('model');
  const here: Here = {
    context: await readContext(em, [...models.values()]),
    models,
    kinds: await names('joint_kind'),
    released: new Map(),
    waiting: new Set(),
  };
  for (const { model_id, axle, joint_kind_id, position, detail, source, waits } of rows) {
    const key = placeKey(model_id, axle, joint_kind_id, position);
    if (detail && source) here.released.set(key, { values: SpecificationValues.parse(detail), source });
    if (waits) here.waiting.add(key);
  }
  return here;
}

/** What differs between what counts here and an entry of a file, its source included. */
function differencesOf(
  entry: LibraryEntry,
  here: { values: SpecificationValues; source: Source } | undefined,
): FigureChange[] {
  const sources = (['document', 'page', 'revision', 'date'] as const).flatMap((field) =>
    here && here.source[field] !== entry.source[field]
      ? [{ field: FIELD_NAMES[field] ?? field, from: here.source[field], to: entry.source[field] }]
      : [],
  );
  if (here) return [...changesBetween(here.values, entry.values), ...sources];
  return Object.entries(fieldsWithTorque(entry.values))
    .filter(([, text]) => text !== 'unknown' && text !== 'no')
    .map(([field, text]) => ({ field: FIELD_NAMES[field] ?? field, from: '', to: text }));
}

type Taken = {
  line: number;
  place: { modelId: string; axle: number; jointKindId: string | null; position: string };
} & {
  entry: LibraryEntry;
};

/**
 * Looks at a library file, or takes what is new or changed in it, all or nothing: as revisions that wait for a second
 * person here, whoever released them elsewhere.
 */
export const importLibrary = command({
  name: 'importLibrary',
  action: 'specify',
  run: async (tx, input: LibraryImport): Promise<LibraryImported> => {
    const { em, today } = tx;
    if (!input.dryRun) await em.execute('select pg_advisory_xact_lock(?)', [LIBRARY_LOCK]);
    const { rows, taken } = await lookAtLibrary(em, input, today);
    if (input.dryRun || taken.length === 0) tx.changedNothing();
    if (input.dryRun) return { rows, taken: 0 };
    await keepRevisions(
      tx,
      taken.map(({ entry, place }) => ({
        id: crypto.randomUUID(),
        ...place,
        values: entry.values,
        source: entry.source,
        confirmed: ['head_unusual', 'torque_unusual'],
        importedFrom: input.fileName,
      })),
    );
    if (taken.length > 0)
      await tx.audit('took in a library file', `library/${input.fileName}`, { taken: taken.length });
    return { rows, taken: taken.length };
  },
});

/** Number of the lock under which library files are taken in. */
const LIBRARY_LOCK = 460_049;

/** What would become of each line of a file, and what it would add. */
async function lookAtLibrary(
  em: EntityManager,
  input: LibraryImport,
  today: string,
): Promise<{ rows: LibraryRow[]; taken: Taken[] }> {
  const here = await readHere(em);
  const rows: LibraryRow[] = [];
  const taken: Taken[] = [];
  const seen = new Map<string, number>();
  const confirmed = new Set(input.confirmed);
  for (const line of linesOf(input)) {
    const { row, take } = assess(line, here, seen, confirmed.has(line.line), today);
    rows.push(row);
    if (take) taken.push(take);
  }
  return { rows, taken };
}

function assess(
  { line, name, entry, problems }: LibraryLine,
  here: Here,
  seen: Map<string, number>,
  confirmed: boolean,
  today: string,
): { row: LibraryRow; take?: Taken } {
  const row = (outcome: LibraryRow['outcome'], rest: Partial<LibraryRow> = {}): LibraryRow => ({
    line,
    model: name.model,
    axle: name.axle,
    joint: entry?.position ? `${name.joint}, ${entry.position}` : name.joint,
    outcome,
    differences: [],
    problems: [],
    ...rest,
  });
  if (!entry) return { row: row('refused', { problems }) };
  const refused = (field: string, message: string) => ({ row: row('refused', { problems: [{ field, message }] }) });
  const modelId = here.models.get(entry.model.toLowerCase());
  if (!modelId)
    return refused(
      'model',
      `There is no model “${entry.model}” on record here; import its model first, or put it on record as a variant.`,
    );
  const jointKindId = entry.joint === null ? null : here.kinds.get(entry.joint.toLowerCase());
  if (jointKindId === undefined)
    return refused('joint', `There is no joint “${entry.joint}” on the list here; put it on the list first.`);
  if (entry.source.date > today)
    return refused('date', `${entry.source.date} is in the future; the document's own date is accepted.`);
  const place = { modelId, axle: entry.axle, jointKindId, position: entry.position };
  const key = placeKey(modelId, entry.axle, jointKindId, entry.position);
  const earlier = seen.get(key);
  if (earlier !== undefined)
    return refused('joint', `Line ${earlier} is about the same joint; one line a joint is accepted.`);
  seen.set(key, line);
  const known = here.released.get(key);
  const differences = differencesOf(entry, known);
  if (known && differences.length === 0) return { row: row('same') };
  const faults = faultsOf(here.context, {
    ...place,
    values: entry.values,
    confirmed: confirmed ? ['head_unusual', 'torque_unusual'] : [],
  });
  if (faults.refused.length > 0) return { row: row('refused', { differences, problems: faults.refused }) };
  if (here.waiting.has(key))
    return {
      row: row('waiting', {
        problems: [
          {
            field: 'joint',
            message: 'A revision of this joint waits to be released here; release it or take it back first.',
          },
        ],
      }),
    };
  if (faults.questions.length > 0) return { row: row('questioned', { differences, problems: faults.questions }) };
  return { row: row(known ? 'changed' : 'new', { differences }), take: { line, entry, place } };
}
