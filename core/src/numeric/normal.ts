import { itemAt } from './linear.ts';
const SQRT_2PI = Math.sqrt(2 * Math.PI);

/** Density of the standard normal distribution at z. */
export function normalPdf(z: number): number {
  return Math.exp(-0.5 * z * z) / SQRT_2PI;
}

/**
 * Probability that a standard normal variable is at most z.
 *
 * Near zero by the series Φ(z) = ½ + φ(z)·(z + z³/3 + z⁵/15 + …), in the tails by the continued
 * fraction of Mills' ratio, so that small tail probabilities keep their relative accuracy.
 * Source: Abramowitz & Stegun, Handbook of Mathematical Functions, 26.2.11 and 26.2.14.
 */
export function normalCdf(z: number): number {
  if (Number.isNaN(z)) return Number.NaN;
  return z < 0 ? upperTail(-z) : 1 - upperTail(z);
}

/** P(Z > z) for z ≥ 0. */
function upperTail(z: number): number {
  if (z > 38) return 0;
  if (z < 3) {
    let term = z;
    let sum = z;
    for (let k = 3; Math.abs(term) > 1e-17 * Math.abs(sum); k += 2) {
      term *= (z * z) / k;
      sum += term;
      if (k > 200) break;
    }
    return 0.5 - normalPdf(z) * sum;
  }
  let fraction = 0;
  // Terms that double precision needs fall with z.
  for (let k = z > 8 ? 18 : z > 5 ? 32 : 60; k >= 1; k -= 1) fraction = k / (z + fraction);
  return normalPdf(z) / (z + fraction);
}

/**
 * Probability that a standard normal variable lies between a and b (a ≤ b), without the cancellation
 * of a plain difference where both lie in the same tail.
 */
export function normalInterval(a: number, b: number): number {
  if (a > 0) return upperTail(a) - upperTail(b);
  if (b < 0) return upperTail(-b) - upperTail(-a);
  return 1 - upperTail(b) - upperTail(-a);
}

/**
 * The z below which a standard normal variable falls with probability p (±Infinity at 0 and 1, NaN outside).
 *
 * Source: Wichura, Algorithm AS 241 (PPND16), Applied Statistics 37 (1988): relative error about 1e-16.
 */
export function normalQuantile(p: number): number {
  if (!(p >= 0 && p <= 1)) return Number.NaN;
  const q = p - 0.5;
  if (Math.abs(q) <= 0.425) {
    const r = 0.180625 - q * q;
    return (q * polynomial(CENTRE_OVER, r)) / polynomial(CENTRE_UNDER, r);
  }
  const tail = q < 0 ? p : 1 - p;
  if (tail === 0) return q < 0 ? -Infinity : Infinity;
  const r = Math.sqrt(-Math.log(tail));
  const z =
    r <= 5
      ? polynomial(NEAR_OVER, r - 1.6) / polynomial(NEAR_UNDER, r - 1.6)
      : polynomial(FAR_OVER, r - 5) / polynomial(FAR_UNDER, r - 5);
  return q < 0 ? -z : z;
}

/** Horner's scheme; coefficients from the constant up. */
function polynomial(coefficients: readonly number[], x: number): number {
  let sum = 0;
  for (let i = coefficients.length - 1; i >= 0; i -= 1) sum = sum * x + itemAt(coefficients, i);
  return sum;
}

/* eslint-disable no-loss-of-precision -- the digits are those of the publication */
const CENTRE_OVER = [
  3.387132872796366608, 1.3314166789178437745e2, 1.9715909503065514427e3, 1.3731693765509461125e4,
  4.5921953931549871457e4, 6.7265770927008700853e4, 3.3430575583588128105e4, 2.5090809287301226727e3,
];
const CENTRE_UNDER = [
  1, 4.2313330701600911252e1, 6.871870074920579083e2, 5.3941960214247511077e3, 2.1213794301586595867e4,
  3.930789580009271061e4, 2.8729085735721942674e4, 5.226495278852854561e3,
];
const NEAR_OVER = [
  1.42343711074968357734, 4.6303378461565452959, 5.7694972214606914055, 3.64784832476320460504, 1.27045825245236838258,
  2.4178072517745061177e-1, 2.27238449892691845833e-2, 7.7454501427834140764e-4,
];
const NEAR_UNDER = [
  1, 2.05319162663775882187, 1.6763848301838038494, 6.8976733498510000455e-1, 1.4810397642748007459e-1,
  1.51986665636164571966e-2, 5.475938084995344946e-4, 1.05075007164441684324e-9,
];
const FAR_OVER = [
  6.6579046435011037772, 5.4637849111641143699, 1.7848265399172913358, 2.9656057182850489123e-1,
  2.6532189526576123093e-2, 1.2426609473880784386e-3, 2.71155556874348757815e-5, 2.01033439929228813265e-7,
];
const FAR_UNDER = [
  1, 5.9983220655588793769e-1, 1.3692988092273580531e-1, 1.48753612908506148525e-2, 7.868691311456132591e-4,
  1.8463183175100546818e-5, 1.4215117583164458887e-7, 2.04426310338993978564e-15,
];

/* eslint-enable no-loss-of-precision */

/** Moments of a truncated normal variable, in its own unit. */
export interface TruncatedMoments {
  /** P(a < Z < b) of the untruncated variable. */
  mass: number;
  mean: number;
  variance: number;
}

/**
 * Moments of a normal variable known only to lie between `from` and `to`.
 *
 * Source: Johnson, Kotz & Balakrishnan, Continuous Univariate Distributions 1, §10.1 (doubly truncated
 * normal). Where the interval holds almost nothing of the distribution, the interval's end nearer to the
 * mean and a uniform spread stand in.
 *
 * @param mean mean before truncation, any unit
 * @param sd standard deviation before truncation, same unit, > 0
 */
export function truncatedNormal(mean: number, sd: number, from: number, to: number): TruncatedMoments {
  const a = (from - mean) / sd;
  const b = (to - mean) / sd;
  const mass = normalInterval(a, b);
  const width = b - a;
  if (mass < 1e-280 || width < 1e-4) {
    return { mass, mean: (from + to) / 2, variance: (width * sd) ** 2 / 12 };
  }
  const pdfA = normalPdf(a);
  const pdfB = normalPdf(b);
  const shift = (pdfA - pdfB) / mass;
  const spread = 1 + (a * pdfA - b * pdfB) / mass - shift * shift;
  return { mass, mean: mean + sd * shift, variance: sd * sd * Math.min(1, Math.max(spread, 1e-9)) };
}
