import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import jstat from 'jstat';
import {
  addNeed,
  averaged,
  chancePoints,
  demandDistribution,
  expectedShort,
  meanUnits,
  thinnedDistribution,
  unitsFor,
  workedBy,
  type Need,
} from './demand.ts';

const probabilities = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 1, maxLength: 10 });

describe('how many units are needed', () => {
  it.each([
    [12, 0.3],
    [40, 0.07],
    [200, 0.5],
    [700, 0.004],
  ])('is binomial where %i chances are all %f (jStat 1.9)', (n, p) => {
    const found = demandDistribution(Array.from({ length: n }, () => ({ probability: p, units: 1 })));
    for (let k = 0; k <= n; k += 1) expect(found[k]).toBeCloseTo(jstat.binomial.pdf(k, n, p), 10);
  });

  it('carries no more of a thousand needs than may come: beyond that the chances together are under one in a billion', () => {
    const chances = new Float64Array(1501);
    chances[0] = 1;
    let most = 0;
    for (let i = 0; i < 1500; i += 1) most = addNeed(chances, most, { probability: 0.002, units: 1 });
    expect(most).toBeLessThan(60);
    expect(1 - jstat.binomial.cdf(most, 1500, 0.002)).toBeLessThan(1e-9);
    expect(chances.reduce((sum, one) => sum + one, 0)).toBeCloseTo(1, 9);
  });

  it('is what counting every outcome gives, whatever the chances and units', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ probability: fc.double({ min: 0, max: 1, noNaN: true }), units: fc.integer({ min: 1, max: 4 }) }),
          {
            maxLength: 8,
          },
        ),
        (needs: Need[]) => {
          const most = needs.reduce((sum, { units }) => sum + units, 0);
          const counted = new Array<number>(most + 1).fill(0);
          for (let outcome = 0; outcome < 2 ** needs.length; outcome += 1) {
            let chance = 1;
            let units = 0;
            needs.forEach((need, i) => {
              const comes = ((outcome >> i) & 1) === 1;
              chance *= comes ? need.probability : 1 - need.probability;
              if (comes) units += need.units;
            });
            counted[units] = (counted[units] ?? 0) + chance;
          }
          const found = demandDistribution(needs);
          counted.forEach((chance, k) => expect(found[k] ?? 0).toBeCloseTo(chance, 5));
        },
      ),
    );
  });

  it('has the mean of its parts, and all of its chances together are one', () => {
    fc.assert(
      fc.property(probabilities, (all) => {
        const found = demandDistribution(all.map((probability) => ({ probability, units: 3 })));
        expect(meanUnits(found)).toBeCloseTo(3 * all.reduce((sum, p) => sum + p, 0), 4);
        expect(found.reduce((sum, chance) => sum + chance, 0)).toBeCloseTo(1, 9);
      }),
    );
  });

  it.each([
    [{ probability: 1.1, units: 1 }, 'no probability'],
    [{ probability: NaN, units: 1 }, 'no probability'],
    [{ probability: 0.5, units: 0 }, 'no number of units'],
    [{ probability: 0.5, units: 1.5 }, 'no number of units'],
  ])('refuses %j', (need, why) => {
    expect(() => demandDistribution([need])).toThrow(why);
  });

  it('suffices with the chance asked for, and one unit less would not', () => {
    fc.assert(
      fc.property(probabilities, fc.double({ min: 0.5, max: 0.999, noNaN: true }), (all, chance) => {
        const found = demandDistribution(all.map((probability) => ({ probability, units: 1 })));
        const units = unitsFor(found, chance);
        const upTo = (k: number) => found.slice(0, k + 1).reduce((sum, one) => sum + one, 0);
        expect(upTo(units)).toBeGreaterThan(chance - 1e-8);
        if (units > 0) expect(upTo(units - 1)).toBeLessThan(chance);
      }),
    );
  });

  it('is short by what comes over what is there: of a fair coin and one unit, a quarter of two coins', () => {
    const two = demandDistribution([
      { probability: 0.5, units: 1 },
      { probability: 0.5, units: 1 },
    ]);
    expect(expectedShort(two, 0)).toBeCloseTo(1, 12);
    expect(expectedShort(two, 1)).toBeCloseTo(0.25, 12);
    expect(expectedShort(two, 2)).toBe(0);
  });
});

describe('a part that only some jobs take', () => {
  const jobs = (n: number): Need[] => Array.from({ length: n }, () => ({ probability: 1, units: 1 }));

  it('comes to the beta-binomial, whose mean and variance are known (closed form)', () => {
    const [a, b, n] = [3, 9, 25];
    const found = thinnedDistribution(jobs(n), { a, b });
    const mean = meanUnits(found);
    const variance = found.reduce((sum, chance, k) => sum + (k - mean) ** 2 * chance, 0);
    expect(mean).toBeCloseTo((n * a) / (a + b), 1);
    // n·a·b·(a+b+n) ÷ ((a+b)²·(a+b+1)); equal shares of the chance leave a little of its tails out.
    const exact = (n * a * b * (a + b + n)) / ((a + b) ** 2 * (a + b + 1));
    expect(variance / exact).toBeGreaterThan(0.93);
    expect(variance / exact).toBeLessThan(1.01);
  });

  it('is wider than were the chance known', () => {
    const unsure = thinnedDistribution(jobs(30), { a: 2, b: 8 });
    const known = averaged(jobs(30), [0.2]);
    expect(unitsFor(unsure, 0.95)).toBeGreaterThan(unitsFor(known, 0.95));
  });

  it('a chance that many jobs showed lies close about what they showed', () => {
    for (const point of chancePoints({ a: 300, b: 700 })) expect(Math.abs(point - 0.3)).toBeLessThan(0.05);
  });
});

describe('when the work is done', () => {
  const passage = [
    { p: 0.05, day: 100 },
    { p: 0.25, day: 120 },
    { p: 0.5, day: 140 },
    { p: 0.75, day: 165 },
    { p: 0.95, day: 210 },
  ];

  it('far off, with many looks to come, is when the limit is really reached: the passage itself', () => {
    const by = workedBy({ day: 100, booked: false }, passage, 1e-4);
    expect(by(140)).toBeCloseTo(0.5, 3);
    expect(by(165)).toBeCloseTo(0.75, 3);
  });

  it('is its mark where nobody looks before', () => {
    const never = workedBy({ day: 100, booked: false }, passage, 1e9);
    expect([never(99), never(100)]).toEqual([expect.closeTo(0, 6), expect.closeTo(1, 6)]);
  });

  it('with one look to come moves half way in variance (by hand: about 140 − 40 ÷ √2, by 1 ÷ √2 of the spread)', () => {
    const by = workedBy({ day: 100, booked: false }, passage, 100);
    const lookedBy = (day: number) => 1 - Math.exp(-day / 100);
    const [centre, scale] = [140 - 40 / Math.SQRT2, 1 / Math.SQRT2];
    // A quarter of marks that were looked at come before the quarter of the scaled passage.
    const quarter = centre - 20 * scale;
    expect(by(quarter)).toBeCloseTo(lookedBy(quarter) * 0.25, 6);
    expect(by(centre + 25 * scale)).toBeCloseTo(1 - lookedBy(100) + lookedBy(100) * 0.75, 6);
  });

  it('never grows less likely with time, and ends at one', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -50, max: 900 }), { minLength: 7, maxLength: 7 }),
        fc.integer({ min: -30, max: 500 }),
        (days, mark) => {
          const sorted = [...days].sort((a, b) => a - b);
          const quantiles = [0.05, 0.1, 0.25, 0.5, 0.75, 0.9, 0.95].map((p, i) => ({ p, day: sorted[i] ?? 0 }));
          const by = workedBy({ day: mark, booked: false }, quantiles);
          let before = 0;
          for (let day = 0; day < 3000; day += 7) {
            const now = by(day);
            expect(now).toBeGreaterThanOrEqual(before - 1e-12);
            before = now;
          }
          expect(before).toBe(1);
        },
      ),
    );
  });

  it('is the booked day, whatever the passage says; what is overdue is needed today', () => {
    const by = workedBy({ day: 9, booked: true }, passage);
    expect([by(8), by(9)]).toEqual([0, 1]);
    expect(workedBy({ day: -20, booked: true }, passage)(0)).toBe(1);
    expect(workedBy({ day: -200, booked: false }, passage)(0)).toBe(1);
  });
});
