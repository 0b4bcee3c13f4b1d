import { describe, expect, it } from '@jest/globals';
import type { KitNeed, KitState } from '@mile-mark/core';
import { offerInTime, type Catalogue, type CatalogueOffer } from '../catalogue.ts';
import { takenFor, type OpenJob } from '../kits.ts';
import { toOrder } from './axleKits.ts';
import { dayThere } from './kitDays.ts';
import { kitJob, pickedOf } from './standing.ts';

const TODAY = '2026-11-20';
const offer = (supplier: string, price: number, leadDays: number): CatalogueOffer => ({
  part_id: 'pads',
  supplier_id: supplier,
  supplier,
  supplier_number: null,
  price_minor: price,
  currency: 'EUR',
  pack: 1,
  least: 1,
  lead_days: leadDays,
});
const catalogue = (...offers: CatalogueOffer[]): Catalogue => ({
  parts: [],
  byId: new Map([['pads', { number: 'PD-1', name: 'Pads' }]]) as unknown as Catalogue['byId'],
  fits: new Map(),
  offers: new Map([['pads', offers]]),
});
const need = (options: KitNeed['options'], order: KitNeed['order'] = options[0]): KitNeed => ({
  kind: 'brake pad',
  axle: 1,
  side: 'both',
  pieces: 4,
  options,
  order,
});
const PADS = { part: 'pads', units: 2 };
type Now = KitState['needs'][number]['now'];
const THERE: Now = { state: 'there', option: PADS, instead: false };
const comes = (day: string): Now => ({ state: 'comes', option: PADS, day, inTime: true });
const SHORT: Now = { state: 'short', missing: 2 };

describe('whom a part is bought from', () => {
  const all = catalogue(offer('dear', 500, 2), offer('cheap', 300, 9), offer('slow', 200, 20));
  it.each([
    [20, 'slow'],
    [19, 'cheap'],
    [9, 'cheap'],
    [8, 'dear'],
    [1, 'dear'],
  ])('%i days before it is wanted: the cheapest in time, or else the soonest', (days, supplier) => {
    expect(offerInTime(all, 'pads', days)?.supplier).toBe(supplier);
  });
  it('is nobody where nobody sells it', () => expect(offerInTime(all, 'rotor', 90)).toBeUndefined());
});

describe('the day on which a kit is there', () => {
  const soonest = catalogue(offer('dear', 500, 4), offer('cheap', 300, 9));
  const of = (...now: Now[]) =>
    dayThere({ needs: now.map((one) => ({ ...need([PADS]), now: one })) }, { catalogue: soonest }, TODAY);

  it('is today where all lies there, and a day after what comes last', () => {
    expect([of(), of(THERE), of(THERE, comes('2026-11-25'), comes('2026-11-22'))]).toEqual([0, 0, 6]);
    // Promised for a day that has gone, and not come: it is looked for tomorrow at the soonest, never before today.
    expect(of(comes('2026-11-10'))).toBe(0);
  });

  it('is as soon as anybody delivers where it must be ordered, and never where nobody does', () => {
    expect(of(SHORT)).toBe(5);
    expect(of(SHORT, comes('2026-12-20'))).toBe(31);
    const none = { needs: [{ ...need([PADS]), order: undefined, now: SHORT }] };
    expect(dayThere(none, { catalogue: soonest }, TODAY)).toBe(Infinity);
    expect(dayThere({ needs: [{ ...need([PADS]), now: SHORT }] }, { catalogue: catalogue() }, TODAY)).toBe(Infinity);
  });
});

describe('what is to be ordered, and by when', () => {
  const standing = (...offers: CatalogueOffer[]) =>
    ({ catalogue: catalogue(...offers) }) as Parameters<typeof toOrder>[1];
  const by = (day: string) => toOrder(need([PADS]), standing(offer('Corvane', 300, 9)), day, TODAY)[0];

  it('is so early that it comes on the day; today where that is past', () => {
    expect(by('2026-12-20')).toEqual({
      part: 'PD-1',
      name: 'Pads',
      units: 2,
      supplier: 'Corvane',
      leadDays: 9,
      by: '2026-12-11',
    });
    expect(['2026-11-30', '2026-11-29', '2026-11-28', TODAY].map((day) => by(day)?.by)).toEqual([
      '2026-11-21',
      TODAY,
      TODAY,
      TODAY,
    ]);
  });

  it('names no supplier where nobody sells it, and nothing where nothing fits', () => {
    expect(toOrder(need([PADS]), standing(), '2026-12-20', TODAY)).toMatchObject([
      { supplier: null, leadDays: null, by: '2026-12-20' },
    ]);
    expect(toOrder({ ...need([PADS]), order: undefined }, standing(), '2026-12-20', TODAY)).toEqual([]);
  });
});

describe('what a job still wants after something was picked for it', () => {
  const job = (needs: KitNeed[], picked: [string, number][]): OpenJob =>
    ({
      id: 'j',
      depotId: 'd',
      day: TODAY,
      booked: true,
      kit: { needs, faults: [] },
      picked: new Map(picked),
    }) as unknown as OpenJob;
  const wants = (one: OpenJob) => kitJob(one).needs.map(({ options }) => options);
  const EITHER = [PADS, { part: 'other pads', units: 1 }];

  it('is all of it before, and nothing once it has all', () => {
    expect(wants(job([need(EITHER)], []))).toEqual([EITHER]);
    expect(wants(job([need(EITHER)], [['pads', 2]]))).toEqual([]);
    expect(pickedOf(job([need(EITHER)], [['pads', 2]]))).toEqual([2]);
    expect(kitJob(job([], []))).toEqual({ job: 'j', depot: 'd', day: TODAY, booked: true, needs: [] });
  });

  it('is the rest of what was begun with, and of nothing else', () => {
    expect(wants(job([need(EITHER)], [['pads', 1]]))).toEqual([[{ part: 'pads', units: 1 }]]);
    expect(wants(job([need(EITHER)], [['other pads', 1]]))).toEqual([]);
  });

  it('gives what was picked to one line after another, no piece to two', () => {
    const two = (picked: number) => job([need([PADS]), need([PADS])], [['pads', picked]]);
    expect([0, 1, 2, 3, 4, 5].map((n) => pickedOf(two(n)))).toEqual([
      [0, 0],
      [1, 0],
      [2, 0],
      [2, 1],
      [2, 2],
      [2, 2],
    ]);
    expect(wants(two(3))).toEqual([[{ part: 'pads', units: 1 }]]);
    const picked = new Map([['pads', 3]]);
    pickedOf({ ...two(0), picked });
    kitJob({ ...two(0), picked });
    expect(picked.get('pads')).toBe(3);
  });
});

describe('what of an axle’s kit was picked', () => {
  const kit = {
    needs: [
      need([PADS]),
      {
        ...need([
          { part: 'other', units: 1 },
          { part: 'hose', units: 1 },
        ]),
        kind: 'brake hose' as const,
        axle: 2,
      },
      { ...need([{ part: 'grease', units: 1 }]), kind: 'rubber-safe grease' as const, axle: undefined },
    ],
    faults: [],
  };
  const taken = (picked: [string, number][], axle: number) => takenFor({ kit, picked: new Map(picked) }, axle);

  it('is of that axle or of the whole job, by any part that fits, and not what was put back', () => {
    const all: [string, number][] = [
      ['pads', 2],
      ['hose', 1],
      ['grease', 1],
    ];
    expect(taken(all, 1)).toEqual(['brake pad', 'rubber-safe grease']);
    expect(taken(all, 2)).toEqual(['brake hose', 'rubber-safe grease']);
    expect(taken([['pads', 0]], 1)).toEqual([]);
    expect(taken([], 2)).toEqual([]);
  });
});
