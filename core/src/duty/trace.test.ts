import { describe, expect, it } from '@jest/globals';
import { MPS_PER_MPH } from '../units/index.ts';
import { randomNormal, seededRandom } from '../numeric/index.ts';
import { DEFAULT_DUTY_SETTINGS, findInTrace, type Trace } from './index.ts';

const settings = { ...DEFAULT_DUTY_SETTINGS.van, dragAreaM2: 1.2 };
const masses = { tareKg: 2200, gvwrKg: 3500 };
const plain = { massKg: 3000, retarderShare: 0 };

/** A drive put together from stretches of steady acceleration: seconds, m/s², grade. */
function driven(
  stretches: readonly (readonly [seconds: number, acceleration: number, grade: number])[],
  dt = 1,
): Trace {
  const [seconds, speedMps, altitudeM] = [[0], [0], [500]];
  for (const [length, acceleration, grade] of stretches)
    for (let t = 0; t < length; t += dt) {
      const before = speedMps.at(-1) as number;
      const v = Math.max(0, before + acceleration * dt);
      speedMps.push(v);
      seconds.push((seconds.at(-1) as number) + dt);
      altitudeM.push((altitudeM.at(-1) as number) + ((v + before) / 2) * dt * grade);
    }
  return {
    seconds: Float64Array.from(seconds),
    speedMps: Float64Array.from(speedMps),
    altitudeM: Float64Array.from(altitudeM),
  };
}
const v30 = 30 * MPS_PER_MPH;

describe('a trace', () => {
  // The stop of the design's worked example: 3,000 kg from 30 mph at 2 m/s² leaves 267.08 kJ to the brakes.
  it('holds the work of a stop as worked out by hand', () => {
    const stop = [
      [40, v30 / 40, 0],
      [60, 0, 0],
      [v30 / 2, -2, 0],
      [20, 0, 0],
    ] as const;
    const { events, workJPerMile, miles } = findInTrace(driven(stop, 0.05), masses, settings, plain);
    expect(events.map(({ kind }) => kind)).toEqual(['stop']);
    expect(events[0]?.fromMps).toBeCloseTo(v30, 1);
    expect(Math.abs((workJPerMile * miles) / 1000 - 267.08)).toBeLessThan(1.5);
  });

  // The descent of the worked example: 36,287 kg down 6 % at 55 mph needs 524.0 − 52.4 − 54.6 = 417.0 kW.
  it('holds the power of a descent as worked out by hand', () => {
    const truck = DEFAULT_DUTY_SETTINGS.heavy;
    const v55 = 55 * MPS_PER_MPH;
    const down = driven([
      [60, v55 / 60, 0],
      [120, 0, 0],
      [300, 0, -0.06],
      [120, 0, 0],
    ]);
    const { events } = findInTrace(down, { tareKg: 9000, gvwrKg: 36_300 }, truck, { massKg: 36_287, retarderShare: 0 });
    const [descent] = events.filter(({ kind }) => kind === 'descent');
    expect(Math.abs((descent?.heightM ?? 0) / (300 * v55 * 0.06) - 1)).toBeLessThan(0.03);
    expect(Math.abs((descent?.brakeJ ?? 0) / (417.0e3 * 300) - 1)).toBeLessThan(0.03);
  });

  it('takes a descent with a short level stretch for one, and two far apart for two', () => {
    const apart = (seconds: number) => {
      const road = driven([
        [20, 1, 0],
        [60, 0, 0],
        [100, 0, -0.06],
        [seconds, 0, 0],
        [100, 0, -0.06],
        [60, 0, 0],
      ]);
      return findInTrace(road, masses, settings, plain).events.filter(({ kind }) => kind === 'descent').length;
    };
    expect(apart(14)).toBe(1);
    expect(apart(120)).toBe(2);
  });

  it('finds every stop and slowdown of a noisy day, and makes a duty that asks the same of the brakes', () => {
    const random = seededRandom(3);
    const day = Array.from({ length: 120 }, (_, k): (readonly [number, number, number])[] => [
      [20, v30 / 20, 0],
      [100, 0, 0],
      ...(k % 3 === 0
        ? ([
            [4, -1.5, 0],
            [12, 0.5, 0],
          ] as const)
        : []),
      [v30 / 2, -2, 0],
      [5, -2, 0],
      [15, 0, 0],
    ]).flat();
    const clean = driven(day);
    const noisy = {
      ...clean,
      speedMps: clean.speedMps.map((v) => Math.max(0, v + (v > 0 ? 0.08 * randomNormal(random) : 0))),
      altitudeM: clean.altitudeM.map((m) => m + 0.2 * randomNormal(random)),
    };
    const found = findInTrace(noisy, masses, settings, plain);
    const count = (kind: string) => found.events.filter((one) => one.kind === kind).length;
    expect(count('stop')).toBe(120);
    expect(count('slowdown')).toBe(40);
    expect(count('descent')).toBe(0);
    expect(found.duty.stopsPerMile).toBeCloseTo(120 / found.miles, 9);
    expect(found.duty.mphBeforeStop).toBeGreaterThan(29);
    expect(found.duty.mphBeforeStop).toBeLessThan(31);
    expect(Math.abs(found.dutyJPerMile / found.workJPerMile - 1)).toBeLessThan(0.15);
    expect(found.duty.payloadShare).toBeCloseTo(800 / 1300, 6);
  });

  it('takes recorded mass, and makes nothing up for gaps', () => {
    const trace = driven([
      [20, 0.5, 0],
      [100, 0, 0],
      [10, -1, 0],
    ]);
    const heavy = findInTrace({ ...trace, massKg: trace.seconds.map(() => 6000) }, masses, settings, plain);
    expect(heavy.massKg).toBe(6000);
    const gap = { ...trace, seconds: trace.seconds.map((t, i) => (i > 60 ? t + 900 : t)) };
    const found = findInTrace(gap, masses, settings, plain);
    expect(found.gaps).toBe(1);
    expect(found.miles).toBeLessThan(findInTrace(trace, masses, settings, plain).miles);
  });

  it.each([
    ['one sample', [0], [0], [0]],
    ['unequal lengths', [0, 1], [0], [0, 0]],
    ['time that stands', [0, 0], [1, 1], [0, 0]],
  ])('refuses %s', (_name, seconds, speed, altitude) => {
    const trace = {
      seconds: Float64Array.from(seconds),
      speedMps: Float64Array.from(speed),
      altitudeM: Float64Array.from(altitude),
    };
    expect(() => findInTrace(trace, masses, settings, plain)).toThrow(RangeError);
  });
});
