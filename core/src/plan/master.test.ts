import { describe, expect, it } from '@jest/globals';
import loadTyped from 'highs';
import { crowded } from './crowded.ts';
import { planDepot, type PlanProblem } from './index.ts';
import { Master } from './master.ts';
import { DepotShop, firstPlan } from './search.ts';

const highs = await (loadTyped as unknown as typeof loadTyped.default)();

function shopOf(problem: PlanProblem): DepotShop {
  const [depot] = problem.depots;
  if (!depot) throw new Error('no depot');
  return new DepotShop(problem, depot);
}

describe('the linear programme of a depot', () => {
  it.each([1, 2, 3, 4])(
    'ends where no visit there could be lowers it, rises with each cut, and stays under the best plan (shop %i)',
    async (seed) => {
      const problem = crowded(seed);
      const shop = shopOf(problem);
      const master = new Master(highs, shop, firstPlan(shop));
      const ends: number[] = [];
      let cuts = 0;
      try {
        for (let round = 0; round < 400; round += 1) {
          const { objective, duals } = master.solve();
          const { entering, below } = master.price(duals);
          // What the solver has in its basis costs it nothing more: prices told otherwise are not the model's.
          const priced = master.columns.length;
          if (entering.length > 0) {
            master.add(entering);
            // A visit that was in the model already, and is said to lower it still, would come in for ever.
            expect(master.columns.length).toBe(priced + entering.length);
            continue;
          }
          expect(below).toBeGreaterThan(-1e-3);
          ends.push(objective);
          const added = master.cut();
          if (added === 0) break;
          cuts += added;
        }
      } finally {
        master.dispose();
      }
      expect(cuts).toBeGreaterThan(20);
      ends.forEach((objective, i) => {
        if (i > 0) expect(objective).toBeGreaterThan((ends[i - 1] ?? 0) - 1);
      });
      const { cost } = await planDepot(problem, 'depot 0', {
        seconds: 1000,
        gap: 1e-6,
        now: () => 0,
        seed: 7,
        few: Infinity,
      });
      const last = ends.at(-1) ?? Infinity;
      expect(last).toBeGreaterThan(ends[0] ?? Infinity);
      expect(last).toBeLessThanOrEqual(cost + 1e-4);
    },
  );
});
