import type { DateOrder, ParseFailure } from '@mile-mark/core';

type Quantity = ParseFailure['quantity'];
type Code = ParseFailure['code'];

/** How a date of each order looks. */
const EXAMPLE: Record<DateOrder, string> = {
  YMD: 'year-month-day (2026-02-20)',
  DMY: 'day.month.year (20.02.2026)',
  MDY: 'month/day/year (02/20/2026)',
};

/** What each quantity is called, and what would be accepted of it. */
const SAID: Record<Quantity, { name: string; article: string; example: string; units: string; least: string }> = {
  number: { name: 'number', article: 'A', example: 'a number', units: 'no unit', least: '0 or more' },
  thickness: {
    name: 'thickness',
    article: 'A',
    example: 'a figure such as 8.5 or 11/32',
    units: 'mm, in or 1/32 in are',
    least: '0 or more',
  },
  distance: {
    name: 'odometer',
    article: 'An',
    example: 'a figure such as 41,200 mi or 65 000 km',
    units: 'mi or km are',
    least: '0 or more',
  },
  date: { name: 'date', article: 'A', example: 'a date such as 2026-02-20', units: 'no unit', least: '0 or more' },
  torque: {
    name: 'torque',
    article: 'A',
    example: 'a figure such as 155 lbf·ft',
    units: 'N·m, lbf·ft and lbf·in are',
    least: 'more than 0',
  },
};

type Words = { [C in Code]: (failure: ParseFailure & { code: C }, typed: string) => string };

const WORDS: Words = {
  empty: ({ quantity }) =>
    quantity === 'number'
      ? 'Nothing was typed; a number is needed.'
      : `No ${SAID[quantity].name} was typed; ${SAID[quantity].example} is needed.`,
  not_a_number: ({ quantity }, typed) =>
    quantity === 'number'
      ? `“${typed}” is not a number.`
      : `“${typed}” is not ${SAID[quantity].article.toLowerCase()} ${SAID[quantity].name}; ${SAID[quantity].example} is needed.`,
  negative: ({ quantity }, typed) =>
    `${SAID[quantity].article} ${SAID[quantity].name} can't be below zero (${typed}); ${SAID[quantity].least} is accepted.`,
  ambiguous: ({ asThousands, asDecimal }, typed) =>
    `“${typed}” could mean ${asThousands} or ${asDecimal}; type it without a thousands separator.`,
  unit_unknown: ({ quantity, unit }) =>
    `“${unit}” is not a unit of ${quantity === 'distance' ? 'distance' : SAID[quantity].name}; ${SAID[quantity].units} accepted.`,
  unit_contradicts: ({ quantity, unit, said }, typed) =>
    quantity === 'thickness'
      ? `“${typed}”: a fraction is read as inches, not ${unit}.`
      : `“${typed}” says ${unit} where ${said} was said before; one of them is wrong.`,
  unit_missing: (_, typed) => `“${typed}” has no unit; N·m, lbf·ft or lbf·in must be said.`,
  fraction_denominator: ({ over, under }, typed) =>
    `“${typed}” has ${under} under the line; inches are read in 2nds, 4ths, 8ths, 16ths, 32nds or 64ths (did you mean ${over}/32?).`,
  not_a_date: ({ order, asRead }, typed) =>
    asRead
      ? `“${typed}” is not a day of the calendar read as ${EXAMPLE[order]}.`
      : `“${typed}” is not a date; ${EXAMPLE[order]} is accepted.`,
  out_of_range: ({ quantity }, typed) =>
    quantity === 'torque'
      ? `${typed} is not a torque of a wheel end; more than 0 and up to 2,000 N·m is accepted.`
      : `${typed} is more than any vehicle drives; up to 2,000,000 km is accepted.`,
};

/** What is wrong with something typed, and what would be accepted instead. */
export function failureInWords(failure: ParseFailure): string {
  const say = WORDS[failure.code] as (failure: ParseFailure, typed: string) => string;
  return say(failure, failure.typed.trim());
}
