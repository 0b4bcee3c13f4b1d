import { describe, expect, it } from '@jest/globals';
import { square } from '../numeric/index.ts';
import { firstPassage, type PassageNoise } from './passage.ts';

/** One pad known exactly: 8 mm, wearing 0.2 mm a thousand duty-weighted miles, limit 2.75 mm: 26.25 thousand. */
const known = { mean: Float64Array.from([Math.log(0.2), 8]), cov: square(2) };
const EXPOSURE = (8 - 2.75) / 0.2;

/** Mean of the passage, and standard deviation of its logarithm. */
function spread(noise: PassageNoise): { mean: number; sdLog: number } {
  const values = firstPassage(known, 2.75, noise, 4096, 3);
  const logs = Array.from(values, Math.log);
  const middle = logs.reduce((sum, log) => sum + log, 0) / logs.length;
  const variance = logs.reduce((sum, log) => sum + (log - middle) ** 2, 0) / logs.length;
  return { mean: values.reduce((sum, value) => sum + value, 0) / values.length, sdLog: Math.sqrt(variance) };
}

describe('what lies ahead of a pad that is known exactly', () => {
  // Ten periods of 28 days, and 52.5 thousand miles: variances of independent parts add and fall with their number.
  const ways = { exposurePerPeriod: EXPOSURE / 10, milesPerExposure: 2 };
  const perPeriod = 0.3 / Math.sqrt(10);
  const perPad = 0.2 / Math.sqrt(2 * EXPOSURE);

  it.each([
    ['from period to period', { perPeriod: 0.3, perPad: 0 }, perPeriod],
    ['from pad to pad', { perPeriod: 0, perPad: 0.2 }, perPad],
    ['by both', { perPeriod: 0.3, perPad: 0.2 }, Math.hypot(perPeriod, perPad)],
    ['not at all', { perPeriod: 0, perPad: 0 }, 0],
  ])('scatters %s', (_name, noise, sdLog) => {
    const found = spread({ ...noise, ...ways });
    // 4,096 stratified draws: the standard deviation of a normal is met within a per cent or two.
    expect(Math.abs(found.sdLog - sdLog)).toBeLessThan(0.03 * sdLog + 1e-9);
    expect(Math.abs(found.mean / EXPOSURE - 1)).toBeLessThan(0.002);
  });

  it('scatters no more than over a quarter of a period, however near the limit is', () => {
    const near = { mean: Float64Array.from([Math.log(0.2), 2.76]), cov: square(2) };
    const noise = { perPeriod: 0.3, perPad: 0, exposurePerPeriod: 10, milesPerExposure: 1 };
    const values = Array.from(firstPassage(near, 2.75, noise, 4096, 3), (value) => Math.log(value / 0.05));
    const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
    const sd = Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / values.length);
    expect(Math.abs(sd / 0.6 - 1)).toBeLessThan(0.03);
  });
});
