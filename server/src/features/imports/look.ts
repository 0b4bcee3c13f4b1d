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
import { headingOf } from './understand/heading.ts';
import { needsOf } from './understand/needs.ts';
import { readSheet, type Sheet } from './understand/sheet.ts';
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
  bytes: Uint8Array;
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
}

export async function look(em: EntityManager, request: Request, today: string): Promise<Looked> {
  const bytes = bytesOf(request);
  const stated = onlyStated(request.understanding ?? {});
  const sheet = await readSheet(bytes, stated);
  const heading = headingOf(sheet.rows, stated);
  mend(heading.records, heading.header.length, request.edits ?? {});
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
  const drafts = needs.some(({ kind }) => kind === 'column')
    ? []
    : await assess(em, heading.records, understanding, today);
  return {
    bytes,
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
  };
}

/** Puts a person's mended cells in place of those of the file. */
function mend(records: CsvRecord[], width: number, edits: NonNullable<Request['edits']>): void {
  for (const record of records) {
    const edited = edits[String(record.line)];
    if (!edited) continue;
    record.cells = Array.from({ length: width }, (_, index) => edited[index] ?? record.cells[index] ?? '');
    delete record.fault;
  }
}

/** Names the columns that hold something and are used for nothing. */
function notUsed(records: readonly CsvRecord[], columns: Understanding['columns']): string[] {
  const names = columns.flatMap(({ field, header }, index) =>
    field === 'ignore' && records.some(({ cells }) => (cells[index] ?? '').trim() !== '') ? [`“${header}”`] : [],
  );
  return names.length > 0 ? [`Not used: ${names.join(', ')}.`] : [];
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

export const choiceOf = (request: Request, line: number) => request.choices?.[String(line)];
