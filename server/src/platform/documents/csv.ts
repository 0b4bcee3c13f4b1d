import { parse } from 'csv-parse/sync';
import { stringify } from 'csv-stringify/sync';
import { MOST_IMPORT_BYTES, type Understanding } from '@mile-mark/contract/imports';
import { ApiError } from '../errors.ts';

export type Delimiter = Understanding['delimiter'];
export type Encoding = Understanding['encoding'];

/** One record of a file: its cells as they stand, the line it begins on, and what kept it from being read. */
export interface CsvRecord {
  line: number;
  cells: string[];
  /** In words, where the line could not be read as a record. */
  fault?: string;
}

export interface CsvFile {
  encoding: Encoding;
  delimiter: Delimiter;
  header: string[];
  records: CsvRecord[];
  notes: string[];
}

const DELIMITERS: readonly Delimiter[] = [';', '\t', '|', ','];

/** Bytes to text: UTF-8 where they are valid UTF-8, else Windows-1252 (which takes every Latin-1 letter). */
export function decode(bytes: Uint8Array, asked?: Encoding): { text: string; encoding: Encoding } {
  if (bytes.byteLength > MOST_IMPORT_BYTES) {
    throw new ApiError('too_large', 'Up to 10 MB is accepted.', [
      { field: 'file', message: 'Up to 10 MB is accepted; split the file.' },
    ]);
  }
  if (asked === 'windows-1252') return { text: new TextDecoder('windows-1252').decode(bytes), encoding: asked };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'utf-8' };
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'windows-1252' };
  }
}

/** The delimiter that cuts the first lines most evenly into most cells. */
export function guessDelimiter(text: string): Delimiter {
  const lines = text
    .split(/\r?\n/)
    .filter((line) => line.trim() !== '')
    .slice(0, 20);
  let best: Delimiter = ',';
  let bestScore = 0;
  for (const delimiter of DELIMITERS) {
    const counts = lines.map((line) => line.replace(/"[^"]*"/g, '').split(delimiter).length);
    const first = counts[0] ?? 1;
    const even = counts.filter((count) => count === first).length / Math.max(1, counts.length);
    const score = first > 1 ? even * 10 + Math.min(first, 9) : 0;
    if (score > bestScore) [best, bestScore] = [delimiter, score];
  }
  return best;
}

/** Reads a CSV file. A line that can't be read is a record with a fault; no line is lost. */
export function readCsv(
  bytes: Uint8Array,
  asked: { encoding?: Encoding | undefined; delimiter?: Delimiter | undefined } = {},
): CsvFile {
  const { text, encoding } = decode(bytes, asked.encoding);
  if (text.includes('\0'))
    throw new ApiError('invalid', 'This is not a text file; a CSV file is accepted.', [
      { field: 'file', message: 'A CSV file is accepted.' },
    ]);
  const delimiter = asked.delimiter ?? guessDelimiter(text);
  const notes = encoding === 'windows-1252' ? ['The file is not UTF-8; it was read as Windows-1252 (Latin-1).'] : [];
  const records = parseWhole(text, delimiter) ?? parseByLine(text, delimiter);
  const [header, ...rows] = records;
  if (!header)
    throw new ApiError('invalid', 'The file is empty; a header line and rows are accepted.', [
      { field: 'file', message: 'The file is empty.' },
    ]);
  const width = header.cells.length;
  const even = rows
    .filter(({ cells, fault }) => fault !== undefined || cells.some((cell) => cell.trim() !== ''))
    .map((row) => withWidth(row, width));
  return { encoding, delimiter, header: header.cells.map((cell) => cell.trim()), records: even, notes };
}

function withWidth(row: CsvRecord, width: number): CsvRecord {
  if (row.fault !== undefined || row.cells.length === width) return row;
  if (row.cells.length < width)
    return { ...row, cells: [...row.cells, ...Array<string>(width - row.cells.length).fill('')] };
  const surplus = row.cells.slice(width).filter((cell) => cell.trim() !== '');
  if (surplus.length === 0) return { ...row, cells: row.cells.slice(0, width) };
  return {
    ...row,
    fault: `This row has ${row.cells.length} cells where the header has ${width}; as many as the header are accepted.`,
  };
}

interface ParsedRow {
  record: string[];
  info: { lines: number };
}

const OPTIONS = { info: true, relax_column_count: true, skip_empty_lines: true, bom: true } as const;

/** The file as one, or undefined where a quote keeps it from being read. */
function parseWhole(text: string, delimiter: Delimiter): CsvRecord[] | undefined {
  try {
    const rows = parse(text, { ...OPTIONS, delimiter }) as unknown as ParsedRow[];
    return rows.map(({ record, info }) => ({ line: info.lines - extraLines(record), cells: record }));
  } catch {
    return undefined;
  }
}

/** Line breaks inside a record's quoted cells: `info.lines` counts to its end. */
function extraLines(record: string[]): number {
  return record.reduce((sum, cell) => sum + (cell.match(/\n/g)?.length ?? 0), 0);
}

function parseByLine(text: string, delimiter: Delimiter): CsvRecord[] {
  return text
    .replace(/^\ufeff/, '')
    .split(/\r?\n/)
    .map((line, index) => ({ line: index + 1, text: line }))
    .filter((one) => one.text.trim() !== '')
    .map((one) => {
      try {
        const [row] = parse(one.text, { ...OPTIONS, delimiter }) as unknown as ParsedRow[];
        return { line: one.line, cells: row?.record ?? [] };
      } catch {
        return {
          line: one.line,
          cells: one.text.split(delimiter),
          fault:
            'A quotation mark in this row is not closed, or stands in the middle of a cell; quotes around whole cells, or none, are accepted.',
        };
      }
    });
}

/** A cell that a spreadsheet would take for a formula gets an apostrophe before it; numbers stay as they are. */
export function defuse(cell: string | number): string | number {
  return typeof cell === 'string' && /^[=+\-@\t\r]/.test(cell) && !/^[-+]?\d+([.,]\d+)?$/.test(cell)
    ? `'${cell}`
    : cell;
}

/** Rows as CSV text, formulas defused. */
export function writeCsv(
  header: readonly string[],
  rows: readonly (readonly (string | number)[])[],
  delimiter: Delimiter = ',',
): string {
  return stringify([header.map(defuse), ...rows.map((row) => row.map(defuse))], {
    delimiter,
    record_delimiter: 'windows',
  });
}
