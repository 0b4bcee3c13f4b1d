import { METRES_PER_MILE } from './constants.ts';
import { failed, type Parsed } from './failure.ts';
import { parseNumber, type DecimalMark } from './number.ts';

/** The units an odometer may show. */
export type DistanceUnit = 'mi' | 'km';

/** A distance as typed: metres, and the unit it was understood in. */
export interface TypedDistance {
  metres: number;
  unit: DistanceUnit;
}

/** An odometer over this is taken for a slip of the finger: 2,000,000 km. */
const MOST_METRES = 2e9;

/**
 * Reads an odometer as people type it: `41200`, `41,200 mi`, `65 000 km`, `41,200.4`.
 *
 * @param typed the text of the field or cell
 * @param unit the unit of a figure that carries none
 * @returns metres and the unit understood, or a failure: `empty`, `not_a_number`, `negative`,
 *   `ambiguous`, `unit_unknown`, `out_of_range`
 */
export function parseDistance(
  typed: string,
  { unit, mark }: { unit: DistanceUnit; mark?: DecimalMark | undefined },
): Parsed<TypedDistance> {
  const split = /^([-−+]?[\d.,\s\u00a0\u202f]*\d)\s*([a-zA-Z.]*)$/.exec(typed.trim());
  if (!split) {
    return failed({ quantity: 'distance', code: typed.trim() === '' ? 'empty' : 'not_a_number', typed });
  }
  const suffix = (split[2] ?? '').replace('.', '').toLowerCase();
  const understood = suffix === '' ? unit : unitOf(suffix);
  if (understood === undefined) {
    return failed({ quantity: 'distance', code: 'unit_unknown', typed, unit: split[2] ?? '' });
  }
  const number = parseNumber(split[1] ?? '', { mark, thousandsLikely: true });
  if (!number.ok) return { ok: false, failure: { ...number.failure, typed } };
  if (number.value < 0) {
    return failed({ quantity: 'distance', code: 'negative', typed });
  }
  const metres = understood === 'km' ? number.value * 1000 : milesToMetres(number.value);
  if (metres > MOST_METRES) {
    return failed({ quantity: 'distance', code: 'out_of_range', typed });
  }
  return { ok: true, value: { metres, unit: understood } };
}

function unitOf(suffix: string): DistanceUnit | undefined {
  if (/^(mi|mile|miles)$/.test(suffix)) return 'mi';
  if (/^(km|kms|kilomet(er|re)s?)$/.test(suffix)) return 'km';
  return undefined;
}

/** Miles to metres. */
export function milesToMetres(miles: number): number {
  return miles * METRES_PER_MILE;
}

/** Metres to miles. */
export function metresToMiles(metres: number): number {
  return metres / METRES_PER_MILE;
}
