import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { brokenCut, CutsOfDays, overtimeIn, weightIn } from './cuts.ts';

const hours = fc.double({ min: 0.5, max: 8, noNaN: true });

describe('a cut of a day’s hours', () => {
  it('cuts off the fractional day it was made for, and no whole one', () =>
    fc.assert(
      fc.property(
        fc.array(fc.record({ hours, share: fc.double({ min: 0.05, max: 1, noNaN: true }) }), {
          minLength: 1,
          maxLength: 6,
        }),
        fc.double({ min: 1, max: 20, noNaN: true }),
        fc.double({ min: 0, max: 3, noNaN: true }),
        (parts, there, overtime) => {
          const cut = brokenCut(there, parts, overtime);
          if (!cut) return;
          const left = (shares: readonly number[]) =>
            parts.reduce((sum, one, i) => sum + (shares[i] ?? 0) * weightIn(cut, one.hours), 0);
          expect(left(parts.map(({ share }) => share)) - overtime * overtimeIn(cut)).toBeGreaterThan(cut.most);
          // Every choice of whole visits with the least overtime that it needs.
          for (let chosen = 0; chosen < 1 << parts.length; chosen += 1) {
            const shares = parts.map((_one, i) => (chosen >> i) & 1);
            const asked = parts.reduce((sum, one, i) => sum + (shares[i] ?? 0) * one.hours, 0);
            const needed = Math.max(0, asked - there);
            expect(left(shares) - needed * overtimeIn(cut)).toBeLessThanOrEqual(cut.most + 1e-6);
          }
        },
      ),
      { numRuns: 2000 },
    ));

  it('is there for days that parts of visits fill to the minute', () => {
    // Two and a half visits of 3 h in 7.5 h: two is all there is room for.
    const cut = brokenCut(7.5, [{ hours: 3, share: 2.5 }], 0);
    expect(cut).toMatchObject({ delta: 3, most: 2 });
    expect(brokenCut(6, [{ hours: 3, share: 2 }], 0)).toBeUndefined();
  });

  it('is asked of visits of its own day, by the price of its row', () => {
    const cuts = new CutsOfDays(3);
    const cut = { delta: 3, f: 0.5, most: 2 };
    cuts.add(1, cut, 7);
    const duals = Float64Array.from({ length: 8 }, (_, i) => (i === 7 ? -40 : 0));
    expect(cuts.entries(1, 3)).toEqual([[7, 1]]);
    expect(cuts.entries(0, 3)).toEqual([]);
    expect(cuts.price(1, 3, duals)).toBe(-40);
    expect(cuts.price(2, 3, duals)).toBe(0);
    // 1.4 h of 3 are under the remainder and count nothing; 2.25 h count half a visit.
    expect(cuts.entries(1, 1.4)).toEqual([]);
    expect(weightIn(cut, 2.25)).toBeCloseTo(0.5, 12);
  });
});
