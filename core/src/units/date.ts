import { failed, type Parsed } from './failure.ts';

/** Calendar date without a time, `YYYY-MM-DD`. */
export type IsoDate = string;

/** The order in which a sheet writes year, month and day. */
export type DateOrder = 'YMD' | 'DMY' | 'MDY';

const MS_PER_DAY = 86_400_000;

/**
 * Reads a date as people and spreadsheets write it: digits in an order (`2026-02-20`, `18.08.2025`, `12/01/2025`),
 * a month by name (`3 Apr 2026`, `Mär. 3, 2026`), eight digits (`20260220`), or a spreadsheet's day number
 * (`46073`, days since 1899-12-30). A time of day behind it is left aside.
 *
 * A date that starts with four digits is read year first whatever the order asked for.
 *
 * @param order how a date of three numbers is read
 * @returns an ISO date, or a failure: `empty`, `not_a_date`
 */
export function parseDate(typed: string, order: DateOrder): Parsed<IsoDate> {
  const text = typed.trim().replace(TIME_OF_DAY, '');
  if (text === '') return failed({ quantity: 'date', code: 'empty', typed });
  const found = byOrder(text, order) ?? byMonthName(text) ?? byDigitsAlone(text);
  if (!found) return failed({ quantity: 'date', code: 'not_a_date', typed, order, asRead: false });
  const [year, month, day, understood = order] = found;
  const fullYear = year < 100 ? 2000 + year : year;
  if (!isDay(fullYear, month, day)) {
    return failed({ quantity: 'date', code: 'not_a_date', typed, order: understood, asRead: true });
  }
  return { ok: true, value: `${pad(fullYear, 4)}-${pad(month, 2)}-${pad(day, 2)}` };
}

/** Whether a date is three numbers whose order the text itself does not tell. */
export function dependsOnOrder(typed: string): boolean {
  return /^(?!\d{4})\d{1,3}[-./]\d{1,2}[-./]\d{1,4}$/.test(typed.trim().replace(TIME_OF_DAY, ''));
}

/** `14:20`, `T14:20:00.000Z`, `2:20 pm`, behind a date. */
const TIME_OF_DAY = /(?<=\d)[T ,]+\d{1,2}:\d{2}(:\d{2}([.,]\d{1,9})?)?( ?[ap]\.?m\.?)?( ?(Z|[-+]\d{2}:?\d{2}))?$/i;

type Found = readonly [year: number, month: number, day: number, order?: DateOrder];

function byOrder(text: string, order: DateOrder): Found | undefined {
  const parts = /^(\d{1,4})([-./])(\d{1,2})\2(\d{1,4})$/.exec(text);
  if (!parts) return undefined;
  const [first, second, third] = [Number(parts[1]), Number(parts[3]), Number(parts[4])];
  if ((parts[1] ?? '').length === 4 || order === 'YMD') return [first, second, third, 'YMD'];
  return order === 'DMY' ? [third, second, first] : [third, first, second];
}

function byMonthName(text: string): Found | undefined {
  if (text.length > 40) return undefined;
  const known = dateWords();
  const words = plainLetters(text).match(/[a-z]+|\d+/g) ?? [];
  const months = words.flatMap((word) => known.months.get(word) ?? []);
  const numbers = words.filter((word) => /^\d+$/.test(word));
  const others = words.filter((word) => /^[a-z]/.test(word) && !known.months.has(word) && !known.days.has(word));
  const [month] = months;
  const [one, two] = numbers;
  if (months.length !== 1 || numbers.length !== 2 || others.length > 0 || !month || !one || !two) return undefined;
  return one.length === 4 ? [Number(one), month, Number(two)] : [Number(two), month, Number(one)];
}

function byDigitsAlone(text: string): Found | undefined {
  const eight = /^(\d{4})(\d{2})(\d{2})$/.exec(text);
  if (eight) return [Number(eight[1]), Number(eight[2]), Number(eight[3])];
  if (!/^\d{5}([.,]\d+)?$/.test(text)) return undefined;
  const date = dateOfDay(parseInt(text, 10) - DAY_NUMBER_OF_1970);
  return [Number(date.slice(0, 4)), Number(date.slice(5, 7)), Number(date.slice(8))];
}

/** What spreadsheets call 1970-01-01: day 25,569 from 1899-12-30 (ECMA-376, part 1, 18.17.4; from memory). */
const DAY_NUMBER_OF_1970 = 25_569;

/** Small letters without marks: `März` is `marz`. */
function plainLetters(text: string): string {
  return text
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .toLowerCase();
}

const LANGUAGES = ['en', 'de', 'fr', 'es', 'it', 'nl', 'pt', 'pl', 'sv', 'da'];

/** Names as these languages write them, long and short; one that means two things means none. */
function namesOf<T>(things: readonly T[], dateOf: (thing: T) => number, part: 'month' | 'weekday'): Map<string, T> {
  const found = new Map<string, T | undefined>();
  for (const language of LANGUAGES)
    for (const length of ['long', 'short'] as const) {
      const format = new Intl.DateTimeFormat(language, { [part]: length, timeZone: 'UTC' });
      for (const thing of things) {
        const name = /[a-z]{2,}/.exec(plainLetters(format.format(dateOf(thing))))?.[0];
        if (name) found.set(name, found.has(name) && found.get(name) !== thing ? undefined : thing);
      }
    }
  return new Map([...found].flatMap(([name, thing]) => (thing === undefined ? [] : [[name, thing]])));
}

interface Names {
  months: Map<string, number>;
  days: Map<string, number>;
}
let names: Names | undefined;

/** Names of months and weekdays, put together when the first date with a word is read. */
function dateWords(): Names {
  names ??= {
    months: namesOf([1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12], (month) => Date.UTC(2026, month - 1, 15), 'month')
      .set('sept', 9)
      .set('mrz', 3),
    days: namesOf([5, 6, 7, 8, 9, 10, 11], (day) => Date.UTC(2026, 0, day), 'weekday'),
  };
  return names;
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
