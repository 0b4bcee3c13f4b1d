import { itemAt, valueAt } from '../numeric/index.ts';
import type { DepotPlan, DepotShop } from './search.ts';
import type { Visit } from './visits.ts';

/** A visit as columns are told apart by. */
export const keyOf = ({ vehicle, set, day, outside }: Visit) => `${vehicle}/${set}/${day}/${outside ? 1 : 0}`;

/** Whether a set has more than half of so many axles. */
export function isLarge(set: number, axles: number): boolean {
  let count = 0;
  for (let rest = set; rest > 0; rest &= rest - 1) count += 1;
  return 2 * count > axles;
}

/** The least sum of values of disjoint sets: how far a vehicle's visits could lower the cost together. */
export function leastSplit(values: Float64Array): number {
  const least = new Float64Array(values.length);
  for (let set = 1; set < values.length; set += 1) {
    const lowest = set & -set;
    let best = valueAt(least, set & ~lowest);
    for (let part = set; part > 0; part = (part - 1) & set)
      if (part & lowest) best = Math.min(best, valueAt(values, part) + valueAt(least, set & ~part));
    least[set] = best;
  }
  return valueAt(least, values.length - 1);
}

/** Columns of entries as the solver takes them: compressed, by column. */
export function packed(columns: readonly (readonly [number, number][])[]) {
  const starts = new Int32Array(columns.length + 1);
  let end = 0;
  columns.forEach((entries, i) => {
    end += entries.length;
    starts[i + 1] = end;
  });
  const flat = columns.flat();
  return {
    starts,
    indices: Int32Array.from(flat, ([row]) => row),
    values: Float64Array.from(flat, ([, value]) => value),
  };
}

/** What the solver gave, put into the shop anew: a plan only where it fits. */
export function checkedPlan(shop: DepotShop, visits: Visit[][]): DepotPlan | undefined {
  const load = shop.load();
  for (const [v, own] of visits.entries()) {
    let bits = 0;
    for (const visit of own) {
      const costs = itemAt(shop.vehicles, v);
      if (bits & visit.set || load.costOf(costs, visit) === Infinity) return undefined;
      bits |= visit.set;
      load.put(costs, visit, 1);
    }
  }
  return { visits, cost: shop.costOf(visits, load) };
}
