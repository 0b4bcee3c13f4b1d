import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { kitLineInWords, minutesInWords } from './needs.ts';
import { moneyInWords } from './parts.ts';

describe('minutes of work', () => {
  it.each([
    [8.25, '8.3 min'],
    [9.96, '10 min'],
    [12.4, '12 min'],
    [89, '89 min'],
    [90, '1 h 30 min'],
    [120, '2 h'],
    [124, '2 h 05 min'],
    [177, '2 h 55 min'],
    [178, '3 h'],
  ])('%s are told as %s', (minutes, told) => {
    expect(minutesInWords(minutes)).toBe(told);
  });

  it('are never told further off than they are rounded: five where they are many, one before', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 2000, noNaN: true }), (minutes) => {
        const told = minutesInWords(minutes);
        const [, hours = '0'] = /(\d+) h/.exec(told) ?? [];
        const [, rest = '0'] = /([\d.]+) min/.exec(told) ?? [];
        const back = 60 * Number(hours) + Number(rest);
        expect(Math.abs(back - minutes)).toBeLessThanOrEqual(minutes < 10 ? 0.05 + 1e-9 : minutes < 90 ? 0.5 : 2.5);
      }),
    );
  });
});

describe('a line of a kit', () => {
  type Line = Parameters<typeof kitLineInWords>[0];
  const line: Line = { part: 'brake pad', quantity: 1, side: 'both', amount: null };
  const lines: [Line, string][] = [
    [line, '1 brake pad'],
    [{ ...line, quantity: 4 }, '4 brake pads'],
    [{ ...line, quantity: 2, side: 'left' }, '2 brake pads, left'],
    [{ ...line, part: 'brake cleaner', quantity: null }, 'brake cleaner'],
  ];
  it.each(lines)('%j is %s', (told, words) => {
    expect(kitLineInWords(told)).toBe(words);
  });
});

it.each([
  [6200, '62.00 USD'],
  [5, '0.05 USD'],
  [123_456, '1,234.56 USD'],
])('%s cents are %s', (minor, told) => {
  expect(moneyInWords(minor, 'USD')).toBe(told);
});
