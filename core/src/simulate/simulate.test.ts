import { describe, expect, it } from '@jest/globals';
import { seededRandom } from '../numeric/index.ts';
import { classPrior, DEFAULT_NOISE, forecastVehicle, UNKNOWN_APPRAISER, type VehicleInput } from '../wear/index.ts';
import { simulateVehicle, type VirtualVehicle } from './index.ts';

const appraisers = [
  { name: 'A', biasMm: 0.3, repeatabilityMm: 0.2, resolutionMm: 0.1, plateChance: 0.01 },
  { name: 'B', biasMm: -0.2, repeatabilityMm: 0.3, resolutionMm: 25.4 / 32, plateChance: 0.01 },
];
const spec = (to: string): VirtualVehicle => ({
  axles: [{ axle: 1, newMm: 11, plateMm: 5.8, limitMm: 2.75, ratePer1000: 0.2 }],
  appraisers,
  from: '2025-01-01',
  to,
  startMiles: 20_000,
  milesPerDay: 70,
  duty: [{ from: '2025-01-01', severity: 1 }],
  inspectEvery: 5000,
  changeAtOverLimitMm: 0.5,
});

function inputOf(history: ReturnType<typeof simulateVehicle>, today: string): VehicleInput {
  return {
    axles: [
      {
        axle: 1,
        newMm: 11,
        plateMm: 5.8,
        limitMm: 2.75,
        prior: { ...classPrior('light'), sdVehicle: 0.35, sdAxle: 0.12 },
      },
    ],
    readings: history.inspections.flatMap(({ date, miles, appraiser, readings }, i) =>
      readings.map(({ axle, side, pad, mm }) => ({
        id: `${i}-${side}-${pad}`,
        date,
        miles,
        axle,
        side,
        pad,
        mm,
        unit: 'mm' as const,
        resolutionMm: appraiser.resolutionMm,
        technician: appraiser.name,
      })),
    ),
    fittings: history.fittings,
    odometers: [{ date: '2025-01-01', miles: 20_000 }],
    duty: [{ from: '2025-01-01', severity: 1 }],
    appraisers: {},
    unknownAppraiser: UNKNOWN_APPRAISER,
    noise: DEFAULT_NOISE,
    today,
  };
}

describe('a virtual vehicle', () => {
  it('has the same history for the same seed, another for another', () => {
    const [a, b, c] = [1, 1, 2].map((seed) => simulateVehicle(spec('2025-12-31'), seededRandom(seed)));
    expect(a).toEqual(b);
    expect(a?.truthMm).not.toEqual(c?.truthMm);
  });

  it('wears one pad of a seized slide far more than its mate', () => {
    const seized = simulateVehicle(
      { ...spec('2025-09-30'), changeAtOverLimitMm: -9, seizure: { axle: 1, side: 'left', from: '2025-01-01' } },
      seededRandom(4),
    );
    const [inner, outer] = seized.truthMm as [number, number];
    expect(outer - inner).toBeGreaterThan(2);
  });
});

// Calibration: truth is known, and the filter never sees it. Bounds are four standard errors of a proportion
// around the nominal 80 %, counting vehicles (pads of one vehicle err together).
describe('forecasts of a virtual fleet', () => {
  const vehicles = 100;
  const results = Array.from({ length: vehicles }, (_, seed) => {
    const today = '2026-03-31';
    const history = simulateVehicle(spec(today), seededRandom(1000 + seed));
    const forecast = forecastVehicle(inputOf(history, today), { riskTarget: 0.05, seed: 1, draws: 256 });
    const [axle] = forecast.axles;
    return { history, axle, judgements: forecast.judgements };
  });

  it('hold the true thickness in their 80 % interval about 80 % of the time', () => {
    const inside = results.flatMap(({ history, axle }) =>
      (axle?.pads ?? []).map((pad, p) => Math.abs(pad.meanMm - (history.truthMm[p] ?? 0)) <= 1.2816 * pad.sdMm),
    );
    const share = inside.filter(Boolean).length / inside.length;
    const error = 4 * Math.sqrt((0.8 * 0.2) / vehicles);
    expect(share).toBeGreaterThan(0.8 - error);
    expect(share).toBeLessThan(Math.min(0.97, 0.8 + error));
  });

  it('catch the backing plate nearly always and seldom doubt a clean reading', () => {
    let [caught, gross, doubted, clean] = [0, 0, 0, 0];
    for (const { history, judgements } of results) {
      const byId = new Map(judgements.map((one) => [one.id, one]));
      history.inspections.forEach(({ readings }, i) => {
        for (const { side, pad, gross: isGross } of readings) {
          const suspected = byId.get(`${i}-${side}-${pad}`)?.suspicion !== undefined;
          if (isGross) [caught, gross] = [caught + Number(suspected), gross + 1];
          else [doubted, clean] = [doubted + Number(suspected), clean + 1];
        }
      });
    }
    expect(gross).toBeGreaterThan(10);
    expect(caught / gross).toBeGreaterThan(0.85);
    expect(doubted / clean).toBeLessThan(0.01);
  });
});

// The promise of the product, against a truth it never sees: at the mile mark's date the chance of a pad below
// the limit is the risk target, at the median date it is even. The same seed driven further tells the truth.
// Bounds are three and a half standard errors of a proportion.
describe('mile marks of a virtual fleet', () => {
  const vehicles = 90;
  const today = '2025-09-15';
  const worn = (to: string): VirtualVehicle => ({ ...spec(to), changeAtOverLimitMm: -99 });
  const belowAt = (seed: number, date: string) =>
    Math.min(...simulateVehicle(worn(date), seededRandom(seed)).truthMm) <= 2.75;
  const forecasts = Array.from({ length: vehicles }, (_, i) => {
    const seed = 5000 + i;
    const input = inputOf(simulateVehicle(worn(today), seededRandom(seed)), today);
    const [axle] = forecastVehicle(input, { riskTarget: 0.05, seed: 1, draws: 512 }).axles;
    return { seed, axle };
  }).filter(({ axle }) => axle && axle.dates.p50 > today && axle.dates.p50 < '2030-01-01');
  const shareBelow = (dateOf: (axle: NonNullable<(typeof forecasts)[number]['axle']>) => string) => {
    const outcomes = forecasts.map(({ seed, axle }) => axle !== undefined && belowAt(seed, dateOf(axle)));
    return outcomes.filter(Boolean).length / outcomes.length;
  };
  const error = (p: number) => 3.5 * Math.sqrt((p * (1 - p)) / forecasts.length);

  it('keep their risk: few pads are below the limit when the mark comes', () => {
    expect(forecasts.length).toBeGreaterThan(40);
    expect(shareBelow(({ markDate }) => markDate)).toBeLessThan(0.05 + error(0.05));
  });

  it('stand before a median that is as likely early as late', () => {
    const share = shareBelow(({ dates }) => dates.p50);
    expect(share).toBeGreaterThan(0.5 - error(0.5));
    expect(share).toBeLessThan(0.5 + error(0.5));
  });

  it('come before an end by which most have worn out', () => {
    expect(shareBelow(({ dates }) => dates.p90)).toBeGreaterThan(0.9 - error(0.9));
  });
});
