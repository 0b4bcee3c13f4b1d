import { describe, expect, it } from '@jest/globals';
import { digitalGauge } from './index.ts';

const options = { unit: 'mm' as const, step: 0.1, biasMm: 0.2, repeatabilityMm: 0.1, seed: 5 };

describe('the simulated digital gauge', () => {
  it('types a figure of its step and Enter, the same for the same seed', () => {
    const [one, two] = [digitalGauge(options), digitalGauge(options)];
    const typed = [8, 6.4, 3.1].map((mm) => one.press(mm));
    expect(typed).toEqual([8, 6.4, 3.1].map((mm) => two.press(mm)));
    for (const text of typed) expect(text).toMatch(/^\d+\.\d\n$/);
  });

  it('reads high by its bias on average, in inches too, and never below nothing', () => {
    const gauge = digitalGauge(options);
    const mean = Array.from({ length: 400 }, () => Number(gauge.press(8))).reduce((sum, x) => sum + x, 0) / 400;
    expect(Math.abs(mean - 8.2)).toBeLessThan(4 * Math.sqrt((0.01 + 0.1 ** 2 / 12) / 400));
    expect(Number(digitalGauge({ ...options, unit: 'in', step: 0.001 }).press(25.4))).toBeCloseTo(1.008, 1);
    expect(digitalGauge({ ...options, biasMm: -5 }).press(1)).toBe('0.0\n');
  });
});
