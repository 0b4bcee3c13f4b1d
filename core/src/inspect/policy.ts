/**
 * Matters on which good practitioners differ. The shop settles each once; the first option is what counts until it has.
 * Torque by a wrench is no matter: it is not offered as a choice. Common practice, no source.
 */
export const MATTERS = {
  'retracting pistons': ['bleeder closed', 'bleeder open'],
  reservoir: ['cap loosened', 'cap off', 'fluid drawn off first'],
  'pad contact points': ['film under clips', 'thin grease on ears', 'dry'],
  'hub face': ['film on the face', 'clean and dry'],
  'bracket bolts': ['as the specification says', 'medium thread locker', 'none'],
  'bracket bolt thread': ['clean and dry', 'greased'],
  'new rotor': ['by its kind', 'wash', 'keep'],
  rotors: ['measure and decide', 'always new with pads'],
  calipers: ['in pairs', 'only the failed one'],
  hardware: ['always new', 'cleaned and reused'],
  'retaining screws': ['refit', 'leave out'],
  'bed-in': ["the pad maker's sheet", 'few firm stops', 'many with cooling'],
  'double check': ['same person again', 'second person'],
} as const satisfies Record<string, readonly [string, ...string[]]>;
export type Matter = keyof typeof MATTERS;
export type ShopPolicy = { [M in Matter]: (typeof MATTERS)[M][number] };
export const MATTER_NAMES = Object.keys(MATTERS) as Matter[];

/** What counts while the shop has settled nothing. */
export const DEFAULT_POLICY = Object.fromEntries(
  MATTER_NAMES.map((matter) => [matter, MATTERS[matter][0]]),
) as ShopPolicy;

/** Two settings that can't both be. */
export interface Contradiction {
  matters: readonly [Matter, Matter];
  code: 'locker on grease' | 'cap off with bleeder open';
}

/** Settings that contradict each other; none may be kept. */
export function contradictions(policy: ShopPolicy): Contradiction[] {
  const found: Contradiction[] = [];
  if (policy['bracket bolts'] === 'medium thread locker' && policy['bracket bolt thread'] === 'greased')
    found.push({ matters: ['bracket bolts', 'bracket bolt thread'], code: 'locker on grease' });
  // A line that is open at the bleeder must not draw air at the reservoir: its cap stays on.
  if (policy['retracting pistons'] === 'bleeder open' && policy.reservoir === 'cap off')
    found.push({ matters: ['retracting pistons', 'reservoir'], code: 'cap off with bleeder open' });
  return found;
}

/** The policy of a vehicle: the fleet's, over it its class's, over that its model's. */
export function policyFor(layers: readonly Partial<ShopPolicy>[]): ShopPolicy {
  return Object.assign({}, DEFAULT_POLICY, ...layers) as ShopPolicy;
}
