import { describe, expect, it } from '@jest/globals';
import { DEFAULT_PACE_PROCESS } from '../duty/index.ts';
import { dateOfDay, dayNumber } from '../units/index.ts';
import { pacesAhead } from './horizon.ts';
import { milesPerDay, odometerToday } from './milesPerDay.ts';

/** Odometers every so many days up to 10 June 2026, at a pace. */
const driven = (perDay: number, { days = 28, count = 12, before = 0 } = {}) =>
  Array.from({ length: count }, (_, k) => ({
    date: dateOfDay(dayNumber('2026-06-10') - days * (count - 1 - k)),
    miles: 10_000 + before + perDay * days * k,
  }));

describe('miles a day', () => {
  it('are those of the odometers, the surer the more there are', () => {
    const few = milesPerDay(driven(100, { count: 2 }), '2026-06-10', undefined, undefined);
    const many = milesPerDay(driven(100), '2026-06-10', undefined, undefined);
    expect(few.basis).toBe('odometer');
    expect(Math.abs(many.mean / 100 - 1)).toBeLessThan(0.01);
    expect(Math.abs(few.mean / 100 - 1)).toBeLessThan(0.05);
    expect(many.sd / many.mean).toBeLessThan(few.sd / few.mean / 2);
  });

  // Normal with known variance (BDA3, §2.5), what is stated being a fifth unsure whatever its class drives; a stretch
  // that tells nothing (one in thirty, two of the logarithm off) moves nothing.
  it('are what is stated where nothing else is known, and both where both are', () => {
    const { blockSd } = DEFAULT_PACE_PROCESS;
    const alone = milesPerDay([], '2026-06-10', 240, undefined);
    expect(alone.mean).toBeCloseTo(240, 9);
    expect(alone.sd / alone.mean).toBeCloseTo(0.2, 9);
    expect(alone.basis).toBe('duty');
    const both = milesPerDay(driven(100, { count: 2 }), '2026-06-10', 70, undefined);
    const miss = Math.log(100 / 70);
    const spread = 0.2 ** 2 + blockSd ** 2;
    const density = (variance: number) => Math.exp((-0.5 * miss ** 2) / variance) / Math.sqrt(variance);
    const [told, untold] = [(29 / 30) * density(spread), (1 / 30) * density(spread + 4)];
    const share = told / (told + untold);
    const moved = (0.2 ** 2 / spread) * miss;
    expect(Math.log(both.mean)).toBeCloseTo(Math.log(70) + share * moved, 9);
    expect((both.sd / both.mean) ** 2).toBeCloseTo(
      0.2 ** 2 * (1 - (share * 0.2 ** 2) / spread) + share * (1 - share) * moved ** 2,
      9,
    );
    expect(both.basis).toBe('both');
    const none = milesPerDay([], '2026-06-10', undefined, undefined);
    expect([none.basis, none.mean]).toEqual(['none', expect.closeTo(50, 9)]);
  });

  it('follow a vehicle that came to be driven otherwise, whether or not anybody said so', () => {
    const before = driven(40, { count: 24 }).map(({ date, miles }) => ({
      date: dateOfDay(dayNumber(date) - 6 * 28),
      miles,
    }));
    const last = before.at(-1)?.miles ?? 0;
    const since = Array.from({ length: 6 }, (_, k) => ({
      date: dateOfDay(dayNumber('2026-06-10') - 28 * (5 - k)),
      miles: last + 120 * 28 * (k + 1),
    }));
    const { mean } = milesPerDay([...before, ...since], '2026-06-10', undefined, undefined);
    expect(Math.abs(mean / 120 - 1)).toBeLessThan(0.05);
  });

  /** Driven 60 miles a day for two years, and after it so many miles in thirty days, once or more often. */
  const after = (...miles: number[]) => {
    const points = driven(60, { days: 60 });
    let last = points.at(-1) as (typeof points)[number];
    for (const own of miles) {
      last = { date: dateOfDay(dayNumber(last.date) + 30), miles: last.miles + own };
      points.push(last);
    }
    return milesPerDay(points, last.date, undefined, undefined);
  };

  it('are not those of a stay in the workshop, however often it stood; it is only less sure', () => {
    for (const { mean, sd } of [after(0), after(0, 0), after(0, 1800), after(5)]) {
      expect(Math.abs(mean / 60 - 1)).toBeLessThan(0.05);
      expect(sd / mean).toBeLessThan(0.3);
    }
    expect(after(0).sd).toBeGreaterThan(after(1800).sd);
  });

  it('become others where a second stretch is like the first, and are in doubt until then', () => {
    for (const [miles, perDay] of [
      [3600, 120],
      [900, 30],
    ] as const) {
      const once = after(miles);
      expect(Math.abs(Math.log(once.mean / 60))).toBeLessThan(0.6 * Math.abs(Math.log(perDay / 60)));
      expect(once.sd / once.mean).toBeGreaterThan(0.25);
      const twice = after(miles, miles);
      expect(Math.abs(twice.mean / perDay - 1)).toBeLessThan(0.05);
      expect(twice.sd).toBeLessThan(once.sd);
    }
  });

  it('do not leap from one night to the next', () => {
    const points = driven(60);
    const nights = Array.from({ length: 40 }, (_, i) =>
      milesPerDay(points, dateOfDay(dayNumber('2026-06-10') + i), undefined, undefined),
    );
    for (const { mean, sd } of nights) expect([mean, sd]).toEqual([nights[0]?.mean, nights[0]?.sd]);
    expect(nights.map(({ untoldDays }) => untoldDays)).toEqual(nights.map((_, i) => i));
  });

  it('on a new route are what it states until odometers of it come, and the days before it are not driven anew', () => {
    const before = driven(40, { count: 3 }).map(({ date, miles }) => ({
      date: dateOfDay(dayNumber(date) - 40),
      miles,
    }));
    const { mean, basis } = milesPerDay(before, '2026-06-10', 90, '2026-05-31');
    expect(basis).toBe('duty');
    expect(Math.abs(mean / 90 - 1)).toBeLessThan(0.05);
    // Daily odometers up to the day it begins are all of the route before; three weeks later they tell of it.
    const daily = Array.from({ length: 10 }, (_, k) => ({
      date: dateOfDay(dayNumber('2026-05-22') + k),
      miles: 9000 + 40 * k,
    }));
    expect(milesPerDay(daily, '2026-05-31', 90, '2026-05-31').basis).toBe('duty');
    const after = [...daily, { date: '2026-06-21', miles: 9360 + 21 * 100 }];
    const told = milesPerDay(after, '2026-06-21', 90, '2026-05-31');
    expect(told.basis).toBe('both');
    expect(told.mean).toBeGreaterThan(mean);
    // Until the route began it was driven as the odometers before say, then as is stated.
    const lastMiles = before.at(-1)?.miles ?? 0;
    const then = milesPerDay(before, '2026-05-31', 40, undefined).mean;
    const gap = dayNumber('2026-05-31') - dayNumber(before.at(-1)?.date ?? '');
    expect(odometerToday(before, '2026-06-10', 90, '2026-05-31', 40)).toBeCloseTo(lastMiles + gap * then + 10 * 90, 6);
    expect(odometerToday(before, '2026-06-10', 90, undefined, undefined)).toBeCloseTo(lastMiles + (gap + 10) * 90, 6);
    expect(odometerToday([], '2026-03-21', 90, '2026-03-11', 30)).toBe(0);
  });

  it('of a route that states nothing are those of the last stretch, until it has one of its own', () => {
    const before = driven(40, { count: 3 }).map(({ date, miles }) => ({
      date: dateOfDay(dayNumber(date) - 40),
      miles,
    }));
    const { mean, basis } = milesPerDay(before, '2026-06-10', undefined, '2026-05-31');
    expect(basis).toBe('odometer');
    expect(Math.abs(mean / 40 - 1)).toBeLessThan(0.05);
  });
});

describe('days to so many miles', () => {
  const COUNT = 4000;
  const still = { levelSd: 0, perPeriod: 0, hazardPerDay: 0, change: { mean: 0, sd: 0 } };
  const logs = (ahead: Partial<typeof still>, miles: number, { untoldDays = 0, widened = 1 } = {}) => {
    const daysOf = pacesAhead(
      { mean: 100, ahead: { ...still, ...ahead }, untoldDays },
      { count: COUNT, seed: 3, widened },
    );
    return Array.from({ length: COUNT }, (_, i) => Math.log(daysOf(miles, i) / (miles / 100)));
  };
  const sd = (values: readonly number[]) => Math.sqrt(values.reduce((sum, value) => sum + value * value, 0) / COUNT);

  it('are the miles over the pace where all of it is known', () => {
    for (const log of logs({}, 5000)) expect(log).toBeCloseTo(0, 9);
  });

  // A mean over n periods scatters by 1/√n; independent sources add in squares.
  it('are unsure by the level, and by what four weeks differ over the root of their number', () => {
    expect(sd(logs({ levelSd: 0.1 }, 5000))).toBeCloseTo(0.1, 2);
    expect(sd(logs({ perPeriod: 0.2 }, 28 * 100))).toBeCloseTo(0.2, 2);
    expect(sd(logs({ perPeriod: 0.2 }, 28 * 100 * 16))).toBeCloseTo(0.05, 2);
    expect(sd(logs({ perPeriod: 0.2, levelSd: 0.1 }, 28 * 100 * 16))).toBeCloseTo(Math.hypot(0.05, 0.1), 2);
    expect(sd(logs({ perPeriod: 0.2 }, 28 * 100, { widened: 1.5 }))).toBeCloseTo(0.3, 2);
  });

  // Exponential waiting: by day T another pace has begun with chance 1 − e^(−hT), one that may have begun unseen included.
  it('are of another pace from the day it begins, also where that day went by since the last odometer', () => {
    const ahead = { hazardPerDay: 0.002, change: { mean: Math.log(2), sd: 0 } };
    const same = (values: readonly number[]) => values.filter((log) => Math.abs(log) < 1e-9).length / COUNT;
    expect(same(logs(ahead, 100 * 100))).toBeCloseTo(Math.exp(-0.2), 1);
    const late = logs(ahead, 100 * 100, { untoldDays: 200 });
    expect(same(late)).toBeCloseTo(Math.exp(-0.6), 1);
    // Where it went by, all of the way is driven at the new pace.
    const halved = late.filter((log) => Math.abs(log + Math.log(2)) < 1e-9).length / COUNT;
    expect(halved).toBeCloseTo(1 - Math.exp(-0.4), 1);
  });
});
