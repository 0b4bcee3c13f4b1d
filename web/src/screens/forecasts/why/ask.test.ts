import { describe, expect, it } from '@jest/globals';
import type { ForecastInput } from '@mile-mark/contract/forecasts';
import type { Duty } from '@mile-mark/contract/register';
import { classPrior, DEFAULT_NOISE, UNKNOWN_APPRAISER, type VehicleInput } from '@mile-mark/core';
import { AS_IT_IS, asked, stretchesOf } from './ask.ts';

const duty = (stopsPerMile: number): Duty => ({
  id: `3f0c1f3e-1111-4111-8111-00000000000${stopsPerMile}`,
  name: `stops ${stopsPerMile}`,
  stopsPerMile,
  mphBeforeStop: 30,
  payloadShare: 0.5,
  descentMPerMile: 0,
  retarderShare: 0,
  towedKg: 0,
  milesPerDay: 60,
  slowdownsPerMile: 0,
  slowdownFromMph: 0,
  slowdownToMph: 0,
  longestDescentM: 0,
  source: 'stated',
  sourceNote: null,
});
const input: VehicleInput = {
  axles: [1, 2].map((axle) => ({ axle, newMm: 11, plateMm: 5.8, limitMm: 2.75, prior: classPrior('light') })),
  readings: [],
  fittings: [],
  odometers: [
    { date: '2026-01-01', miles: 10_000 },
    { date: '2026-04-11', miles: 20_000 },
  ],
  duty: [
    { from: '2026-01-01', severity: 1 },
    { from: '2026-03-02', severity: 2, byAxle: { 1: 2.5, 2: 2 } },
  ],
  appraisers: {},
  unknownAppraiser: UNKNOWN_APPRAISER,
  noise: DEFAULT_NOISE,
  today: '2026-04-11',
};
const found: ForecastInput = {
  unit: 'V1',
  class: 'van',
  tareKg: 2200,
  gvwrKg: 3500,
  retarder: false,
  whole: true,
  shares: [
    { axle: 1, brakeShare: 0.7 },
    { axle: 2, brakeShare: 0.3 },
  ],
  input,
  policy: { riskTarget: 0.05, seed: 1, draws: 256 },
  currency: null,
  reference: duty(2),
  present: duty(2),
};

describe('what is asked', () => {
  it('is the vehicle as it is where nothing is asked', () => {
    expect(asked(found, 1, AS_IT_IS)).toEqual({ input, policy: found.policy });
  });

  it('changes the duty from tomorrow on and nothing of the past', () => {
    const { input: other } = asked(found, 1, { ...AS_IT_IS, duty: duty(4) });
    expect(other.duty.slice(0, 2)).toEqual(input.duty);
    expect(other.duty.at(-1)).toMatchObject({ from: '2026-04-12', severity: expect.closeTo(2, 9) });
    expect(other.readings).toBe(input.readings);
  });

  it('changes the payload of the present duty, the limit of this axle alone, and the risk', () => {
    const heavier = asked(found, 1, { ...AS_IT_IS, payloadShare: 1 }).input.duty.at(-1);
    // Work goes with the mass: 3,500 kg over 2,850.
    expect(heavier?.severity).toBeCloseTo(3500 / 2850, 1);
    const { axles } = asked(found, 1, { ...AS_IT_IS, limitMm: 4 }).input;
    expect(axles.map(({ limitMm }) => limitMm)).toEqual([4, 2.75]);
    expect(asked(found, 1, { ...AS_IT_IS, riskTarget: 0.2 }).policy.riskTarget).toBe(0.2);
  });

  it('asks no duty of a model without a reference', () => {
    expect(asked({ ...found, reference: null }, 1, { ...AS_IT_IS, duty: duty(4) }).input.duty).toEqual(input.duty);
  });
});

describe('each mile', () => {
  it('is counted under the duty it was driven under, by axle', () => {
    // 100 days at 100 miles a day: 60 days before the change, 40 after.
    const stretches = stretchesOf(input, 1, 20_000, { date: '2026-01-01', miles: 10_000 });
    expect(stretches.map(({ from, miles }) => [from, Math.round(miles)])).toEqual([
      ['2026-01-01', 6000],
      ['2026-03-02', 4000],
    ]);
    expect(stretches[1]?.weightedMiles).toBeCloseTo(10_000, 6);
    const total = stretches.reduce((sum, { miles }) => sum + miles, 0);
    expect(total).toBeCloseTo(10_000, 6);
  });

  it('begins with the pads', () => {
    const stretches = stretchesOf(input, 2, 20_000, { date: '2026-03-22', miles: 18_000 });
    expect(stretches).toHaveLength(1);
    expect(stretches[0]).toMatchObject({ miles: 2000, weightedMiles: 4000, severity: 2 });
  });
});
