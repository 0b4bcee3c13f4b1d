import { describe, expect, it } from '@jest/globals';
import { normalCdf, randomNormal, seededRandom, square } from '../numeric/index.ts';
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

describe('first passage', () => {
  const single = (sdL: number, sdX: number) => {
    const cov = square(2);
    cov.data.set([sdL * sdL, 0, 0, sdX * sdX]);
    return { mean: Float64Array.from([Math.log(0.2), 8]), cov };
  };
  const still = { perPeriod: 0, perPad: 0, exposurePerPeriod: 2, milesPerExposure: 1 };

  // P(T ≤ E) = P(x ≤ limit + e^L·E), integrated over L by Simpson's rule.
  it('of one pad agrees with numerical integration', () => {
    const sorted = firstPassage(single(0.3, 0.4), 2.75, still, 4096, 5);
    for (const exposure of [15, 20, 26, 35, 45]) {
      const steps = 400;
      let probability = 0;
      for (let i = 0; i <= steps; i += 1) {
        const z = -6 + (12 * i) / steps;
        const weight = (i === 0 || i === steps ? 1 : i % 2 ? 4 : 2) * Math.exp(-0.5 * z * z);
        probability += weight * normalCdf((2.75 + 0.2 * Math.exp(0.3 * z) * exposure - 8) / 0.4);
      }
      probability *= 12 / steps / 3 / Math.sqrt(2 * Math.PI);
      const share = sorted.filter((value) => value <= exposure).length / sorted.length;
      expect(Math.abs(share - probability)).toBeLessThan(0.008);
    }
  });

  it('of four pads comes before that of any one, by brute-force Monte Carlo', () => {
    const cov = square(8);
    for (let p = 0; p < 8; p += 1) cov.data[p * 9] = p < 4 ? 0.04 : 0.09;
    const mean = Float64Array.from([...Array<number>(4).fill(Math.log(0.2)), 8, 7.6, 8.2, 7.9]);
    const sorted = firstPassage({ mean, cov }, 2.75, still, 4096, 5);
    const random = seededRandom(99);
    const brute = Array.from({ length: 20_000 }, () =>
      Math.min(
        ...[8, 7.6, 8.2, 7.9].map(
          (x) => (x + 0.3 * randomNormal(random) - 2.75) / (0.2 * Math.exp(0.2 * randomNormal(random))),
        ),
      ),
    ).sort((a, b) => a - b);
    for (const p of [0.05, 0.1, 0.5, 0.9]) {
      const ours = sorted[Math.floor(p * sorted.length)] as number;
      // A 5 % quantile of 20,000 draws has a standard error of about 1 %.
      expect(Math.abs(ours / (brute[Math.floor(p * brute.length)] as number) - 1)).toBeLessThan(0.04);
    }
  });

  it('lies behind where a pad is below its limit already', () => {
    const worn = { mean: Float64Array.from([Math.log(0.2), 2]), cov: square(2) };
    expect(firstPassage(worn, 2.75, still, 16, 1).every((value) => Math.abs(value + 3.75) < 1e-9)).toBe(true);
  });
});
