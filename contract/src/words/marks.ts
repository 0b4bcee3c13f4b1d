import { dayNumber, type DistanceUnit } from '@mile-mark/core';
import { dayInWords } from '../days.ts';
import type { MileMark } from '../forecasts/index.ts';
import { chanceInWords, milesInWords } from './figures.ts';

/** Readings older than this are too old to act on, days. */
const STALE_DAYS = 180;
/** A mark within this many days is booked, days. */
const BOOK_DAYS = 28;
/** An interval wider than this, of a mark nearer than that, is worth a look first, days. */
const [WIDE_DAYS, NEAR_DAYS] = [60, 92];

const daysBetween = (from: string, to: string) => dayNumber(to) - dayNumber(from);

/** `12 days`, `6 weeks`, `5 months`, sign left out. */
export function spanInWords(days: number): string {
  const size = Math.abs(days);
  if (size < 28) return `${size} ${size === 1 ? 'day' : 'days'}`;
  return size < 120 ? `${Math.round(size / 7)} weeks` : `${Math.round(size / 30.44)} months`;
}

/** `in 12 days`, `today`, `12 days ago`. */
export function awayInWords(days: number): string {
  if (days === 0) return 'today';
  return days > 0 ? `in ${spanInWords(days)}` : `${spanInWords(days)} ago`;
}

/** What the mark was set by: the risk allowed, or the least cost a mile. */
export function ruledByInWords({ ruledBy }: Pick<MileMark, 'ruledBy'>, riskTarget: number): string {
  return ruledBy === 'cost' ? 'least cost a mile' : `${percentOf(riskTarget)} chance of a pad below the limit`;
}

/** A set share as it was set: `5 %`, `2.5 %`. */
export function percentOf(share: number): string {
  return `${Number((share * 100).toFixed(1))} %`;
}

/** What to do about an axle, in a word that its verb goes by. */
export type NextVerb = 'do it now' | 'measure and book' | 'measure' | 'book' | 'nothing';

/** The one thing to do next about an axle, and why: made from the values that decide, and from no other. */
export function nextThing(
  mark: MileMark,
  today: string,
  riskTarget: number,
): { verb: NextVerb; what: string; because: string } {
  const days = daysBetween(today, mark.markDate);
  const { evidence, probabilityBelowNow } = mark;
  if (probabilityBelowNow > 0.5)
    return {
      verb: 'do it now',
      what: 'Do it now.',
      because: `A pad is below the service limit more likely than not (${chanceInWords(probabilityBelowNow)}).`,
    };
  if (days < 0)
    return {
      verb: 'measure and book',
      what: 'Measure, and book it this week.',
      because: passedBecause(mark, days, riskTarget),
    };
  if (evidence.readings === 0 && evidence.earlierReadings === 0)
    return {
      verb: 'measure',
      what: 'Measure it.',
      because: 'Nothing was ever measured here; the mark rests on the model alone.',
    };
  const away = `The mark is ${awayInWords(days)}`;
  if (days <= BOOK_DAYS) return { verb: 'book', what: 'Book it.', because: `${away}.` };
  const age = evidence.lastDate ? daysBetween(evidence.lastDate, today) : Infinity;
  if (evidence.readings > 0 && age > STALE_DAYS)
    return {
      verb: 'measure',
      what: 'Measure it again.',
      because: `The last reading is from ${dayInWords(evidence.lastDate ?? today)}.`,
    };
  const interval = daysBetween(mark.interval80.fromDate, mark.interval80.toDate);
  if (days <= NEAR_DAYS && interval > WIDE_DAYS)
    return {
      verb: 'measure',
      what: 'Measure it at the next stop.',
      because: `${away}, but its 80 % interval is ${spanInWords(interval)} wide; a reading narrows it.`,
    };
  return { verb: 'nothing', what: 'Nothing yet.', because: `${away}.` };
}

/** A chance told beside the one that is allowed: as fine as it takes to tell them apart. */
function chanceBeside(probability: number, allowed: number): string {
  const plain = chanceInWords(probability);
  if (Number.parseFloat(plain) !== Number((allowed * 100).toFixed(1))) return plain;
  const finer = `${Number((probability * 100).toFixed(3))} %`;
  return Number.parseFloat(finer) === allowed * 100 ? plain : finer;
}

/** Why a passed mark is one: over the risk allowed only where it is over it; else by what the mark was set. */
function passedBecause(mark: MileMark, days: number, riskTarget: number): string {
  const chance = chanceBeside(mark.probabilityBelowNow, riskTarget);
  const since = `The mark passed ${awayInWords(days)}`;
  if (mark.probabilityBelowNow > riskTarget)
    return `${since}: the chance of a pad below the limit is ${chance}, over the ${percentOf(riskTarget)} you allow.`;
  return mark.ruledBy === 'cost'
    ? `${since}: from there on waiting costs more than it saves. The chance of a pad below the limit is ${chance}.`
    : `${since}; by today’s odometer the chance of a pad below the limit is ${chance}, where you allow ${percentOf(riskTarget)}.`;
}

/** What is left to a mark: `1,240 mi and 18 days left`, `passed by 80 mi, 3 days ago`, `reached today`. */
export function leftInWords(
  { markOdometerMi, odometerNowMi, markDate }: Pick<MileMark, 'markOdometerMi' | 'odometerNowMi' | 'markDate'>,
  today: string,
  unit: DistanceUnit,
): string {
  const left = markOdometerMi - odometerNowMi;
  const days = daysBetween(today, markDate);
  if (left > 0 && days >= 0) return `${milesInWords(left, unit)} and ${days} ${days === 1 ? 'day' : 'days'} left`;
  const ago = days < 0 ? awayInWords(days) : 'today';
  const over = milesInWords(Math.max(0, -left), unit);
  return over.startsWith('0 ') ? `reached ${ago}` : `passed by ${over}, ${ago}`;
}
