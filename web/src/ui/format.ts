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
export function formatMiles(miles: number, unit: 'mi' | 'km'): string {
  return `${whole.format(unit === 'mi' ? miles : miles * 1.609344)} ${unit}`;
}

export function formatWhole(value: number): string {
  return whole.format(value);
}

/** A chance as per cent; small ones as a bound, never as nought. */
export function formatChance(probability: number): string {
  if (probability < 0.001) return 'under 0.1 %';
  if (probability > 0.999) return 'over 99.9 %';
  return `${probability < 0.1 ? (probability * 100).toFixed(1) : Math.round(probability * 100)} %`;
}

/** Days between two ISO dates. */
export function daysBetween(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);
}

/** `in 12 days`, `today`, `12 days ago`, in weeks or months where that reads better. */
export function formatAway(days: number): string {
  const size = Math.abs(days);
  const text =
    size < 28
      ? `${size} ${size === 1 ? 'day' : 'days'}`
      : size < 120
        ? `${Math.round(size / 7)} weeks`
        : `${Math.round(size / 30.44)} months`;
  if (days === 0) return 'today';
  return days > 0 ? `in ${text}` : `${text} ago`;
}

/** A number of days, sign left out: `1 day`, `12 days`. */
export function inDays(days: number): string {
  const size = Math.abs(days);
  return `${size} ${size === 1 ? 'day' : 'days'}`;
}
