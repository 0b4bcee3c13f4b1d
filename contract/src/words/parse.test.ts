import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { parseDate, parseDistance, parseNumber, parseThickness, parseTorque, type Parsed } from '@mile-mark/core';
import { failureInWords } from './parse.ts';

const said = (parsed: Parsed<unknown>) => (parsed.ok ? 'it was read' : failureInWords(parsed.failure));

describe('what is said of something typed that can’t be read', () => {
  it.each([
    [said(parseThickness('', { unit: 'mm' })), 'No thickness was typed; a figure such as 8.5 or 11/32 is needed.'],
    [
      said(parseThickness(' thick ', { unit: 'mm' })),
      '“thick” is not a thickness; a figure such as 8.5 or 11/32 is needed.',
    ],
    [said(parseThickness('-3', { unit: 'mm' })), "A thickness can't be below zero (-3); 0 or more is accepted."],
    [said(parseThickness('8 cm', { unit: 'mm' })), '“cm” is not a unit of thickness; mm, in or 1/32 in are accepted.'],
    [said(parseThickness('1/2 mm', { unit: 'mm' })), '“1/2 mm”: a fraction is read as inches, not mm.'],
    [
      said(parseThickness('11/23', { unit: 'mm' })),
      '“11/23” has 23 under the line; inches are read in 2nds, 4ths, 8ths, 16ths, 32nds or 64ths (did you mean 11/32?).',
    ],
    [
      said(parseThickness('8,500', { unit: 'mm' })),
      '“8,500” could mean 8500 or 8.500; type it without a thousands separator.',
    ],
    [
      said(parseDistance('far', { unit: 'mi' })),
      '“far” is not an odometer; a figure such as 41,200 mi or 65 000 km is needed.',
    ],
    [said(parseDistance('41 leagues', { unit: 'mi' })), '“leagues” is not a unit of distance; mi or km are accepted.'],
    [
      said(parseDistance('9999999 km', { unit: 'mi' })),
      '9999999 km is more than any vehicle drives; up to 2,000,000 km is accepted.',
    ],
    [
      said(parseDate('31.02.2026', 'DMY')),
      '“31.02.2026” is not a day of the calendar read as day.month.year (20.02.2026).',
    ],
    [said(parseDate('soon', 'MDY')), '“soon” is not a date; month/day/year (02/20/2026) is accepted.'],
    [said(parseTorque('155')), '“155” has no unit; N·m, lbf·ft or lbf·in must be said.'],
    [
      said(parseTorque('155 ft-lb', { unit: 'N·m' })),
      '“155 ft-lb” says lbf·ft where N·m was said before; one of them is wrong.',
    ],
    [said(parseTorque('0 Nm')), '0 Nm is not a torque of a wheel end; more than 0 and up to 2,000 N·m is accepted.'],
    [said(parseNumber('')), 'Nothing was typed; a number is needed.'],
  ])('%s', (words, expected) => {
    expect(words).toBe(expected);
  });

  it('is a sentence, and names what was typed or asks for something, whatever was typed', () => {
    fc.assert(
      fc.property(fc.string(), fc.constantFrom('DMY' as const, 'MDY' as const, 'YMD' as const), (typed, order) => {
        const all = [
          parseNumber(typed),
          parseThickness(typed, { unit: '1/32 in' }),
          parseDistance(typed, { unit: 'km' }),
          parseTorque(typed),
          parseDate(typed, order),
        ];
        for (const parsed of all) {
          if (parsed.ok) continue;
          const words = failureInWords(parsed.failure);
          expect(words).toMatch(/[.)]$/);
          expect(words).not.toContain('undefined');
          expect(/needed|accepted|not a number|must be said|wrong|type it|did you mean|read as/.test(words)).toBe(true);
        }
      }),
    );
  });
});
