/**
 * An expected failure of parsing is data: a code, what was typed, and what would be accepted.
 * The wording a person sees is made elsewhere from these.
 */
export interface ParseFailure {
  code:
    | 'empty'
    | 'not_a_number'
    | 'negative'
    | 'ambiguous'
    | 'unit_unknown'
    | 'unit_contradicts'
    | 'unit_missing'
    | 'fraction_denominator'
    | 'not_a_date'
    | 'out_of_range';
  /** What was typed, untouched. */
  typed: string;
  /** In words: what is wrong and what would be accepted instead. */
  message: string;
}

export type Parsed<T> = { ok: true; value: T } | { ok: false; failure: ParseFailure };

export function failed(
  code: ParseFailure['code'],
  typed: string,
  message: string,
): { ok: false; failure: ParseFailure } {
  return { ok: false, failure: { code, typed, message } };
}
