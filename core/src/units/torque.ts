import { NM_PER_LBF_FT } from './constants.ts';
import { failed, type Parsed } from './failure.ts';
import { parseNumber, type DecimalMark } from './number.ts';

/** The units torques are stated in. */
export type TorqueUnit = 'N·m' | 'lbf·ft' | 'lbf·in';

/** A torque as typed, not converted. */
export interface TypedTorque {
  /** The figure as stated, in `unit`. */
  value: number;
  unit: TorqueUnit;
}

/** Newton metres in one of each unit. Source: NIST SP 811, Appendix B. */
const NM_PER: Record<TorqueUnit, number> = { 'N·m': 1, 'lbf·ft': NM_PER_LBF_FT, 'lbf·in': NM_PER_LBF_FT / 12 };

/** A torque over this is taken for a slip of the finger: no joint of a road vehicle's brakes comes near, N·m. */
const MOST_NM = 2000;

/** Pound-force feet to newton metres. */
export function lbfFtToNm(torque: number): number {
  return torque * NM_PER_LBF_FT;
}

/** Newton metres to pound-force feet. */
export function nmToLbfFt(torque: number): number {
  return torque / NM_PER_LBF_FT;
}

/**
 * A torque in N·m.
 *
 * @param value the figure in `unit`
 * @example torqueToNm(130, 'lbf·ft') = 176.256…
 */
export function torqueToNm(value: number, unit: TorqueUnit): number {
  return value * NM_PER[unit];
}

/**
 * A torque of N·m as a figure of the given unit.
 *
 * @param nm torque, N·m
 */
export function torqueIn(nm: number, unit: TorqueUnit): number {
  return nm / NM_PER[unit];
}

/**
 * The unit that a text names, in the ways it is written: `Nm`, `N·m`, `N m`, `lbf·ft`, `ft-lb`, `lb ft`, `ft lbs`,
 * `lbf-in`, `in-lb`. Undefined where it names none.
 */
export function torqueUnitOf(text: string): TorqueUnit | undefined {
  const bare = text
    .trim()
    .toLowerCase()
    .replace(/[\s·.*⋅×_-]/g, '');
  if (/^(nm|newtonmet(er|re)s?)$/.test(bare)) return 'N·m';
  if (/^(lbf?s?(ft|foot|feet)|(ft|foot|feet)lbf?s?|poundfeet|footpounds?)$/.test(bare)) return 'lbf·ft';
  if (/^(lbf?s?(in|inch)|(in|inch)lbf?s?|poundinches|inchpounds?)$/.test(bare)) return 'lbf·in';
  return undefined;
}

/**
 * Reads a torque as people type it: `155 lbf·ft`, `155 ft-lb`, `210 Nm`, `8,5 N·m`.
 *
 * @param typed the text of the field or cell
 * @param unit the unit of a figure that carries none; without it such a figure is refused, never guessed
 * @returns the figure and its unit, or a failure: `empty`, `not_a_number`, `negative`, `ambiguous`, `unit_missing`,
 *   `unit_unknown`, `unit_contradicts`, `out_of_range`
 */
export function parseTorque(
  typed: string,
  { unit, mark }: { unit?: TorqueUnit | undefined; mark?: DecimalMark | undefined } = {},
): Parsed<TypedTorque> {
  const text = typed.trim();
  if (text === '') return failed({ quantity: 'torque', code: 'empty', typed });
  const split = /^([-−+]?[\d.,\s\u00a0\u202f]*\d)(\D[^]*)?$/.exec(text);
  if (!split) return failed({ quantity: 'torque', code: 'not_a_number', typed });
  const suffix = (split[2] ?? '').trim();
  const named = suffix === '' ? undefined : torqueUnitOf(suffix);
  if (suffix !== '' && named === undefined)
    return failed({ quantity: 'torque', code: 'unit_unknown', typed, unit: suffix });
  if (named !== undefined && unit !== undefined && named !== unit)
    return failed({ quantity: 'torque', code: 'unit_contradicts', typed, unit: named, said: unit });
  const understood = named ?? unit;
  if (understood === undefined) return failed({ quantity: 'torque', code: 'unit_missing', typed });
  const number = parseNumber(split[1] ?? '', { mark });
  if (!number.ok) return { ok: false, failure: { ...number.failure, typed } };
  if (number.value < 0) return failed({ quantity: 'torque', code: 'negative', typed });
  if (number.value === 0 || torqueToNm(number.value, understood) > MOST_NM)
    return failed({ quantity: 'torque', code: 'out_of_range', typed });
  return { ok: true, value: { value: number.value, unit: understood } };
}
