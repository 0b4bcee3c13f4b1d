import { describe, expect, it } from '@jest/globals';
import { daysBetween, formatDate, formatWhole, withinADay } from './format.ts';

describe('what a person reads', () => {
  it('is a date without ambiguity', () => expect(formatDate('2027-09-04')).toBe('4 Sep 2027'));

  it('tells whether a moment is less than a day back, also as a database writes it', () => {
    const ago = (hours: number) => new Date(Date.now() - hours * 3_600_000).toISOString();
    expect([23, 25].map((hours) => withinADay(ago(hours)))).toEqual([true, false]);
    const asWritten = (hours: number) => ago(hours).replace('T', ' ').replace('Z', '456+00');
    expect([23, 25].map((hours) => withinADay(asWritten(hours)))).toEqual([true, false]);
  });

  it('is a whole figure with its thousands', () => expect(formatWhole(1234.6)).toBe('1,235'));

  it('counts days across a change of summer time', () => expect(daysBetween('2026-03-01', '2026-04-01')).toBe(31));
});
