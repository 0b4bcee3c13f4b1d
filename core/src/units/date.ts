import { failed, type Parsed } from './failure.ts';

/** Calendar date without a time, `YYYY-MM-DD`. */
export type IsoDate = string;

/** The order in which a sheet writes year, month and day. */
export type DateOrder = 'YMD' | 'DMY' | 'MDY';

const MS_PER_DAY = 86_400_000;

/**
 * Reads a date written with digits: `2026-02-20`, `18.08.2025`, `12/01/2025`.
 *
 * A date that starts with four digits is read year first whatever the order asked for.
 *
 * @returns an ISO date, or a failure: `empty`, `not_a_date`
 */
export function parseDate(typed: string, order: DateOrder): Parsed<IsoDate> {
  const text = typed.trim();
  if (text === '') return failed({ quantity: 'date', code: 'empty', typed });
  const parts = /^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})$/.exec(text);
  if (!parts) return failed({ quantity: 'date', code: 'not_a_date', typed, order, asRead: false });
  const numbers = [Number(parts[1]), Number(parts[2]), Number(parts[3])] as const;
  const understood = (parts[1] ?? '').length === 4 ? 'YMD' : order;
  const [year, month, day] =
    understood === 'YMD'
      ? numbers
      : understood === 'DMY'
        ? [numbers[2], numbers[1], numbers[0]]
        : [numbers[2], numbers[0], numbers[1]];
  const fullYear = year < 100 ? 2000 + year : year;
  if (!isDay(fullYear, month, day)) {
    return failed({ quantity: 'date', code: 'not_a_date', typed, order: understood, asRead: true });
  }
  return { ok: true, value: `${pad(fullYear, 4)}-${pad(month, 2)}-${pad(day, 2)}` };
}

function isDay(year: number, month: number, day: number): boolean {
  if (year < 1990 || year > 2200 || month < 1 || month > 12 || day < 1) return false;
  return day <= new Date(Date.UTC(year, month, 0)).getUTCDate();
}

function pad(value: number, width: number): string {
  return String(value).padStart(width, '0');
}

/** Dates already turned into day numbers: a forecast asks for the same few thousands of times. */
const KNOWN_DAYS = new Map<IsoDate, number>();
const MOST_KNOWN_DAYS = 20_000;

/** Days since 1970-01-01 of an ISO date; differences of these are days. */
export function dayNumber(date: IsoDate): number {
  const known = KNOWN_DAYS.get(date);
  if (known !== undefined) return known;
  const day = Math.round(
    Date.UTC(Number(date.slice(0, 4)), Number(date.slice(5, 7)) - 1, Number(date.slice(8, 10))) / MS_PER_DAY,
  );
  if (KNOWN_DAYS.size >= MOST_KNOWN_DAYS) KNOWN_DAYS.clear();
  KNOWN_DAYS.set(date, day);
  return day;
}

/** The ISO date of a day number (fractions are cut). */
export function dateOfDay(day: number): IsoDate {
  return new Date(Math.floor(day) * MS_PER_DAY).toISOString().slice(0, 10);
}
