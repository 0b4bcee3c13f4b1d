import { format, getISODay, parseISO, startOfISOWeek } from 'date-fns';

const whole = new Intl.NumberFormat('en-US', { maximumFractionDigits: 0 });

/** A sum of a plan: `12,340 USD`. */
export const sum = (amount: number, currency: string): string => `${whole.format(amount)} ${currency}`;

/** More or less than before: `35 USD more`, `12 USD less`, `the same`. */
export function moreOrLess(amount: number, currency: string): string {
  const size = Math.abs(Math.round(amount));
  return size === 0 ? 'the same' : `${sum(size, currency)} ${amount > 0 ? 'more' : 'less'}`;
}

/** A share as a percentage with one decimal below ten. */
export function percent(share: number): string {
  const value = 100 * share;
  return `${value < 9.95 ? value.toFixed(1) : value.toFixed(0)} %`;
}

/** Hours with one decimal: `5.1`. */
export const hours = (value: number): string => value.toFixed(1);

export const mondayOf = (date: string): string => format(startOfISOWeek(parseISO(date)), 'yyyy-MM-dd');
/** Monday 0. */
export const weekdayOf = (date: string): number => getISODay(parseISO(date)) - 1;
export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;
/** `24 Nov`. */
export const shortDate = (date: string): string => format(parseISO(date), 'd MMM');

export const axlesInWords = (axles: readonly number[]): string =>
  axles.length === 1 ? `axle ${axles[0]}` : `axles ${axles.join(', ')}`;

/** Items by a key, in their order. */
export function groupBy<T>(items: readonly T[], keyOf: (item: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const item of items) {
    const key = keyOf(item);
    const own = groups.get(key);
    if (own) own.push(item);
    else groups.set(key, [item]);
  }
  return groups;
}
