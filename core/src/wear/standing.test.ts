import { describe, expect, it } from '@jest/globals';
import { normalQuantile } from '../numeric/index.ts';
import { forecastVehicle, UNKNOWN_APPRAISER, type VehicleInput, type WearNoise } from './index.ts';
import { runHistory } from './history.ts';
import { contextOf, padsAhead, standToday } from './standing.ts';

const NEW_MM = 11;
const LIMIT_MM = 3;
/** Everybody knows how these pads wear: .2 mm a thousand miles, all alike. */
const RATE = 0.2;
const STILL: WearNoise = { perPeriod: 0, perPad: 0, perDuty: 0, newToleranceMm: 0.001 };
const policy = { riskTarget: 0.05, seed: 7, draws: 4096 };
const POLICY_AXLE = 1;

/** Pads of an axle fitted a year ago, driven 10,000 miles since and looked at twelve times by somebody who errs by nothing. */
function wellKnown(noise: WearNoise = STILL, extra: Partial<VehicleInput> = {}): VehicleInput {
  const looks = Array.from({ length: 12 }, (_, k) => ({ month: k + 1, miles: (10_000 * (k + 1)) / 12 }));
  const dateOf = (month: number) => `2026-${String(month).padStart(2, '0')}-28`;
  return {
    axles: [
      {
        axle: POLICY_AXLE,
        newMm: NEW_MM,
        plateMm: 5,
        limitMm: LIMIT_MM,
        prior: { mean: Math.log(RATE), sdVehicle: 1e-4, sdAxle: 1e-4, sdPad: 1e-4 },
      },
    ],
    readings: looks.flatMap(({ month, miles }) =>
      (['left', 'right'] as const).flatMap((side) =>
        (['inner', 'outer'] as const).map((pad) => ({
          id: `${month} ${side} ${pad}`,
          date: dateOf(month),
          miles,
          axle: POLICY_AXLE,
          side,
          pad,
          mm: NEW_MM - (RATE * miles) / 1000,
          unit: 'mm' as const,
          resolutionMm: 0.001,
          technician: 'Ashdown',
        })),
      ),
    ),
    fittings: [{ date: '2026-01-01', miles: 0, axle: POLICY_AXLE }],
    odometers: [
      { date: '2026-01-01', miles: 0 },
      { date: '2026-12-28', miles: 10_000 },
    ],
    duty: [{ from: '2025-01-01', severity: 1 }],
    appraisers: { Ashdown: { biasMm: 0, biasSdMm: 1e-4, repeatabilityMm: 0.01 } },
    unknownAppraiser: UNKNOWN_APPRAISER,
    noise,
    today: '2026-12-28',
    ...extra,
  };
}

/** Where an axle of an input stands, as a forecast of the truth and as one of further readings has it. */
function ahead(input: VehicleInput, absoluteSdMm?: number) {
  const [axle] = input.axles;
  if (!axle) throw new Error('no axle');
  const context = contextOf(standToday(runHistory(input), input), input, policy, axle);
  return absoluteSdMm === undefined ? padsAhead(context) : padsAhead(context, absoluteSdMm);
}

describe('what all readings together may be off', () => {
  // The miles left of pads that wear r a thousand miles and are known to ± s: 1,000·s/r to either side, closed form.
  it('is in the miles left, however often and well pads were measured, and nothing else is there', () => {
    const [axle] = forecastVehicle(wellKnown(), policy).axles;
    const half = ((axle?.miles.p95 ?? 0) - (axle?.miles.p05 ?? 0)) / 2;
    const sdMm = ((half / normalQuantile(0.95)) * RATE) / 1000;
    expect(sdMm).toBeGreaterThan(0.12);
    expect(sdMm).toBeLessThan(0.14);
    expect(axle?.miles.p50).toBeCloseTo(10_000 + (1000 * (NEW_MM - 2 - LIMIT_MM)) / RATE, -2);
  });

  it('is one and the same for all pads of an axle, and part of no rate', () => {
    const { part } = ahead(wellKnown());
    const { part: bare } = ahead(wellKnown(), 0);
    const { size } = part.cov;
    const pads = size / 2;
    const added = part.cov.data.map((value, k) => value - (bare.cov.data[k] ?? NaN));
    const of = (i: number, k: number) => added[i * size + k];
    for (let i = 0; i < size; i += 1)
      for (let k = 0; k < size; k += 1)
        expect(of(i, k)).toBeCloseTo(i >= pads && k >= pads ? (of(pads, pads) ?? NaN) : 0, 12);
    expect(of(pads, pads)).toBeGreaterThan(0);
  });

  it('is not widened with what past forecasts showed: that is of other readings', () => {
    const wide = ahead(wellKnown(STILL, { widening: { near: 2, far: 2 } }));
    const plain = ahead(wellKnown());
    const last = plain.part.cov.data.length - 1;
    expect(wide.part.cov.data[last]).toBeCloseTo(plain.part.cov.data[last] ?? NaN, 3);
    expect(wide.widened).toBe(2);
  });
});

describe('how a period ahead scatters', () => {
  const road = (perPeriod: number) => ({
    ahead: { levelSd: 0, perPeriod, hazardPerDay: 0, change: { mean: 0, sd: 0.4 } },
  });
  const scatter = (ofWear: number, ofBlocks?: number) =>
    ahead(wellKnown({ ...STILL, perPeriod: ofWear }, ofBlocks === undefined ? {} : road(ofBlocks))).noise.perPeriod;

  it('is as wear scatters where duty is stated, and never less where it is measured', () => {
    expect(scatter(0.15)).toBeCloseTo(0.15, 12);
    for (const ofBlocks of [0, 0.05, 0.15, 0.2]) expect(scatter(0.15, ofBlocks)).toBeCloseTo(0.15, 12);
  });

  // Blocks measured without error, of which wear shows all: they scatter ahead as they did.
  it('is as blocks scatter where wear follows them', () => {
    expect(scatter(0, 0.3)).toBeCloseTo(0.3, 12);
    // 3-4-5: of .5 of the blocks, .3 did not show in wear.
    expect(scatter(0.3, 0.5)).toBeCloseTo(0.4, 12);
  });
});
