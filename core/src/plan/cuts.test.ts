import { describe, expect, it } from '@jest/globals';
import loadTyped from 'highs';
import fc from 'fast-check';
import { brokenCuts, hoursCuts, overtimeIn, weightIn } from './cuts.ts';
import { DayCuts, type DayBounds, type DayCut, type DayPart } from './dayCuts.ts';
import { patternCut } from './patternCuts.ts';

const highs = await (loadTyped as unknown as typeof loadTyped.default)();

const hours = fc.double({ min: 0.5, max: 8, noNaN: true });
const share = fc.double({ min: 0.05, max: 1, noNaN: true });
const part = fc
  .record({
    hours,
    certified: fc.double({ min: 0, max: 1, noNaN: true }),
    bay: fc.constantFrom('light', 'heavy'),
    share,
  })
  .map(({ certified, ...own }): DayPart => ({
    ...own,
    certifiedHours: own.bay === 'heavy' ? certified * own.hours : 0,
  }));
const some = (most: number) => fc.double({ min: 0.5, max: most, noNaN: true });
const bounds = fc
  .record({ technician: some(12), certified: some(8), light: some(10), heavy: some(10), overtime: some(4) })
  .map(({ technician, certified, light, heavy, overtime }): DayBounds => ({
    technician,
    certified,
    bays: new Map([
      ['light', light],
      ['heavy', heavy],
    ]),
    overtime,
  }));

/** The overtime that whole visits need on a day, worked out resource by resource. */
function overtimeOf(there: DayBounds, visits: readonly DayPart[]): number {
  const sum = (of: (one: DayPart) => number) => visits.reduce((all, one) => all + of(one), 0);
  return Math.max(
    0,
    sum((one) => one.hours) - there.technician,
    sum((one) => one.certifiedHours) - there.certified,
    ...[...there.bays].map(([kind, own]) => sum((one) => (one.bay === kind ? one.hours : 0)) - own),
  );
}

/** By how much whole visits with the least overtime they need break a cut; what no day holds breaks nothing. */
function broken(cut: DayCut, there: DayBounds, visits: readonly DayPart[]): number {
  const needed = overtimeOf(there, visits);
  if (needed > there.overtime) return 0;
  return visits.reduce((sum, one) => sum + cut.weight(one.bay, one), 0) - cut.overtime * needed - cut.most;
}

const choices = (parts: readonly DayPart[]): DayPart[][] =>
  Array.from({ length: 1 << parts.length }, (_, chosen) => parts.filter((_one, i) => (chosen >> i) & 1));

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
          const [cut] = brokenCuts(there, 24, parts, overtime);
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
    expect(brokenCuts(7.5, 0, [{ hours: 3, share: 2.5 }], 0)).toMatchObject([
      { delta: 3, most: 2 },
      { delta: 3, most: 2, whole: true },
    ]);
    expect(brokenCuts(6, 0, [{ hours: 3, share: 2 }], 0)).toEqual([]);
    // With an hour and a half of overtime it is three, whatever the overtime costs.
    expect(brokenCuts(7.5, 2.5, [{ hours: 3, share: 3.3 }], 2.4)).toMatchObject([{ whole: true, most: 3 }]);
  });

  it('of technicians, certified hours and bays holds for whole visits of any size', () =>
    fc.assert(
      fc.property(
        bounds,
        fc.array(part, { minLength: 1, maxLength: 5 }),
        fc.array(part, { maxLength: 3 }),
        some(2),
        (there, parts, others, overtime) => {
          for (const cut of hoursCuts(there, parts, overtime))
            for (const visits of choices([...parts, ...others])) expect(broken(cut, there, visits)).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 150 },
    ));
});

describe('a cut of what fits into a day', () => {
  it('cuts off the fractional day it was made for, and no day of whole visits, of other sizes too', () => {
    let made = 0;
    fc.assert(
      fc.property(
        bounds,
        fc.array(part, { minLength: 1, maxLength: 5 }),
        fc.array(part, { maxLength: 3 }),
        (there, parts, others) => {
          const overtime = Math.min(
            there.overtime,
            overtimeOf(
              there,
              parts.map((one) => ({
                ...one,
                hours: one.hours * one.share,
                certifiedHours: one.certifiedHours * one.share,
              })),
            ),
          );
          const cut = patternCut(highs, there, parts, overtime);
          if (!cut) return;
          made += 1;
          const left = parts.reduce((sum, one) => sum + one.share * cut.weight(one.bay, one), 0);
          expect(left - cut.overtime * overtime).toBeGreaterThan(cut.most);
          for (const visits of choices([...parts, ...others])) expect(broken(cut, there, visits)).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 200 },
    );
    expect(made).toBeGreaterThan(40);
  });

  it('finds none where the parts are a mixture of whole days', () => {
    const there: DayBounds = { technician: 8, certified: 8, bays: new Map([['light', 8]]), overtime: 0 };
    const own = (length: number, of: number): DayPart => ({
      bay: 'light',
      hours: length,
      certifiedHours: 0,
      share: of,
    });
    // Half the days hold 5 and 3 h, the other half two of 4 h.
    expect(patternCut(highs, there, [own(5, 0.5), own(3, 0.5), own(4, 1)], 0)).toBeUndefined();
    // One of 5 h leaves no room for one of 4 h: the two of them are a day at most.
    const cut = patternCut(highs, there, [own(5, 0.8), own(4, 0.8)], 0);
    if (!cut) throw new Error('not cut');
    expect(cut.weight('light', own(5, 1)) + cut.weight('light', own(4, 1))).toBeGreaterThan(cut.most);
    expect(cut.weight('heavy', own(5, 1))).toBe(0);
    // Two parts of the same length are one kind: together they are as much of it.
    const halves = patternCut(highs, there, [own(5, 0.4), own(4, 0.8), own(5, 0.4)], 0);
    if (!halves) throw new Error('not cut');
    expect(halves.most).toBeCloseTo(cut.most, 9);
    for (const length of [4, 5])
      expect(halves.weight('light', own(length, 1))).toBeCloseTo(cut.weight('light', own(length, 1)), 9);
    const seldom = patternCut(highs, there, [own(5, 0.3), own(4, 0.4), own(5, 0.3)], 0);
    expect(seldom).toBeUndefined();
  });
});

describe('the cuts of a depot’s days', () => {
  const cut = (weight: number): DayCut => ({ weight: () => weight, overtime: 1, most: 1 });
  const use = { hours: 3, certifiedHours: 0 };

  it('are asked of visits of their own day, by the price of their row', () => {
    const cuts = new DayCuts(3, 7);
    cuts.add(1, cut(1));
    const priceOf = cuts.prices(Float64Array.from({ length: 8 }, (_, i) => (i === 7 ? -40 : 0)));
    expect(cuts.entries(1, 'light', use)).toEqual([[7, 1]]);
    expect(cuts.entries(0, 'light', use)).toEqual([]);
    expect(priceOf(1, 'light', use)).toBe(-40);
    expect(priceOf(2, 'light', use)).toBe(0);
  });

  it('are forgotten when they rested for three rounds, and the others move up', () => {
    const cuts = new DayCuts(2, 5);
    for (const weight of [1, 2, 3]) cuts.add(weight % 2, cut(weight));
    const rests = (row: number) => row === 6;
    expect(cuts.dropIdle(rests)).toEqual([]);
    expect(cuts.dropIdle(() => false)).toEqual([]);
    for (let round = 0; round < 2; round += 1) expect(cuts.dropIdle(rests)).toEqual([]);
    expect(cuts.dropIdle(rests)).toEqual([6]);
    expect(cuts.rowCount).toBe(7);
    expect(cuts.entries(1, 'light', use)).toEqual([
      [5, 1],
      [6, 3],
    ]);
    expect(cuts.entries(0, 'light', use)).toEqual([]);
  });
});
