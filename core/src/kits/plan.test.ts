import { describe, expect, it } from '@jest/globals';
import jstat from 'jstat';
import type { KitNeed } from './kit.ts';
import { demandAhead, keyOf, type AxleAhead, type DemandAsked } from './plan.ts';

const need = (kind: KitNeed['kind'], part: string, units: number): KitNeed => ({
  kind,
  axle: 1,
  side: 'both',
  pieces: units,
  options: [{ part, units }],
  order: { part, units },
});
const kits = new Map([
  [
    'front',
    { needs: [need('brake pad', 'pads', 1), need('caliper', 'caliper', 2)], chances: { caliper: { a: 1, b: 9 } } },
  ],
]);
const booked = (day: number, over: Partial<AxleAhead> = {}): AxleAhead => ({
  depot: 'mere',
  kit: 'front',
  when: { day, booked: true },
  passage: [],
  ...over,
});
const asked = (axles: AxleAhead[], over: Partial<DemandAsked> = {}) =>
  demandAhead({
    axles,
    kits,
    leadDays: new Map([['pads', 6]]),
    positions: new Map(),
    service: 0.95,
    weeks: 26,
    ...over,
  });
const of = (part: string, ...rest: Parameters<typeof asked>) => {
  const found = asked(...rest).find((one) => one.part === part);
  if (!found) throw new Error(`no demand of ${part}`);
  return found;
};

describe('demand ahead', () => {
  it('of booked work falls into its week, whole', () => {
    const { weeks } = of('pads', [booked(0), booked(6), booked(7), booked(200)]);
    expect(weeks.slice(0, 3)).toEqual([
      { mean: 2, p05: 2, p50: 2, p95: 2 },
      { mean: 1, p05: 1, p50: 1, p95: 1 },
      { mean: 0, p05: 0, p50: 0, p95: 0 },
    ]);
  });

  it('over the lead time counts the day of review: six days and one', () => {
    expect(of('pads', [booked(7), booked(8)])).toMatchObject({ lead: { mean: 1, days: 7 }, point: 1 });
  });

  it('of work that is not booked is spread over the weeks its mark may fall in, and adds up to one', () => {
    const passage = [0.05, 0.25, 0.5, 0.75, 0.95].map((p, i) => ({ p, day: 40 + 10 * i }));
    const { weeks } = of('pads', [booked(60, { when: { day: 60, booked: false }, passage })]);
    expect(weeks.filter(({ mean }) => mean > 0.01).length).toBeGreaterThan(3);
    expect(weeks.reduce((sum, { mean }) => sum + mean, 0)).toBeCloseTo(1, 6);
  });

  it('of a part by chance is thinned by it; of a job that surely takes it, it is not', () => {
    expect(of('caliper', [booked(3)]).weeks[0]?.mean).toBeCloseTo(0.2, 2);
    expect(of('caliper', [booked(3, { sure: ['caliper'] })]).weeks[0]?.mean).toBeCloseTo(2, 9);
  });

  it('of what was taken for its job already is none', () => {
    const { weeks } = of('pads', [booked(3, { taken: ['brake pad'] }), booked(10)]);
    expect(weeks.slice(0, 2).map(({ mean }) => mean)).toEqual([0, 1]);
  });

  it('says until when stock suffices: two sets, the third wanted in the fourth week', () => {
    const axles = [booked(1), booked(9), booked(24)];
    const positions = new Map([[keyOf('mere', 'pads'), 2]]);
    expect(of('pads', axles, { positions }).sufficesUntil).toBe(21);
    expect(of('pads', axles, { positions: new Map([[keyOf('mere', 'pads'), 3]]) }).sufficesUntil).toBeUndefined();
  });

  it('is kept apart by depot', () => {
    const all = asked([booked(1), booked(1, { depot: 'brook' })]).filter(({ part }) => part === 'pads');
    expect(all.map(({ depot, weeks }) => [depot, weeks[0]?.mean])).toEqual([
      ['mere', 1],
      ['brook', 1],
    ]);
  });

  it('refuses a service level that none is', () => {
    expect(() => asked([], { service: 1 })).toThrow('service level');
  });

  it('of a bottle that lasts five jobs is one bottle in five jobs, and never fewer than whole ones', () => {
    const cleaner: KitNeed = {
      ...need('brake cleaner', 'bottle', 1),
      order: { part: 'bottle', units: 1, used: 0.2 },
    };
    const tank: KitNeed = {
      ...need('brake fluid', 'half-litre', 3),
      order: { part: 'half-litre', units: 3, used: 2.5 },
    };
    const own = new Map([['front', { needs: [cleaner, tank], chances: {} }]]);
    const bottles = of(
      'bottle',
      Array.from({ length: 50 }, () => booked(3)),
      { kits: own },
    );
    expect(bottles.weeks[0]?.mean).toBeCloseTo(10, 9);
    // Against the binomial distribution of a general statistics library, n = 50 and p = 0.2.
    const p95 = bottles.weeks[0]?.p95 ?? 0;
    const upTo = (k: number) =>
      Array.from({ length: k + 1 }, (_, i) => jstat.binomial.pdf(i, 50, 0.2)).reduce((a, b) => a + b);
    expect(upTo(p95)).toBeGreaterThanOrEqual(0.95);
    expect(upTo(p95 - 1)).toBeLessThan(0.95);
    expect(bottles.axles).toBe(50);
    const [week] = of('half-litre', [booked(3)], { kits: own }).weeks;
    expect(week).toMatchObject({ mean: 2.5, p05: 2, p95: 3 });
  });
});
