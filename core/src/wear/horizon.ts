import { severityOn, type DutySpan } from '../duty/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';

/**
 * How exposure ahead turns into days, at a steady number of miles a day, through changes of duty that are
 * already dated ahead.
 *
 * @param axle whose severity counts; the vehicle's where left out
 * @returns a function of thousands of duty-weighted miles from today (negative looks back under today's
 *   duty) that gives days, fractional and negative where they are
 */
export function horizon(
  spans: readonly DutySpan[],
  today: IsoDate,
  milesPerDay: number,
  axle?: number,
): (exposure: number) => number {
  const start = dayNumber(today);
  const changes = spans.map(({ from }) => dayNumber(from)).filter((from) => from > start);
  const stretches = [start, ...changes].map((from, index) => ({
    from,
    to: changes[index] ?? Infinity,
    perDay: (severityOn(spans, from, axle) * milesPerDay) / 1000,
  }));
  const [first] = stretches as [(typeof stretches)[number]];
  return (exposure) => {
    if (exposure <= 0) return exposure / first.perDay;
    let left = exposure;
    for (const { from, to, perDay } of stretches) {
      const possible = (to - from) * perDay;
      if (possible >= left) return from - start + left / perDay;
      left -= possible;
    }
    return Infinity;
  };
}
