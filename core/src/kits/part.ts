import { isConsumable, type KitPart } from '../inspect/index.ts';
import type { Side } from '../measure/index.ts';

/** Where a part fits; what is not said fits all. */
export interface Fit {
  /** A model, which is a variant by itself: another drive or axle option is another model. */
  model: string | undefined;
  axle: number | undefined;
  side: Side | 'both';
  /** Rotor diameter that the wheel must have, mm. */
  rotorMm: number | undefined;
}

/** A part of the catalogue, as far as kits ask. */
export interface Part {
  id: string;
  number: string;
  kind: KitPart;
  /** Pieces in one unit of issue: a set of four pads is 4. */
  pieces: number;
  /** What one unit holds of a consumable, mL or g as its kind is counted; undefined where nobody said. */
  content?: number | undefined;
  /** The part that took its place; this one is used up and not ordered again. */
  supersededBy: string | undefined;
  /** Chosen before others that fit as well; lower is earlier. */
  rank: number;
  fits: readonly Fit[];
}

/** What is wrong with a part as entered, with the field that would have to change. */
export type PartFault =
  | { code: 'pieces'; field: 'pieces'; accepted: readonly number[] }
  | { code: 'content'; field: 'content' }
  | { code: 'fits nothing'; field: 'fits' }
  | { code: 'itself'; field: 'supersededBy' }
  | { code: 'in a circle'; field: 'supersededBy'; through: string[] }
  | { code: 'other kind'; field: 'supersededBy' };

/**
 * Pieces a unit may hold, where it isn't free: pads come by the axle (4), by the wheel (2) or one by one; rotors singly or
 * in pairs. Common practice, no source.
 */
const PIECES: Partial<Record<KitPart, readonly number[]>> = {
  'brake pad': [1, 2, 4],
  rotor: [1, 2],
  caliper: [1],
  'wear sensor': [1, 2],
};

/** Kinds that are used by the job, whatever the model. */
export const CONSUMABLES: readonly KitPart[] = [
  'brake fluid',
  'brake cleaner',
  'rubber-safe grease',
  'hub film',
  'medium thread locker',
  'sealing washer',
];

/**
 * Faults of a part among the others: a set of three pads, a part of no vehicle, one that takes its own place.
 *
 * @param others the catalogue, with or without the part
 */
export function partFaults(part: Part, others: readonly Part[]): PartFault[] {
  const faults: PartFault[] = [];
  const accepted = PIECES[part.kind];
  if (accepted && !accepted.includes(part.pieces)) faults.push({ code: 'pieces', field: 'pieces', accepted });
  if (part.content !== undefined && !(part.content > 0 && isConsumable(part.kind)))
    faults.push({ code: 'content', field: 'content' });
  if (part.fits.length === 0 && !CONSUMABLES.includes(part.kind)) faults.push({ code: 'fits nothing', field: 'fits' });
  if (part.supersededBy === part.id) return [...faults, { code: 'itself', field: 'supersededBy' }];
  const byId = new Map(others.map((one) => [one.id, one]));
  const through: string[] = [];
  let next = part.supersededBy;
  while (next !== undefined) {
    const one = byId.get(next);
    if (one && one.kind !== part.kind && through.length === 0)
      faults.push({ code: 'other kind', field: 'supersededBy' });
    if (one) through.push(one.number);
    next = one?.supersededBy;
    if (next === part.id || through.length > byId.size)
      return [...faults, { code: 'in a circle', field: 'supersededBy', through }];
  }
  return faults;
}

/** The part to be ordered in place of this one: the last of those that took its place. */
export function successor(part: Part, byId: ReadonlyMap<string, Part>): Part {
  let last = part;
  for (let steps = 0; last.supersededBy !== undefined && steps <= byId.size; steps += 1)
    last = byId.get(last.supersededBy) ?? { ...last, supersededBy: undefined };
  return last;
}
