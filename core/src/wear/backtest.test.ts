import { describe, expect, it } from '@jest/globals';
import { normalQuantile } from '../numeric/index.ts';
import {
  DEFAULT_NOISE,
  backtest,
  summariseBacktest,
  UNKNOWN_APPRAISER,
  type BacktestedReading,
  type VehicleInput,
} from './index.ts';

const prior = { mean: Math.log(0.2), sdVehicle: 0.25, sdAxle: 0.12, sdPad: 0.1 };
const reading = (id: string, date: string, miles: number, mm: number) => ({
  id,
  date,
  miles,
  axle: 1,
  side: 'left' as const,
  pad: 'inner' as const,
  mm,
  unit: 'mm' as const,
  resolutionMm: 0.1,
  technician: 'A',
});
const input = (more: Partial<VehicleInput> = {}): VehicleInput => ({
  axles: [{ axle: 1, newMm: 11, plateMm: 5.8, limitMm: 2.75, prior }],
  readings: [
    reading('a', '2026-03-01', 14_000, 10.2),
    reading('b', '2026-05-01', 18_000, 9.4),
    reading('c', '2026-07-01', 22_000, 8.2),
  ],
  fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
  odometers: [{ date: '2026-01-01', miles: 10_000 }],
  duty: [],
  appraisers: {},
  unknownAppraiser: UNKNOWN_APPRAISER,
  noise: DEFAULT_NOISE,
  today: '2026-07-01',
  ...more,
});

describe('a reading backtested from what stood before it', () => {
  it('needs two points; new pads are one', () => {
    expect(backtest(input()).map(({ id, milesAhead }) => [id, milesAhead])).toEqual([
      ['b', 4000],
      ['c', 4000],
    ]);
    expect(backtest(input({ fittings: [] })).map(({ id }) => id)).toEqual(['c']);
  });

  it('has the simple methods’ errors: by the last two points, and by least squares through all', () => {
    const c = backtest(input()).find(({ id }) => id === 'c');
    expect(c?.twoPointErrorMm).toBeCloseTo(8.2 - (9.4 - 0.8), 12);
    // Through (10, 11), (14, 10.2), (18, 9.4), which lie on a line: 8.6 at 22.
    expect(c?.leastSquaresErrorMm).toBeCloseTo(8.2 - 8.6, 12);
  });

  it('does not know what comes later: a later reading changes nothing', () => {
    const early = backtest(input({ readings: input().readings.slice(0, 2) }));
    const all = backtest(input()).filter(({ id }) => id === 'b');
    expect(all).toEqual(early);
  });

  it('does not mix pads: after a change of pads the line starts anew', () => {
    const changed = input({
      fittings: [
        { date: '2026-01-01', miles: 10_000, axle: 1 },
        { date: '2026-05-01', miles: 18_000, axle: 1 },
      ],
    });
    // b was taken on the day of the change: of the old pads. c has the new pads' fitting only, one point.
    expect(backtest(changed).map(({ id }) => id)).toEqual(['b']);
  });
});

describe('the summary', () => {
  it('has shares that fit where errors are normal with the told spread: textbook quantiles', () => {
    const made = Array.from({ length: 999 }, (_, i): BacktestedReading => ({
      id: String(i),
      date: '2026-01-01',
      milesAhead: 1000,
      errorMm: 0.3 * normalQuantile((i + 0.5) / 999),
      sdMm: 0.3,
      twoPointErrorMm: 0.9 * normalQuantile((i + 0.5) / 999),
      leastSquaresErrorMm: 0.6,
    }));
    const summary = summariseBacktest(made);
    expect(summary?.within50).toBeCloseTo(0.5, 2);
    expect(summary?.within80).toBeCloseTo(0.8, 2);
    expect(summary?.within90).toBeCloseTo(0.9, 2);
    // The median absolute value of a normal variable is 0.6745 of its standard deviation.
    expect(summary?.medianMm).toBeCloseTo(0.6745 * 0.3, 2);
    expect(summary?.twoPointMedianMm).toBeCloseTo(0.6745 * 0.9, 2);
    expect(summary?.leastSquaresMedianMm).toBe(0.6);
    expect(summariseBacktest([])).toBeUndefined();
  });
});
