import type { MileMark } from '@mile-mark/contract/forecasts';
import { daysBetween, formatAway, formatChance, formatDate } from '../../../ui/format.ts';

/** Older readings than this share of what is left are too old to act on. */
const STALE_DAYS = 180;

/** The one thing to do next about an axle, and why. */
export function nextThing(mark: MileMark, today: string, riskTarget: number): { what: string; because: string } {
  const days = daysBetween(today, mark.markDate);
  const { evidence, probabilityBelowNow } = mark;
  if (probabilityBelowNow > 0.5) {
    return {
      what: 'Do it now.',
      because: `A pad is below the service limit more likely than not (${formatChance(probabilityBelowNow)}).`,
    };
  }
  if (days < 0) {
    return {
      what: 'Measure, and book it this week.',
      because: `The chance of a pad below the limit is ${formatChance(probabilityBelowNow)}, over the ${Math.round(riskTarget * 100)} % you allow.`,
    };
  }
  if (evidence.readings === 0 && evidence.earlierReadings === 0) {
    return { what: 'Measure it.', because: 'Nothing was ever measured here; the mark rests on the model alone.' };
  }
  const interval = daysBetween(mark.interval80.fromDate, mark.interval80.toDate);
  const age = evidence.lastDate ? daysBetween(evidence.lastDate, today) : Infinity;
  if (days <= 28) return { what: 'Book it.', because: `The mark is ${formatAway(days)}.` };
  if (evidence.readings > 0 && age > STALE_DAYS) {
    return {
      what: 'Measure it again.',
      because: `The last reading is from ${formatDate(evidence.lastDate ?? today)}.`,
    };
  }
  if (days <= 92 && interval > 60) {
    return {
      what: 'Measure it at the next stop.',
      because: `The mark is ${formatAway(days)} but the interval is ${Math.round(interval / 7)} weeks wide; a reading narrows it.`,
    };
  }
  return { what: 'Nothing yet.', because: `The mark is ${formatAway(days)}.` };
}
