import { itemAt } from '../numeric/index.ts';
/** What a service costs, in any one unit: planned, and when the pads have worn below the limit first. */
export interface ServiceCosts {
  planned: number;
  failure: number;
}

/** When it is cheapest to replace, in the unit of money of the costs. */
export interface AgeReplacement {
  /** Miles from now at which the cost per mile is least; the last life where waiting never costs more. */
  milesFromNow: number;
  costPerMile: number;
  /** Whether it pays to wait for failure: no mileage before the last life is cheaper. */
  runsOut: boolean;
}

/**
 * Age replacement on a forecast distribution: the mileage t that minimises
 *
 *     (planned × P(T > t) + failure × P(T ≤ t)) ÷ (driven so far + E[min(T, t)])
 *
 * over the draws of the life T that is left. Costs are of one unit of money; a failure that costs no more than a
 * planned service is never worth preventing. Source: Barlow & Proschan, Mathematical Theory of Reliability (1965), §4.2.
 *
 * @param lives draws of the miles left, sorted ascending; those below 0 count as 0
 * @param drivenMi miles that the present pads have done, ≥ 0
 */
export function ageReplacement(
  lives: ArrayLike<number>,
  drivenMi: number,
  { planned, failure }: ServiceCosts,
): AgeReplacement {
  const n = lives.length;
  let best: AgeReplacement = { milesFromNow: 0, costPerMile: Infinity, runsOut: false };
  let [below, sum] = [0, 0];
  for (let i = 0; i <= n; i += 1) {
    // Just before the i-th life ends: i lives have ended, the others have driven as far as it will.
    const t = Math.max(0, i < n ? itemAt(lives, i) : itemAt(lives, n - 1));
    const failed = below / n;
    const miles = drivenMi + (sum + (n - below) * t) / n;
    const costPerMile = miles > 0 ? (planned * (1 - failed) + failure * failed) / miles : Infinity;
    if (costPerMile <= best.costPerMile) best = { milesFromNow: t, costPerMile, runsOut: i >= n };
    if (i < n) {
      below += 1;
      sum += t;
    }
  }
  return best;
}
