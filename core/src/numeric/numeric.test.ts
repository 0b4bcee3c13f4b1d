import { describe, expect, it } from '@jest/globals';
import stdCdf from '@stdlib/stats-base-dists-normal-cdf';
import stdQuantile from '@stdlib/stats-base-dists-normal-quantile';
import {
  choleskyLower,
  latinNormals,
  normalCdf,
  normalInterval,
  normalPdf,
  normalQuantile,
  randomNormal,
  seededRandom,
  sortedQuantile,
  truncatedNormal,
} from './index.ts';

// The reference is a general statistics library; stdlib, which follows Cephes.
describe('normal distribution against stdlib', () => {
  it.each([-37, -20, -8, -3.2, -2.99, -1, -0.1, 0, 1e-9, 0.5, 1.96, 2.999, 3.001, 6, 12])('Φ(%s)', (z) => {
    const reference = stdCdf(z, 0, 1);
    expect(Math.abs(normalCdf(z) - reference)).toBeLessThanOrEqual(1e-11 * reference + 1e-300);
  });

  it.each([1e-6, 0.001, 0.05, 0.3, 0.5, 0.9, 0.999999])('Φ⁻¹(%s)', (p) => {
    expect(normalQuantile(p)).toBeCloseTo(stdQuantile(p, 0, 1), 9);
  });

  // The reference's inverse gives out below about 1e-17; its Φ does not.
  it.each([1e-300, 1e-100, 1e-20, 1e-12])('Φ(Φ⁻¹(%s)) comes back', (p) => {
    expect(stdCdf(normalQuantile(p), 0, 1) / p).toBeCloseTo(1, 9);
  });

  it('keeps its relative accuracy between two points of one tail', () => {
    const reference = stdCdf(-9, 0, 1) - stdCdf(-9.5, 0, 1);
    expect(normalInterval(9, 9.5) / reference).toBeCloseTo(1, 9);
    expect(normalInterval(-9.5, -9) / reference).toBeCloseTo(1, 9);
  });

  it('is undefined where a probability is not one', () => {
    expect(normalQuantile(-0.1)).toBeNaN();
    expect(normalQuantile(0)).toBe(-Infinity);
    expect(normalQuantile(1)).toBe(Infinity);
  });
});

describe('truncated normal', () => {
  // Against numerical integration (composite Simpson).
  it.each([
    [0, 1, -0.5, 0.7],
    [5, 0.4, 6, 6.8],
    [2, 3, -10, 1],
    [0, 1, 4, 4.5],
  ])('mean %s, sd %s between %s and %s', (mean, sd, from, to) => {
    const integral = (weight: (x: number) => number) => {
      const steps = 2000;
      const h = (to - from) / steps;
      let sum = 0;
      for (let i = 0; i <= steps; i += 1) {
        const x = from + i * h;
        sum += (i === 0 || i === steps ? 1 : i % 2 ? 4 : 2) * weight(x) * (normalPdf((x - mean) / sd) / sd);
      }
      return (sum * h) / 3;
    };
    const mass = integral(() => 1);
    const expected = integral((x) => x) / mass;
    const spread = integral((x) => (x - expected) ** 2) / mass;
    const got = truncatedNormal(mean, sd, from, to);
    expect(got.mass / mass).toBeCloseTo(1, 8);
    expect(got.mean).toBeCloseTo(expected, 7);
    expect(got.variance / spread).toBeCloseTo(1, 4);
  });

  it('stays finite where the interval holds nothing', () => {
    const got = truncatedNormal(0, 1, 60, 61);
    expect(got.mean).toBeGreaterThanOrEqual(60);
    expect(got.mean).toBeLessThanOrEqual(61);
    expect(got.variance).toBeGreaterThan(0);
  });
});

describe('seeded randomness', () => {
  it('repeats with its seed and differs without', () => {
    const [a, b, c] = [seededRandom(7), seededRandom(7), seededRandom(8)].map((random) =>
      Array.from({ length: 5 }, random),
    );
    expect(a).toEqual(b);
    expect(a).not.toEqual(c);
  });

  it('is uniform: chi-square of 20 cells over 20,000 draws under the 99.9 % point', () => {
    const random = seededRandom(42);
    const counts = Array<number>(20).fill(0);
    for (let i = 0; i < 20_000; i += 1) {
      const cell = Math.floor(random() * 20);
      counts[cell] = (counts[cell] ?? 0) + 1;
    }
    const chi = counts.reduce((sum, count) => sum + (count - 1000) ** 2 / 1000, 0);
    expect(chi).toBeLessThan(43.82); // chi-square, 19 degrees of freedom, 99.9 % (common statistical tables)
  });

  it('makes normal draws of mean 0 and variance 1', () => {
    const random = seededRandom(3);
    const draws = Array.from({ length: 20_000 }, () => randomNormal(random));
    const mean = draws.reduce((sum, x) => sum + x, 0) / draws.length;
    const variance = draws.reduce((sum, x) => sum + x * x, 0) / draws.length;
    expect(Math.abs(mean)).toBeLessThan(4 / Math.sqrt(20_000));
    expect(Math.abs(variance - 1)).toBeLessThan(4 * Math.sqrt(2 / 20_000));
  });

  it('fills every stratum of a Latin hypercube once in each dimension', () => {
    const count = 64;
    const draws = latinNormals(count, 3, 1);
    for (let d = 0; d < 3; d += 1) {
      const strata = new Set(
        Array.from({ length: count }, (_, i) => Math.floor(normalCdf(draws[i * 3 + d] as number) * count)),
      );
      expect(strata.size).toBe(count);
    }
  });
});

describe('matrices and quantiles', () => {
  it('factors a matrix into L·Lᵀ', () => {
    const data = Float64Array.from([4, 2, 0.6, 2, 5, 1, 0.6, 1, 3]);
    const lower = choleskyLower({ size: 3, data });
    for (let i = 0; i < 3; i += 1) {
      for (let j = 0; j < 3; j += 1) {
        let sum = 0;
        for (let k = 0; k < 3; k += 1) sum += (lower[i * 3 + k] as number) * (lower[j * 3 + k] as number);
        expect(sum).toBeCloseTo(data[i * 3 + j] as number, 12);
      }
    }
  });

  it('takes a singular matrix without an error', () => {
    const lower = choleskyLower({ size: 2, data: Float64Array.from([1, 1, 1, 1]) });
    expect([...lower]).toEqual([1, 0, 1, 0]);
  });

  it('interpolates quantiles as definition 7 of Hyndman & Fan', () => {
    expect(sortedQuantile([1, 2, 3, 4], 0.25)).toBe(1.75);
    expect(sortedQuantile([1, 2, 3, 4], 1)).toBe(4);
    expect(sortedQuantile([5], 0.3)).toBe(5);
  });
});
