import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { dateOfDay, dayNumber } from '../units/index.ts';
import { placeInBays, shopDays, weekdayOf, type ShopWeek } from './shop.ts';

const WEEK: ShopWeek = {
  open: [9, 9, 9, 9, 9, 0, 0],
  bays: [
    { name: 'A', kind: 'light' },
    { name: 'B', kind: 'light' },
    { name: 'Pit', kind: 'heavy' },
  ],
  people: [
    { id: 'ash', certified: true, hours: [8, 8, 0, 8, 8, 0, 0] },
    { id: 'birch', certified: false, hours: [8, 0, 0, 12, 0, 8, 0] },
  ],
  overtimeHours: 2,
  offRoad: { heavy: 2 },
};
// 2026-11-20 is a Friday.
const ask = { from: '2026-11-20', today: '2026-11-20', weeks: 1, away: [] };

describe('the working days of a shop', () => {
  it('weekdays are those of the calendar', () => {
    fc.assert(
      fc.property(fc.integer({ min: -20_000, max: 60_000 }), (day) => {
        const date = dateOfDay(day);
        expect(weekdayOf(date)).toBe((new Date(`${date}T12:00:00Z`).getUTCDay() + 6) % 7);
      }),
    );
  });

  it('are those on which it is open and somebody is there, nobody longer than it is open', () => {
    expect(shopDays(WEEK, ask)).toMatchObject({
      dates: ['2026-11-20', '2026-11-23', '2026-11-24', '2026-11-26'],
      days: [0, 3, 4, 6],
      technicianHours: [8, 16, 8, 17],
      certifiedHours: [8, 8, 8, 8],
      bayHours: { light: [18, 18, 18, 18], heavy: [9, 9, 9, 9] },
      overtimeHours: [2, 2, 2, 2],
      offRoad: { heavy: 2 },
    });
  });

  it('leave out who is away, both ends included, and the whole shop where it is shut', () => {
    const away = [
      { person: 'ash', from: '2026-11-23', to: '2026-11-26' },
      { from: '2026-11-20', to: '2026-11-20' },
    ];
    expect(shopDays(WEEK, { ...ask, away })).toMatchObject({
      dates: ['2026-11-23', '2026-11-26'],
      technicianHours: [8, 9],
      certifiedHours: [0, 0],
    });
  });

  it('keep a day on which something is booked, without hours for anything else', () => {
    const found = shopDays(WEEK, { ...ask, also: new Set(['2026-11-25']) });
    const at = found.dates.indexOf('2026-11-25');
    expect([found.technicianHours[at], found.bayHours.light?.[at], found.overtimeHours[at]]).toEqual([0, 0, 0]);
    expect(found.dates).toEqual([...found.dates].sort());
  });

  it('are so many days from today, whatever the day they begin from', () => {
    const later = shopDays(WEEK, { ...ask, from: '2026-12-01', weeks: 3 });
    later.dates.forEach((date, i) => expect(later.days[i]).toBe(dayNumber(date) - dayNumber('2026-11-20')));
    expect(later.dates[0]).toBe('2026-12-01');
  });
});

it('bays: each of its kind, no two hours apart more than one visit takes, none for an outside shop', () => {
  const visits = Array.from({ length: 8 }, (_, i) => ({ vehicle: `v${i}`, axles: [1], day: 0, outside: i === 7 }));
  const hours = (i: number) => 1 + (i % 3);
  const names = placeInBays(visits, WEEK.bays, ({ vehicle }) => ({
    kind: 'light',
    hours: hours(Number(vehicle.slice(1))),
  }));
  expect(names[7]).toBeUndefined();
  const load = (name: string) => names.reduce((sum, one, i) => sum + (one === name ? hours(i) : 0), 0);
  expect(load('A') + load('B')).toBe(13);
  expect(Math.abs(load('A') - load('B'))).toBeLessThanOrEqual(3);
  expect(placeInBays(visits.slice(0, 1), WEEK.bays, () => ({ kind: 'tracked', hours: 1 }))).toEqual([undefined]);
});
