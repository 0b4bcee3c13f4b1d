import { describe, expect, it } from '@jest/globals';
import { daysBetween, formatAway, formatChance, formatDate, formatMiles, formatWhole } from './format.ts';

describe('what a person reads', () => {
  it('is a date without ambiguity', () => expect(formatDate('2027-09-04')).toBe('4 Sep 2027'));

  it('is a distance in their unit', () => {
    expect(formatMiles(41_200.4, 'mi')).toBe('41,200 mi');
    expect(formatMiles(100, 'km')).toBe('161 km');
    expect(formatWhole(1234.6)).toBe('1,235');
  });

  it.each([
    [0, 'under 0.1 %'],
    [0.0123, '1.2 %'],
    [0.1, '10 %'],
    [0.614, '61 %'],
    [0.9999, 'over 99.9 %'],
  ])('is a chance of %s as “%s”', (chance, text) => expect(formatChance(chance)).toBe(text));

  it.each([
    [0, 'today'],
    [1, 'in 1 day'],
    [-12, '12 days ago'],
    [40, 'in 6 weeks'],
    [-200, '7 months ago'],
  ])('is %s days as “%s”', (days, text) => expect(formatAway(days)).toBe(text));

  it('counts days across a change of summer time', () => expect(daysBetween('2026-03-01', '2026-04-01')).toBe(31));
});
