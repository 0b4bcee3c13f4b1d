import { describe, expect, it } from '@jest/globals';
import reference from 'jstat';
import {
  betaQuantile,
  choleskyLower,
  fUpperTail,
  invertSymmetric,
  logGamma,
  meanRange,
  regularisedBeta,
  rootMeanSquaredRange,
  square,
  studentQuantile,
} from './index.ts';

describe('special functions', () => {
  it('agree with a general statistics library', () => {
    for (const x of [0.1, 0.5, 1, 3.3, 12, 150]) expect(logGamma(x)).toBeCloseTo(reference.gammaln(x), 9);
    for (const [x, a, b] of [
      [0.1, 2, 3],
      [0.5, 0.5, 0.5],
      [0.93, 9, 30],
      [0.2, 40, 1.5],
    ] as const)
      expect(regularisedBeta(x, a, b)).toBeCloseTo(reference.ibeta(x, a, b), 7);
  });

  it('have closed forms: Γ(n) = (n − 1)!, I_x(1, b) = 1 − (1 − x)^b', () => {
    expect(logGamma(7)).toBeCloseTo(Math.log(720), 12);
    expect(regularisedBeta(0.3, 1, 4)).toBeCloseTo(1 - 0.7 ** 4, 13);
    expect(regularisedBeta(0, 2, 2)).toBe(0);
    expect(regularisedBeta(1.2, 2, 2)).toBeNaN();
    expect(logGamma(-1)).toBeNaN();
  });

  it('has quantiles that a general statistics library has too', () => {
    for (const [p, a, b] of [
      [0.1, 0.5, 12.5],
      [0.5, 2, 2],
      [0.97, 30, 4],
    ] as const) {
      expect(betaQuantile(p, a, b)).toBeCloseTo(reference.beta.inv(p, a, b), 7);
      expect(regularisedBeta(betaQuantile(p, a, b), a, b)).toBeCloseTo(p, 10);
    }
    for (const [p, df] of [
      [0.9, 1],
      [0.975, 4],
      [0.6, 33.5],
      [0.05, 8],
    ] as const)
      expect(studentQuantile(p, df)).toBeCloseTo(reference.studentt.inv(p, df), 6);
    expect(studentQuantile(0.5, 3)).toBeCloseTo(0, 9);
    expect(studentQuantile(1, 3)).toBeNaN();
    expect(betaQuantile(-0.1, 1, 1)).toBeNaN();
  });

  // Abramowitz & Stegun, table 26.10: t of 95 %.
  it.each([
    [6.314, 1],
    [2.132, 4],
    [1.812, 10],
    [1.671, 60],
  ])('t of %f at 95 %% with %i', (t, df) => expect(studentQuantile(0.95, df)).toBeCloseTo(t, 3));

  // Abramowitz & Stegun, table 26.9: upper 5 % points of F, to three digits.
  it.each([
    [4.26, 2, 9],
    [3.49, 3, 12],
    [2.62, 5, 24],
  ])('F of %f at 5 %% with %i and %i', (f, d1, d2) => {
    expect(Math.abs(fUpperTail(f, d1, d2) - 0.05)).toBeLessThan(0.0003);
    expect(fUpperTail(0, d1, d2)).toBe(1);
  });
});

describe('ranges of normal samples', () => {
  // d2 as printed in tables of quality control (e.g. Montgomery, Statistical Quality Control, appendix VI).
  it.each([
    [2, 1.128],
    [3, 1.693],
    [5, 2.326],
    [10, 3.078],
  ])('of %i have mean %f', (n, d2) => {
    expect(meanRange(n)).toBeCloseTo(d2, 3);
  });
  // 1/d2* for one group, as in appendix C of the MSA reference manual (from memory): 0.7071, 0.5231, 0.3146.
  it.each([
    [2, 0.7071],
    [3, 0.5231],
    [10, 0.3146],
  ])('of %i have 1/d2* of %f', (n, factor) => {
    expect(1 / rootMeanSquaredRange(n)).toBeCloseTo(factor, 3);
  });
});

describe('inverse of a symmetric matrix', () => {
  it('times the matrix is one; none where it is not positive definite', () => {
    const matrix = { size: 3, data: Float64Array.from([4, 1, 0.5, 1, 3, -0.2, 0.5, -0.2, 2]) };
    const inverse = invertSymmetric(matrix);
    for (let i = 0; i < 3; i += 1)
      for (let j = 0; j < 3; j += 1) {
        let sum = 0;
        for (let k = 0; k < 3; k += 1) sum += (matrix.data[i * 3 + k] ?? 0) * (inverse?.data[k * 3 + j] ?? 0);
        expect(sum).toBeCloseTo(i === j ? 1 : 0, 12);
      }
    expect(invertSymmetric(square(2))).toBeUndefined();
    expect(choleskyLower(matrix)[0]).toBe(2);
  });
});
