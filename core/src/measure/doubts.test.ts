import { describe, expect, it } from '@jest/globals';
import { doubtPace, judgeReading, leastShown, sidesSwapped } from './index.ts';

describe('sides swapped', () => {
  const difference = (measuredMm: number, expectedMm: number) => ({ measuredMm, expectedMm, sdMm: 0.35 });
  it('is likely where the differences are the expected ones the other way round', () => {
    expect(sidesSwapped([difference(-2.1, 2), difference(-1.8, 1.9)])).toBeGreaterThan(0.99);
  });
  it('is not where left and right are alike, nor where the difference is as expected', () => {
    expect(sidesSwapped([difference(0.2, 0.1), difference(-0.1, 0)])).toBeLessThan(0.01);
    expect(sidesSwapped([difference(2, 2)])).toBeLessThan(0.001);
  });
  it('is not read out of a gross error of one pad', () => {
    expect(sidesSwapped([difference(5.5, -0.6), difference(-0.5, -0.5)])).toBeLessThan(0.02);
  });
});

describe('an odometer that runs ahead', () => {
  const before = { miles: 40_000, date: '2026-11-01' };
  it('is doubted beyond three times the usual pace and a week’s driving, with where it should stand', () => {
    expect(doubtPace(44_000, '2026-11-11', before, 66)).toEqual({
      milesPerDay: 400,
      usualPerDay: 66,
      days: 10,
      expectedMi: 40_660,
    });
  });
  it('is believed at twice the pace, after a day out, and standing still', () => {
    expect(doubtPace(41_300, '2026-11-11', before, 66)).toBeUndefined();
    expect(doubtPace(40_700, '2026-11-02', before, 66)).toBeUndefined();
    expect(doubtPace(40_000, '2026-11-11', before, 66)).toBeUndefined();
  });
});

describe('trust in a reading that was looked at again', () => {
  const expected = { meanMm: 5.6, sdMm: 0.4, newMm: 11, plateMm: 5.5, informed: true };
  const reading = { mm: 9.9, unit: 'mm' as const, resolutionMm: 0.1, repeatabilityMm: 0.25 };
  const regular = (trust: 'typed' | 'twice' | 'settled', mm: number) =>
    judgeReading({ ...reading, mm, trust }, expected).hypotheses.find(({ explanation }) => explanation === 'regular')
      ?.probability ?? 0;
  it('grows with who looked: typed, measured twice, settled', () => {
    const [typed, twice, settled] = [regular('typed', 7.4), regular('twice', 7.4), regular('settled', 7.4)];
    expect(typed).toBeLessThan(twice);
    expect(twice).toBeLessThan(settled);
    expect(settled).toBe(1);
  });
  it('asks nothing any more once settled', () => {
    expect(judgeReading(reading, expected).suspicion).toBeDefined();
    expect(judgeReading({ ...reading, trust: 'settled' }, expected).suspicion).toBeUndefined();
  });
});

describe('a figure that the gauge can’t show', () => {
  const expected = { meanMm: 6.9, sdMm: 2.6, newMm: 11, plateMm: 5.5, informed: false };
  const inches = (resolutionMm: number) =>
    judgeReading({ mm: 0.26, unit: 'mm', resolutionMm, repeatabilityMm: 0.3 }, expected).hypotheses.find(
      ({ explanation }) => explanation === 'inches',
    )?.probability ?? 0;
  it('is sooner taken for inches than the same figure on a gauge that can', () => {
    expect(inches(0.1)).toBeGreaterThan(0.5);
    expect(inches(0.02)).toBeLessThan(inches(0.1));
  });
});

describe('a figure of nought', () => {
  const judge = (mm: number, meanMm: number, resolutionMm = 0.5) =>
    judgeReading(
      { mm, unit: 'mm', resolutionMm, repeatabilityMm: 0.2 },
      { meanMm, sdMm: 0.8, newMm: 11, plateMm: 5.5, informed: true },
    );
  it('is never taken for inches, and asks nothing of a pad that was expected worn through', () => {
    expect(judge(0, 4.3).hypotheses.map(({ explanation }) => explanation)).not.toContain('inches');
    expect(judge(0, -2).suspicion).toBeUndefined();
    expect(judge(0, -5, 0.1).suspicion).toBeUndefined();
  });
  it('is nought or less, and another figure its own step', () => {
    expect(leastShown(0, 0.5)).toBeLessThan(-20);
    expect(leastShown(0.2, 0.5)).toBeLessThan(-20);
    expect(leastShown(0.5, 0.5)).toBe(0.25);
  });
});
