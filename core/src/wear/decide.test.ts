import { describe, expect, it } from '@jest/globals';
import { randomNormal, seededRandom, sortedQuantile } from '../numeric/index.ts';
import { dayNumber } from '../units/index.ts';
import {
  ageReplacement,
  DEFAULT_NOISE,
  forecastVehicle,
  groupPrior,
  learnSpread,
  rotorOutlook,
  runWithChanges,
  UNKNOWN_APPRAISER,
  wearFan,
  type VehicleInput,
} from './index.ts';

// Closed form of age replacement for a Weibull lifetime: the best age solves h(t)·∫R − F(t) = planned ÷ (failure − planned),
// and costs (failure − planned)·h(t) a mile. Barlow & Proschan, Mathematical Theory of Reliability (1965), §4.2.
describe('age replacement', () => {
  const [shape, scale] = [3, 40_000];
  const survival = (t: number) => Math.exp(-((t / scale) ** shape));
  const hazard = (t: number) => (shape / scale) * (t / scale) ** (shape - 1);
  const lived = (t: number) => {
    let sum = 0;
    for (let k = 0; k < 4000; k += 1) sum += survival(((k + 0.5) * t) / 4000) * (t / 4000);
    return sum;
  };
  const best = (planned: number, failure: number) => {
    let [low, high] = [1, 5 * scale];
    for (let k = 0; k < 80; k += 1) {
      const t = (low + high) / 2;
      if (hazard(t) * lived(t) - (1 - survival(t)) < planned / (failure - planned)) low = t;
      else high = t;
    }
    return low;
  };
  const lives = Float64Array.from(
    { length: 20_000 },
    (_, k) => scale * (-Math.log(1 - (k + 0.5) / 20_000)) ** (1 / shape),
  );

  it.each([
    [300, 1500],
    [300, 900],
    [200, 6000],
  ])('of a Weibull life at costs %s and %s is the closed form’s', (planned, failure) => {
    const found = ageReplacement(lives, 0, { planned, failure });
    const t = best(planned, failure);
    expect(Math.abs(found.milesFromNow / t - 1)).toBeLessThan(0.03);
    expect(Math.abs(found.costPerMile / ((failure - planned) * hazard(t)) - 1)).toBeLessThan(0.01);
    expect(found.runsOut).toBe(false);
  });

  it('waits where a failure costs no more, and acts at once where all is over', () => {
    expect(ageReplacement(lives, 0, { planned: 300, failure: 300 }).runsOut).toBe(true);
    expect(ageReplacement([-5, -3, -1], 30_000, { planned: 300, failure: 900 }).milesFromNow).toBe(0);
  });

  it('waits longer the more the present pads have done already, as their miles are paid for', () => {
    const costs = { planned: 300, failure: 1500 };
    const fresh = ageReplacement(lives, 0, costs);
    expect(ageReplacement(lives, 20_000, costs).costPerMile).toBeLessThan(fresh.costPerMile);
  });
});

describe('rotors', () => {
  const base = {
    newMm: 28,
    discardMm: 26,
    fromNew: true,
    readings: [],
    padWearNowMm: 10,
    padsLeftMm: 2,
    padsNewMm: 8,
  };

  // Normal-normal shrinkage by hand: prior 27.0 ± hypot(0.05, 10 × 0.05), one measurement 26.6 ± 0.03.
  it('take a measurement as the textbook does', () => {
    const prior = rotorOutlook(base);
    expect(prior.meanMm).toBeCloseTo(27, 9);
    const spread = 0.05 ** 2 + (10 * 0.05) ** 2;
    expect(prior.sdMm).toBeCloseTo(Math.sqrt(spread), 9);
    const readings = (['left', 'right'] as const).map((side) => ({ side, mm: 26.6, padWearMm: 10 }));
    const found = rotorOutlook({ ...base, readings });
    const noise = 0.03 ** 2;
    expect(found.meanMm).toBeCloseTo((27 * noise + 26.6 * spread) / (noise + spread), 9);
    expect(found.sdMm).toBeCloseTo(Math.sqrt((noise * spread) / (noise + spread)), 9);
  });

  it('are likelier below discard the longer they run, and the worse side counts', () => {
    const readings = [
      { side: 'left' as const, mm: 27.3, padWearMm: 10 },
      { side: 'right' as const, mm: 26.4, padWearMm: 10 },
    ];
    const found = rotorOutlook({ ...base, readings });
    expect(found.side).toBe('right');
    expect(found.belowNow).toBeLessThan(found.belowWithThesePads);
    expect(found.belowWithThesePads).toBeLessThan(found.belowWithNextPads);
    expect(found.belowWithNextPads).toBeGreaterThan(0.9);
    expect(rotorOutlook({ ...base, fromNew: false }).sdMm).toBeGreaterThan(rotorOutlook(base).sdMm);
  });
});

describe('spread of vehicles', () => {
  const evidence = (sd: number, seed: number) => {
    const random = seededRandom(seed);
    return Array.from({ length: 300 }, (_, k) => {
      const group = `g${k % 6}`;
      const level = -2 + 0.3 * (k % 6);
      return { group, mean: level + sd * randomNormal(random) + 0.1 * randomNormal(random), variance: 0.01 };
    });
  };

  it('is learnt from vehicles of known spread', () => {
    const assumed = Math.sqrt(0.25 ** 2 + 0.12 ** 2 + 0.1 ** 2 / 4);
    for (const sd of [0.15, 0.28, 0.5]) {
      const found = learnSpread(evidence(sd, 8)) * assumed;
      expect(Math.abs(found / sd - 1)).toBeLessThan(0.15);
    }
    expect(learnSpread([])).toBe(1);
  });

  it('widens what a new vehicle of a group may be', () => {
    const own = evidence(0.28, 9).filter(({ group }) => group === 'g1');
    expect(groupPrior('light', own, 2).sdVehicle).toBeGreaterThan(1.8 * groupPrior('light', own, 1).sdVehicle);
  });
});

const input: VehicleInput = {
  axles: [
    {
      axle: 1,
      newMm: 11,
      plateMm: 5.8,
      limitMm: 2.75,
      leastMm: 1.6,
      prior: { mean: Math.log(0.2), sdVehicle: 0.25, sdAxle: 0.12, sdPad: 0.1 },
      rotor: { newMm: 28, discardMm: 26, readings: [] },
    },
  ],
  readings: [],
  fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
  odometers: [{ date: '2026-07-01', miles: 22_000 }],
  duty: [{ from: '2026-01-01', severity: 1 }],
  appraisers: {},
  unknownAppraiser: UNKNOWN_APPRAISER,
  noise: DEFAULT_NOISE,
  today: '2026-07-01',
};
const policy = { riskTarget: 0.05, seed: 1, draws: 2048 };

describe('the fan of wear', () => {
  const [axle] = forecastVehicle(input, policy).axles;
  const until = (axle?.miles.p95 ?? 0) - 22_000;
  const fan = wearFan(runWithChanges(input), input, policy, 1, until, 40);

  it('reaches the limit where the forecast says, at each share', () => {
    for (const [share, low] of [
      ['p90', 'p10'],
      ['p50', 'p50'],
      ['p10', 'p90'],
    ] as const) {
      // Thickness's lower quantiles reach the limit at the early quantiles of the passage.
      const at = (fan?.odometerMi ?? []).findIndex((_, k) => (fan?.thinnestMm[k]?.[low] ?? 99) <= 2.75);
      const [before, here] = [fan?.odometerMi[at - 1] ?? 0, fan?.odometerMi[at] ?? 0];
      const passage = axle?.miles[share === 'p90' ? 'p10' : share === 'p10' ? 'p90' : 'p50'] ?? 0;
      expect(passage).toBeGreaterThan(before - (here - before));
      expect(passage).toBeLessThan(here + (here - before));
    }
  });

  // Brute force: the same wear, stepped mile by mile with independent draws.
  it('is what brute-force simulation gives', () => {
    const random = seededRandom(5);
    const at = fan?.odometerMi[20] ?? 0;
    const thousand = (at - 10_000) / 1000;
    const least = Float64Array.from({ length: 6000 }, () => {
      const shared = 0.25 * randomNormal(random) + 0.12 * randomNormal(random);
      const scatter = Math.sqrt(0.12 ** 2 / ((thousand * 1000) / 66.3 / 28) + 0.2 ** 2 / thousand);
      let thinnest = Infinity;
      for (let p = 0; p < 4; p += 1) {
        const rate = 0.2 * Math.exp(shared + 0.1 * randomNormal(random));
        const noise = Math.exp(scatter * randomNormal(random) - scatter ** 2 / 2);
        thinnest = Math.min(thinnest, 11 + 0.1 * randomNormal(random) - rate * thousand * noise);
      }
      return thinnest;
    }).sort();
    for (const [key, p] of [
      ['p10', 0.1],
      ['p50', 0.5],
      ['p90', 0.9],
    ] as const)
      expect(Math.abs((fan?.thinnestMm[20]?.[key] ?? 0) - Math.max(0, sortedQuantile(least, p)))).toBeLessThan(0.15);
  });
});

describe('the mark', () => {
  it('is that of the risk, or of the cost where it comes sooner, and says which', () => {
    const byRisk = forecastVehicle(input, policy).axles[0];
    expect(byRisk).toMatchObject({ ruledBy: 'risk', costMarkMiles: undefined });
    const dear = forecastVehicle(input, { ...policy, riskTarget: 0.4, costs: { planned: 300, failure: 9000 } })
      .axles[0];
    expect(dear?.ruledBy).toBe('cost');
    expect(dear?.markMiles).toBeCloseTo(dear?.costMarkMiles ?? 0, 6);
    expect(dear?.markMiles).toBeLessThan(dear?.riskMarkMiles ?? 0);
    const cheap = forecastVehicle(input, { ...policy, costs: { planned: 300, failure: 301 } }).axles[0];
    expect(cheap?.ruledBy).toBe('risk');
  });

  it('has a day that no rule is later than, and does not leap where least cost passes the risk by a mile', () => {
    const runs = Array.from({ length: 60 }, (_, i) => {
      const failure = 400 * 1.08 ** i;
      const [axle] = forecastVehicle(input, { ...policy, riskTarget: 0.05, costs: { planned: 300, failure } }).axles;
      if (!axle) throw new Error('no axle');
      return axle;
    });
    expect(new Set(runs.map(({ ruledBy }) => ruledBy)).size).toBe(2);
    for (const { markDate, dates } of runs) expect(markDate <= dates.p05).toBe(true);
    runs.slice(1).forEach((now, i) => {
      const before = runs[i] ?? now;
      // A mark that comes a few miles sooner comes about as many days sooner as those miles take, whichever rule set it.
      const miles = Math.abs(now.markMiles - before.markMiles);
      const days = Math.abs(dayNumber(now.markDate) - dayNumber(before.markDate));
      expect(days).toBeLessThanOrEqual(miles / 20 + 2);
    });
  });

  it('asks for a look no later than the mark, and sooner where the least thickness is nearer', () => {
    const [axle] = forecastVehicle(input, policy).axles;
    expect(axle?.nextInspectionDue).toBe(axle?.markDate);
    const strict = { ...input, axles: input.axles.map((one) => ({ ...one, leastMm: 4 })) };
    const [sooner] = forecastVehicle(strict, policy).axles;
    expect((sooner?.nextInspectionDue ?? '9') < (axle?.markDate ?? '')).toBe(true);
    expect(axle?.rotor?.belowWithNextPads).toBeGreaterThan(axle?.rotor?.belowNow ?? 1);
  });
});
