import { describe, expect, it } from '@jest/globals';
import { firstDay } from './firstDay.ts';

// 20 Nov 2026 is a Friday.
describe('the day a job is first booked for', () => {
  it.each([
    ['the working day before the mark', '2026-11-16', '2026-11-19', '2026-11-18'],
    ['Friday, where the day before the mark is on a weekend', '2026-11-18', '2026-11-22', '2026-11-20'],
    ['Friday, where the mark is on Monday', '2026-11-18', '2026-11-23', '2026-11-20'],
    ['no later than two weeks on', '2026-11-16', '2027-03-01', '2026-11-30'],
    ['no later than two weeks on, and before the weekend', '2026-11-14', '2027-03-01', '2026-11-27'],
    ['tomorrow where the mark has passed', '2026-11-18', '2026-08-30', '2026-11-19'],
    ['the next working day where there is none before the mark', '2026-11-20', '2026-11-22', '2026-11-23'],
    ['the next working day where the mark is today', '2026-11-20', '2026-11-20', '2026-11-23'],
  ])('is %s', (_what, today, mark, day) => expect(firstDay(today, mark)).toBe(day));
});
