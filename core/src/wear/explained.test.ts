import { describe, expect, it } from '@jest/globals';
import { tryForecasts, virtualFleet } from '../simulate/index.ts';
import { DEFAULT_NOISE, forecastVehicle, foretellPassage, UNKNOWN_APPRAISER, type VehicleInput } from './index.ts';

const prior = { mean: Math.log(0.2), sdVehicle: 0.3, sdAxle: 0.12, sdPad: 0.1 };
/** Looks every 6,000 miles at four pads that wear alike, mm per 1,000 miles. */
const worn = (rate: number, looks: number): VehicleInput => ({
  axles: [{ axle: 1, newMm: 11, plateMm: 5.8, limitMm: 2.75, prior }],
  readings: Array.from({ length: looks }, (_, k) =>
    (['left', 'right'] as const).flatMap((side) =>
      (['inner', 'outer'] as const).map((pad) => ({
        id: `${k}${side}${pad}`,
        date: `2026-0${2 + k}-01`,
        miles: 10_000 + 6000 * (k + 1),
        axle: 1,
        side,
        pad,
        mm: Math.round((11 - rate * 6 * (k + 1)) * 10) / 10,
        unit: 'mm' as const,
        resolutionMm: 0.1,
        technician: 'A',
      })),
    ),
  ).flat(),
  fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
  odometers: [],
  duty: [],
  appraisers: { A: { biasMm: 0, biasSdMm: 0.1, repeatabilityMm: 0.15 } },
  unknownAppraiser: UNKNOWN_APPRAISER,
  noise: DEFAULT_NOISE,
  today: '2026-09-01',
});
const explained = (input: VehicleInput) => forecastVehicle(input, { riskTarget: 0.05, seed: 1, draws: 128 }).explained;

describe('what duty does not explain', () => {
  it('is the vehicle’s rate over its group’s, surer with every look', () => {
    const [few, many] = [explained(worn(0.28, 1)), explained(worn(0.28, 4))];
    expect(many.p50).toBeGreaterThan(1.25);
    expect(many.p50).toBeLessThan(1.45);
    expect(many.p95 - many.p05).toBeLessThan(few.p95 - few.p05);
    expect(many.p05).toBeGreaterThan(1.1);
  });

  it('is nothing where it wears as its group, and all that the prior allows where nothing was measured', () => {
    const usual = explained(worn(0.2, 4));
    expect(usual.p05).toBeLessThan(1);
    expect(usual.p95).toBeGreaterThan(1);
    const unknown = explained({ ...worn(0.2, 1), readings: [] });
    // N(0, su² + sa² + sw²/4) in the logarithm, 90 %.
    expect(Math.log(unknown.p95)).toBeCloseTo(1.6449 * Math.sqrt(0.3 ** 2 + 0.12 ** 2 + 0.1 ** 2 / 4), 6);
  });
});

describe('simple methods', () => {
  it('draw their lines through a pad’s points: both end where wear is straight', () => {
    const input = worn(0.2, 3);
    const found = foretellPassage(input, 1, 28_000);
    // 11 mm less 0.2 mm per 1,000 miles: 7.4 mm at 28,000, 4.65 mm over the limit.
    expect(found?.twoPointMi).toBeGreaterThan((4.65 / 0.2) * 1000 - 1500);
    expect(found?.twoPointMi).toBeLessThan((4.65 / 0.2) * 1000 + 1500);
    expect(found?.leastSquaresMi).toBeCloseTo((4.65 / 0.2) * 1000, -3);
    expect(foretellPassage({ ...input, readings: [], fittings: [] }, 1, 28_000)).toBeUndefined();
    expect(foretellPassage(input, 7, 28_000)).toBeUndefined();
  });
});

// Truth is known, and the method never sees it: forecasts of the second half of a fleet's record, appraisers and groups
// learnt from the first. The bounds are what the design needs (median error at most 0.45 of the simple methods'; 80 %
// intervals), the interval's with four standard errors counting vehicles, as forecasts of one vehicle err together.
describe('forecasts of a virtual fleet never used for tuning', () => {
  const trial = tryForecasts(
    virtualFleet({ vehicles: 45, technicians: 6, seed: 977, from: '2023-01-01', days: 1095 }),
    256,
  );

  it('are far nearer than lines through readings', () => {
    expect(trial.forecasts).toBeGreaterThan(200);
    expect(trial.medianErrorMi / trial.twoPointErrorMi).toBeLessThan(0.45);
    expect(trial.medianErrorMi / trial.leastSquaresErrorMi).toBeLessThan(0.6);
    expect(trial.relativeError).toBeLessThan(0.1);
  });

  it('hold what their intervals promise, in miles and in days', () => {
    const error = (p: number) => 4 * Math.sqrt((p * (1 - p)) / 45);
    for (const within of [trial.within80, trial.within80Days]) expect(Math.abs(within - 0.8)).toBeLessThan(error(0.8));
    expect(Math.abs(trial.within90 - 0.9)).toBeLessThan(error(0.9));
    expect(trial.pinballMi).toBeLessThan(4 * trial.oraclePinballMi);
  });
});
