import { createHash, randomUUID } from 'node:crypto';
import type { z } from 'zod';
import type {
  ImportDetail,
  ImportKind,
  ImportPreview,
  ImportRequest,
  ImportResult,
  ImportRow,
  ImportSummary,
  Understanding,
} from '@mile-mark/contract';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { GaugeEntity, ImportBatchEntity, ImportRowEntity, PersonEntity } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal, refuseField } from '../errors.ts';
import { recordDeed } from '../services/audit.ts';
import { bumpInputs } from '../services/lookups.ts';
import { isTaken, outcomeOf, rowOf, type Draft } from './assess.ts';
import { assessReadings } from './assessReadings.ts';
import { assessDuties, assessModels, assessServices, assessVehicles } from './assessRegister.ts';
import { COMMIT } from './commit.ts';
import { readCsv, writeCsv, type CsvFile, type CsvRecord } from './csv.ts';
import { FIELDS } from './fields.ts';
import { guessUnderstanding, signatureOf } from './understand.ts';

type Request = z.output<typeof ImportRequest>;

/** Which kinds only the coordinator may import. */
const REGISTER_KINDS: readonly ImportKind[] = ['models', 'duties', 'vehicles'];

function assess(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
  today: string,
): Promise<Draft<unknown>[]> {
  switch (understanding.kind) {
    case 'models':
      return assessModels(em, rows, understanding);
    case 'duties':
      return assessDuties(em, rows, understanding);
    case 'vehicles':
      return assessVehicles(em, rows, understanding, today);
    case 'services':
      return assessServices(em, rows, understanding, today);
    case 'readings':
      return assessReadings(em, rows, understanding, today);
  }
}

interface Looked {
  file: CsvFile;
  bytes: Uint8Array;
  understanding: Understanding;
  remembered: boolean;
  drafts: Draft<unknown>[];
  needs: ImportPreview['needs'];
}

async function look(em: EntityManager, request: Request, today: string): Promise<Looked> {
  const bytes = bytesOf(request);
  const asked = request.understanding ?? {};
  const file = readCsv(bytes, { encoding: asked.encoding, delimiter: asked.delimiter });
  for (const record of file.records) {
    const edited = request.edits?.[String(record.line)];
    if (edited) {
      record.cells = file.header.map((_, index) => edited[index] ?? record.cells[index] ?? '');
      delete record.fault;
    }
  }
  const guessed = guessUnderstanding(file, asked.kind);
  const memory = await recall(em, guessed, file.header, asked.technicianId ?? null);
  const understanding: Understanding = { ...guessed, ...memory, ...onlyStated(asked) };
  if (understanding.columns.length !== file.header.length) understanding.columns = guessed.columns;
  if (understanding.kind === 'readings') await matchRegister(em, file, understanding);
  const needs = needsOf(file, understanding);
  const drafts = needs.some(({ kind }) => kind === 'column')
    ? []
    : await assess(em, file.records, understanding, today);
  return { file, bytes, understanding, remembered: memory !== undefined, drafts, needs };
}

/** What a person stated, without the keys left undefined. */
function onlyStated(asked: NonNullable<Request['understanding']>): Partial<Understanding> {
  return Object.fromEntries(Object.entries(asked).filter(([, value]) => value !== undefined));
}

function bytesOf({ contentBase64, text }: Request): Uint8Array {
  if (contentBase64 !== undefined) return Buffer.from(contentBase64, 'base64');
  if (text !== undefined) return Buffer.from(text, 'utf8');
  throw refuseField('contentBase64', 'The file’s content is missing; contentBase64 or text is accepted.');
}

/** How a sheet with this header was read before: by this technician, or by the only one who has such sheets. */
async function recall(
  em: EntityManager,
  guessed: Understanding,
  header: string[],
  technicianId: string | null,
): Promise<Partial<Understanding> | undefined> {
  if (guessed.kind !== 'readings') return undefined;
  const rows = await em.execute<{ technician_id: string; understanding: Partial<Understanding> }[]>(
    'select technician_id, understanding from import_understanding where signature = ? and (?::uuid is null or technician_id = ?::uuid)',
    [signatureOf(guessed.kind, header), technicianId, technicianId],
  );
  if (rows.length !== 1 || !rows[0]) return undefined;
  return { ...rows[0].understanding, technicianId: rows[0].technician_id };
}

/** Finds the sheet's gauge names in the register; a gauge or person not on record is asked for again. */
async function matchRegister(em: EntityManager, file: CsvFile, understanding: Understanding): Promise<void> {
  const gauges = await em.find(GaugeEntity, {});
  if (!gauges.some(({ id }) => id === understanding.gaugeId)) understanding.gaugeId = null;
  const { technicianId } = understanding;
  if (technicianId !== null && !(await em.findOne(PersonEntity, { id: technicianId })))
    understanding.technicianId = null;
  for (const name of gaugeNamesIn(file, understanding)) {
    const known = gauges.find((gauge) => gauge.name.toLowerCase() === name.toLowerCase());
    if (known && !understanding.gaugeNames[name])
      understanding.gaugeNames = { ...understanding.gaugeNames, [name]: known.id };
  }
}

function gaugeNamesIn(file: CsvFile, { columns }: Understanding): string[] {
  const column = columns.findIndex(({ field }) => field === 'gauge');
  if (column < 0) return [];
  return [
    ...new Set(file.records.map(({ cells }) => (cells[column] ?? '').trim()).filter((name) => name !== '')),
  ].slice(0, 50);
}

function needsOf(file: CsvFile, understanding: Understanding): ImportPreview['needs'] {
  const filled = new Set(understanding.columns.map(({ field }) => field));
  const needs: ImportPreview['needs'] = FIELDS[understanding.kind]
    .filter(({ field, needed }) => needed && !filled.has(field))
    .map(({ field, label }) => ({ kind: 'column' as const, name: field, message: `Which column is “${label}”?` }));
  if (understanding.kind !== 'readings') return needs;
  if (!filled.has('wheel') && !filled.has('axle'))
    needs.push({ kind: 'column', name: 'wheel', message: 'Which column is the wheel or the axle?' });
  if (![...filled].some((field) => /^(thickness|inner|outer|(left|right)_(inner|outer))$/.test(field))) {
    needs.push({ kind: 'column', name: 'thickness', message: 'Which column holds a thickness?' });
  }
  if (understanding.technicianId === null)
    needs.push({ kind: 'technician', name: null, message: 'The sheet doesn’t say who measured. Who was it?' });
  const unmatched = gaugeNamesIn(file, understanding).filter((name) => !understanding.gaugeNames[name]);
  for (const name of unmatched)
    needs.push({
      kind: 'gauge',
      name,
      message: `The sheet names a gauge “${name}” that is not on record. Which is it?`,
    });
  if (!filled.has('gauge') && understanding.gaugeId === null)
    needs.push({ kind: 'gauge', name: null, message: 'The sheet doesn’t say with which gauge. Which was it?' });
  return needs;
}

const choiceOf = (request: Request, line: number) => request.choices?.[String(line)];

function countsOf(drafts: readonly Draft<unknown>[]): ImportResult['counts'] {
  const counts = { accepted: 0, questioned: 0, refused: 0, already: 0 };
  for (const draft of drafts) counts[outcomeOf(draft)] += 1;
  return counts;
}

/** Looks at a file: how it is understood, what is still to be said, and what would become of each row. */
export async function previewImport(
  em: EntityManager,
  actor: Actor,
  request: Request,
  today: string,
): Promise<ImportPreview> {
  mustBeAllowed(actor, 'measure');
  const { file, understanding, remembered, drafts, needs } = await look(em, request, today);
  return {
    understanding,
    fields: FIELDS[understanding.kind].map(({ field, label, needed }) => ({ field, label, needed })),
    needs,
    notes: file.notes,
    remembered,
    header: file.header,
    rows: drafts.map((draft) => rowOf(draft, choiceOf(request, draft.line))),
    counts: countsOf(drafts),
    records: drafts
      .filter((draft) => isTaken(draft, choiceOf(request, draft.line)))
      .reduce((sum, { records }) => sum + records.length, 0),
  };
}

/** Takes a file in, in one transaction; rows not taken are kept with the import until mended or dismissed. */
export async function commitImport(
  em: EntityManager,
  actor: Actor,
  request: Request,
  today: string,
): Promise<{ result: ImportResult; vehicleIds: string[] }> {
  mustBeAllowed(actor, 'measure');
  const id = request.id ?? randomUUID();
  const earlier = await em.findOne(ImportBatchEntity, { id });
  if (earlier) return { result: (await summaries(em, id))[0] as ImportSummary, vehicleIds: [] };
  return em.transactional(async (inner) => {
    // One import at a time: the second sees what the first wrote, so that the same file twice adds nothing.
    await inner.execute('select pg_advisory_xact_lock(460048)');
    const { file, bytes, understanding, drafts, needs } = await look(inner, request, today);
    if (REGISTER_KINDS.includes(understanding.kind)) mustBeAllowed(actor, 'register');
    if (needs.length > 0)
      throw new Refusal(
        'invalid',
        needs[0]?.message,
        needs.map(({ kind, name, message }) => ({ field: `understanding.${name ?? kind}`, message })),
      );
    const taken = drafts.filter((draft) => isTaken(draft, choiceOf(request, draft.line)));
    const records = taken.flatMap((draft) => draft.records);
    const open = drafts.filter((draft) => isOpen(draft, taken.includes(draft)));
    await inner.insert(ImportBatchEntity, {
      id,
      kind: understanding.kind,
      fileName: request.fileName,
      contentHash: createHash('sha256').update(bytes).digest('hex'),
      understanding,
      header: file.header,
      technicianId: understanding.technicianId,
      personId: actor.id,
      at: new Date(),
      counts: countsOf(drafts),
      records: records.length,
    });
    const touched = [...new Set(await COMMIT[understanding.kind](inner, records as never[], actor.id, id))];
    await bumpInputs(inner, touched);
    for (const draft of open) {
      const row = rowOf(draft, undefined);
      await inner.execute(
        `insert into import_row (import_id, line, cells, outcome, reasons) values (?, ?, ?::jsonb, ?, ?::jsonb)`,
        [id, draft.line, JSON.stringify(draft.cells), row.outcome, JSON.stringify(row.reasons)],
      );
    }
    if (understanding.technicianId !== null) await remember(inner, understanding, file.header);
    await recordDeed(inner, actor.id, 'took in a file', `import/${id}`, {
      file: request.fileName,
      kind: understanding.kind,
      records: records.length,
    });
    const result: ImportResult = {
      id,
      kind: understanding.kind,
      fileName: request.fileName,
      counts: countsOf(drafts),
      records: records.length,
      open: open.length,
    };
    return { result, vehicleIds: touched };
  });
}

/** A row stays open where a part of it was refused, or where it was questioned and not taken. */
function isOpen(draft: Draft<unknown>, taken: boolean): boolean {
  const outcome = outcomeOf(draft);
  return outcome === 'refused' || (outcome === 'questioned' && !taken);
}

async function remember(em: EntityManager, understanding: Understanding, header: string[]): Promise<void> {
  const { technicianId, ...rest } = understanding;
  await em.execute(
    `insert into import_understanding (technician_id, signature, understanding) values (?, ?, ?::jsonb)
     on conflict (technician_id, signature) do update set understanding = excluded.understanding, at = now()`,
    [technicianId, signatureOf(understanding.kind, header), JSON.stringify(rest)],
  );
}

interface SummarySql {
  id: string;
  kind: ImportKind;
  file_name: string;
  counts: ImportSummary['counts'];
  records: number;
  open: number;
  at: string;
  by: string;
  technician: string | null;
}

async function summaries(em: EntityManager, id?: string): Promise<ImportSummary[]> {
  const rows = await em.execute<SummarySql[]>(
    `select b.id, b.kind, b.file_name, b.counts, b.records, b.at::text, p.name as by, t.name as technician,
       (select count(*)::int from import_row r where r.import_id = b.id and r.state = 'open') as open
     from import_batch b join person p on p.id = b.person_id left join person t on t.id = b.technician_id
     where ?::uuid is null or b.id = ?::uuid order by b.at desc limit 200`,
    [id ?? null, id ?? null],
  );
  return rows.map(({ file_name, ...row }) => ({ ...row, fileName: file_name }));
}

export async function listImports(em: EntityManager): Promise<ImportSummary[]> {
  return summaries(em);
}

export async function importDetail(em: EntityManager, id: string): Promise<ImportDetail> {
  const [summary] = await summaries(em, id);
  const batch = await em.findOne(ImportBatchEntity, { id });
  if (!summary || !batch) throw new Refusal('not_found', 'There is no such import on record.');
  const rows = await em.find(ImportRowEntity, { importId: id, state: 'open' }, { orderBy: { line: 'asc' } });
  return {
    ...summary,
    header: batch.header,
    rows: rows.map(({ line, cells, outcome, reasons }) => ({
      line,
      cells,
      outcome: outcome as ImportRow['outcome'],
      taken: false,
      takeable: outcome === 'questioned',
      reasons: reasons as ImportRow['reasons'],
      notes: [],
    })),
  };
}

/** The rows of an import still open, in the form of the file they came from, with the reason in a last column. */
export async function openRowsCsv(em: EntityManager, id: string): Promise<{ fileName: string; csv: string }> {
  const detail = await importDetail(em, id);
  const batch = await em.findOneOrFail(ImportBatchEntity, { id });
  const { delimiter } = batch.understanding as Understanding;
  const rows = detail.rows.map(({ cells, reasons }) => [...cells, reasons.map(({ message }) => message).join(' ')]);
  return {
    fileName: `open rows of ${detail.fileName}`,
    csv: writeCsv([...detail.header, 'why not taken'], rows, delimiter),
  };
}

/** Takes one open row as mended, or dismisses it. */
export async function mendRow(
  em: EntityManager,
  actor: Actor,
  input: { id: string; line: number; action: 'take' | 'dismiss'; cells?: string[] | undefined },
  today: string,
): Promise<{ row: ImportRow; done: boolean; vehicleIds: string[] }> {
  mustBeAllowed(actor, 'measure');
  return em.transactional(async (inner) => {
    await inner.execute('select pg_advisory_xact_lock(460048)');
    const batch = await inner.findOne(ImportBatchEntity, { id: input.id });
    const kept = await inner.findOne(ImportRowEntity, { importId: input.id, line: input.line });
    if (!batch || !kept) throw new Refusal('not_found', 'There is no such row on record.');
    if (kept.state !== 'open') throw new Refusal('conflict', `Somebody settled this row meanwhile (${kept.state}).`);
    const understanding = batch.understanding as Understanding;
    if (REGISTER_KINDS.includes(understanding.kind)) mustBeAllowed(actor, 'register');
    const cells = batch.header.map((_, index) => input.cells?.[index] ?? kept.cells[index] ?? '');
    const settle = (state: string) =>
      inner.execute(
        `update import_row set state = ?, cells = ?::jsonb, settled_by = ?, settled_at = now() where import_id = ? and line = ?`,
        [state, JSON.stringify(cells), actor.id, input.id, input.line],
      );
    const [draft] = await assess(inner, [{ line: input.line, cells }], understanding, today);
    if (!draft) throw new Refusal('not_found');
    const row = rowOf(draft, 'take');
    if (input.action === 'dismiss') {
      await settle('dismissed');
      await recordDeed(inner, actor.id, 'dismissed a row', `import/${input.id}`, { line: input.line });
      return { row, done: true, vehicleIds: [] };
    }
    if (row.outcome === 'refused' || (draft.records.length > 0 && !row.taken))
      return { row, done: false, vehicleIds: [] };
    const touched = [...new Set(await COMMIT[understanding.kind](inner, draft.records as never[], actor.id, input.id))];
    await bumpInputs(inner, touched);
    await settle('taken');
    await recordDeed(inner, actor.id, 'took a mended row', `import/${input.id}`, {
      line: input.line,
      before: kept.cells,
      after: cells,
    });
    return { row, done: true, vehicleIds: touched };
  });
}
