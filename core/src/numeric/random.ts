import { itemAt } from './linear.ts';
import { normalQuantile } from './normal.ts';

/** A source of uniform numbers in [0, 1). */
export type Random = () => number;

/**
 * A seeded source of uniform numbers (xoshiro128** of Blackman and Vigna, 2018, seeded by splitmix32):
 * the same seed gives the same numbers on every machine.
 */
export function seededRandom(seed: number): Random {
  let mix = seed >>> 0;
  const next32 = () => {
    mix = (mix + 0x9e3779b9) >>> 0;
    let z = mix;
    z = Math.imul(z ^ (z >>> 16), 0x85ebca6b);
    z = Math.imul(z ^ (z >>> 13), 0xc2b2ae35);
    return (z ^ (z >>> 16)) >>> 0;
  };
  const s = new Uint32Array([next32(), next32(), next32(), next32()]);
  const at = (index: number) => itemAt(s, index);
  const rotate = (x: number, k: number) => ((x << k) | (x >>> (32 - k))) >>> 0;
  return () => {
    const result = Math.imul(rotate(Math.imul(at(1), 5) >>> 0, 7), 9) >>> 0;
    const t = (at(1) << 9) >>> 0;
    s[2] = at(2) ^ at(0);
    s[3] = at(3) ^ at(1);
    s[1] = at(1) ^ at(2);
    s[0] = at(0) ^ at(3);
    s[2] = at(2) ^ t;
    s[3] = rotate(at(3), 11);
    return result / 4294967296;
  };
}

/** A standard normal variate, by inversion of one uniform number (never exactly 0 or 1). */
export function randomNormal(random: Random): number {
  return normalQuantile((Math.floor(random() * 4294967295) + 0.5) / 4294967296);
}

/**
 * Standard normal draws by Latin hypercube sampling: each of the dimensions is cut into `count` equally
 * likely strata, each used once, in an order shuffled by the seed. Quantiles of smooth functions of the
 * draws scatter far less than with independent draws. Source: McKay, Beckman & Conover, Technometrics 21 (1979).
 *
 * @returns row-major, `count` × `dimensions`
 */
export function latinNormals(count: number, dimensions: number, seed: number): Float64Array {
  const random = seededRandom(seed);
  const draws = new Float64Array(count * dimensions);
  const order = new Uint32Array(count);
  for (let d = 0; d < dimensions; d += 1) {
    for (let i = 0; i < count; i += 1) order[i] = i;
    for (let i = count - 1; i > 0; i -= 1) {
      const j = Math.floor(random() * (i + 1));
      const held = itemAt(order, i);
      order[i] = itemAt(order, j);
      order[j] = held;
    }
    for (let i = 0; i < count; i += 1) {
      draws[i * dimensions + d] = normalQuantile((itemAt(order, i) + 0.5) / count);
    }
  }
  return draws;
}

/** A copy in random order (Fisher and Yates' shuffle); each order is equally likely. */
export function shuffled<T>(items: readonly T[], random: Random): T[] {
  const copy = [...items];
  for (let i = copy.length - 1; i > 0; i -= 1) {
    const j = Math.floor(random() * (i + 1));
    [copy[i], copy[j]] = [copy[j] as T, copy[i] as T];
  }
  return copy;
}
