import type { Understanding } from '@mile-mark/contract/imports';
import { type CsvRecord, emptyFile, readRows, refuseTooLarge } from '../../../platform/documents/csv.ts';
import { isArchive, readWorkbook, refuseOtherForms } from '../../../platform/documents/workbook.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';

/** The lines of a file, or of one sheet of a workbook, before any of them is taken for the header. */
export interface Sheet {
  encoding: Understanding['encoding'];
  delimiter: Understanding['delimiter'];
  /** The sheet's name in a workbook; null in a text file. */
  name: string | null;
  /** The sheets of the workbook that have something in them. */
  names: string[];
  rows: CsvRecord[];
  notes: string[];
}

/** How the lines of a file are to be read, where somebody said it. */
export type ReadAs = { [K in 'encoding' | 'delimiter' | 'sheet']?: Understanding[K] | undefined };

/** Rows of one sheet that are read; more are more than anybody looks through. */
const MOST_ROWS = 100_000;

/** A cell longer than this is no figure, name or note that anybody wrote: its row is refused, and it is shown cut. */
const LONGEST_CELL = 5000;

function withoutLongCells(row: CsvRecord): CsvRecord {
  const longest = Math.max(0, ...row.cells.map(({ length }) => length));
  if (longest <= LONGEST_CELL) return row;
  const cells = row.cells.map((cell) => (cell.length > LONGEST_CELL ? `${cell.slice(0, 60)} …` : cell));
  const fault = `A cell of this row has ${longest.toLocaleString('en-US')} characters; up to 5,000 are accepted.`;
  return { ...row, cells, fault: row.fault ?? fault };
}

function refuseTooMany({ length }: readonly CsvRecord[]): void {
  if (length <= MOST_ROWS) return;
  const message = `The sheet has ${length.toLocaleString('en-US')} rows; up to 100,000 are accepted. Split the file.`;
  throw new ApiError('too_large', message, [{ field: 'file', message }]);
}

/** Reads a text file or a workbook; anything else is refused with what to do with it. */
export async function readSheet(bytes: Uint8Array, { encoding, delimiter, sheet }: ReadAs = {}): Promise<Sheet> {
  refuseTooLarge(bytes);
  refuseOtherForms(bytes);
  if (!isArchive(bytes)) {
    const read = readRows(bytes, { encoding, delimiter });
    if (read.rows.length === 0) throw emptyFile();
    refuseTooMany(read.rows);
    return { ...read, rows: read.rows.map(withoutLongCells), name: null, names: [] };
  }
  const all = await readWorkbook(bytes);
  const sheets = all.filter(({ rows }) => rows.some(({ cells }) => cells.some((cell) => cell.trim() !== '')));
  const names = sheets.map(({ name }) => name);
  const chosen = sheet ? sheets.find(({ name }) => name === sheet) : largest(sheets);
  if (sheet && !chosen)
    throw invalidField('understanding.sheet', `There is no sheet “${sheet}”; ${names.join(', ')} are accepted.`);
  if (!chosen) throw emptyFile();
  refuseTooMany(chosen.rows);
  const others = names.filter((name) => name !== chosen.name);
  const notes = others.length > 0 ? [`Sheet “${chosen.name}” is shown; ${others.join(', ')} can be chosen.`] : [];
  return {
    encoding: 'utf-8',
    delimiter: ',',
    name: chosen.name,
    names,
    rows: chosen.rows.map(withoutLongCells),
    notes,
  };
}

function largest<T extends { rows: CsvRecord[] }>(sheets: readonly T[]): T | undefined {
  return [...sheets].sort((a, b) => b.rows.length - a.rows.length)[0];
}
