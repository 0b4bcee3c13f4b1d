import type { JobAction, KitChange, KitPart } from '../inspect/index.ts';
import type { Chance } from './demand.ts';

/** How often jobs took something, of how many. */
export interface Taken {
  jobs: number;
  took: number;
}

/**
 * Parts that some jobs take and others don't: the action by which a card tells it, and how often it is before any job told
 * (common practice, no source; worth `PRIOR_JOBS` jobs).
 */
export const BY_CHANCE: Partial<Record<KitPart, { action: JobAction; usual: number }>> = {
  rotor: { action: 'rotors new', usual: 0.5 },
  caliper: { action: 'calipers', usual: 0.06 },
  'brake hose': { action: 'hose', usual: 0.02 },
  bracket: { action: 'bracket', usual: 0.02 },
  'pin boot set': { action: 'pin boots', usual: 0.15 },
  'guide pin kit': { action: 'pin boots', usual: 0.1 },
  'sealing washer': { action: 'calipers', usual: 0.07 },
  'brake fluid': { action: 'bleed', usual: 0.1 },
};

const PRIOR_JOBS = 10;
/** So many of other models' jobs count at most beside a model's own. */
const FLEET_JOBS = 12;

/**
 * The chance that a job takes a part, after what finished jobs took: beta-binomial. What is usual stands first, the whole
 * fleet's jobs move it, and the model's own move it on from there.
 *
 * @param own finished jobs of the model and axle
 * @param fleet all finished jobs, the model's own among them
 * @throws RangeError where took is over jobs
 */
export function chanceOfUse(usual: number, own: Taken, fleet: Taken): Chance {
  for (const { jobs, took } of [own, fleet])
    if (!(took >= 0 && took <= jobs)) throw new RangeError(`${took} of ${jobs} jobs is no share`);
  const others = { jobs: Math.max(0, fleet.jobs - own.jobs), took: Math.max(0, fleet.took - own.took) };
  const first = { a: usual * PRIOR_JOBS + others.took, b: (1 - usual) * PRIOR_JOBS + others.jobs - others.took };
  // A fleet's many jobs say where a model's chance lies, not that every model's is the same.
  const weight = Math.min(1, FLEET_JOBS / (first.a + first.b));
  return { a: first.a * weight + own.took, b: first.b * weight + own.jobs - own.took };
}

/** Mean of an uncertain chance. */
export const meanChance = ({ a, b }: Chance): number => a / (a + b);

/**
 * The chances of an axle's kit where the shop takes something with other work than usual: a hose with every set of pads is
 * taken as surely as pads are, with new rotors as often as those.
 */
export function chancesWith(
  chances: Partial<Record<KitPart, Chance>>,
  changes: readonly Pick<KitChange, 'kind' | 'action' | 'quantity'>[],
): Partial<Record<KitPart, Chance>> {
  const changed = { ...chances };
  const kinds = Object.entries(BY_CHANCE) as [KitPart, { action: JobAction }][];
  for (const { kind, action, quantity } of changes) {
    if (quantity === 0) continue;
    const told = kinds.find(([, one]) => one.action === action)?.[0];
    const chance = told && chances[told];
    if (chance) changed[kind] = chance;
    else delete changed[kind];
  }
  return changed;
}
