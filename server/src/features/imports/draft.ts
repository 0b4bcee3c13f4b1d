import type { CsvRecord } from '../../platform/documents/csv.ts';
import type { Draft, RowReader } from './assess.ts';

/** A row before anything of it was read; one whose quotes are wrong is refused at once. */
export function start<T>(row: CsvRecord): Draft<T> {
  const draft: Draft<T> = {
    line: row.line,
    cells: row.cells,
    reasons: [],
    notes: [],
    understood: [],
    records: [],
    already: 0,
  };
  if (row.fault !== undefined) draft.reasons.push({ column: null, outcome: 'refused', message: row.fault });
  return draft;
}

export const sameName = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** The record where every field of it could be read. */
export const complete = <T extends object>(record: { [K in keyof T]: T[K] | undefined }): T | undefined =>
  Object.values(record).some((value) => value === undefined) ? undefined : (record as T);

export function refused<T>(draft: Draft<T>, reader: RowReader, field: string, message: string): Draft<T> {
  reader.refuse(field, message);
  return draft;
}
