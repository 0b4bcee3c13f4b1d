import type { ImportKind, Understanding } from '@mile-mark/contract/imports';
import { parseDate, parseNumber } from '@mile-mark/core';
import { type CsvRecord, withWidth } from '../../../platform/documents/csv.ts';
import { columnsOf, FIELDS, namedFields, normaliseHeader, unitInHeader } from './fields.ts';

/** A line of the file that is no row of the record. */
interface LeftOut {
  line: number;
  text: string;
  why: string;
}

/** A sheet cut into its header and its rows. */
export interface Heading {
  header: string[];
  /** The line at which the header begins; 0 where there is none. */
  headerLine: number;
  headerLines: 1 | 2;
  records: CsvRecord[];
  leftOut: LeftOut[];
}

/** Among so many lines with something in them the header is looked for. */
const LINES_SEARCHED = 25;

const filled = (cells: readonly string[]) => cells.filter((cell) => cell.trim() !== '');
const textOf = ({ cells }: CsvRecord) => filled(cells).join(' · ');

/** A cell that a header would not hold: a figure or a date. */
const isFigure = (cell: string) => {
  const text = cell.trim();
  return text !== '' && (parseNumber(text).ok || parseDate(text, 'DMY').ok || parseDate(text, 'MDY').ok);
};
const figuresIn = (cells: readonly string[]) => cells.filter(isFigure).length;

/** How many fields a line of cells names, for the kind of file it names most of. */
function named(cells: readonly string[]): number {
  return Math.max(...(Object.keys(FIELDS) as ImportKind[]).map((kind) => namedFields(kind, cells)));
}

/** Two lines of a header as one: a merged upper cell holds for those below it. */
function joined(upper: readonly string[], lower: readonly string[]): string[] {
  let last = '';
  return Array.from({ length: Math.max(upper.length, lower.length) }, (_, index) => {
    const over = (upper[index] ?? '').trim();
    const under = (lower[index] ?? '').trim();
    if (over !== '') last = over;
    return [over === '' && under !== '' ? last : over, under].filter((part) => part !== '').join(' ');
  });
}

/** Whether a line tells nothing but units under the header above it. */
const tellsUnits = (cells: readonly string[]) =>
  filled(cells).length > 0 &&
  filled(cells).every((cell) => unitInHeader(cell) !== undefined || /^[ymdtj./ -]{6,12}$/i.test(cell.trim()));

interface Found {
  at: number;
  lines: 0 | 1 | 2;
}

/** Where the header is: the line, or the two, that name most fields; none where the first wide line holds figures. */
function findHeader(rows: readonly CsvRecord[]): Found {
  let best: Found & { names: number } = { at: 0, lines: 1, names: 1 };
  for (const [at, { cells }] of rows.slice(0, LINES_SEARCHED).entries()) {
    const figures = figuresIn(cells);
    if (figures > 1 && named(cells) <= figures) continue;
    const names = named(cells);
    const next = rows[at + 1]?.cells;
    const both = next && figuresIn(next) === 0 ? named(joined(cells, next)) : 0;
    const underlined = next !== undefined && tellsUnits(next);
    if (underlined && names > best.names) best = { at, lines: 2, names };
    else if (both > names && next && both > named(next) && both > best.names) best = { at, lines: 2, names: both };
    else if (names > best.names) best = { at, lines: 1, names };
  }
  if (best.names > 1) return best;
  const usual = Math.max(...rows.map(({ cells }) => filled(cells).length), 0);
  const wide = rows.findIndex(({ cells }) => filled(cells).length >= Math.max(2, usual / 2));
  const at = Math.max(0, wide);
  return { at, lines: figuresIn(rows[at]?.cells ?? []) > 0 ? 0 : 1 };
}

/** Cuts a sheet into header and rows, by what a person said of it or by looking at its first lines. */
export function headingOf(
  all: readonly CsvRecord[],
  stated: Partial<Pick<Understanding, 'headerLine' | 'headerLines'>> = {},
): Heading {
  const rows = all.filter(({ cells, fault }) => fault !== undefined || filled(cells).length > 0);
  const found = statedHeader(rows, stated) ?? findHeader(rows);
  const body = rows.slice(found.at + found.lines);
  const width = Math.max(
    0,
    ...rows.slice(found.at, found.at + Math.max(1, found.lines)).map(({ cells }) => lastFilled(cells) + 1),
  );
  const cells = rows.slice(found.at, found.at + found.lines).map((row) => row.cells);
  const names = found.lines === 2 ? joined(cells[0] ?? [], cells[1] ?? []) : (cells[0] ?? []);
  const header = Array.from({ length: width }, (_, index) => names[index]?.trim() || `column ${index + 1}`);
  const leftOut = rows
    .slice(0, found.at)
    .map((row) => ({ line: row.line, text: textOf(row), why: 'above the header' }));
  const records: CsvRecord[] = [];
  for (const row of body) {
    const why = found.lines > 0 ? whyNoRow(row, header) : undefined;
    if (why) leftOut.push({ line: row.line, text: textOf(row), why });
    else records.push(withWidth(row, width));
  }
  const headerLine = found.lines === 0 ? 0 : (rows[found.at]?.line ?? 1);
  return { header, headerLine, headerLines: found.lines === 2 ? 2 : 1, records, leftOut };
}

function lastFilled(cells: readonly string[]): number {
  return cells.reduce((last, cell, index) => (cell.trim() === '' ? last : index), 0);
}

function statedHeader(
  rows: readonly CsvRecord[],
  { headerLine, headerLines = 1 }: Partial<Pick<Understanding, 'headerLine' | 'headerLines'>>,
): Found | undefined {
  if (headerLine === undefined) return undefined;
  if (headerLine === 0) return { at: 0, lines: 0 };
  const at = rows.findIndex(({ line }) => line === headerLine);
  return at < 0 ? undefined : { at, lines: headerLines === 2 ? 2 : 1 };
}

/** Why a line below the header is no row of the record. */
function whyNoRow({ cells, fault }: CsvRecord, header: readonly string[]): string | undefined {
  if (fault !== undefined) return undefined;
  const first = filled(cells)[0]?.trim() ?? '';
  if (/^(sub-?totals?|totals?|sums?|averages?|mean|count|summe|gesamt|mittel(wert)?)\b/i.test(first)) return 'a total';
  const again =
    cells.length >= header.length &&
    cells.every((cell, index) => normaliseHeader(cell) === normaliseHeader(header[index] ?? ''));
  return again && columnsOf('readings', cells).length > 1 ? 'the header again' : undefined;
}
