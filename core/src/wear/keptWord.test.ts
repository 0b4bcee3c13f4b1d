import { describe, expect, it } from '@jest/globals';
import { DEFAULT_PACE_PROCESS, DEFAULT_STATED_PROCESS } from '../duty/index.ts';
import { normalQuantile, randomNormal, seededRandom } from '../numeric/index.ts';
import { virtualFleet } from '../simulate/index.ts';
import { fleetInput } from '../simulate/trial.ts';
import { vehicleOn } from '../simulate/forecastTrial.ts';
import { calibrate, NEAR_MI, wideningAt } from './calibration.ts';
import { checkedLooks, strainsOf, type Residual } from './criticism.ts';
import { foresee } from './foreseen.ts';
import {
  DEFAULT_WEAR_PROCESS,
  forecastVehicle,
  learnWearProcess,
  processEvidence,
  teachersOfProcess,
  type VehicleInput,
  withProcess,
} from './index.ts';

/** Looks whose errors are so many times as wide as was foreseen. */
const looksOf = (axles: number, times: number, seed: number, each = 3) => {
  const random = seededRandom(seed);
  return Array.from({ length: axles * each }, (_, k) => ({ of: `${k % axles}`, z: times * randomNormal(random) }));
};

describe('intervals that did not hold', () => {
  it('are widened by as much as shown, and those that did are left as they are', () => {
    for (const times of [1.4, 2]) {
      const { factor, spread } = calibrate(looksOf(2000, times, 3));
      expect(factor / times).toBeGreaterThan(0.93);
      expect(factor / times).toBeLessThan(1.03);
      expect(spread / times).toBeCloseTo(1, 1);
    }
    expect(calibrate(looksOf(2000, 0.6, 4)).factor).toBe(1);
  });

  // Each axle once: its looks are of one draw. Chance alone must not widen: with the estimate a standard deviation low, one
  // fleet in six at the most.
  it('are seldom widened by chance, and little', () => {
    const factors = Array.from({ length: 200 }, (_, seed) => calibrate(looksOf(60, 1, 100 + seed, 1)).factor);
    expect(factors.filter((factor) => factor > 1).length).toBeLessThan(200 / 6 + 4 * Math.sqrt((200 * 5) / 36));
    expect(Math.max(...factors)).toBeLessThan(1.25);
  });

  it('are not widened by a few gross readings, nor by one axle that was looked at often', () => {
    const gross = looksOf(1000, 1, 7).map((look, k) => (k % 20 === 0 ? { ...look, z: 3 } : look));
    expect(calibrate(gross).factor).toBeLessThan(1.12);
    const one = Array.from({ length: 500 }, () => ({ of: 'one', z: 3 }));
    expect(calibrate([...looksOf(300, 1, 8), ...one]).factor).toBeLessThan(1.05);
  });

  it('tell how many fell within, and nothing where nothing was foreseen', () => {
    const edge = normalQuantile(0.9);
    const looks = [edge - 0.01, -edge + 0.01, edge + 0.01, 2].map((z, k) => ({ of: `${k}`, z }));
    expect(calibrate(looks)).toMatchObject({ looks: 4, axles: 4, within80: 0.5, within90: 0.75 });
    expect(calibrate([])).toMatchObject({ looks: 0, axles: 0, factor: 1 });
  });

  it('near and far go over into each other, and never below 1', () => {
    const widening = { near: 1.1, far: 1.5 };
    expect([0, NEAR_MI, 1.5 * NEAR_MI, 2 * NEAR_MI, 1e6].map((mi) => wideningAt(widening, mi))).toEqual([
      1.1,
      1.1,
      expect.closeTo(1.3, 9),
      1.5,
      1.5,
    ]);
    expect(wideningAt(undefined, 100)).toBe(1);
    expect(wideningAt({ near: 0.5, far: 0.5 }, 100)).toBe(1);
  });
});

const fleet = virtualFleet({ vehicles: 40, technicians: 4, seed: 77, from: '2023-01-01', days: 900 });
const inputOf = (date: string) =>
  fleet.vehicles.map((vehicle) => ({
    known: fleetInput(vehicleOn(vehicle, date), { ...fleet, to: date }, {}, () => undefined),
    later: fleetInput(vehicle, fleet, {}, () => undefined),
  }));

describe('a forecast made again as of an earlier day', () => {
  const pairs = inputOf('2024-06-01');

  it('is held against every look since, up to the next new pads, and no look before', () => {
    for (const { known, later } of pairs) {
      const looks = foresee(known, later);
      for (const { axle, date, milesAhead, z } of looks) {
        expect(date > '2024-06-01').toBe(true);
        expect(later.readings.some((one) => one.axle === axle && one.date === date)).toBe(true);
        expect(later.fittings.some((one) => one.axle === axle && one.date > '2024-06-01' && one.date < date)).toBe(
          false,
        );
        expect(milesAhead).toBeGreaterThanOrEqual(0);
        expect(Number.isFinite(z)).toBe(true);
      }
    }
    expect(pairs.flatMap(({ known, later }) => foresee(known, later)).length).toBeGreaterThan(60);
  });

  it('does not know what came: later readings move where they fall, not what was foreseen', () => {
    const pair = pairs.find(({ known, later }) => foresee(known, later).length > 0) as (typeof pairs)[number];
    const thinner = { ...pair.later, readings: pair.later.readings.map((one) => ({ ...one, mm: one.mm - 1 })) };
    const [as, less] = [foresee(pair.known, pair.later), foresee(pair.known, thinner)];
    less.forEach(({ z, milesAhead }, k) => {
      expect(z).toBeLessThan(as[k]?.z as number);
      expect(milesAhead).toBe(as[k]?.milesAhead);
    });
  });
});

describe('intervals of a class that were too narrow', () => {
  it('are wider by the factor, and its marks earlier', () => {
    const known = inputOf('2024-06-01')[0]?.known as VehicleInput;
    const policy = { riskTarget: 0.05, seed: 1, draws: 1024 };
    const plain = forecastVehicle(known, policy).axles;
    const wide = forecastVehicle({ ...known, widening: { near: 1.5, far: 1.5 } }, policy).axles;
    plain.forEach((axle, k) => {
      const other = wide[k] as typeof axle;
      const widthOf = ({ miles }: typeof axle) => Math.log(miles.p90 / miles.p50);
      expect(other.widened).toBe(1.5);
      expect(axle.widened).toBeUndefined();
      expect(other.miles.p90 - other.miles.p10).toBeGreaterThan(1.3 * (axle.miles.p90 - axle.miles.p10));
      expect(widthOf(other)).toBeGreaterThan(widthOf(axle));
      expect(other.markMiles).toBeLessThan(axle.markMiles);
    });
  });
});

describe('what forecasts take for granted', () => {
  const random = seededRandom(21);
  const residuals = (off: (k: number) => number, groups: (k: number) => Residual['groups']): Residual[] =>
    Array.from({ length: 400 }, (_, k) => ({
      of: `axle ${Math.floor(k / 8)}`,
      date: `2026-${String(1 + (k % 8)).padStart(2, '0')}-01`,
      z: off(k) + randomNormal(random),
      groups: groups(k),
    }));

  it('is strained by a technician who reads thick, and by nobody else', () => {
    const found = strainsOf(
      checkedLooks(
        residuals(
          (k) => (k % 4 === 0 ? 0.9 : 0),
          (k) => ({ technician: k % 4 === 0 ? 'Ann' : `T${k % 4}` }),
        ),
      ),
    );
    expect(found.filter(({ strained }) => strained).map(({ group }) => group)).toEqual(['Ann']);
    expect(found).toHaveLength(4);
    expect(found[0]?.mean).toBeCloseTo(0.9, 0);
  });

  it('is strained by errors twice as wide as was said', () => {
    const wide = residuals(
      () => 0,
      () => ({ width: 'heavy' }),
    ).map((one) => ({ ...one, z: 2 * one.z }));
    const [found] = strainsOf(checkedLooks(wide));
    expect(found).toMatchObject({ assumption: 'width', strained: true });
    expect(found?.spread).toBeGreaterThan(1.6);
  });

  it('is strained by an error that goes on from look to look', () => {
    const lasting = residuals(
      (k) => 1.5 * Math.sin(Math.floor(k / 8)),
      () => ({ run: 'all' }),
    );
    expect(strainsOf(checkedLooks(lasting))[0]).toMatchObject({ assumption: 'run', strained: true });
  });

  it('is not strained by chance: errors as foreseen, of many groups', () => {
    const plain = residuals(
      () => 0,
      (k) => ({ technician: `T${k % 9}`, season: `${k % 4}`, width: 'van', run: 'all' }),
    );
    expect(strainsOf(checkedLooks(plain)).filter(({ strained }) => strained)).toEqual([]);
  });

  it('says nothing of few looks, and takes the pads of a look as one', () => {
    const few = residuals(
      () => 3,
      () => ({ technician: 'Ann' }),
    ).slice(0, 11);
    expect(strainsOf(checkedLooks(few))).toEqual([]);
    const pads = [1, -1, 2, 2].map((z): Residual => ({ of: 'a', date: '2026-01-01', z, groups: {} }));
    expect(checkedLooks(pads)).toEqual([{ of: 'a', groups: {}, z: 1, size: Math.sqrt(2.5) }]);
  });
});

describe('how wear scatters', () => {
  it('is learnt as wider where pads of an axle differ more than assumed, and never as narrower', () => {
    const learnt = [0.05, 0.35].map((padSd) => {
      const own = virtualFleet({
        vehicles: 30,
        technicians: 3,
        seed: 91,
        from: '2023-01-01',
        days: 900,
        habits: { padSd },
      });
      return learnWearProcess(
        own.vehicles.map((vehicle) => processEvidence(fleetInput(vehicle, own, {}, () => undefined))),
      );
    });
    expect(learnt[0]?.sdPad).toBe(DEFAULT_WEAR_PROCESS.sdPad);
    expect(learnt[1]?.sdPad).toBeGreaterThan(1.3 * DEFAULT_WEAR_PROCESS.sdPad);
  });

  it('has measured blocks believed the less, the more of their scatter is error', () => {
    const processes = { measured: undefined, stated: DEFAULT_STATED_PROCESS, pace: DEFAULT_PACE_PROCESS };
    const [exact, unsure] = [0, 0.4].map((measuredErrorSd) => {
      const own = virtualFleet({
        vehicles: 30,
        technicians: 3,
        seed: 92,
        from: '2023-01-01',
        days: 900,
        habits: { measuredErrorSd },
      });
      const evidence = own.vehicles.map((vehicle) =>
        processEvidence(fleetInput(vehicle, { ...own, processes }, {}, () => undefined)),
      );
      return learnWearProcess(evidence).blockShare;
    }) as [number, number];
    expect(unsure).toBeLessThan(DEFAULT_WEAR_PROCESS.blockShare);
    expect(exact).toBeGreaterThan(DEFAULT_WEAR_PROCESS.blockShare);
    // Where nothing is measured, nothing is learnt of it.
    const stated = processEvidence(inputOf('2024-06-01')[0]?.known as VehicleInput);
    expect(stated.slice(-3)).toEqual([0, 0, 0]);
  });

  // A parabola through three steps of .25 has its peak where the calculus says: at step s for −c(k − s)².
  it('is the peak of likelihood and prior, between its bounds', () => {
    const peakAt = (step: number) => [0, 1, 2].map((k) => -1000 * (k - step) ** 2);
    const of = (steps: number[]) => learnWearProcess([steps.flatMap(peakAt)]);
    const { perPeriod, perPad, sdPad } = of([0.5, -1, 5]);
    expect(Math.log(perPeriod / DEFAULT_WEAR_PROCESS.perPeriod) / 0.25).toBeCloseTo(0.5, 2);
    expect(perPad).toBe(DEFAULT_WEAR_PROCESS.perPad);
    expect(Math.log(sdPad / DEFAULT_WEAR_PROCESS.sdPad) / 0.25).toBeCloseTo(2, 9);
    expect(learnWearProcess([])).toEqual(DEFAULT_WEAR_PROCESS);
    // The share of blocks stands in the middle of its three steps, and is never more than all.
    const share = (step: number) => learnWearProcess([[...peakAt(0), ...peakAt(0), ...peakAt(0), ...peakAt(step)]]);
    expect(share(1).blockShare).toBeCloseTo(DEFAULT_WEAR_PROCESS.blockShare, 9);
    expect(share(9).blockShare).toBe(1);
    expect(share(0.5).blockShare).toBeCloseTo(DEFAULT_WEAR_PROCESS.blockShare * 1.5 - 0.5, 2);
  });

  it('is asked of the vehicles that were read most, and of none that was hardly read', () => {
    const vehicles = Array.from({ length: 60 }, (_, k) => ({ k, readings: k }));
    const teachers = teachersOfProcess(vehicles);
    expect(teachers[0]?.readings).toBe(59);
    expect(Math.min(...teachers.map(({ readings }) => readings))).toBeGreaterThanOrEqual(12);
    expect(teachersOfProcess(vehicles.slice(0, 12))).toEqual([]);
  });

  it('reaches a vehicle whole: its noise and the spread of its pads', () => {
    const known = inputOf('2024-06-01')[0]?.known as VehicleInput;
    const other = withProcess(known, { perPeriod: 0.3, perPad: 0.4, sdPad: 0.5, blockShare: 1 });
    expect(other.noise).toEqual({ ...known.noise, perPeriod: 0.3, perPad: 0.4 });
    expect(other.axles.map(({ prior }) => prior.sdPad)).toEqual(known.axles.map(() => 0.5));
  });
});
