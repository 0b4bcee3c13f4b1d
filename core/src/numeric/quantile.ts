import { itemAt } from './linear.ts';
/**
 * Quantile of a sorted sample by linear interpolation between order statistics.
 * Source: Hyndman & Fan, The American Statistician 50 (1996), definition 7.
 *
 * @param sorted ascending, at least one value
 * @param p between 0 and 1
 */
export function sortedQuantile(sorted: ArrayLike<number>, p: number): number {
  const position = (sorted.length - 1) * Math.min(1, Math.max(0, p));
  const below = Math.floor(position);
  const low = itemAt(sorted, below);
  const high = itemAt(sorted, Math.min(below + 1, sorted.length - 1));
  return low + (high - low) * (position - below);
}
