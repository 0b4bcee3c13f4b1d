import type { Candidate } from './candidates.ts';
import type { VehicleInput } from './types.ts';

/**
 * Chance that a slide that seized, or a wheel that dragged, goes on under new pads where nobody put a cause on record
 * (starting value, common practice, no source: half the shops free the pins as they fit pads and write nothing down).
 */
export const OUTLIVES = 0.5;

/** Kinds of change that pads are not the cause of: new ones may leave it as it was. */
const NOT_OF_PADS: ReadonlySet<Candidate['kind']> = new Set(['apart', 'wheel']);

/** Ways in which a change may have gone on under pads fitted since: ended by them, or not. One way where none were. */
export function waysOn(input: VehicleInput, candidate: Candidate): (boolean | undefined)[] {
  if (candidate.until === undefined || !NOT_OF_PADS.has(candidate.kind)) return [undefined];
  return isCured(input, candidate) ? [false] : [false, true];
}

/** Whether new pads may leave the cause of a told change as it was, and nothing told later says so already. */
export function mayOutlive({ kind, axle, side, until }: Candidate, taken: readonly Candidate[]): boolean {
  if (until === undefined || !NOT_OF_PADS.has(kind)) return false;
  return !taken.some((other) => other.axle === axle && other.side === side && other.since >= until);
}

/**
 * Chance that the cause of a change outlived the pads fitted since, by Bayes' rule: nought where a cause was found and put
 * on record since the change began, else by how much likelier the later figures are if it went on.
 *
 * @param evidence log of the chance of all figures if it went on, less that if the new pads ended it
 * @returns 0 to 1
 */
export function chanceOutlived(input: VehicleInput, candidate: Candidate, evidence: number): number {
  if (isCured(input, candidate)) return 0;
  return 1 / (1 + ((1 - OUTLIVES) / OUTLIVES) * Math.exp(-evidence));
}

/** Whether a cause of it was found and put on record since it began. */
function isCured({ remedies = [] }: VehicleInput, { axle, side, since }: Candidate): boolean {
  return remedies.some((one) => one.axle === axle && one.side === side && one.date >= since);
}
