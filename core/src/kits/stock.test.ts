import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import jstat from 'jstat';
import { allocate, type Incoming, type KitJob } from './allocate.ts';
import type { KitNeed, Place } from './kit.ts';
import { bestOffer, kept, lineDoubts, standsIn, transfersFirst, type OpenNeed, type Standing } from './orders.ts';
import type { Part } from './part.ts';
import { receiptFaults } from './receive.ts';
import { costPerMile, partRecord } from './record.ts';
import { takeFrom, type Held } from './stock.ts';

const TODAY = '2026-11-20';

describe('where to take from', () => {
  const held = (bin: string, units: number, expiresOn?: string): Held => ({ bin, lot: bin, expiresOn, units });

  it('first what expires first, never what has expired', () => {
    expect(
      takeFrom(
        [held('a', 2), held('b', 1, '2027-01-01'), held('c', 4, '2026-11-19'), held('d', 1, '2026-12-01')],
        3,
        TODAY,
      ),
    ).toEqual({
      takes: [
        { bin: 'd', lot: 'd', units: 1 },
        { bin: 'b', lot: 'b', units: 1 },
        { bin: 'a', lot: 'a', units: 1 },
      ],
      missing: 0,
    });
  });

  it('is good until the end of its last day', () => {
    expect(takeFrom([held('a', 1, TODAY)], 1, TODAY).missing).toBe(0);
  });

  it('never more than there is, and says what is missing', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -3, max: 6 }), { maxLength: 6 }),
        fc.integer({ min: 1, max: 20 }),
        (bins, units) => {
          const { takes, missing } = takeFrom(
            bins.map((there, i) => held(String(i), there)),
            units,
            TODAY,
          );
          expect(takes.reduce((sum, one) => sum + one.units, 0) + missing).toBe(units);
          for (const one of takes) expect(one.units).toBeLessThanOrEqual(bins[Number(one.bin)] ?? 0);
        },
      ),
    );
  });
});

describe('which job gets what', () => {
  const need = (options: [string, number][], order = options[0]): KitNeed => ({
    kind: 'brake pad',
    axle: 1,
    side: 'both',
    pieces: 4,
    options: options.map(([part, units]) => ({ part, units })),
    order: order && { part: order[0], units: order[1] },
  });
  const job = (id: string, day: string, needs = [need([['pads', 1]])], booked = true): KitJob => ({
    job: id,
    depot: 'mere',
    day,
    booked,
    needs,
  });
  const stock = (units: Record<string, number>) =>
    new Map(Object.entries(units).map(([part, n]) => [`mere/${part}`, n]));
  const told = (jobs: KitJob[], there: Record<string, number>, incoming: Incoming[] = []) =>
    Object.fromEntries(allocate(jobs, stock(there), incoming).map(({ job: id, state, until }) => [id, [state, until]]));
  const comes = (day: string, units = 1, part = 'pads'): Incoming => ({ depot: 'mere', part, units, day });

  it('the one that is wanted first; booked work before work that is only due that day', () => {
    expect(told([job('b', '2026-12-02'), job('a', '2026-12-01')], { pads: 1 })).toEqual({
      a: ['complete', undefined],
      b: ['short', undefined],
    });
    expect(told([job('a', '2026-12-01', undefined, false), job('b', '2026-12-01')], { pads: 1 })).toMatchObject({
      b: ['complete', undefined],
    });
  });

  it('what comes in time counts; what comes late is said with its day', () => {
    expect(told([job('a', '2026-12-01')], {}, [comes('2026-12-01')])).toEqual({ a: ['complete', undefined] });
    expect(told([job('a', '2026-12-01')], {}, [comes('2026-12-04')])).toEqual({ a: ['short', '2026-12-04'] });
  });

  it('what comes first goes to the one that wants it first, in whatever order it was told', () => {
    const jobs = [job('a', '2026-12-01'), job('b', '2026-12-20')];
    for (const incoming of [
      [comes('2026-12-15'), comes('2026-11-30')],
      [comes('2026-11-30'), comes('2026-12-15')],
    ])
      expect(told(jobs, {}, incoming)).toEqual({ a: ['complete', undefined], b: ['complete', undefined] });
    // A job that waits for two waits for the later of them.
    const both = job('c', '2026-12-01', [need([['pads', 1]]), need([['clips', 1]])]);
    expect(told([both], {}, [comes('2026-12-04'), comes('2026-12-09', 1, 'clips')])).toEqual({
      c: ['short', '2026-12-09'],
    });
  });

  it('something else that fits is said to be that', () => {
    const either = [
      need([
        ['pads', 1],
        ['others', 1],
      ]),
    ];
    expect(told([job('a', '2026-12-01', either)], { others: 1 })).toEqual({ a: ['substitutable', undefined] });
  });

  it('without a day where another line is not even on order', () => {
    const both = [need([['pads', 1]]), need([['rotors', 2]])];
    expect(told([job('a', '2026-12-01', both)], {}, [comes('2026-12-04')])).toEqual({ a: ['short', undefined] });
  });

  it('stock of one depot is not another’s', () => {
    expect(allocate([job('a', '2026-12-01')], new Map([['brook/pads', 5]]), [])[0]?.state).toBe('short');
  });

  it('of one bottle five jobs that use a fifth each, and the sixth is short', () => {
    const fifth: KitNeed = {
      ...need([['cleaner', 1]]),
      kind: 'brake cleaner',
      options: [{ part: 'cleaner', units: 1, used: 0.2 }],
      order: { part: 'cleaner', units: 1, used: 0.2 },
    };
    const jobs = Array.from({ length: 6 }, (_, i) => job(`job ${i}`, `2026-12-0${i + 1}`, [fifth]));
    const states = allocate(jobs, stock({ cleaner: 1 }), []);
    expect(states.map(({ state }) => state)).toEqual([...Array<string>(5).fill('complete'), 'short']);
    const coming = [{ depot: 'mere', part: 'cleaner', units: 1, day: '2026-12-02' }];
    expect(allocate(jobs, stock({ cleaner: 1 }), coming).map(({ state }) => state)).not.toContain('short');
  });

  it('never gives more than there is, in any order of jobs, and the order they are named in changes nothing', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ day: fc.integer({ min: 1, max: 28 }), units: fc.integer({ min: 1, max: 3 }) }), {
          maxLength: 9,
        }),
        fc.integer({ min: 0, max: 8 }),
        fc.array(fc.record({ day: fc.integer({ min: 1, max: 28 }), units: fc.integer({ min: 1, max: 3 }) }), {
          maxLength: 4,
        }),
        (wanted, there, arrivals) => {
          const date = (day: number) => `2026-12-${String(day).padStart(2, '0')}`;
          const jobs = wanted.map(({ day, units }, i) => job(`j${i}`, date(day), [need([['pads', units]])]));
          const incoming = arrivals.map(({ day, units }) => comes(date(day), units));
          const states = allocate(jobs, stock({ pads: there }), incoming);
          const given = states.reduce(
            (sum, { needs }) =>
              sum +
              needs.reduce((own, { now, options }) => own + (now.state === 'short' ? 0 : (options[0]?.units ?? 0)), 0),
            0,
          );
          expect(given).toBeLessThanOrEqual(there + arrivals.reduce((sum, { units }) => sum + units, 0));
          const again = allocate([...jobs].reverse(), stock({ pads: there }), incoming);
          expect(new Map(again.map((one) => [one.job, one.state]))).toEqual(
            new Map(states.map((one) => [one.job, one.state])),
          );
        },
      ),
    );
  });
});

describe('orders', () => {
  const at = (depot: string, over: Partial<Standing>): Standing => ({
    depot,
    part: 'pads',
    onHand: 0,
    onOrder: 0,
    point: 2,
    keeps: 4,
    wants: 0,
    ...over,
  });

  it('a depot that has plenty gives before any is bought, and keeps what it needs itself', () => {
    const { transfers, buys } = transfersFirst([at('mere', { wants: 4 }), at('brook', { onHand: 7, point: 2 })]);
    expect(transfers).toEqual([{ part: 'pads', from: 'brook', to: 'mere', units: 2 }]);
    expect(buys).toEqual([]);
  });

  it('what it keeps is twice its reorder point, or what eight weeks take, whichever is more', () => {
    const weeks = Array.from({ length: 26 }, () => ({ mean: 0.3 }));
    expect(kept(1, weeks)).toBe(3);
    expect(kept(4, weeks)).toBe(8);
    expect(kept(0, [])).toBe(0);
  });

  it('what the others can’t spare is bought', () => {
    const { transfers, buys } = transfersFirst([at('mere', { wants: 4 }), at('brook', { onHand: 4, point: 2 })]);
    expect(transfers).toEqual([]);
    expect(buys.map(({ depot }) => depot)).toEqual(['mere']);
  });

  it('from the cheapest that comes in time, or else from the soonest', () => {
    const offer = (supplier: string, price: number, leadDays: number) => ({
      part: 'p',
      supplier,
      price,
      currency: 'USD',
      leadDays,
    });
    const all = [offer('slow', 5, 20), offer('fast', 9, 2), offer('middling', 7, 6)];
    expect(bestOffer(all, 30)?.supplier).toBe('slow');
    expect(bestOffer(all, 10)?.supplier).toBe('middling');
    expect(bestOffer(all, 1)?.supplier).toBe('fast');
    expect(bestOffer([], 9)).toBeUndefined();
  });

  describe('the axle and side of a line', () => {
    const place = (axle: number): Place => ({ model: 'halden', axle, rotorMm: undefined });
    const pads = (axle: number, side: 'both' | 'left' | 'right' = 'both'): Part => ({
      id: `pads ${axle}`,
      number: `P-${axle}`,
      kind: 'brake pad',
      pieces: 4,
      supersededBy: undefined,
      rank: 1,
      fits: [{ model: 'halden', axle, side, rotorMm: undefined }],
    });
    const needs = (axle: number, side: 'both' | 'left' | 'right' = 'both'): OpenNeed[] => [
      { job: 'j', unit: 'P04', kind: 'brake pad', place: place(axle), side },
    ];
    const here = [place(1), place(2)];
    const codes = (part: Part, open: OpenNeed[]) => lineDoubts(part, open, here).map(({ code }) => code);

    it('two rear sets where the front is due are doubted', () => {
      expect(codes(pads(2), needs(1))).toEqual(['other axle']);
    });
    it('the front’s own are not', () => {
      expect(codes(pads(1), needs(1))).toEqual([]);
    });
    it('a right one where the left is due is doubted', () => {
      expect(codes(pads(1, 'right'), needs(1, 'left'))).toEqual(['other side']);
    });
    it('a part of no vehicle of the depot is doubted', () => {
      expect(codes({ ...pads(1), fits: [{ ...pads(1).fits[0], model: 'brae' } as never] }, [])).toEqual([
        'fits nothing here',
      ]);
    });
    it('where nobody needs the kind, it is for the shelf', () => {
      expect(codes(pads(2), [])).toEqual([]);
    });
  });
});

describe('a substitute', () => {
  const part = (over: Partial<Part> = {}, fit: object = {}): Part => ({
    id: 'x',
    number: 'X',
    kind: 'brake pad',
    pieces: 4,
    supersededBy: undefined,
    rank: 1,
    fits: [{ model: 'halden', axle: 1, side: 'both', rotorMm: undefined, ...fit }],
    ...over,
  });

  it.each([
    ['the same places', part(), true],
    ['more places', part({ fits: [...part().fits, ...part({}, { axle: 2 }).fits] }), true],
    ['every model', part({}, { model: undefined }), true],
    ['another axle', part({}, { axle: 2 }), false],
    ['one side only', part({}, { side: 'left' }), false],
    ['another kind', part({ kind: 'rotor' }), false],
    ['rotors of one diameter only', part({}, { rotorMm: 330 }), false],
  ])('that fits %s: %#', (_what, substitute, stands) => {
    expect(standsIn(part(), substitute)).toBe(stands);
  });
});

describe('a receipt', () => {
  const line = { ordered: 4, before: 1, expires: false, measures: { diameterMm: 330, thicknessMm: 28, holes: 6 } };
  const receipt = { units: 3, expiresOn: undefined, measures: {} };
  const codes = (of: Partial<typeof line>, got: object = {}) =>
    receiptFaults({ ...line, ...of }, { ...receipt, ...got }, TODAY).map(({ code }) => code);

  it('of what was ordered goes on the shelf', () => {
    expect(codes({}, { measures: { diameterMm: 330.6, thicknessMm: 28.2, holes: 6 } })).toEqual([]);
  });
  it.each([
    ['one more than ordered', {}, { units: 4 }, 'over'],
    ['a lot that has expired', {}, { expiresOn: '2026-11-19' }, 'expired'],
    ['a lot without its day', { expires: true }, {}, 'no expiry'],
    ['a rotor of the other axle', {}, { measures: { diameterMm: 312 } }, 'differs'],
    ['five holes instead of six', {}, { measures: { holes: 5 } }, 'differs'],
  ])('of %s does not', (_what, of, got, code) => {
    expect(codes(of, got)).toEqual([code]);
  });
});

describe('a part number’s record', () => {
  const life = (rate: number, failed = false) => ({ wornMm: rate * 20, miles: 20_000, severity: 1, failed });

  it('is the geometric mean of its sets with Student’s interval (jStat’s quantile)', () => {
    const rates = [0.2, 0.25, 0.3, 0.22, 0.28];
    const { rate, sets } = partRecord(rates.map((one) => life(one)));
    const logs = rates.map(Math.log);
    const mean = logs.reduce((sum, one) => sum + one, 0) / 5;
    const sd = Math.sqrt(logs.reduce((sum, one) => sum + (one - mean) ** 2, 0) / 4);
    const half = (jstat.studentt.inv(0.9, 4) * sd) / Math.sqrt(5);
    expect(sets).toBe(5);
    expect(rate?.value).toBeCloseTo(Math.exp(mean), 9);
    expect(rate?.low).toBeCloseTo(Math.exp(mean - half), 6);
    expect(rate?.high).toBeCloseTo(Math.exp(mean + half), 6);
  });

  it('holds a set on hard duty against one on easy duty by what the duty asks for', () => {
    const hard = { ...life(0.6), severity: 3 };
    const easy = { ...life(0.1), severity: 0.5 };
    const { rate } = partRecord([hard, easy]);
    // 0.6 ÷ 3 and 0.1 ÷ 0.5: the same pads, whatever the road.
    expect([rate?.low, rate?.value, rate?.high].map((one) => one?.toFixed(9))).toEqual(Array(3).fill('0.200000000'));
  });

  it('of one set tells no rate, but its failure', () => {
    expect(partRecord([life(0.2, true)])).toMatchObject({ rate: undefined, failures: 1, miles: 20_000 });
  });

  it('costs a mile what a set and its labour cost over the miles it lasts (by hand: 200 ÷ 40,000)', () => {
    expect(costPerMile(80, 120, 0.2, 8)).toBeCloseTo(0.005, 12);
  });
});
