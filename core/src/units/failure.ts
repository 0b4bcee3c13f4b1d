/** What was to be read. */
type Quantity = 'number' | 'thickness' | 'distance' | 'date' | 'torque';

/**
 * An expected failure of parsing is data: what was to be read, why it could not, what was typed, and the figures that
 * say what would be accepted. The words a person reads are made elsewhere from these.
 */
export type ParseFailure = {
  quantity: Quantity;
  /** What was typed, untouched. */
  typed: string;
} & (
  | { code: 'empty' | 'not_a_number' | 'negative' | 'out_of_range' | 'unit_missing' }
  /** Could be thousands or decimals: the figure either way. */
  | { code: 'ambiguous'; asThousands: string; asDecimal: string }
  | { code: 'unit_unknown'; unit: string }
  /** The unit that was named, and the one that was said before (or that a fraction is read in). */
  | { code: 'unit_contradicts'; unit: string; said: string }
  /** Denominator that no inch rule has, and the figure over the line. */
  | { code: 'fraction_denominator'; over: string; under: string }
  /** How the sheet writes dates; `asRead` where it has the form of a date and is no day of the calendar. */
  | { code: 'not_a_date'; order: 'YMD' | 'DMY' | 'MDY'; asRead: boolean }
);

/** What a parser gives: a value, or why there is none. */
export type Parsed<T> = { ok: true; value: T } | { ok: false; failure: ParseFailure };

/** A failed parse, as data. */
export function failed(failure: ParseFailure): { ok: false; failure: ParseFailure } {
  return { ok: false, failure };
}
