import type { ImportKind, ImportNeed, ImportPreview, ImportRequest, Understanding } from '@mile-mark/contract/imports';
import type { Action } from '@mile-mark/contract';
import type { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { invalidField } from '../../platform/errors.ts';
import type { Draft } from './assess.ts';
import { assessParts, assessStock } from './assessParts.ts';
import { assessOrders } from './assessOrders.ts';
import { assessReadings } from './assessReadings.ts';
import { assessDuties, assessModels } from './assessRegister.ts';
import { assessServices } from './assessServices.ts';
import { assessVehicles } from './assessVehicles.ts';
import { matchRegister, recall } from './remembered.ts';
import { groundOf } from './ground.ts';
import { type Stages, UNWATCHED } from './stages.ts';
import { type Heading, headingOf } from './understand/heading.ts';
import { needsOf } from './understand/needs.ts';
import type { Sheet } from './understand/sheet.ts';
import { filledTwice, mapColumns, signatureOf, understand } from './understand/understand.ts';

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
  stages: Stages = UNWATCHED,
  onRead?: (drafts: Draft<unknown>[]) => void,
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
      return assessReadings(em, rows, understanding, today, stages, onRead);
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
  sheet: Sheet;
  header: string[];
  understanding: Understanding;
  /** What of the understanding is to be remembered: what a person stated, or the evidence decided, now or before. */
  memory: Partial<Understanding>;
  remembered: boolean;
  drafts: Draft<unknown>[];
  needs: ImportNeed[];
  notes: string[];
  evidence: string[];
  leftOut: ImportPreview['leftOut'];
  /** Whether every figure is held against the record: until then rows may still be questioned. */
  judged: boolean;
}

/** What a person said of a file. */
export interface Said {
  understanding?: Request['understanding'];
  /** Cells of rows as mended, by line number. */
  edits?: Request['edits'];
}

/**
 * Understands a sheet as it was read and judges its rows. Neither the sheet nor the record is changed.
 *
 * @param onRead is given the look as it is before figures are held against the record
 */
export async function look(
  em: EntityManager,
  sheet: Sheet,
  said: Said,
  today: string,
  stages: Stages = UNWATCHED,
  onRead: (looked: Looked) => void = () => undefined,
): Promise<Looked> {
  const stated = onlyStated(said.understanding ?? {});
  const heading = mended(headingOf(sheet.rows, stated), said.edits ?? {});
  const guessed = mapColumns(sheet, heading, stated);
  const before =
    guessed.kind === 'readings'
      ? await recall(em, signatureOf(guessed.kind, heading.header), stated.technicianId ?? null)
      : undefined;
  const mapped = mapColumns(sheet, heading, stated, before);
  const ground = await groundOf(em, heading.records, mapped.columns, today);
  const { understanding, questions, evidence, learnt } = understand(mapped, stated, before ?? {}, ground);
  if (understanding.kind === 'readings') await matchRegister(em, heading.records, understanding);
  const needs = [...needsOf(heading.records, understanding), ...filledTwice(mapped), ...questions];
  const whole = (drafts: Draft<unknown>[], judged: boolean): Looked => ({
    sheet,
    header: heading.header,
    understanding,
    memory: { ...before, ...learnt, ...stated, wheelNames: { ...before?.wheelNames, ...stated.wheelNames } },
    remembered: before !== undefined,
    drafts,
    needs,
    notes: [...sheet.notes, ...notUsed(heading.records, mapped.columns)],
    evidence,
    leftOut: heading.leftOut,
    judged,
  });
  const drafts = needs.some(({ kind }) => kind === 'column')
    ? []
    : await assess(em, heading.records, understanding, today, stages, (read) => onRead(whole(read, false)));
  return whole(drafts, true);
}

/** The rows with a person's mended cells in place of those of the file. */
function mended(heading: Heading, edits: NonNullable<Said['edits']>): Heading {
  const records = heading.records.map((record): CsvRecord => {
    const edited = edits[String(record.line)];
    if (!edited) return record;
    const cells = heading.header.map((_, index) => edited[index] ?? record.cells[index] ?? '');
    return { line: record.line, cells, asTyped: record.cells };
  });
  return { ...heading, records };
}

/** Names the columns that hold something and are used for nothing. */
function notUsed(records: readonly CsvRecord[], columns: Understanding['columns']): string[] {
  const names = columns.flatMap(({ field, header }, index) =>
    field === 'ignore' && records.some(({ cells }) => (cells[index] ?? '').trim() !== '') ? [`“${header}”`] : [],
  );
  return names.length > 0 ? [`Not used: ${names.join(', ')}.`] : [];
}

/** What a person stated, without the keys left undefined. */
export function onlyStated(asked: NonNullable<Request['understanding']>): Partial<Understanding> {
  return Object.fromEntries(Object.entries(asked).filter(([, value]) => value !== undefined));
}

export function bytesOf({ contentBase64, text }: Request): Uint8Array {
  if (contentBase64 !== undefined) return Buffer.from(contentBase64, 'base64');
  if (text !== undefined) return Buffer.from(text, 'utf8');
  throw invalidField('contentBase64', 'The file’s content is missing; contentBase64 or text is accepted.');
}
