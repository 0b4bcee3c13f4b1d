import { itemAt } from './linear.ts';
/** Coefficients of Lanczos' approximation (g = 7, 9 terms): relative error under 1e-14 for positive arguments. */
const LANCZOS = [
  0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
  12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
];

/**
 * Logarithm of the gamma function, x > 0.
 *
 * Source: Lanczos, SIAM Journal on Numerical Analysis B 1 (1964); coefficients for g = 7 as commonly printed.
 */
export function logGamma(x: number): number {
  if (!(x > 0)) return Number.NaN;
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x);
  const z = x - 1;
  let sum = itemAt(LANCZOS, 0);
  for (let i = 1; i < LANCZOS.length; i += 1) sum += itemAt(LANCZOS, i) / (z + i);
  const t = z + 7.5;
  return 0.5 * Math.log(2 * Math.PI) + (z + 0.5) * Math.log(t) - t + Math.log(sum);
}

/**
 * Regularised incomplete beta function I_x(a, b), 0 ≤ x ≤ 1, a and b > 0.
 *
 * By its continued fraction, evaluated by Lentz' method, on the side where it converges fast.
 * Source: NIST Digital Library of Mathematical Functions, 8.17.22.
 */
export function regularisedBeta(x: number, a: number, b: number): number {
  if (!(x >= 0 && x <= 1 && a > 0 && b > 0)) return Number.NaN;
  if (x === 0 || x === 1) return x;
  if (x > (a + 1) / (a + b + 2)) return 1 - regularisedBeta(1 - x, b, a);
  const front = Math.exp(
    logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x) - Math.log(a),
  );
  const tiny = 1e-300;
  let c = 1;
  let d = 1 / guarded(1 - ((a + b) * x) / (a + 1), tiny);
  let fraction = d;
  for (let m = 1; m <= 500; m += 1) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / guarded(1 + even * d, tiny);
    c = guarded(1 + even / c, tiny);
    fraction *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / guarded(1 + odd * d, tiny);
    c = guarded(1 + odd / c, tiny);
    const factor = d * c;
    fraction *= factor;
    if (Math.abs(factor - 1) < 1e-15) break;
  }
  return front * fraction;
}

function guarded(value: number, tiny: number): number {
  return Math.abs(value) < tiny ? tiny : value;
}

/**
 * P(F > f) of the F distribution with d1 and d2 degrees of freedom: I_{d2/(d2 + d1·f)}(d2/2, d1/2).
 * Source: Abramowitz & Stegun, Handbook of Mathematical Functions, 26.6.2.
 *
 * @example fUpperTail(4.256, 2, 9) ≈ 0.05 (their table 26.9: 4.26)
 */
export function fUpperTail(f: number, d1: number, d2: number): number {
  if (f <= 0) return 1;
  return regularisedBeta(d2 / (d2 + d1 * f), d2 / 2, d1 / 2);
}

/** Halves an interval until a rising function reaches a value; 200 halvings are more than a double can tell apart. */
function solveRising(value: number, of: (x: number) => number, low: number, high: number): number {
  let [from, to] = [low, high];
  for (let i = 0; i < 200 && to - from > 1e-15 * to; i += 1) {
    const middle = (from + to) / 2;
    if (of(middle) < value) from = middle;
    else to = middle;
  }
  return (from + to) / 2;
}

/**
 * The x of 0 … 1 below which a share p of the beta distribution lies, by halving. NaN for p outside 0 … 1.
 *
 * @param p share, 0 to 1
 */
export function betaQuantile(p: number, a: number, b: number): number {
  if (!(p >= 0 && p <= 1 && a > 0 && b > 0)) return Number.NaN;
  return solveRising(p, (x) => regularisedBeta(x, a, b), 0, 1);
}

/**
 * Quantile of Student's t with any positive degrees of freedom: by P(|T| > t) = I_{ν/(ν + t²)}(ν/2, 1/2).
 * Source: Abramowitz & Stegun, Handbook of Mathematical Functions, 26.7.1.
 *
 * @example studentQuantile(0.95, 10) ≈ 1.812 (their table 26.10)
 */
export function studentQuantile(p: number, df: number): number {
  if (!(p > 0 && p < 1 && df > 0)) return Number.NaN;
  if (p < 0.5) return -studentQuantile(1 - p, df);
  // P(|T| ≤ t) as a beta of t²/(ν + t²), which rises with t.
  const x = betaQuantile(2 * p - 1, 0.5, df / 2);
  return Math.sqrt((df * x) / (1 - x));
}
