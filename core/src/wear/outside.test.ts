import { describe, expect, it } from '@jest/globals';
import jstat from 'jstat';
import { normalCdf, randomNormal, seededRandom, sortedQuantile, square } from '../numeric/index.ts';
import { dateOfDay, dayNumber } from '../units/index.ts';
import { firstPassage } from './passage.ts';
import { runHistory, type ReadingInput, type VehicleInput } from './index.ts';

// Wear whose scatter is independent from period to period is a drifted Brownian path in the limit; its first passage is
// inverse Gaussian with mean a/v and shape a²/σ² (Chhikara & Folks, The Inverse Gaussian Distribution (1989), from memory).
describe('first passage against the inverse Gaussian', () => {
  const cdf = (t: number, mean: number, shape: number) => {
    const past = normalCdf(-Math.sqrt(shape / t) * (t / mean + 1));
    const reflected = past > 0 ? Math.exp((2 * shape) / mean + Math.log(past)) : 0;
    return normalCdf(Math.sqrt(shape / t) * (t / mean - 1)) + reflected;
  };

  it.each([
    [8, 0.2, 0.2, 1],
    [3, 0.5, 0.3, 0.5],
    [5, 0.1, 0.15, 2],
  ])('of %d mm at %d mm a thousand miles: quantiles fall where the closed form has them', (mm, rate, sd, each) => {
    const mean = new Float64Array(8);
    mean.fill(Math.log(rate), 0, 4);
    mean.fill(mm + 3, 4);
    const noise = { perPeriod: sd, perPad: 0, exposurePerPeriod: each, milesPerExposure: 1 };
    const passage = firstPassage({ mean, cov: square(8) }, 3, noise, 4096, 11);
    // Variance of the wear of a period of E thousand miles is (τ·v·E)², so σ² a thousand miles is τ²v²E.
    const shape = mm ** 2 / (sd ** 2 * rate ** 2 * each);
    for (const p of [0.05, 0.25, 0.5, 0.75, 0.95])
      expect(Math.abs(cdf(sortedQuantile(passage, p), mm / rate, shape) - p)).toBeLessThan(0.015);
  });
});

// Simulation-based calibration: truth drawn from the prior, data from the model; where the posterior is right, the truth's
// place in it is uniform (Talts et al. 2018, from memory). The filter is an approximation, so its ranks are asked by a
// chi-square that only a plain fault fails (one chance in ten thousand).
describe('the filter, with truth drawn from its own prior', () => {
  const noise = { perPeriod: 0.1, perPad: 0.1, perDuty: 0, newToleranceMm: 0.1 };
  const prior = { mean: Math.log(0.2), sdVehicle: 0.25, sdAxle: 0.12, sdPad: 0.1 };
  const PADS = [
    ['left', 'inner'],
    ['left', 'outer'],
    ['right', 'inner'],
    ['right', 'outer'],
  ] as const;
  const VEHICLES = 300;
  const BINS = 10;

  /** A vehicle whose every figure is drawn as the filter believes it is. */
  function drawn(seed: number) {
    const random = seededRandom(seed);
    const normal = () => randomNormal(random);
    const common = prior.mean + 0.25 * normal() + 0.12 * normal();
    const rates = PADS.map(() => common + 0.1 * normal());
    const left = PADS.map(() => 11 + 0.1 * normal());
    const bias = 0.2 * normal();
    const readings: ReadingInput[] = [];
    for (let look = 1; look <= 5; look += 1) {
      for (let period = 0; period < 3; period += 1) {
        const shared = noise.perPeriod * normal();
        PADS.forEach((_, p) => {
          const own = (noise.perPad / Math.sqrt(1.4)) * normal();
          left[p] = (left[p] as number) - Math.exp(rates[p] as number) * 1.4 * (1 + shared + own);
        });
      }
      PADS.forEach(([side, pad], p) =>
        readings.push({
          id: `${look}${side}${pad}`,
          date: dateOfDay(dayNumber('2026-01-01') + 84 * look),
          miles: 10_000 + 4200 * look,
          axle: 1,
          side,
          pad,
          mm: Math.round(10 * ((left[p] as number) + bias + 0.2 * normal())) / 10,
          unit: 'mm',
          resolutionMm: 0.1,
          technician: 'A',
        }),
      );
    }
    const input: VehicleInput = {
      axles: [{ axle: 1, newMm: 11, plateMm: 5.8, limitMm: 2.75, prior }],
      readings,
      fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
      odometers: [],
      duty: [],
      appraisers: { A: { biasMm: 0, biasSdMm: 0.2, repeatabilityMm: 0.2 } },
      unknownAppraiser: { biasMm: 0, biasSdMm: 0.35, repeatabilityMm: 0.3 },
      noise,
      today: '2027-12-31',
    };
    const { state } = runHistory(input);
    const placeOf = (at: number, truth: number) =>
      normalCdf((truth - (state.mean[at] as number)) / Math.sqrt(state.cov.data[at * (state.cov.size + 1)] as number));
    return { rate: placeOf(0, rates[0] as number), thickness: placeOf(4, left[0] as number), bias: placeOf(8, bias) };
  }

  const ranks = Array.from({ length: VEHICLES }, (_, v) => drawn(900 + v));
  it.each(['rate', 'thickness', 'bias'] as const)('ranks of the true %s are uniform', (what) => {
    const counts = new Array<number>(BINS).fill(0);
    for (const one of ranks) {
      const bin = Math.min(BINS - 1, Math.floor(BINS * one[what]));
      counts[bin] = (counts[bin] as number) + 1;
    }
    const expected = VEHICLES / BINS;
    const chi = counts.reduce((sum, count) => sum + (count - expected) ** 2 / expected, 0);
    expect(chi).toBeLessThan(jstat.chisquare.inv(0.9999, BINS - 1));
  });
});
