import { MM_PER_32ND, MM_PER_INCH } from './constants.ts';
import { failed, type Parsed } from './failure.ts';
import { parseNumber, type DecimalMark } from './number.ts';

/** The units a person may read a pad gauge in. */
export type ThicknessUnit = 'mm' | 'in' | '1/32 in';

/** A thickness as typed. */
export interface TypedThickness {
  /** Friction material, mm. */
  mm: number;
  /** The unit the figure was understood in. */
  unit: ThicknessUnit;
}

const INCH_UNIT = /^("|”|″|in|in\.|inch|inches)$/i;
const MM_UNIT = /^(mm|millimet(er|re)s?)$/i;
const THIRTY_SECONDS = /^(32nds?|1\/32|1\/32\s*(in|"))$/i;
const DENOMINATORS = [2, 4, 8, 16, 32, 64];

/**
 * Reads a thickness as technicians type it: `8.5`, `8,5`, `8.5mm`, `11/32`, `11/32 in`, `1 1/16"`,
 * `0.33"`, and whole 32nds (`11`) where the person's unit is 1/32 in.
 *
 * @param typed the text of the field or cell
 * @param unit the unit of a figure that carries none
 * @param mark the sheet's decimal mark where known
 * @returns mm and the unit understood, or a failure that says what would be accepted: `empty`,
 *   `not_a_number`, `negative`, `ambiguous`, `unit_unknown`, `unit_contradicts`, `fraction_denominator`
 */
export function parseThickness(
  typed: string,
  { unit, mark }: { unit: ThicknessUnit; mark?: DecimalMark | undefined },
): Parsed<TypedThickness> {
  const text = typed.trim();
  if (text === '') return failed({ quantity: 'thickness', code: 'empty', typed });

  const fraction = /^(-|−)?\s*(?:(\d+)[\s-]+)?(\d+)\s*\/\s*(\d+)(\D*)$/.exec(text);
  if (fraction) return parseFraction(typed, fraction);

  const split = /^([-−+]?[\d.,]*\d)\s+(32nds?)$/i.exec(text) ?? /^([-−+]?[\d.,\s\u00a0\u202f]*\d)(\D[^]*)?$/.exec(text);
  if (!split) {
    return failed({ quantity: 'thickness', code: 'not_a_number', typed });
  }
  const suffix = (split[2] ?? '').trim();
  const understood = suffix === '' ? unit : unitOf(suffix);
  if (understood === undefined) {
    return failed({ quantity: 'thickness', code: 'unit_unknown', typed, unit: suffix });
  }
  const number = parseNumber(split[1] ?? '', { mark });
  if (!number.ok) return { ok: false, failure: { ...number.failure, typed } };
  if (number.value < 0) {
    return failed({ quantity: 'thickness', code: 'negative', typed });
  }
  return { ok: true, value: { mm: number.value * MM_PER[understood], unit: understood } };
}

/** Millimetres in one of each unit. */
const MM_PER: Record<ThicknessUnit, number> = { mm: 1, in: MM_PER_INCH, '1/32 in': MM_PER_32ND };

function unitOf(suffix: string): ThicknessUnit | undefined {
  if (MM_UNIT.test(suffix)) return 'mm';
  if (INCH_UNIT.test(suffix)) return 'in';
  if (THIRTY_SECONDS.test(suffix)) return '1/32 in';
  return undefined;
}

/**
 * The unit a word names as technicians write it: `mm`, `inch`, `"`, `32nds`, `1/32 in`.
 *
 * @returns the unit, undefined where the word is none
 */
export function thicknessUnitNamed(word: string): ThicknessUnit | undefined {
  return unitOf(word.trim());
}

function parseFraction(typed: string, match: RegExpExecArray): Parsed<TypedThickness> {
  const [, minus, whole, over, under, suffix = ''] = match;
  const denominator = Number(under);
  if (!DENOMINATORS.includes(denominator)) {
    return failed({ quantity: 'thickness', code: 'fraction_denominator', typed, over: over ?? '', under: under ?? '' });
  }
  const unit = suffix.trim();
  if (unit !== '' && !INCH_UNIT.test(unit)) {
    return failed({ quantity: 'thickness', code: 'unit_contradicts', typed, unit, said: 'in' });
  }
  if (minus) return failed({ quantity: 'thickness', code: 'negative', typed });
  const inches = Number(whole ?? 0) + Number(over) / denominator;
  return { ok: true, value: { mm: inches * MM_PER_INCH, unit: '1/32 in' } };
}

/**
 * A thickness in mm as a figure of the given unit.
 *
 * @param mm thickness, mm
 * @returns the figure in that unit (for `1/32 in`: how many 32nds)
 */
export function thicknessIn(mm: number, unit: ThicknessUnit): number {
  return mm / MM_PER[unit];
}
