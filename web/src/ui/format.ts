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

export function formatWhole(value: number): string {
  return whole.format(value);
}

/** Days between two ISO dates. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);
}

/** A number of days, sign left out: `1 day`, `12 days`. */
export function inDays(days: number): string {
  const size = Math.abs(days);
  return `${size} ${size === 1 ? 'day' : 'days'}`;
}

/** Whether a moment lies less than a day back by the reader’s clock. @param at ISO moment */
export function withinADay(at: string): boolean {
  return Date.now() - Date.parse(at) < 86_400_000;
}
