import { itemAt } from './linear.ts';
import { normalCdf } from './normal.ts';

/** Grid of the integrals below: the standard normal range of a few dozen values lies well within ± 7. */
const REACH = 7;
const STEP = 0.05;

function cdfGrid(): number[] {
  return Array.from({ length: Math.round((2 * REACH) / STEP) + 1 }, (_, i) => normalCdf(-REACH + i * STEP));
}

/**
 * Mean of the range of n independent standard normal values (d2 of quality control):
 * ∫ 1 − Φⁿ − (1 − Φ)ⁿ dx, by the trapezoidal rule. Source: Tippett, Biometrika 17 (1925).
 *
 * @example meanRange(2) = 2/√π = 1.128…
 */
export function meanRange(n: number): number {
  return STEP * cdfGrid().reduce((sum, p) => sum + 1 - p ** n - (1 - p) ** n, 0);
}

/**
 * Root of the mean squared range of n independent standard normal values: d2* of one group, by which a single
 * range is divided to estimate a standard deviation.
 * E[R²] = 2 ∫∫_{x<y} 1 − Φ(y)ⁿ − (1 − Φ(x))ⁿ + (Φ(y) − Φ(x))ⁿ dx dy. Source: Tippett, Biometrika 17 (1925);
 * use as d2*: Duncan, Quality Control and Industrial Statistics, table D3.
 *
 * @example rootMeanSquaredRange(2) = √2
 */
export function rootMeanSquaredRange(n: number): number {
  const grid = cdfGrid();
  let sum = 0;
  for (let j = 0; j < grid.length; j += 1) {
    const upper = itemAt(grid, j);
    for (let i = 0; i <= j; i += 1) {
      const lower = itemAt(grid, i);
      const value = 1 - upper ** n - (1 - lower) ** n + (upper - lower) ** n;
      sum += i === j ? value / 2 : value;
    }
  }
  return Math.sqrt(2 * sum * STEP * STEP);
}
