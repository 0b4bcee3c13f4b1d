import { describe, expect, it } from '@jest/globals';
import { dayHere, dayOnDevice } from './deviceDay.ts';

const heard = { today: '2026-11-20', here: '2026-11-20' };
const at = (local: string) => new Date(local);

describe('the day on a device', () => {
  it('is its own, not the one of the last time it heard of the record', () => {
    expect(dayOnDevice(heard, at('2026-11-20T23:59'))).toBe('2026-11-20');
    expect(dayOnDevice(heard, at('2026-11-21T00:01'))).toBe('2026-11-21');
    expect(dayOnDevice(heard, at('2027-01-03T12:00'))).toBe('2027-01-03');
    expect(dayHere(at('2026-03-01T00:30'))).toBe('2026-03-01');
  });

  it('is right although the clock is some days off, over a month’s end, a leap day, and an hour that is left out', () => {
    expect(dayOnDevice({ today: '2026-11-20', here: '2020-01-30' }, at('2020-02-01T08:00'))).toBe('2026-11-22');
    expect(dayOnDevice({ today: '2028-02-27', here: '2028-02-25' }, at('2028-02-27T08:00'))).toBe('2028-02-29');
    // From 2026-03-08 to -09 a day has 23 hours in some places, from 10-24 to -25 in others 25.
    expect(dayOnDevice({ today: '2026-03-07', here: '2026-03-07' }, at('2026-03-09T00:10'))).toBe('2026-03-09');
    expect(dayOnDevice({ today: '2026-10-24', here: '2026-10-24' }, at('2026-10-25T23:50'))).toBe('2026-10-25');
  });

  it('shows that the clock was set back', () => {
    expect(dayOnDevice(heard, at('2026-11-02T12:00'))).toBe('2026-11-02');
  });
});
