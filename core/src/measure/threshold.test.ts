import { describe, expect, it } from '@jest/globals';
import { judgeReading } from './index.ts';

describe('when a reading is asked about', () => {
  const expected = { meanMm: 8, sdMm: 0.4, newMm: 11, plateMm: 5.8, informed: true };
  const judge = (mm: number) => judgeReading({ mm, unit: 'mm', resolutionMm: 0.1, repeatabilityMm: 0.2 }, expected);
  const irregular = (mm: number) =>
    1 -
    judge(mm)
      .hypotheses.filter(({ explanation }) => explanation === 'regular')
      .reduce((sum, { probability }) => sum + probability, 0);
  const figures = Array.from({ length: 300 }, (_, k) => 3 + k * 0.05);

  it('is when it is more likely irregular than not, no sooner and no later', () => {
    for (const mm of figures) expect([mm, judge(mm).suspicion !== undefined]).toEqual([mm, irregular(mm) > 0.5]);
  });

  it('is met on both sides of even odds, also not far from them', () => {
    const chances = figures.map(irregular);
    expect(chances.some((chance) => chance > 0.5 && chance < 0.8)).toBe(true);
    expect(chances.some((chance) => chance > 0.2 && chance < 0.5)).toBe(true);
  });
});
