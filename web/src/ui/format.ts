import { awayInWords, chanceInWords, milesInWords } from '@mile-mark/contract/words';
import { format, parseISO } from 'date-fns';

/** `14 Sep 2027`. */
export function formatDate(date: string): string {
  return format(parseISO(date), 'd MMM yyyy');
}

/** `07:03`, by the reader’s own clock. @param at ISO moment */
export function formatTime(at: string): string {
  return format(parseISO(at), 'HH:mm');
}

const whole = new Intl.NumberFormat('en-US', { maximumFractionDigits: 0 });

/** Miles as the person reads distances, with the unit. */
export const formatMiles = milesInWords;

export function formatWhole(value: number): string {
  return whole.format(value);
}

/** A chance as per cent; small ones as a bound, never as nought. */
export const formatChance = chanceInWords;

/** Days between two ISO dates. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);
}

/** `in 12 days`, `today`, `12 days ago`, in weeks or months where that reads better. */
export const formatAway = awayInWords;

/** A number of days, sign left out: `1 day`, `12 days`. */
export function inDays(days: number): string {
  const size = Math.abs(days);
  return `${size} ${size === 1 ? 'day' : 'days'}`;
}
