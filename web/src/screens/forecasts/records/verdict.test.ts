import { describe, expect, it } from '@jest/globals';
import { againstInWords, verdictOf } from './verdict.ts';

const summary = (within80: number, readings = 500) => ({
  readings,
  medianMm: 0.2,
  twoPointMedianMm: 0.4,
  leastSquaresMedianMm: 0.3,
  within50: 0.5,
  within80,
  within90: 0.9,
});

describe('whether the dates can be trusted', () => {
  it('is said only of enough readings', () => {
    expect(verdictOf(summary(0.8, 12)).word).toBe('Too early to tell');
  });
  it('tells too narrow from too wide, with the share', () => {
    expect(verdictOf(summary(0.8)).word).toBe('It keeps its word');
    expect(verdictOf(summary(0.6))).toMatchObject({ word: 'Surer than it should be' });
    expect(verdictOf(summary(0.97)).told).toContain('97 % of readings');
  });
});

describe('against another method', () => {
  it('is nearer, as near, or farther off', () => {
    expect(againstInWords(0.2, 0.4)).toBe('50\u00a0% nearer');
    expect(againstInWords(0.3, 0.3)).toBe('as near');
    expect(againstInWords(0.4, 0.2)).toBe('100\u00a0% farther off');
  });
});
