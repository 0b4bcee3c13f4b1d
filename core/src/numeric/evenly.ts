import { itemAt } from './linear.ts';

/**
 * So many of a list's items, evenly taken and in their order; all of them where they are no more.
 *
 * @param most ≥ 1
 */
export function evenly<T>(items: readonly T[], most: number): T[] {
  const count = Math.min(items.length, most);
  return Array.from({ length: count }, (_, k) => itemAt(items, Math.floor((k * items.length) / count)));
}
