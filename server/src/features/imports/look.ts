import type { ImportKind, ImportPreview, ImportRequest, Understanding } from '@mile-mark/contract/imports';
import type { Action } from '@mile-mark/contract';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { type CsvFile, type CsvRecord, readCsv } from '../../platform/documents/csv.ts';
import { invalidField } from '../../platform/errors.ts';
import { GaugeEntity } from '../gauges/index.ts';
import { PersonEntity } from '../people/index.ts';
import type { Draft } from './assess.ts';
import { assessParts, assessStock } from './assessParts.ts';
import { assessOrders } from './assessOrders.ts';
import { assessReadings } from './assessReadings.ts';
import { assessDuties, assessModels, assessServices, assessVehicles } from './assessRegister.ts';
import { gaugeNamesIn, needsOf } from './needs.ts';
import { guessUnderstanding, signatureOf } from './understand.ts';

export type Request = z.output<typeof ImportRequest>;

/** Which kinds only the coordinator may import. */
const REGISTER_KINDS: readonly ImportKind[] = ['models', 'duties', 'vehicles'];

/** What somebody must be allowed to do to take in a file of this kind. */
export function actionOf(kind: ImportKind): Action {
  if (REGISTER_KINDS.includes(kind)) return 'register';
  return kind === 'parts' || kind === 'stock' || kind === 'orders' ? 'supply' : 'measure';
}

export function assess(
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
    case 'parts':
      return assessParts(em, rows, understanding);
    case 'stock':
      return assessStock(em, rows, understanding, today);
    case 'orders':
      return assessOrders(em, rows, understanding, today);
  }
}

/** A file as it was looked at. */
export interface Looked {
  file: CsvFile;
  bytes: Uint8Array;
  understanding: Understanding;
  remembered: boolean;
  drafts: Draft<unknown>[];
  needs: ImportPreview['needs'];
}

export async function look(em: EntityManager, request: Request, today: string): Promise<Looked> {
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
  throw invalidField('contentBase64', 'The file’s content is missing; contentBase64 or text is accepted.');
}

/** How a sheet with this header was read before: by this technician, or by the only one who has such sheets. */
async function recall(
  em: EntityManager,
  guessed: Understanding,
  header: string[],
  technicianId: string | null,
): Promise<Partial<Understanding> | undefined> {
  if (guessed.kind !== 'readings') return undefined;
  const rows = await rowsOf(
    em,
    z.object({ technician_id: z.string(), understanding: z.custom<Partial<Understanding>>() }),
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

export const choiceOf = (request: Request, line: number) => request.choices?.[String(line)];
