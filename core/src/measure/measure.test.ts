import { describe, expect, it } from '@jest/globals';
import { MM_PER_32ND, milesToMetres } from '../units/index.ts';
import {
  consistentOdometers,
  doubtOdometer,
  judgeReading,
  maxPlausibleMm,
  padPlaces,
  placeInWords,
  placeKey,
  poolReadings,
  resolutionVariance,
  type Expectation,
  type Reported,
} from './index.ts';

const expected: Expectation = { meanMm: 5.6, sdMm: 0.4, newMm: 11, plateMm: 5.5, informed: true };
const reported = (mm: number, more: Partial<Reported> = {}): Reported => ({
  mm,
  unit: 'mm',
  resolutionMm: 0.1,
  repeatabilityMm: 0.25,
  ...more,
});
const kind = (mm: number, more: Partial<Reported> = {}, about: Partial<Expectation> = {}) =>
  judgeReading(reported(mm, more), { ...expected, ...about }).suspicion?.kind;

describe('what may stand behind a figure', () => {
  it('raises nothing for a figure as expected, or a little off', () => {
    for (const mm of [5.6, 5.0, 6.3, 4.7]) expect(kind(mm)).toBeUndefined();
  });

  it('names the backing plate, with what the pad alone would be', () => {
    const { suspicion } = judgeReading(
      reported(14 * MM_PER_32ND, { unit: '1/32 in', resolutionMm: MM_PER_32ND }),
      expected,
    );
    expect(suspicion?.kind).toBe('plate');
    expect(suspicion?.insteadMm).toBeCloseTo(14 * MM_PER_32ND - 5.5, 9);
    expect(suspicion?.differenceMm).toBeCloseTo(14 * MM_PER_32ND - 5.6, 9);
  });

  it('names inches typed as mm', () => {
    expect(kind(0.22)).toBe('inches');
  });

  it('names two digits swapped', () => {
    const { suspicion } = judgeReading(reported(9.3), { ...expected, meanMm: 3.9, sdMm: 0.3, plateMm: 9 });
    expect(suspicion?.kind).toBe('digits');
    expect(suspicion?.insteadMm).toBeCloseTo(3.9, 9);
  });

  it('takes the digits of the unit they were written in, whatever was judged before', () => {
    // 12/32 in is 9.525 mm: swapped it is 21/32 in, and as 9.525 mm on a gauge of mm it is 5.9.
    const mm = 12 * MM_PER_32ND;
    const swapped = (more: Partial<Reported>) =>
      judgeReading(reported(mm, more), expected)
        .hypotheses.filter(({ explanation }) => explanation === 'digits')
        .map(({ intendedMm }) => intendedMm);
    for (const figures of [0, 3000]) {
      for (let k = 0; k < figures; k += 1) judgeReading(reported(k / 100), expected);
      expect(swapped({})[0]).toBeCloseTo(5.9, 1);
      expect(swapped({ unit: '1/32 in', resolutionMm: MM_PER_32ND })).toEqual([21 * MM_PER_32ND]);
    }
  });

  it('names a figure over new that no slip explains, and one that only grew', () => {
    expect(kind(13.9)).toBe('thicker_than_new');
    expect(kind(8.8)).toBe('thicker_than_expected');
  });

  it('asks again about a pad that is far too thin, and keeps it as a change that may be real', () => {
    const judged = judgeReading(reported(3.1), expected);
    expect(judged.suspicion?.kind).toBe('thinner_than_expected');
    const changed = judged.hypotheses.find(({ explanation }) => explanation === 'changed');
    expect(changed?.probability).toBeGreaterThan(0.5);
  });

  it('is not surprised by the first reading of a pad', () => {
    expect(kind(3.5, {}, { meanMm: 7, sdMm: 3, informed: false })).toBeUndefined();
  });

  it('gives probabilities that add up to one', () => {
    for (const mm of [0.2, 2, 5.6, 9, 11, 12, 17, 40]) {
      const total = judgeReading(reported(mm), expected).hypotheses.reduce(
        (sum, { probability }) => sum + probability,
        0,
      );
      expect(total).toBeCloseTo(1, 12);
    }
  });
});

describe('what can be a reading at all', () => {
  it('ends a little over pad and backing plate together', () => {
    expect(maxPlausibleMm({ newMm: 11, plateMm: 5.8 })).toBeCloseTo(21.8, 12);
    expect(maxPlausibleMm({ newMm: 21, plateMm: 9 })).toBeGreaterThan(21 + 9);
  });
});

describe('pooling', () => {
  // Inverse-variance weighting by hand: weights 1/0.04 and 1/0.16 are 4 to 1.
  it('weighs by precision', () => {
    const pooled = poolReadings([
      { id: 'a', technician: 'A', carriedMm: 8, variance: 0.04, regular: 1 },
      { id: 'b', technician: 'B', carriedMm: 9, variance: 0.16, regular: 1 },
    ]);
    expect(pooled?.valueMm).toBeCloseTo(8.2, 12);
    expect(pooled?.sdMm).toBeCloseTo(Math.sqrt(1 / (25 + 6.25)), 12);
    expect(pooled).toMatchObject({ readings: 2, technicians: 2 });
    expect(pooled?.weights.get('a')).toBeCloseTo(0.8, 12);
  });

  it('lets a suspected reading weigh little, and says when nothing carries weight', () => {
    const pooled = poolReadings([
      { id: 'a', technician: 'A', carriedMm: 8, variance: 0.1, regular: 1 },
      { id: 'b', technician: 'A', carriedMm: 14, variance: 0.1, regular: 0.001 },
    ]);
    expect(pooled?.valueMm).toBeCloseTo(8.006, 3);
    expect(poolReadings([])).toBeUndefined();
  });

  // Variance of a uniform distribution of width r: r²/12 (any handbook of statistics).
  it('counts a gauge’s grid as a uniform spread', () => {
    expect(resolutionVariance(MM_PER_32ND)).toBeCloseTo(0.0525, 4);
  });
});

describe('odometers', () => {
  const at = (date: string, miles: number) => ({ date, metres: milesToMetres(miles) });
  const known = [at('2025-09-22', 56_385), at('2026-02-03', 65_915)];

  it('passes one between its neighbours, and rounding to whole kilometres', () => {
    expect(doubtOdometer(at('2025-11-24', 61_001), known, 'mi')).toBeUndefined();
    expect(doubtOdometer(at('2026-02-04', 65_914.4), known, 'mi')).toBeUndefined();
  });

  it('refuses one that falls, and one that passes a later day', () => {
    expect(doubtOdometer(at('2026-03-01', 60_000), known, 'mi')).toMatchObject({ kind: 'falls', other: known[1] });
    expect(doubtOdometer(at('2025-11-24', 65_000 + 3000), known, 'mi')).toMatchObject({ kind: 'falls' });
  });

  it('catches kilometres typed as miles, and miles typed as kilometres', () => {
    const doubt = doubtOdometer(at('2025-11-24', 98_172), known, 'mi');
    expect(doubt?.kind).toBe('km_as_miles');
    expect(doubt && 'insteadMetres' in doubt ? Math.round(doubt.insteadMetres / 1609.344) : 0).toBe(61_001);
    expect(doubtOdometer(at('2025-11-24', 61_001 / 1.609344), known, 'km')?.kind).toBe('miles_as_km');
  });

  it('questions a jump no vehicle can drive', () => {
    expect(doubtOdometer(at('2026-02-05', 95_000), known, 'mi')).toMatchObject({ kind: 'jumps' });
  });

  it('finds the one that contradicts the many, not the many', () => {
    const rows = [...known, at('2025-11-24', 61_001), at('2025-11-24', 98_172)].map((entry) => ({
      ...entry,
      weight: 1,
    }));
    rows[2] = { ...(rows[2] as (typeof rows)[number]), weight: 7 };
    expect(consistentOdometers(rows).map(({ metres }) => Math.round(metres / 1609.344))).toEqual([
      56_385, 61_001, 65_915,
    ]);
    expect(consistentOdometers([])).toEqual([]);
  });
});

describe('places', () => {
  it('come in walking order with keys of their own', () => {
    const places = padPlaces([1, 2]);
    expect(places).toHaveLength(8);
    expect(new Set(places.map(placeKey)).size).toBe(8);
    expect(placeInWords(places[0] as (typeof places)[number])).toBe('axle 1, left, inner pad');
  });
});
