import { describe, expect, it } from '@jest/globals';
import { daysBetween, formatDate, formatWhole } from './format.ts';

describe('what a person reads', () => {
  it('is a date without ambiguity', () => expect(formatDate('2027-09-04')).toBe('4 Sep 2027'));

  it('is a whole figure with its thousands', () => expect(formatWhole(1234.6)).toBe('1,235'));

  it('counts days across a change of summer time', () => expect(daysBetween('2026-03-01', '2026-04-01')).toBe(31));
});
