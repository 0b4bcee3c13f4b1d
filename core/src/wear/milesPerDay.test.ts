import { describe, expect, it } from '@jest/globals';
import { milesPerDay, odometerToday } from './milesPerDay.ts';

describe('miles a day', () => {
  it('takes miles a day from odometer and duty by days', () => {
    const points = [
      { date: '2026-04-01', miles: 0 },
      { date: '2026-05-31', miles: 6000 },
    ];
    expect(milesPerDay(points, '2026-06-10', undefined, undefined)).toMatchObject({ mean: 100, basis: 'odometer' });
    expect(milesPerDay(points, '2026-06-10', 70, undefined).mean).toBeCloseTo((6000 + 70 * 30) / 90, 9);
    expect(milesPerDay([], '2026-06-10', 70, undefined)).toMatchObject({ mean: 70, basis: 'duty' });
    expect(milesPerDay([], '2026-06-10', undefined, undefined).basis).toBe('none');
  });

  it('believes the odometer of the last half year, not of before', () => {
    const points = [
      { date: '2024-06-01', miles: 0 },
      { date: '2026-01-11', miles: 100_000 },
      { date: '2026-06-10', miles: 100_000 + 150 * 40 },
    ];
    expect(milesPerDay(points, '2026-06-10', undefined, undefined).mean).toBeCloseTo(40, 9);
    // Since the present duty began (a week of grace), where that is later.
    const turned = [
      ...points.slice(0, 2),
      { date: '2026-05-01', miles: 101_000 },
      { date: '2026-06-10', miles: 109_000 },
    ];
    expect(milesPerDay(turned, '2026-06-10', undefined, '2026-05-05').mean).toBeCloseTo(200, 9);
  });

  it('do not leap on the night on which an odometer leaves the half year', () => {
    const points = [
      { date: '2025-09-01', miles: 0 },
      { date: '2026-01-05', miles: 126 * 60 },
      { date: '2026-06-20', miles: 292 * 60 },
      { date: '2026-06-27', miles: 299 * 60 + 300 },
    ];
    const nights = Array.from({ length: 31 }, (_, i) =>
      milesPerDay(points, `2026-07-${String(i + 1).padStart(2, '0')}`, undefined, undefined),
    );
    for (const { mean, sd } of nights) {
      expect(Math.abs(mean / 60 - 1)).toBeLessThan(0.05);
      expect(sd / mean).toBeLessThan(0.12);
    }
  });

  it('on a new route are what it states until odometers of it come, and the days before it are not driven anew', () => {
    const points = [
      { date: '2026-03-01', miles: 10_000 },
      { date: '2026-05-01', miles: 10_000 + 61 * 40 },
    ];
    const { mean, basis } = milesPerDay(points, '2026-06-10', 90, '2026-05-31');
    expect([mean, basis]).toEqual([90, 'duty']);
    // Daily odometers up to the day it begins are all of the route before; two days later they tell of it.
    const daily = Array.from({ length: 10 }, (_, day) => ({ date: `2026-05-${22 + day}`, miles: 9000 + 40 * day }));
    expect(milesPerDay(daily, '2026-05-31', 90, '2026-05-31')).toMatchObject({ mean: 90, basis: 'duty' });
    const after = [...daily, { date: '2026-06-10', miles: 9360 + 10 * 100 }];
    expect(milesPerDay(after, '2026-06-10', 90, '2026-05-31').mean).toBeCloseTo((10 * 100 + 30 * 90) / 40, 9);
    // 30 days more at 40 a day, seen; then 10 days at 90.
    const before = (61 * 40 + 30 * 40) / 91;
    expect(odometerToday(points, '2026-06-10', 90, '2026-05-31', 40)).toBeCloseTo(12_440 + 30 * before + 10 * 90, 6);
    expect(odometerToday(points, '2026-06-10', 90, undefined, undefined)).toBe(12_440 + 40 * 90);
    expect(odometerToday(points.slice(0, 1), '2026-03-21', 90, '2026-03-11', 30)).toBe(10_000 + 10 * 30 + 10 * 90);
    expect(odometerToday([], '2026-03-21', 90, '2026-03-11', 30)).toBe(0);
  });
});
