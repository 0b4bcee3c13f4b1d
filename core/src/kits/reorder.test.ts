import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import jstat from 'jstat';
import { chanceOfUse, meanChance } from './chance.ts';
import { economicQuantity, fillRate, orderQuantity, reorderPoint, type Terms } from './reorder.ts';

/** A normal demand, cut into whole units. */
function normalDemand(mean: number, sd: number): Float64Array {
  const most = Math.ceil(mean + 8 * sd);
  return Float64Array.from(
    { length: most + 1 },
    (_, k) => jstat.normal.cdf(k + 0.5, mean, sd) - (k === 0 ? 0 : jstat.normal.cdf(k - 0.5, mean, sd)),
  );
}

describe('against a textbook: S. Nahmias, Production and Operations Analysis (figures from memory)', () => {
  it('3,120 pencils a year at 2 cents, $12 an order, 25 % a year: 3,870 at a time', () => {
    expect(economicQuantity(3120, 12, 0.25 * 0.02)).toBeCloseTo(3870, -1);
  });

  it('200 jars a year at $10, $50 an order, 20 % a year: 100 at a time', () => {
    expect(economicQuantity(200, 50, 0.2 * 10)).toBeCloseTo(100, 6);
  });

  it('a lead time of 100 ± 25 jars: from 151 on for 98 % of cycles; from 126 on for 98 % of jars', () => {
    const demand = normalDemand(100, 25);
    expect(Math.abs(reorderPoint(demand, 0.98) - 151)).toBeLessThanOrEqual(1);
    expect(fillRate(demand, 126, 100)).toBeCloseTo(0.98, 2);
    expect(fillRate(demand, 100, 100)).toBeCloseTo(1 - (25 * 0.3989) / 100, 3);
  });
});

describe('how many to order', () => {
  const TERMS: Terms = {
    price: 10,
    orderCost: 50,
    holdingShare: 0.2,
    pack: 1,
    least: 1,
    shelfDays: undefined,
    budget: undefined,
  };
  const want = { position: 0, point: 10, perYear: 200 };
  const codes = (terms: Partial<Terms>, asked = want) => {
    const { units, why } = orderQuantity(asked, { ...TERMS, ...terms });
    return { units, codes: why.map(({ code }) => code) };
  };

  it('none while stock and orders suffice', () => {
    expect(codes({}, { ...want, position: 10 })).toEqual({ units: 0, codes: [] });
    expect(codes({}, { ...want, position: 9 }).units).toBeGreaterThan(0);
  });

  it('none of what nobody needs', () => {
    expect(codes({}, { position: 0, point: 0, perYear: 0 })).toEqual({ units: 0, codes: [] });
  });

  it('the economic quantity, in packs of twelve', () => {
    expect(codes({ pack: 12 })).toEqual({ units: 108, codes: ['economic', 'pack'] });
  });

  it('no more than is used before it expires: a tenth of a year’s use', () => {
    expect(codes({ shelfDays: 36.525 })).toEqual({ units: 20, codes: ['economic', 'shelf life'] });
  });

  it('as much as lifts it over the point, and never less than the supplier sends', () => {
    expect(codes({ orderCost: 0.01 }, { ...want, point: 30 }).codes).toContain('to the reorder point');
    expect(codes({ orderCost: 0.01, least: 25 })).toMatchObject({ units: 25 });
  });

  it('what the budget leaves, in whole packs', () => {
    expect(codes({ pack: 12, budget: 500 })).toEqual({ units: 48, codes: ['economic', 'pack', 'budget'] });
    expect(codes({ pack: 12, budget: 100 })).toMatchObject({ units: 0 });
  });

  it('always whole packs within the budget, whatever the terms', () => {
    fc.assert(
      fc.property(
        fc.record({
          price: fc.double({ min: 0.01, max: 900, noNaN: true }),
          orderCost: fc.double({ min: 0, max: 200, noNaN: true }),
          pack: fc.integer({ min: 1, max: 24 }),
          least: fc.integer({ min: 1, max: 40 }),
          shelfDays: fc.option(fc.integer({ min: 1, max: 2000 }), { nil: undefined }),
          budget: fc.option(fc.double({ min: 0, max: 5000, noNaN: true }), { nil: undefined }),
        }),
        fc.record({
          position: fc.integer({ min: -5, max: 40 }),
          point: fc.integer({ min: 0, max: 40 }),
          perYear: fc.double({ min: 0, max: 500, noNaN: true }),
        }),
        (terms, asked) => {
          const { units } = orderQuantity(asked, { ...TERMS, ...terms });
          expect(units % terms.pack).toBe(0);
          if (terms.budget !== undefined) expect(units * terms.price).toBeLessThanOrEqual(terms.budget + 1e-6);
          else if (asked.position < asked.point) expect(asked.position + units).toBeGreaterThanOrEqual(asked.point);
        },
      ),
    );
  });

  it('refuses a pack of nothing and a price of nought', () => {
    expect(() => orderQuantity(want, { ...TERMS, pack: 0 })).toThrow('pack');
    expect(() => orderQuantity(want, { ...TERMS, price: 0 })).toThrow('price');
    expect(() => economicQuantity(10, 5, 0)).toThrow('holding');
  });
});

describe('the chance that a job takes a part', () => {
  it('stands at what is usual before any job told', () => {
    expect(meanChance(chanceOfUse(0.06, { jobs: 0, took: 0 }, { jobs: 0, took: 0 }))).toBeCloseTo(0.06, 9);
  });

  it('comes to what a model’s own many jobs show, whatever the fleet does', () => {
    const found = chanceOfUse(0.06, { jobs: 400, took: 120 }, { jobs: 5000, took: 150 });
    expect(meanChance(found)).toBeCloseTo(0.3, 1);
  });

  it('of a model without jobs is the fleet’s, and less sure than the fleet’s many jobs would make it', () => {
    const found = chanceOfUse(0.06, { jobs: 0, took: 0 }, { jobs: 2000, took: 400 });
    expect(meanChance(found)).toBeCloseTo(0.2, 2);
    expect(found.a + found.b).toBeLessThan(20);
  });

  it('is beta-binomial: prior and jobs add up (by hand: (0.2·10 + 3) ÷ (10 + 5))', () => {
    const found = chanceOfUse(0.2, { jobs: 5, took: 3 }, { jobs: 5, took: 3 });
    expect(found).toEqual({ a: 5, b: 10 });
  });

  it('refuses more taken than jobs', () => {
    expect(() => chanceOfUse(0.1, { jobs: 2, took: 3 }, { jobs: 5, took: 3 })).toThrow('3 of 2');
  });
});
