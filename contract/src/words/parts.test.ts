import { describe, expect, it } from '@jest/globals';
import type { JobKit } from '../parts/index.ts';
import {
  findingPlaceInWords,
  kitStateInWords,
  moneyInWords,
  needInWords,
  needPlaceInWords,
  perDistanceInWords,
  rateRangeInWords,
  speedInWords,
  takesInWords,
} from './index.ts';

type Need = JobKit['needs'][number];
const need = (now: Need['now'], over: Partial<Need> = {}): Need => ({
  kind: 'brake pad',
  axle: 1,
  side: 'both',
  pieces: 4,
  amount: null,
  options: [{ part: 'PD-1', name: 'Pad set', units: 1 }],
  picked: 0,
  now,
  ...over,
});
const THERE = { state: 'there', part: 'PD-1', units: 1, instead: false } as const;
const SHORT = { state: 'short', missing: 1 } as const;
const kit = (over: Partial<JobKit>) =>
  kitStateInWords({ state: 'complete', until: null, needs: [], faults: [], ...over });

describe('how a kit stands, in words', () => {
  it.each([
    ['there', { needs: [need(THERE)] }, 'kit complete'],
    [
      'on its way, in time',
      { needs: [need({ state: 'comes', part: 'PD-1', units: 1, day: '2026-11-24', inTime: true })] },
      'kit complete on 24 Nov 2026',
    ],
    ['there as another number', { state: 'substitutable' }, 'kit complete, with another number'],
    ['late', { state: 'short', until: '2026-12-02' }, 'kit short until 2 Dec 2026'],
    ['missing', { state: 'short', needs: [need(SHORT)] }, 'kit short: brake pad not on order'],
    [
      'not in the catalogue',
      { state: 'short', needs: [need(SHORT)], faults: ['no part fits'] },
      'kit short: brake pad not in the catalogue',
    ],
  ] as const)('%s', (_what, over, words) => {
    expect(kit(over as Partial<JobKit>)).toBe(words);
  });

  it('many missing kinds are counted, the same one once', () => {
    const needs = (['brake pad', 'rotor', 'caliper', 'caliper'] as const).map((kind) => need(SHORT, { kind }));
    expect(kit({ state: 'short', needs })).toBe('kit short: 3 parts not on order');
  });

  it('a line says where it stands and where it goes', () => {
    expect(needInWords(need(SHORT))).toBe('1 unit short, none on order');
    expect(needInWords(need(SHORT, { options: [] }))).toBe('no part of the catalogue fits');
    expect(needInWords(need(THERE, { picked: 1 }))).toBe('picked');
    expect(needInWords(need({ state: 'comes', part: 'PD-1', units: 1, day: '2026-12-01', inTime: false }))).toBe(
      'comes too late, 1 Dec 2026',
    );
    expect([needPlaceInWords({ axle: 2, side: 'left' }), needPlaceInWords({ axle: null, side: 'both' })]).toEqual([
      'axle 2, left',
      '',
    ]);
  });
});

describe('figures in the reader’s units', () => {
  const rate = { value: 0.32, low: 0.16, high: 0.48 };
  it.each([
    [{ distanceUnit: 'mi', thicknessUnit: 'mm' }, '0.32 (0.16 to 0.48) mm per 1,000 mi'],
    // 1 mile is 1.609344 km exactly.
    [{ distanceUnit: 'km', thicknessUnit: 'mm' }, '0.20 (0.10 to 0.30) mm per 1,000 km'],
    [{ distanceUnit: 'mi', thicknessUnit: '1/32 in' }, '0.40 (0.20 to 0.60) /32 in per 1,000 mi'],
  ] as const)('a rate with its range, %j', (reader, words) => {
    expect(rateRangeInWords(rate, reader)).toBe(words);
  });

  it('a speed, and what comes by the mile', () => {
    expect([speedInWords(35, 'mi'), speedInWords(35, 'km')]).toEqual(['35 mph', '56 km/h']);
    expect([perDistanceInWords(1609.344, 'kJ', 'mi'), perDistanceInWords(1609.344, 'kJ', 'km')]).toEqual([
      '1,609 kJ a mile',
      '1,000 kJ a km',
    ]);
    expect(perDistanceInWords(2.5, 'stops', 'mi')).toBe('2.5 stops a mile');
  });

  it('money has its currency', () => {
    expect(moneyInWords(123_450, 'USD')).toBe('1,234.50 USD');
  });
});

describe('a line of a kit in part picked, and what it takes', () => {
  const pair = { options: [{ part: 'PD-1', name: 'Pad set', units: 2 }] };
  it.each([
    [0, 'there'],
    [1, 'there'],
    [2, 'picked'],
    [3, 'picked'],
  ])('with %i of two picked is told as %s', (picked, told) => {
    expect(needInWords(need(THERE, { ...pair, picked }))).toBe(told);
  });

  it('names pieces by number, a consumable by its amount, and nothing where no part fits', () => {
    expect(takesInWords(need(THERE, pair))).toBe('2 × PD-1');
    expect(takesInWords(need(THERE, { ...pair, kind: 'brake cleaner', amount: 200 }))).toMatch(/^200 .*of PD-1$/);
    expect(takesInWords(need(SHORT, { options: [] }))).toBe('none');
  });
});

describe('where a finding sits', () => {
  it.each([
    [{ axle: 1, side: 'left' }, 'axle 1 left'],
    [{ axle: 2, side: null }, 'axle 2'],
    [{ axle: null, side: null }, ''],
  ])('of %o is told as “%s”', (where, told) => {
    expect(findingPlaceInWords(where)).toBe(told);
  });
});
