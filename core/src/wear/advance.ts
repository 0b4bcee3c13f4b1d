import { valueAt } from '../numeric/index.ts';
import type { WearNoise } from './types.ts';
import type { WearState } from './state.ts';

/** A stretch of driving. */
export interface Stretch {
  /** Duty-weighted miles. */
  weightedMiles: number;
  /** The same of single axles, where they differ. */
  byAxle?: Record<number, number> | undefined;
  miles: number;
  days: number;
}

const DAYS_PER_PERIOD = 28;

/**
 * Carries the state over a stretch of driving, with the exact moments of lognormal wear:
 * with ΔE in thousands of duty-weighted miles and C = Cov(L),
 *
 *     G_p = exp(L_p + C_pp/2)·ΔE;   x_p −= G_p;   Cov(L_q, x_p) −= C_qp·G_p
 *     Cov(x_q, x_p) += −Cov(x_q, L_p)·G_p − Cov(x_p, L_q)·G_q + G_q·G_p·(e^{C_qp} − 1)
 *                      + τ²/n·G_q·G_p·e^{C_qp} + δ_pq·φ²/M·G_p²·e^{C_pp}
 *
 * with n periods of 28 days and M thousand miles in the stretch; right-appraiser sides are values from before.
 */
export function advance(state: WearState, stretch: Stretch, noise: WearNoise): void {
  if (stretch.weightedMiles <= 0) return;
  const { size, data } = state.cov;
  const count = state.places.length;
  const periods = Math.max(1, stretch.days / DAYS_PER_PERIOD);
  const common = noise.perPeriod ** 2 / periods;
  const own = noise.perPad ** 2 / Math.max(0.1, stretch.miles / 1000);

  const wear = new Float64Array(count);
  for (let p = 0; p < count; p += 1) {
    const exposure = (stretch.byAxle?.[state.places[p]?.axle ?? 0] ?? stretch.weightedMiles) / 1000;
    wear[p] = Math.exp(valueAt(state.mean, p) + valueAt(data, p * size + p) / 2) * exposure;
  }
  // Covariances among thicknesses first: they need Cov(x, L) from before the step.
  for (let p = 0; p < count; p += 1) {
    for (let q = p; q < count; q += 1) {
      const c = valueAt(data, q * size + p);
      const gp = valueAt(wear, p);
      const gq = valueAt(wear, q);
      const growth = Math.exp(c);
      let change =
        -valueAt(data, (count + q) * size + p) * gp -
        valueAt(data, (count + p) * size + q) * gq +
        gq * gp * (growth - 1 + common * growth);
      if (p === q) change += own * gp * gp * growth;
      data[(count + q) * size + count + p] = valueAt(data, (count + q) * size + count + p) + change;
      if (p !== q) data[(count + p) * size + count + q] = valueAt(data, (count + q) * size + count + p);
    }
  }
  for (let p = 0; p < count; p += 1) {
    const gp = valueAt(wear, p);
    for (let q = 0; q < count; q += 1) {
      const moved = valueAt(data, q * size + count + p) - valueAt(data, q * size + p) * gp;
      data[q * size + count + p] = moved;
      data[(count + p) * size + q] = moved;
    }
    // A bias is independent of wear, but not of the rate once readings have tied them.
    for (let k = 2 * count; k < size; k += 1) {
      const moved = valueAt(data, k * size + count + p) - valueAt(data, k * size + p) * gp;
      data[k * size + count + p] = moved;
      data[(count + p) * size + k] = moved;
    }
    state.mean[count + p] = valueAt(state.mean, count + p) - gp;
  }
}
