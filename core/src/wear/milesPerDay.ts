import type { OdometerPoint } from '../duty/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';
import type { VehicleForecast } from './outcome.ts';

/** How far back the odometer is believed about the present, days. */
const WINDOW_DAYS = 180;
/** Weight of the stated figure, as days of odometer evidence. */
const STATED_WEIGHT_DAYS = 30;

/**
 * Miles a day, from the odometers of the last half year (since the present duty began, where that is
 * later) and what the duty states, weighted by days.
 *
 * @param points odometers in order of date
 * @param dutyFrom first day of the present duty
 * @returns mean and one standard deviation, miles a day (8 % and 60 % ÷ √days seen; common practice, no source)
 */
export function milesPerDay(
  points: readonly OdometerPoint[],
  today: IsoDate,
  stated: number | undefined,
  dutyFrom: IsoDate | undefined,
): VehicleForecast['milesPerDay'] {
  const last = points.at(-1);
  let seenDays = 0;
  let seenMiles = 0;
  if (last) {
    const opens = Math.max(dayNumber(today) - WINDOW_DAYS, dutyFrom ? dayNumber(dutyFrom) - 7 : -Infinity);
    const inWindow = points.filter(({ date }) => dayNumber(date) >= opens);
    // Odometers of the route before tell nothing of one that states how far it drives: from the last before it began on.
    const elsewhere = dutyFrom !== undefined && stated !== undefined;
    const since = elsewhere
      ? inWindow.slice(
          Math.max(
            0,
            inWindow.findLastIndex(({ date }) => date <= dutyFrom),
          ),
        )
      : inWindow;
    const first =
      since.length >= 2 ? longEnough(since, dutyFrom ? undefined : points) : elsewhere ? undefined : points.at(-2);
    if (first) {
      seenDays = dayNumber(last.date) - dayNumber(first.date);
      seenMiles = last.miles - first.miles;
    }
  }
  const statedDays = stated === undefined ? 0 : STATED_WEIGHT_DAYS;
  if (seenDays + statedDays === 0) return { mean: 50, sd: 25, basis: 'none' };
  const mean = Math.max(0.5, (seenMiles + (stated ?? 0) * statedDays) / (seenDays + statedDays));
  const sd = mean * Math.hypot(0.08, 0.6 / Math.sqrt(Math.max(1, seenDays)));
  const basis = seenDays === 0 ? 'duty' : statedDays === 0 ? 'odometer' : 'both';
  return { mean, sd, basis };
}

/**
 * The odometer from which the pace is told. Where those of the window lie close together the one before joins them: else the
 * pace, and how sure it is, would leap on the night on which an older one leaves the window.
 */
function longEnough(
  since: readonly OdometerPoint[],
  all: readonly OdometerPoint[] | undefined,
): OdometerPoint | undefined {
  const [first] = since;
  const last = since.at(-1);
  if (!first || !last || !all || dayNumber(last.date) - dayNumber(first.date) >= WINDOW_DAYS / 2) return first;
  return all.findLast(({ date }) => date < first.date) ?? first;
}

/**
 * Where an odometer stands today: driven on from the last one known, at the pace of the duty before until the present
 * one began.
 *
 * @param perDay miles a day of the present duty
 * @param before what the duty before states, miles a day; nothing, where there was none
 * @returns miles
 */
export function odometerToday(
  points: readonly OdometerPoint[],
  today: IsoDate,
  perDay: number,
  dutyFrom: IsoDate | undefined,
  before: number | undefined,
): number {
  const last = points.at(-1);
  if (!last) return 0;
  const days = Math.max(0, dayNumber(today) - dayNumber(last.date));
  if (dutyFrom === undefined) return last.miles + days * perDay;
  const daysBefore = Math.min(days, Math.max(0, dayNumber(dutyFrom) - dayNumber(last.date)));
  const then = daysBefore === 0 ? undefined : milesPerDay(points, dutyFrom, before, undefined);
  const paceThen = then === undefined || then.basis === 'none' ? perDay : then.mean;
  return last.miles + daysBefore * paceThen + (days - daysBefore) * perDay;
}
