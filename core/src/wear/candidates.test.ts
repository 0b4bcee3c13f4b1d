import { describe, expect, it } from '@jest/globals';
import { seededRandom, randomNormal, square } from '../numeric/index.ts';
import { candidatesOf, firstOnset, sameCause, type Candidate } from './candidates.ts';
import { beginRun, proceed } from './history.ts';
import { DEFAULT_NOISE, runWithChanges, UNKNOWN_APPRAISER, type ReadingInput, type VehicleInput } from './index.ts';
import { mixture } from './mixture.ts';
import type { WearState } from './state.ts';

const prior = { mean: Math.log(0.2), sdVehicle: 0.25, sdAxle: 0.12, sdPad: 0.1 };
const PLACES = [
  ['left', 'inner'],
  ['left', 'outer'],
  ['right', 'inner'],
  ['right', 'outer'],
] as const;
type Row = readonly [number, number, number, number];

/** Looks at one axle every 6,000 miles from new pads on; a row holds left inner, left outer, right inner, right outer, mm. */
const vehicle = (rows: readonly Row[], rest: Partial<VehicleInput> = {}): VehicleInput => ({
  axles: [{ axle: 1, newMm: 11, plateMm: 5.8, limitMm: 2.75, prior }],
  readings: rows.flatMap((row, k) =>
    PLACES.map(([side, pad], p): ReadingInput => ({
      id: `${k}/${side}/${pad}`,
      date: `2026-${String(2 + k).padStart(2, '0')}-01`,
      miles: 16_000 + 6000 * k,
      axle: 1,
      side,
      pad,
      mm: row[p] as number,
      unit: 'mm',
      resolutionMm: 0.1,
      technician: 'A',
    })),
  ),
  fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
  odometers: [],
  duty: [],
  appraisers: { A: { biasMm: 0, biasSdMm: 0.1, repeatabilityMm: 0.2 } },
  unknownAppraiser: UNKNOWN_APPRAISER,
  noise: DEFAULT_NOISE,
  today: '2026-12-01',
  ...rest,
});
const candidates = (input: VehicleInput): Candidate[] => {
  const days: string[] = [];
  const run = proceed(beginRun(input), input, { onDay: (_run, date) => days.push(date) });
  return candidatesOf(input, run, days);
};
const names = (found: readonly Candidate[]) =>
  [...new Set(found.map(({ kind, side, more }) => [kind, side, more].filter(Boolean).join(' ')))].sort();

const even: Row[] = [9.8, 8.6, 7.4, 6.2, 5].map((mm): Row => [mm, mm, mm, mm]);
const leftInner: Row[] = [
  [9.8, 9.8, 9.8, 9.8],
  [7, 9.3, 8.6, 8.6],
  [4, 8.8, 7.4, 7.4],
];

describe('what is worth trying as a change of wear', () => {
  it('is nothing where pads wear as expected', () => {
    expect(candidates(vehicle(even))).toEqual([]);
  });

  it('is the wheel’s inner pad where that wears and its mate does not', () => {
    const found = candidates(vehicle(leftInner));
    expect(names(found)).toContain('apart left inner');
    expect(names(found)).not.toContain('apart left outer');
    expect(names(found).some((name) => name.includes('right'))).toBe(false);
    // The pads whose rates step: the inner up, the outer down.
    const [own] = found.filter(({ kind }) => kind === 'apart');
    expect(own?.steps.map(({ pads, mean }) => [pads, Math.sign(mean)])).toEqual([
      [[0], 1],
      [[1], -1],
    ]);
  });

  it('mirrors with the sides, and with the pads', () => {
    const mirrored = leftInner.map(([a, b, c, d]): Row => [c, d, a, b]);
    const turned = leftInner.map(([a, b, c, d]): Row => [b, a, d, c]);
    const plain = names(candidates(vehicle(leftInner)));
    expect(names(candidates(vehicle(mirrored)))).toEqual(plain.map((name) => name.replace('left', 'right')).sort());
    expect(names(candidates(vehicle(turned)))).toEqual(plain.map((name) => name.replace('inner', 'outer')).sort());
  });

  it('holds the route where all pads of the vehicle wear faster alike; tried, it is the route and nothing else', () => {
    const fast = vehicle([9.8, 8.6, 5.6, 2.9].map((mm): Row => [mm, mm, mm, mm]));
    expect(names(candidates(fast))).toContain('route');
    expect(runWithChanges(fast).changes.map(({ kind }) => kind)).toEqual(['route']);
  });

  it('ends with the pads that were changed, and leaves the day before as it was', () => {
    const worn = vehicle(leftInner);
    const fitted = { date: '2026-05-01', miles: 30_000, axle: 1 };
    const found = candidates({ ...worn, fittings: [...worn.fittings, fitted] });
    const own = found.filter(({ kind }) => kind === 'apart');
    expect(own.length).toBeGreaterThan(0);
    for (const one of own) expect([one.until, one.since < fitted.date]).toEqual([fitted.date, true]);
  });

  it('looks back six looks at most', () => {
    const rows = Array.from({ length: 10 }, (_, k): Row => [10.8 - k, 10.8 - k, 10.8 - k, 10.8 - k]);
    const dates = vehicle(rows).readings.map(({ date }) => date);
    const distinct = [...new Set(dates)].sort();
    expect(firstOnset(vehicle(rows))).toBe(distinct.at(-7));
    expect(firstOnset(vehicle([]))).toBe('');
  });

  it('is one cause however its day is taken, and another with another pad', () => {
    const one: Candidate = { kind: 'apart', axle: 1, side: 'left', more: 'inner', since: '2026-02-01', steps: [] };
    expect(sameCause(one, { ...one, since: '2026-05-01' })).toBe(true);
    expect(sameCause(one, { ...one, more: 'outer' })).toBe(false);
    expect(sameCause(one, { ...one, until: '2026-06-01' })).toBe(false);
  });
});

describe('a mixture of states', () => {
  const state = (mean: readonly number[], variances: readonly number[]): WearState => {
    const cov = square(mean.length);
    variances.forEach((variance, i) => (cov.data[i * mean.length + i] = variance));
    return { places: [], appraisers: [], mean: Float64Array.from(mean), cov, informed: [] };
  };

  it('of N(0, 1) and N(2, 1) in equal parts has mean 1 and variance 2 (law of total variance)', () => {
    const mixed = mixture(
      [
        { state: state([0], [1]), weight: 0.5 },
        { state: state([2], [1]), weight: 0.5 },
      ],
      1,
    );
    expect([...mixed.mean, ...mixed.cov.data]).toEqual([1, 2]);
  });

  it('has the moments of draws from its parts', () => {
    const parts = [
      { state: state([0.2, -1], [0.3, 0.1]), weight: 0.7 },
      { state: state([1.4, 0.5], [0.1, 0.6]), weight: 0.3 },
    ];
    const mixed = mixture(parts, 2);
    const random = seededRandom(11);
    const draws = Array.from({ length: 60_000 }, () => {
      const own = (random() < 0.7 ? parts[0] : parts[1])?.state as WearState;
      return [0, 1].map(
        (i) => (own.mean[i] as number) + Math.sqrt(own.cov.data[i * 3] as number) * randomNormal(random),
      );
    }) as [number, number][];
    const mean = [0, 1].map((i) => draws.reduce((sum, draw) => sum + (draw[i] as number), 0) / draws.length);
    const covariance = (i: number, k: number) =>
      draws.reduce(
        (sum, draw) => sum + ((draw[i] as number) - (mean[i] as number)) * ((draw[k] as number) - (mean[k] as number)),
        0,
      ) / draws.length;
    for (const i of [0, 1]) {
      expect(mixed.mean[i]).toBeCloseTo(mean[i] as number, 1);
      for (const k of [0, 1])
        expect(Math.abs((mixed.cov.data[2 * i + k] as number) - covariance(i, k))).toBeLessThan(0.02);
    }
  });

  it('leaves out components that only some parts have', () => {
    const mixed = mixture(
      [
        { state: state([1], [0.5]), weight: 0.4 },
        { state: state([1, 9], [0.5, 4]), weight: 0.6 },
      ],
      1,
    );
    expect([mixed.mean.length, mixed.cov.size]).toEqual([1, 1]);
    expect(mixed.cov.data[0]).toBeCloseTo(0.5, 12);
  });
});
