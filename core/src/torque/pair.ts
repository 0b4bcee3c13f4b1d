import { torqueToNm, type TypedTorque } from '../units/index.ts';

/** A stated pair of units that differs by more is a conflict to settle. */
export const PAIR_TOLERANCE = 0.02;

/**
 * By how much the second figure of a stated pair differs from the first, as a share of the first, signed.
 *
 * @example pairDifference({ value: 130, unit: 'lbf·ft' }, { value: 176, unit: 'N·m' }) = −0.0015
 */
export function pairDifference(first: TypedTorque, second: TypedTorque): number {
  const nm = torqueToNm(first.value, first.unit);
  return torqueToNm(second.value, second.unit) / nm - 1;
}

/**
 * Whether a stated pair contradicts itself: it differs from the exact conversion by more than 2 %. Shops round pairs
 * such as 24 lbf·ft = 32 N·m (common practice, no source), which passes.
 */
export function pairConflicts(first: TypedTorque, second: TypedTorque): boolean {
  return Math.abs(pairDifference(first, second)) > PAIR_TOLERANCE;
}
