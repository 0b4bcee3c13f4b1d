import { describe, expect, it } from '@jest/globals';
import Papa from 'papaparse';
import { stringify } from 'csv-stringify/sync';
import { csvOf } from './tableCsv.ts';

const written = (rows: string[][]) => csvOf(rows, (own) => stringify(own));
const back = (csv: string): string[][] => Papa.parse<string[]>(csv.slice(1), { skipEmptyLines: true }).data;

describe('a table as CSV', () => {
  it('comes back as it was: commas, quotes, lines and signs', () => {
    const rows = [
      ['Unit', 'Mark', 'Why'],
      ['P18', '14 Sep 2027', 'said “drag”, then "stuck"\non two lines; 3,4 mm'],
      ['V06', '', '±0.2 mm, 650 N·m'],
    ];
    const csv = written(rows);
    expect(csv.codePointAt(0)).toBe(0xfeff);
    expect(back(csv)).toEqual(rows);
  });

  // OWASP, CSV injection (from memory): a cell that begins with one of these may be worked out as a formula.
  it.each(['=1+1', '+1', '@SUM(A1)', '\tx', '\rx', '-SUM(A1)', '-(1)', '-2+3', "-1+cmd|' /C calc'!A0", '-5;=1'])(
    'keeps %j as a text',
    (cell) => {
      expect(back(written([['Unit'], [cell]]))[1]?.[0]).toBe(`'${cell}`);
    },
  );

  it('leaves figures below nought and what only holds such a sign as they are', () => {
    for (const cell of ['-0.56', '-5 days', '-.5', '-1,250 mi', '-12 %', '-3 N·m', 'a=b', '3 + 4', 'x@y', "'quoted"])
      expect(back(written([['Unit'], [cell]]))[1]?.[0]).toBe(cell);
  });
});
