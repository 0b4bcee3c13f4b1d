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
  return kept(DRAWS, `${count}/${dimensions}/${seed}`, () => latinNormals(count, dimensions, seed));
}

const BY_DIMENSION = new Map<string, Float64Array>();

/** The same draws one dimension after the other: number i of dimension d is at d × count + i. */
function drawsByDimension(count: number, dimensions: number, seed: number): Float64Array {
  return kept(BY_DIMENSION, `${count}/${dimensions}/${seed}`, () => {
    const draws = commonDraws(count, dimensions, seed);
    return draws.map((_, at) => valueAt(draws, (at % count) * dimensions + Math.floor(at / count)));
  });
}

function kept(known: Map<string, Float64Array>, key: string, make: () => Float64Array): Float64Array {
  const there = known.get(key) ?? make();
  known.set(key, there);
  return there;
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
  const draws = drawsByDimension(count, size + 1, seed);
  const lower = choleskyLower(axle.cov);
  // Where the state is known outright, every draw of it is the same.
  const distinct = lower.every((value) => value === 0) ? 1 : count;
  const least = leastOverPads(axle, limitMm, statesDrawn(axle, lower, { draws, count, distinct }), distinct);
  const result = new Float64Array(count);
  for (let i = 0; i < count; i += 1) {
    const exposure = valueAt(least, distinct === 1 ? 0 : i);
    result[i] = exposure > 0 ? scattered(exposure, noise, valueAt(draws, size * count + i)) : exposure;
  }
  return result.sort();
}

/** An exposure with the scatter of what is ahead, at one standard normal draw of it. */
function scattered(exposure: number, noise: PassageNoise, draw: number): number {
  const periods = Math.max(0.25, exposure / noise.exposurePerPeriod);
  const thousandMiles = Math.max(0.25, exposure * noise.milesPerExposure);
  const sd = Math.sqrt(noise.perPeriod ** 2 / periods + noise.perPad ** 2 / thousandMiles);
  return exposure * Math.exp(sd * draw - (sd * sd) / 2);
}

/** Used again at every call: a fleet's axles are thousands. */
let drawn = new Float64Array(0);

/** Draws of an axle's state, one of its values after the other: draw i of value j is at j × distinct + i. */
function statesDrawn(
  { mean, cov: { size } }: AxleState,
  lower: Float64Array,
  { draws, count, distinct }: { draws: Float64Array; count: number; distinct: number },
): Float64Array {
  if (drawn.length < size * distinct) drawn = new Float64Array(size * distinct);
  const states = drawn;
  for (let j = 0; j < size; j += 1) {
    const at = j * distinct;
    states.fill(valueAt(mean, j), at, at + distinct);
    const share = (k: number) => (k <= j ? valueAt(lower, j * size + k) : 0);
    const column = (k: number) => Math.min(k, j) * count;
    // Four at a time: a number once loaded is added to, not stored and loaded again.
    for (let k = 0; k <= j; k += 4) {
      const [a, b, c, d] = [share(k), share(k + 1), share(k + 2), share(k + 3)];
      const [p, q, r, s] = [column(k), column(k + 1), column(k + 2), column(k + 3)];
      if (a === 0 && b === 0 && c === 0 && d === 0) continue;
      for (let i = 0; i < distinct; i += 1)
        states[at + i] =
          valueAt(states, at + i) +
          a * valueAt(draws, p + i) +
          b * valueAt(draws, q + i) +
          c * valueAt(draws, r + i) +
          d * valueAt(draws, s + i);
    }
  }
  return states;
}

/** A bound that rounding may not overstep. */
const BELOW = 1 - 1e-12;

/**
 * Of each draw the exposure at which the first pad reaches the limit. The pad that is likeliest to be it comes first; of the
 * others most are left out without an exponential, for with m the mean of L, exp(−L) ≥ exp(−m)·(1 − (L − m)).
 */
function leastOverPads(
  { mean, cov: { size } }: AxleState,
  limitMm: number,
  states: Float64Array,
  distinct: number,
): Float64Array {
  const pads = size / 2;
  const least = new Float64Array(distinct).fill(Infinity);
  const usual = (p: number) => (valueAt(mean, pads + p) - limitMm) / Math.exp(valueAt(mean, p));
  const order = Array.from({ length: pads }, (_, p) => p).sort((a, b) => usual(a) - usual(b));
  for (const p of order) {
    const middle = valueAt(mean, p);
    const perMm = BELOW * Math.exp(-middle);
    for (let i = 0; i < distinct; i += 1) {
      const left = valueAt(states, (pads + p) * distinct + i) - limitMm;
      const logRate = valueAt(states, p * distinct + i);
      const first = valueAt(least, i);
      if (left > 0 && left * perMm * (1 - (logRate - middle)) > first) continue;
      // What is no number stays none.
      least[i] = Math.min(first, left / Math.exp(logRate));
    }
  }
  return least;
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
