import { failed, type Parsed } from './failure.ts';

/** Which sign parts whole from decimal digits in a sheet; `undefined` where nobody has said. */
export type DecimalMark = '.' | ',';

const SPACES = /[\s\u00a0\u202f]/g;

/**
 * Reads a plain decimal number as people type it: `8.5`, `8,5`, `41,200`, `65 000`, `1.234,5`.
 *
 * @param typed the text, without a unit
 * @param mark the sheet's decimal mark where it is known
 * @param thousandsLikely true for quantities that run to thousands (odometers), where one comma or
 *   space before exactly three digits is a thousands separator; false for thicknesses, where such a
 *   text is ambiguous and is refused
 * @returns the number, or a failure: `empty`, `not_a_number`, `ambiguous`
 */
export function parseNumber(
  typed: string,
  { mark, thousandsLikely = false }: { mark?: DecimalMark | undefined; thousandsLikely?: boolean } = {},
): Parsed<number> {
  const text = typed.trim().replace(/^\+/, '').replace('−', '-');
  if (text === '') return failed({ quantity: 'number', code: 'empty', typed });
  const negative = text.startsWith('-');
  const body = (negative ? text.slice(1) : text).replace(SPACES, ' ').trim();
  const signed = (value: number): Parsed<number> => ({ ok: true, value: negative ? -value : value });

  if (/^\d{1,3}( \d{3})+([.,]\d+)?$/.test(body)) return signed(Number(body.replaceAll(' ', '').replace(',', '.')));
  if (/^\d+$/.test(body)) return signed(Number(body));
  if (/^\d{1,3}(,\d{3})+\.\d+$/.test(body)) return signed(Number(body.replaceAll(',', '')));
  if (/^\d{1,3}(\.\d{3})+,\d+$/.test(body)) return signed(Number(body.replaceAll('.', '').replace(',', '.')));
  if (/^\d{1,3}([.,])\d{3}(\1\d{3})+$/.test(body)) return signed(Number(body.replace(/[.,]/g, '')));

  const single = /^(\d*)([.,])(\d+)$/.exec(body);
  if (!single) return failed({ quantity: 'number', code: 'not_a_number', typed });
  const [, whole = '', sign = '', decimals = ''] = single;
  const looksLikeThousands = decimals.length === 3 && whole.length >= 1 && whole.length <= 3 && !/^0/.test(whole);
  const asDecimal = () => signed(Number(`${whole || '0'}.${decimals}`));
  if (!looksLikeThousands) return asDecimal();
  if (mark !== undefined) {
    return sign === mark ? asDecimal() : signed(Number(whole + decimals));
  }
  if (thousandsLikely && sign === ',') return signed(Number(whole + decimals));
  const either = { asThousands: whole + decimals, asDecimal: `${whole}.${decimals}` };
  return failed({ quantity: 'number', code: 'ambiguous', typed, ...either });
}

/**
 * The figure of a field: undefined where it is blank, NaN where it can't be read as one figure and no other.
 *
 * @param thousandsLikely as in `parseNumber`
 */
export function figureOf(
  typed: string,
  { mark, thousandsLikely = false }: { mark?: DecimalMark | undefined; thousandsLikely?: boolean } = {},
): number | undefined {
  if (typed.trim() === '') return undefined;
  const parsed = parseNumber(typed, { mark, thousandsLikely });
  return parsed.ok ? parsed.value : NaN;
}
