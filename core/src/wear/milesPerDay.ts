import {
  aheadOf,
  DEFAULT_PACE_PROCESS,
  type DutyAhead,
  dutyLevel,
  type DutyProcess,
  type OdometerPoint,
  paceBlocks,
} from '../duty/index.ts';
import { dayNumber, type IsoDate } from '../units/index.ts';

/** How far miles a day that somebody stated may be off: one sd of the logarithm (common practice, no source). */
const STATED_SD = 0.2;
/** Odometers from so many days before a duty began tell of it: nobody writes both on one day. */
const GRACE_DAYS = 7;

/** How far a vehicle is driven a day, and what may become of it. */
export interface Pace {
  /** Middle of the level that goes on, and one sd of it, miles a day. */
  mean: number;
  sd: number;
  basis: 'odometer' | 'duty' | 'both' | 'none';
  ahead: DutyAhead;
  /** Days between the last odometer that told it and today. */
  untoldDays: number;
}

/**
 * Miles a day, as a level that scatters from one stretch between odometers to the next and now and then is another one:
 * from what the duty states, and the odometers since it began, which soon tell more.
 *
 * @param points odometers in order of date
 * @param dutyFrom first day of the present duty; undefined where all odometers tell
 * @param process how miles a day behave in the vehicle's class
 */
export function milesPerDay(
  points: readonly OdometerPoint[],
  today: IsoDate,
  stated: number | undefined,
  dutyFrom: IsoDate | undefined,
  process: DutyProcess = DEFAULT_PACE_PROCESS,
): Pace {
  const blocks = paceBlocks(pointsSince(points, dutyFrom, stated !== undefined));
  // Who says how far it drives knows more of it than its class tells.
  const said = stated === undefined ? undefined : { mean: Math.log(Math.max(0.5, stated)), sd: STATED_SD };
  const level = dutyLevel(blocks, { ...process, stray: DEFAULT_PACE_PROCESS.stray }, said);
  const mean = Math.exp(level.mean);
  const last = points.at(-1);
  const seen = blocks.length > 0;
  return {
    mean,
    sd: mean * level.sd,
    basis: seen ? (stated === undefined ? 'odometer' : 'both') : stated === undefined ? 'none' : 'duty',
    ahead: aheadOf(level, process),
    untoldDays: seen && last ? Math.max(0, dayNumber(today) - dayNumber(last.date)) : 0,
  };
}

/** Odometers that tell of a duty since a day: where it states how far it drives, those of the route before tell nothing. */
function pointsSince(
  points: readonly OdometerPoint[],
  dutyFrom: IsoDate | undefined,
  stated: boolean,
): readonly OdometerPoint[] {
  if (dutyFrom === undefined) return points;
  const opens = dayNumber(dutyFrom) - GRACE_DAYS;
  const since = points.filter(({ date }) => dayNumber(date) >= opens);
  if (stated)
    return since.slice(
      Math.max(
        0,
        since.findLastIndex(({ date }) => date <= dutyFrom),
      ),
    );
  // Nothing else tells how far it drives: the last stretch before it does, until there is one of its own.
  return since.length >= 2 ? since : points.slice(-2);
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
  process: DutyProcess = DEFAULT_PACE_PROCESS,
): number {
  const last = points.at(-1);
  if (!last) return 0;
  const days = Math.max(0, dayNumber(today) - dayNumber(last.date));
  if (dutyFrom === undefined) return last.miles + days * perDay;
  const daysBefore = Math.min(days, Math.max(0, dayNumber(dutyFrom) - dayNumber(last.date)));
  const then = daysBefore === 0 ? undefined : milesPerDay(points, dutyFrom, before, undefined, process);
  const paceThen = then === undefined || then.basis === 'none' ? perDay : then.mean;
  return last.miles + daysBefore * paceThen + (days - daysBefore) * perDay;
}
