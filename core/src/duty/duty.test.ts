import { describe, expect, it } from '@jest/globals';
import { METRES_PER_MILE, MPS_PER_MPH, STANDARD_GRAVITY } from '../units/index.ts';
import {
  axleWork,
  DEFAULT_DUTY_SETTINGS,
  descentPower,
  exposureBetween,
  rollingMass,
  severity,
  severityOn,
  slowdownWork,
  workPerMile,
  type Duty,
  type DutySpan,
} from './index.ts';

const van = { rolling: 0.01, dragAreaM2: 1.2, rotatingMass: 1.05, airDensity: 1.225 };
const truck = { rolling: 0.006, dragAreaM2: 6, rotatingMass: 1.05, airDensity: 1.225 };
const stop = { massKg: 3000, fromMps: 30 * MPS_PER_MPH, toMps: 0, deceleration: 2, retarderShare: 0 };

describe('work of a stop', () => {
  // Elementary mechanics, worked by hand: ½·m·v².
  it.each([
    [3000, 1.0792],
    [80_000 * 0.45359237, 13.053],
    [4000 * 0.45359237, 0.6527],
  ])('%s kg at 60 mph holds %s MJ', (massKg, megajoules) => {
    const { kineticJ } = slowdownWork({ ...stop, massKg, fromMps: 60 * MPS_PER_MPH }, { ...van, rotatingMass: 1 });
    expect(kineticJ / 1e6).toBeCloseTo(megajoules, 3);
  });

  it('of 3,000 kg from 30 mph: 44.965 m, 283.28, 13.229, 2.972 and 267.08 kJ', () => {
    const work = slowdownWork(stop, van);
    expect(work.distanceM).toBeCloseTo(44.965, 3);
    expect(work.kineticJ / 1000).toBeCloseTo(283.28, 2);
    expect(work.rollingJ / 1000).toBeCloseTo(13.229, 3);
    expect(work.airJ / 1000).toBeCloseTo(2.972, 3);
    expect(work.brakeJ / 1000).toBeCloseTo(267.08, 2);
  });

  // The same by numerical integration over time of brake power = m·k·a·v − rolling − air.
  it('agrees with integrating the motion step by step', () => {
    const dt = 1e-4;
    let brake = 0;
    for (let v = stop.fromMps - (stop.deceleration * dt) / 2; v > 0; v -= stop.deceleration * dt) {
      const inertia = stop.massKg * van.rotatingMass * stop.deceleration * v;
      const rolling = van.rolling * stop.massKg * STANDARD_GRAVITY * v;
      const air = 0.5 * van.airDensity * van.dragAreaM2 * v ** 3;
      brake += (inertia - rolling - air) * dt;
    }
    expect(slowdownWork(stop, van).brakeJ / brake).toBeCloseTo(1, 5);
  });

  it('is never negative, and the retarder takes its share', () => {
    expect(slowdownWork({ ...stop, deceleration: 0.05 }, van).brakeJ).toBe(0);
    const half = slowdownWork({ ...stop, retarderShare: 0.5 }, van).brakeJ;
    expect(half).toBeCloseTo(slowdownWork(stop, van).brakeJ / 2, 6);
  });
});

describe('power of a descent', () => {
  it('of 36,287 kg down 6 % at 55 mph: 524.0, 52.4 and 54.6 kW', () => {
    const power = descentPower({ massKg: 36_287, grade: 0.06, speedMps: 55 * MPS_PER_MPH, retarderShare: 0 }, truck);
    expect(power.gravityW / 1000).toBeCloseTo(524.0, 1);
    expect(power.rollingW / 1000).toBeCloseTo(52.4, 1);
    expect(power.airW / 1000).toBeCloseTo(54.6, 1);
    expect(power.brakeW).toBeCloseTo(power.gravityW - power.rollingW - power.airW, 6);
  });

  it('is nothing on a slope that rolling and air hold', () => {
    expect(descentPower({ massKg: 3000, grade: 0.005, speedMps: 20, retarderShare: 0 }, van).brakeW).toBe(0);
  });
});

const masses = { tareKg: 2200, gvwrKg: 3500 };
const village: Duty = {
  stopsPerMile: 2.2,
  mphBeforeStop: 32,
  payloadShare: 0.5,
  descentMPerMile: 8,
  retarderShare: 0.1,
  towedKg: 0,
};
const street: Duty = { ...village, stopsPerMile: 5.5, mphBeforeStop: 24, payloadShare: 0.55, descentMPerMile: 4 };
const settings = DEFAULT_DUTY_SETTINGS.van;

describe('work per mile of a duty', () => {
  it('adds stops and descents, each worked out by hand', () => {
    const work = workPerMile(masses, village, settings);
    expect(work.massKg).toBe(2200 + 0.5 * 1300);
    const single = slowdownWork(
      { massKg: work.massKg, fromMps: 32 * MPS_PER_MPH, toMps: 0, deceleration: 2, retarderShare: 0.1 },
      settings,
    );
    expect(work.stopsJ).toBeCloseTo(2.2 * single.brakeJ, 6);
    const speed = 32 * MPS_PER_MPH;
    const slope = Math.atan(0.04);
    const force =
      work.massKg * STANDARD_GRAVITY * (Math.sin(slope) - 0.01 * Math.cos(slope)) - 0.5 * 1.225 * 1.6 * speed ** 2;
    expect(work.descentsJ).toBeCloseTo(force * (8 / Math.sin(slope)) * 0.9, 4);
    expect(work.totalJ).toBeCloseTo(work.stopsJ + work.descentsJ, 9);
  });

  it('never descends for more than the mile', () => {
    const steep = workPerMile(masses, { ...village, descentMPerMile: 400 }, settings);
    const whole = workPerMile(
      masses,
      { ...village, descentMPerMile: METRES_PER_MILE * Math.sin(Math.atan(0.04)) },
      settings,
    );
    expect(steep.descentsJ).toBeCloseTo(whole.descentsJ, 6);
  });

  it('tells what a trailer adds', () => {
    const towing = { ...village, towedKg: 900 };
    expect(workPerMile(masses, village, settings).towingJ).toBe(0);
    expect(workPerMile(masses, towing, settings).towingJ).toBeCloseTo(
      workPerMile(masses, towing, settings).totalJ - workPerMile(masses, village, settings).totalJ,
      6,
    );
    expect(rollingMass(masses, towing)).toBe(2200 + 650 + 900);
  });

  it('shares the work by axle', () => {
    expect(axleWork(1000, 0.7) + axleWork(1000, 0.3)).toBeCloseTo(1000, 9);
  });
});

describe('severity and duty-weighted miles', () => {
  it('is 1 for the reference and grows with the stops', () => {
    expect(severity(masses, village, village, settings)).toBe(1);
    expect(severity(masses, street, village, settings)).toBeGreaterThan(1.2);
  });

  it('does not fall to nothing for a duty without braking, and refuses a figure that is missing', () => {
    const idle = { ...village, stopsPerMile: 0, descentMPerMile: 0 };
    expect(severity(masses, idle, village, settings)).toBe(0.02);
    expect(severity(masses, idle, idle, settings)).toBe(1);
    expect(() => severity(masses, { ...village, descentMPerMile: Number.NaN }, village, settings)).toThrow(RangeError);
  });

  const spans: DutySpan[] = [
    { from: '2026-01-01', to: '2026-01-11', severity: 1 },
    { from: '2026-01-11', severity: 3 },
  ];

  it('bends where the route changes', () => {
    const exposure = exposureBetween(spans, { date: '2026-01-06', miles: 1000 }, { date: '2026-01-16', miles: 2000 });
    expect(exposure).toEqual({ miles: 1000, weightedMiles: 500 * 1 + 500 * 3, days: 10 });
  });

  it('counts days before the first duty under it, and the day’s own for a stretch within a day', () => {
    expect(
      exposureBetween(spans, { date: '2025-12-22', miles: 0 }, { date: '2026-01-01', miles: 100 }).weightedMiles,
    ).toBe(100);
    expect(
      exposureBetween(spans, { date: '2026-01-11', miles: 0 }, { date: '2026-01-11', miles: 10 }).weightedMiles,
    ).toBe(30);
    expect(exposureBetween([], { date: '2026-01-01', miles: 0 }, { date: '2026-01-02', miles: 10 }).weightedMiles).toBe(
      10,
    );
    expect(severityOn([], 0)).toBe(1);
  });
});
