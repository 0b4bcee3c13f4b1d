import { describe, expect, it } from '@jest/globals';
import { randomNormal, seededRandom } from '../numeric/index.ts';
import { advance } from './advance.ts';
import { horizon } from './horizon.ts';
import { observe } from './observe.ts';
import { fitNewPads, initialState } from './state.ts';
import {
  classPrior,
  DEFAULT_NOISE,
  forecastVehicle,
  groupPrior,
  UNKNOWN_APPRAISER,
  type AxleInput,
  type VehicleInput,
} from './index.ts';

const prior = { mean: Math.log(0.2), sdVehicle: 0.25, sdAxle: 0.12, sdPad: 0.1 };
const axle: AxleInput = { axle: 1, newMm: 11, plateMm: 5.8, limitMm: 2.75, prior };
const quiet = { perPeriod: 0, perPad: 0, perDuty: 0, newToleranceMm: 0.1 };
const appraiser = () => UNKNOWN_APPRAISER;

const input = (more: Partial<VehicleInput> = {}): VehicleInput => ({
  axles: [axle],
  readings: [],
  fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
  odometers: [
    { date: '2026-01-01', miles: 10_000 },
    { date: '2026-07-01', miles: 19_050 },
  ],
  duty: [],
  appraisers: {},
  unknownAppraiser: UNKNOWN_APPRAISER,
  noise: DEFAULT_NOISE,
  today: '2026-07-01',
  ...more,
});
const reading = (
  id: string,
  date: string,
  miles: number,
  mm: number,
  pad: 'inner' | 'outer' = 'inner',
  side: 'left' | 'right' = 'left',
  technician = 'A',
) => ({
  id,
  date,
  miles,
  axle: 1,
  side,
  pad,
  mm,
  unit: 'mm' as const,
  resolutionMm: 0.1,
  technician,
});
const policy = { riskTarget: 0.05, seed: 1, draws: 1024 };

describe('time update', () => {
  // Exact moments of x − e^L·E for joint normal (L, x), against 60,000 independent draws.
  it('has the mean, variance and covariances of lognormal wear', () => {
    const state = initialState([axle], [], appraiser);
    fitNewPads(state, axle, 0.1);
    advance(state, { weightedMiles: 12_000, miles: 12_000, days: 28 }, quiet);
    const random = seededRandom(11);
    const count = 60_000;
    let [sumX, sumXX, sumLX, sumXY] = [0, 0, 0, 0];
    for (let i = 0; i < count; i += 1) {
      const shared = 0.25 * randomNormal(random) + 0.12 * randomNormal(random);
      const l1 = shared + 0.1 * randomNormal(random);
      const l2 = shared + 0.1 * randomNormal(random);
      const x1 = 11 + 0.1 * randomNormal(random) - 0.2 * Math.exp(l1) * 12 - (state.mean[4] as number);
      const x2 = 11 + 0.1 * randomNormal(random) - 0.2 * Math.exp(l2) * 12 - (state.mean[4] as number);
      sumX += x1;
      sumXX += x1 * x1;
      sumLX += l1 * x1;
      sumXY += x1 * x2;
    }
    const cov = (i: number, j: number) => state.cov.data[i * state.cov.size + j] as number;
    expect(Math.abs(sumX / count)).toBeLessThan(4 * Math.sqrt(cov(4, 4) / count));
    expect(sumXX / count / cov(4, 4)).toBeCloseTo(1, 1);
    expect(sumLX / count / cov(0, 4)).toBeCloseTo(1, 1);
    expect(sumXY / count / cov(4, 5)).toBeCloseTo(1, 1);
  });

  // With rates known exactly the wear is G = 0.2 · 5 = 1 mm; two periods of 28 days and 5 thousand miles share the scatter.
  it('scatters pads together by period, and each by itself by its miles', () => {
    const sure = { ...axle, prior: { ...prior, sdVehicle: 0, sdAxle: 0, sdPad: 0 } };
    const state = initialState([sure], [], appraiser);
    fitNewPads(state, sure, 0.1);
    advance(state, { weightedMiles: 5000, miles: 5000, days: 56 }, { ...quiet, perPeriod: 0.3, perPad: 0.2 });
    const cov = (i: number, j: number) => state.cov.data[i * state.cov.size + j] as number;
    expect(state.mean[4]).toBeCloseTo(10, 9);
    expect(cov(4, 5)).toBeCloseTo(0.3 ** 2 / 2, 9);
    expect(cov(4, 4)).toBeCloseTo(0.1 ** 2 + 0.3 ** 2 / 2 + 0.2 ** 2 / 5, 9);
  });

  it('does nothing without miles, and widens with the scatter of duty', () => {
    const still = initialState([axle], [], appraiser);
    const before = [...still.cov.data];
    advance(still, { weightedMiles: 0, miles: 0, days: 10 }, DEFAULT_NOISE);
    expect([...still.cov.data]).toEqual(before);
    const [calm, rough] = [quiet, DEFAULT_NOISE].map((noise) => {
      const state = initialState([axle], [], appraiser);
      fitNewPads(state, axle, 0.1);
      advance(state, { weightedMiles: 5000, miles: 5000, days: 60 }, noise);
      return state.cov.data[4 * state.cov.size + 4] as number;
    }) as [number, number];
    expect(rough).toBeGreaterThan(calm);
  });
});

describe('a reading', () => {
  // Textbook normal-normal update: precision adds, mean weighs by precision (Gelman et al., BDA3, §2.5).
  it('updates thickness as the normal-normal model, for a fine gauge and a regular figure', () => {
    const state = initialState([axle], ['A'], () => ({ biasMm: 0, biasSdMm: 1e-6, repeatabilityMm: 0.3 }));
    fitNewPads(state, axle, 0.1);
    advance(state, { weightedMiles: 12_000, miles: 12_000, days: 120 }, quiet);
    const at = 4;
    const { size, data } = state.cov;
    const before = data[at * size + at] as number;
    const mean = state.mean[at] as number;
    observe(state, { ...reading('r', '2026-01-01', 0, 8.7), resolutionMm: 0.001 }, axle, 0.3);
    expect(state.mean[at]).toBeCloseTo((mean / before + 8.7 / 0.09) / (1 / before + 1 / 0.09), 1);
    expect((data[at * size + at] as number) / (1 / (1 / before + 1 / 0.09))).toBeCloseTo(1, 1);
  });

  it('keeps the covariance symmetric and its variances positive through gross readings', () => {
    const state = initialState([axle], ['A'], appraiser);
    fitNewPads(state, axle, 0.1);
    for (const mm of [10.8, 16.9, 0.41, 3.2, 10.1, 40]) {
      advance(state, { weightedMiles: 800, miles: 800, days: 10 }, DEFAULT_NOISE);
      observe(state, reading('r', '2026-01-01', 0, mm), axle, 0.3);
    }
    const { size, data } = state.cov;
    for (let i = 0; i < size; i += 1) {
      expect(data[i * size + i]).toBeGreaterThan(0);
      for (let j = 0; j < size; j += 1) expect(data[i * size + j]).toBeCloseTo(data[j * size + i] as number, 10);
    }
  });

  it('moves little for the backing plate, and fully for one that is far too thin twice', () => {
    const marks = [undefined, 9.7 + 5.8, 6.6].map((mm) => {
      const readings = [reading('a', '2026-03-01', 12_900, 10.3), reading('b', '2026-05-01', 15_900, mm ?? 9.7)];
      if (mm === 6.6) readings.push(reading('c', '2026-06-01', 17_500, 5.4));
      return forecastVehicle(input({ readings }), policy).axles[0]?.markMiles ?? 0;
    }) as [number, number, number];
    expect(Math.abs(marks[1] - marks[0])).toBeLessThan(0.15 * (marks[0] - 19_050));
    expect(marks[2]).toBeLessThan(marks[0] - 8000);
  });

  it('narrows its technician’s bias where pads are newly fitted', () => {
    const sure = input({
      readings: ['left', 'right'].flatMap((side) =>
        ['inner', 'outer'].map((pad, i) =>
          reading(`${side}${i}`, '2026-01-03', 10_020, 11.6, pad as 'inner', side as 'left'),
        ),
      ),
    });
    const [first] = forecastVehicle(sure, policy).axles;
    expect(first?.pads[0]?.meanMm).toBeLessThan(9.7); // new pads read thick by a high appraiser stay near new less wear
  });
});

describe('new pads', () => {
  it('begin at nominal thickness and keep what was learnt of the rate', () => {
    const state = initialState([axle], [], appraiser);
    state.mean[0] = Math.log(0.5);
    fitNewPads(state, axle, 0.1);
    const { size, data } = state.cov;
    expect(state.mean[4]).toBe(11);
    expect(data[4 * size + 4]).toBeCloseTo(0.01, 12);
    expect(data[4 * size]).toBe(0);
    expect(state.mean[0]).toBe(Math.log(0.5));
  });

  it('take readings of the same day for the old pads', () => {
    const fitted = input({ readings: [reading('old', '2026-01-01', 10_000, 2.9)] });
    const [first] = forecastVehicle(fitted, policy).axles;
    expect(first?.evidence).toMatchObject({ readings: 0, earlierReadings: 1 });
    expect(first?.thinnestMm).toBeGreaterThan(8);
  });
});

describe('the way to a date', () => {
  it('bends at a duty that begins ahead', () => {
    const spans = [
      { from: '2026-01-01', severity: 1 },
      { from: '2026-07-11', severity: 2 },
    ];
    expect(horizon(spans, '2026-07-01', 100)(1.5)).toBeCloseTo(10 + 0.5 / 0.2, 9);
    expect(horizon(spans, '2026-07-01', 100)(0.5)).toBeCloseTo(5, 9);
    expect(horizon(spans, '2026-07-01', 100)(-0.5)).toBeCloseTo(-5, 9);
  });
});

describe('the forecast', () => {
  it('is the same for the same input and seed', () => {
    const one = input({ readings: [reading('a', '2026-05-01', 15_900, 9.6)] });
    expect(forecastVehicle(one, policy)).toEqual(forecastVehicle(one, policy));
  });

  // A new instrument counts from nought: what was driven before lies below it.
  it.each([-9000, -15_900, 40_000])('goes by what was driven, wherever the odometer began (%d mi)', (shift) => {
    const at = (from: number) =>
      input({
        readings: [
          reading('a', '2026-02-01', from + 4000, 10.4),
          reading('b', '2026-05-01', from + 9000, 9.6),
          reading('c', '2026-06-20', from + 11_500, 9.1),
        ],
        fittings: [{ axle: 1, date: '2026-01-10', miles: from + 3000 }],
        odometers: [{ date: '2025-12-01', miles: from }],
      });
    const [plain, shifted] = [0, shift].map((from) => forecastVehicle(at(from), policy));
    expect(shifted?.milesPerDay.mean).toBeCloseTo(plain?.milesPerDay.mean ?? NaN, 6);
    const [own, other] = [shifted?.axles[0], plain?.axles[0]];
    expect(own?.markDate).toBe(other?.markDate);
    expect(own?.markMiles).toBeCloseTo((other?.markMiles ?? NaN) + shift, 3);
    expect(own?.pads.map(({ meanMm }) => meanMm)).toEqual(other?.pads.map(({ meanMm }) => expect.closeTo(meanMm, 6)));
  });

  it('puts the mark before the median, between the ends of its interval', () => {
    const [first] = forecastVehicle(input({ readings: [reading('a', '2026-05-01', 15_900, 9.6)] }), policy).axles;
    expect(first?.markMiles).toBeLessThan(first?.miles.p10 ?? 0);
    expect(first?.miles.p10).toBeLessThan(first?.miles.p50 ?? 0);
    expect(first?.miles.p50).toBeLessThan(first?.miles.p90 ?? 0);
    expect(first?.markDate && first.markDate < first.dates.p50).toBe(true);
  });

  it('narrows with readings', () => {
    const width = (readings: VehicleInput['readings']) => {
      const [first] = forecastVehicle(input({ readings }), policy).axles;
      return (first?.miles.p90 ?? 0) - (first?.miles.p10 ?? 0);
    };
    const many = [12_000, 14_000, 16_000, 18_000].flatMap((miles, i) =>
      (['left', 'right'] as const).flatMap((side) =>
        (['inner', 'outer'] as const).map((pad) =>
          reading(
            `${miles}${side}${pad}`,
            `2026-0${i + 2}-10`,
            miles,
            11 - (0.2 * (miles - 10_000)) / 1000,
            pad,
            side,
            i % 2 ? 'A' : 'B',
          ),
        ),
      ),
    );
    expect(width(many)).toBeLessThan(0.75 * width([]));
  });

  it('keeps a passed mark at its true odometer and date', () => {
    const worn = input({
      readings: [
        reading('a', '2026-06-25', 18_900, 2.0),
        reading('b', '2026-06-26', 18_950, 2.1, 'inner', 'left', 'B'),
      ],
      fittings: [{ date: '2025-01-01', miles: 0, axle: 1 }],
    });
    const forecast = forecastVehicle(worn, policy);
    const [first] = forecast.axles;
    expect(first?.markMiles).toBeLessThan(forecast.odometerNowMi);
    expect(first?.markDate && first.markDate < worn.today).toBe(true);
    expect(first?.markMiles).toBeGreaterThan(0);
    expect(first?.probabilityBelowNow).toBeGreaterThan(0.5);
  });

  it('puts the mark of an axle of which nothing is known at about today: measure it', () => {
    const unknown = input({ fittings: [] });
    const forecast = forecastVehicle(unknown, policy);
    const [first] = forecast.axles;
    expect(Math.abs((first?.markMiles ?? 0) - forecast.odometerNowMi)).toBeLessThan(3000);
    expect(first?.evidence).toEqual({ readings: 0, technicians: 0, lastDate: undefined, earlierReadings: 0 });
  });

  it('claims nothing of before the record began', () => {
    const worn = input({ fittings: [], readings: [reading('a', '2026-01-02', 10_020, 1.0)] });
    const [first] = forecastVehicle(worn, policy).axles;
    expect(first?.markMiles).toBe(10_000);
  });

  it('carries the pads from the last look to today, and knows them less well', () => {
    const readings = (['left', 'right'] as const).flatMap((side) =>
      (['inner', 'outer'] as const).map((pad) => reading(`${side}${pad}`, '2026-06-30', 19_000, 9.2, pad, side)),
    );
    const [then, later] = ['2026-07-01', '2026-11-01'].map(
      (today) => forecastVehicle(input({ readings, today }), policy).axles[0]?.pads[0],
    );
    // Four months at about fifty miles a day are six thousand miles, and a good millimetre.
    expect((then?.meanMm ?? 0) - (later?.meanMm ?? 0)).toBeGreaterThan(0.7);
    expect((then?.meanMm ?? 0) - (later?.meanMm ?? 0)).toBeLessThan(2);
    expect(later?.sdMm).toBeGreaterThan(then?.sdMm ?? Infinity);
  });

  it('ignores what is dated after today', () => {
    const later = input({ readings: [reading('a', '2026-09-01', 30_000, 3)] });
    expect(forecastVehicle(later, policy).judgements).toHaveLength(0);
  });
});

describe('what a group learns', () => {
  // Normal-normal shrinkage by hand: prior N(log 0.2, 1), three vehicles of variance 0.0356 + spread.
  it('shrinks the group’s level towards its class by how little is known', () => {
    const evidence = [-1.2, -1.0, -1.1].map((mean) => ({ group: 'g', mean, variance: 0.0231 }));
    const weight = 1 / (0.0231 + 0.25 ** 2 + 0.12 ** 2);
    const expectedMean = (Math.log(0.2) + weight * (-1.2 - 1.0 - 1.1)) / (1 + 3 * weight);
    expect(groupPrior('light', evidence).mean).toBeCloseTo(expectedMean, 12);
    // What stays unknown of the level is this axle's.
    expect(groupPrior('light', evidence).sdAxle).toBeCloseTo(Math.sqrt(0.12 ** 2 + 1 / (1 + 3 * weight)), 12);
    expect(groupPrior('light', evidence).sdVehicle).toBe(0.25);
    expect(groupPrior('light', []).mean).toBeCloseTo(classPrior('light').mean, 12);
  });
});
