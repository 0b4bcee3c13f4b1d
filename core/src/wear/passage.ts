import { valueAt, choleskyLower, latinNormals, square, type Square } from '../numeric/index.ts';

/** The pads of one axle at one moment, jointly normal. */
export interface AxleState {
  /** Log rates then thicknesses: `2 × pads` values. */
  mean: Float64Array;
  cov: Square;
}

/** Scatter of the wear ahead: of severity by period of 28 days, of each pad by thousand miles (logarithms). */
export interface PassageNoise {
  perPeriod: number;
  perPad: number;
  /** Thousands of duty-weighted miles driven in 28 days. */
  exposurePerPeriod: number;
  /** Thousand miles per thousand duty-weighted miles. */
  milesPerExposure: number;
}

const DRAWS = new Map<string, Float64Array>();

/** The same draws for every axle (common random numbers): differences between axles are then not noise. */
export function commonDraws(count: number, dimensions: number, seed: number): Float64Array {
  const key = `${count}/${dimensions}/${seed}`;
  const kept = DRAWS.get(key);
  if (kept) return kept;
  const draws = latinNormals(count, dimensions, seed);
  DRAWS.set(key, draws);
  return draws;
}

/**
 * Draws of the exposure (thousands of duty-weighted miles from now) at which the first of an axle's pads
 * reaches its limit; negative where it already has.
 *
 * Wear is monotone, so P(T ≤ E) = P(least of x(E) ≤ limit): each draw of (L, x) gives
 * E_p = (x_p − limit)/exp(L_p), and the least over the pads counts. What is ahead scatters by
 * √(τ²/n + φ²/M) over n periods and M thousand miles; the last dimension of each draw carries it.
 *
 * @returns sorted ascending, `count` values
 */
export function firstPassage(
  axle: AxleState,
  limitMm: number,
  noise: PassageNoise,
  count: number,
  seed: number,
): Float64Array {
  const { size } = axle.cov;
  const pads = size / 2;
  const lower = choleskyLower(axle.cov);
  const draws = commonDraws(count, size + 1, seed);
  const result = new Float64Array(count);
  const values = new Float64Array(size);
  // Where the state is known outright, every draw of it is the same.
  const certain = lower.every((value) => value === 0);
  let leastOfState = Infinity;
  for (let i = 0; i < count; i += 1) {
    const row = i * (size + 1);
    if (i === 0 || !certain) {
      for (let j = 0; j < size; j += 1) {
        let sum = valueAt(axle.mean, j);
        for (let k = 0; k <= j; k += 1) sum += valueAt(lower, j * size + k) * valueAt(draws, row + k);
        values[j] = sum;
      }
      leastOfState = Infinity;
      for (let p = 0; p < pads; p += 1)
        leastOfState = Math.min(leastOfState, (valueAt(values, pads + p) - limitMm) / Math.exp(valueAt(values, p)));
    }
    let least = leastOfState;
    if (least > 0) {
      const periods = Math.max(0.25, least / noise.exposurePerPeriod);
      const thousandMiles = Math.max(0.25, least * noise.milesPerExposure);
      const sd = Math.sqrt(noise.perPeriod ** 2 / periods + noise.perPad ** 2 / thousandMiles);
      least *= Math.exp(sd * valueAt(draws, row + size) - (sd * sd) / 2);
    }
    result[i] = least;
  }
  return result.sort();
}

/** The rows and columns of one axle out of a vehicle's state. */
export function axleState(mean: Float64Array, cov: Square, indices: readonly number[]): AxleState {
  const part = square(indices.length);
  const values = new Float64Array(indices.length);
  indices.forEach((from, i) => {
    values[i] = valueAt(mean, from);
    indices.forEach((to, j) => {
      part.data[i * indices.length + j] = valueAt(cov.data, from * cov.size + to);
    });
  });
  return { mean: values, cov: part };
}

/** Share of a sorted sample below zero, the value at zero interpolated. */
export function shareBelowZero(sorted: Float64Array): number {
  let below = 0;
  while (below < sorted.length && valueAt(sorted, below) < 0) below += 1;
  return below / sorted.length;
}
