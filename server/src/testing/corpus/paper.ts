import { stringify } from 'csv-stringify/sync';
import writeWorkbook from 'write-excel-file/node';
import type { Written } from './style.ts';

/** How a written sheet becomes a file. */
export interface Paper {
  delimiter: ',' | ';' | '\t' | '|';
  newline: '\n' | '\r\n' | '\r';
  encoding: 'utf-8' | 'utf-8 with mark' | 'utf-16le' | 'utf-16be' | 'utf-16le without mark' | 'latin-1';
  /** Lines above the header. */
  above: string[][];
  /** Begins with a line that tells the delimiter. */
  toldDelimiter: boolean;
  header: 'one line' | 'two lines' | 'units in a second line' | 'none';
  /** A line of totals at the end, blank lines among the rows, the header again in the middle. */
  among: ('totals' | 'blank lines' | 'the header again')[];
}

export const PLAIN_PAPER: Paper = {
  delimiter: ',',
  newline: '\n',
  encoding: 'utf-8',
  above: [],
  toldDelimiter: false,
  header: 'one line',
  among: [],
};

/** The header over two lines: a place over its pads as a merged cell would be, or the units under the names. */
function headerLines([line = []]: string[][], kind: Paper['header']): string[][] {
  if (kind === 'none') return [];
  if (kind === 'one line') return [line];
  const parts = line.map((name) =>
    kind === 'two lines'
      ? (/^(.+) (in|out|inner|outer)$/i.exec(name)?.slice(1) ?? [name, ''])
      : (/^(.+) (mm|in|km|mi|1\/32 in)$/.exec(name)?.slice(1) ?? [name, '']),
  );
  const upper = parts.map(([over = '']) => over);
  const merged = kind === 'two lines' ? upper.map((name, index) => (name === upper[index - 1] ? '' : name)) : upper;
  return [merged, parts.map(([, under = '']) => under)];
}

/** Every line of the paper, from its top. */
function linesOf({ header, rows }: Written, paper: Paper): string[][] {
  const heads = headerLines(header, paper.header);
  const body = [...rows];
  const middle = Math.floor(body.length / 2);
  if (paper.among.includes('the header again')) body.splice(middle, 0, ...heads);
  if (paper.among.includes('blank lines'))
    body.splice(
      middle,
      0,
      (header[0] ?? []).map(() => ''),
    );
  if (paper.among.includes('totals'))
    body.push(['Total', ...(header[0] ?? []).slice(1).map((_, index) => (index === 0 ? String(rows.length) : ''))]);
  return [...paper.above, ...heads, ...body];
}

export function textFile(written: Written, paper: Paper): Uint8Array {
  const lines = stringify(linesOf(written, paper), { delimiter: paper.delimiter, record_delimiter: paper.newline });
  const text = paper.toldDelimiter ? `sep=${paper.delimiter}${paper.newline}${lines}` : lines;
  switch (paper.encoding) {
    case 'utf-8':
      return Buffer.from(text, 'utf8');
    case 'utf-8 with mark':
      return Buffer.from(`\ufeff${text}`, 'utf8');
    case 'latin-1':
      return Buffer.from(text, 'latin1');
    case 'utf-16le':
      return Buffer.from(`\ufeff${text}`, 'utf16le');
    case 'utf-16le without mark':
      return Buffer.from(text, 'utf16le');
    case 'utf-16be':
      return Buffer.from(`\ufeff${text}`, 'utf16le').swap16();
  }
}

/** A workbook of one sheet with the lines, beside another that holds nothing of use; figures and dates as such. */
export async function workbookFile(written: Written, paper: Paper): Promise<Uint8Array> {
  const cells = linesOf(written, paper).map((line) =>
    line.map((text) => {
      if (text === '') return null;
      if (/^\d{4}-\d{2}-\d{2}$/.test(text))
        return { value: new Date(`${text}T00:00:00Z`), type: Date, format: 'dd/mm/yyyy' } as const;
      // Thousands parted by a dot stay text, as a spreadsheet of a country of commas keeps them.
      return /^\d+(\.\d{1,2})?$/.test(text) ? { value: Number(text), type: Number } : { value: text, type: String };
    }),
  );
  return new Uint8Array(
    await writeWorkbook([
      { data: [[{ value: 'Printed for the office', type: String }]], sheet: 'Cover' },
      { data: cells, sheet: 'Checks' },
    ]).toBuffer(),
  );
}
