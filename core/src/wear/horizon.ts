import { severityOn, type DutySpan } from '../duty/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';

/**
 * Days from today after which a given exposure has been driven, at a steady number of miles a day, through
 * changes of duty that are already dated ahead.
 *
 * @param exposure thousands of duty-weighted miles from today; negative looks back under today's duty
 * @returns days, may be fractional and negative
 */
export function daysToExposure(
  exposure: number,
  spans: readonly DutySpan[],
  today: IsoDate,
  milesPerDay: number,
): number {
  const start = dayNumber(today);
  const perDay = (day: number) => (severityOn(spans, day) * milesPerDay) / 1000;
  if (exposure <= 0) return exposure / perDay(start);
  let left = exposure;
  let day = start;
  const changes = spans.map(({ from }) => dayNumber(from)).filter((from) => from > start);
  for (const change of changes) {
    const possible = (change - day) * perDay(day);
    if (possible >= left) return day - start + left / perDay(day);
    left -= possible;
    day = change;
  }
  return day - start + left / perDay(day);
}
