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
  /** The cells as the file holds them, where a person mended some. */
  asTyped?: string[];
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

/** Bytes to text: UTF-16 or UTF-8 where they are such, else Windows-1252 (which takes every Latin-1 letter). */
export function decode(bytes: Uint8Array, asked?: Encoding): { text: string; encoding: Encoding } {
  refuseTooLarge(bytes);
  const encoding = asked ?? utf16In(bytes);
  if (encoding && encoding !== 'utf-8') return { text: new TextDecoder(encoding).decode(bytes), encoding };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), encoding: 'utf-8' };
  } catch {
    return { text: new TextDecoder('windows-1252').decode(bytes), encoding: 'windows-1252' };
  }
}

const UP_TO = `Up to ${MOST_IMPORT_BYTES / 1024 / 1024} MB`;

/** Refuses a file over what is read at once. */
export function refuseTooLarge({ byteLength }: { byteLength: number }): void {
  if (byteLength > MOST_IMPORT_BYTES)
    throw new ApiError('too_large', `${UP_TO} is accepted.`, [
      { field: 'file', message: `${UP_TO} is accepted; split the file.` },
    ]);
}

/** UTF-16 by its mark, or by every other byte of the first ones being zero, as it is in western text. */
function utf16In(bytes: Uint8Array): Encoding | undefined {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const first = bytes.subarray(0, 2000);
  const zeros = (parity: number) => first.filter((byte, index) => byte === 0 && index % 2 === parity).length;
  const [even, odd] = [zeros(0), zeros(1)];
  if (bytes.length % 2 === 1 || Math.max(even, odd) < first.length * 0.3 || Math.min(even, odd) > 0) return undefined;
  return odd > even ? 'utf-16le' : 'utf-16be';
}

/** The delimiter that cuts most of the first lines into equally many cells, and into most of them. */
export function guessDelimiter(text: string): Delimiter {
  const lines = text
    .split(/\r\n|\n|\r/)
    .filter((line) => line.trim() !== '')
    .slice(0, 40);
  let best: Delimiter = ',';
  let bestScore = 0;
  for (const delimiter of DELIMITERS) {
    const counts = new Map<number, number>();
    for (const line of lines) {
      const count = line.replace(/"[^"]*"/g, '').split(delimiter).length;
      if (count > 1) counts.set(count, (counts.get(count) ?? 0) + 1);
    }
    const [usual = 1, lots = 0] = [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0] ?? [];
    const score = (lots / Math.max(1, lines.length)) * 10 + (lots > 0 ? Math.min(usual, 9) : 0);
    if (score > bestScore) [best, bestScore] = [delimiter, score];
  }
  return best;
}

/** The lines of a text file as records, none of which is taken for the header yet. */
export interface TextRows {
  encoding: Encoding;
  delimiter: Delimiter;
  rows: CsvRecord[];
  notes: string[];
}

/** Reads the lines of a CSV file. A line that can't be read is a record with a fault; no line is lost. */
export function readRows(
  bytes: Uint8Array,
  asked: { encoding?: Encoding | undefined; delimiter?: Delimiter | undefined } = {},
): TextRows {
  const { text: decoded, encoding } = decode(bytes, asked.encoding);
  if (decoded.includes('\0'))
    throw new ApiError('invalid', 'This is not a text file; a CSV file is accepted.', [
      { field: 'file', message: 'A CSV file or an XLSX workbook is accepted.' },
    ]);
  const marked = decoded.replace(/^\ufeff/, '');
  const whole = marked.includes('\n') ? marked : marked.replaceAll('\r', '\n');
  const notes = encoding === 'windows-1252' ? ['The file is not UTF-8; it was read as Windows-1252 (Latin-1).'] : [];
  const told = /^sep=([;,|\t])\r?\n/.exec(whole)?.[1] as Delimiter | undefined;
  const text = told ? whole.slice(whole.indexOf('\n')) : whole;
  const delimiter = asked.delimiter ?? told ?? guessDelimiter(text);
  return { encoding, delimiter, rows: parseWhole(text, delimiter) ?? parseByLine(text, delimiter), notes };
}

/** Reads a CSV file whose first line is its header. */
export function readCsv(bytes: Uint8Array): CsvFile {
  const { rows: records, ...read } = readRows(bytes);
  const [header, ...rows] = records;
  if (!header) throw emptyFile();
  const width = header.cells.length;
  const even = rows
    .filter(({ cells, fault }) => fault !== undefined || cells.some((cell) => cell.trim() !== ''))
    .map((row) => withWidth(row, width));
  return { ...read, header: header.cells.map((cell) => cell.trim()), records: even };
}

/** What a file without a line is answered with. */
export function emptyFile(): ApiError {
  return new ApiError('invalid', 'The file is empty; a header line and rows are accepted.', [
    { field: 'file', message: 'The file is empty.' },
  ]);
}

/** A row with as many cells as the header: filled up with blanks, or at fault where more of it has something in it. */
export function withWidth(row: CsvRecord, width: number): CsvRecord {
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

const OPTIONS = { info: true, relax_column_count: true, skip_empty_lines: true } as const;

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
