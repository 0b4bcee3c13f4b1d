import { SIDES, type Side } from '../measure/index.ts';
import type { CardAxle } from './cardSteps.ts';
import type { JobAction } from './catalogue.ts';
import type { KitLine, KitPart } from './needs.ts';

/**
 * What one axle's work takes of a consumable, where the shop doesn't say otherwise: fluid of bleeding two wheels, cleaner of
 * two wheel ends, and so on. Common practice, no source.
 */
export const AMOUNTS = {
  'brake fluid': { perAxle: 250, unit: 'mL' },
  'brake cleaner': { perAxle: 200, unit: 'mL' },
  'rubber-safe grease': { perAxle: 5, unit: 'g' },
  'hub film': { perAxle: 3, unit: 'g' },
  'medium thread locker': { perAxle: 2, unit: 'mL' },
} as const satisfies Partial<Record<KitPart, { perAxle: number; unit: 'mL' | 'g' }>>;
export type Consumable = keyof typeof AMOUNTS;

export const isConsumable = (kind: KitPart): kind is Consumable => kind in AMOUNTS;

/** What a shop takes at an axle of a model, other than a kit has by itself. */
export interface KitChange {
  axle: number;
  kind: KitPart;
  /** The work with which it is taken. */
  action: JobAction;
  /** Pieces a wheel, whole; of a consumable mL or g an axle; 0 leaves it out. */
  quantity: number;
}

/** Why a change can't stand, and what would be accepted. */
export type KitChangeFault =
  | { code: 'pieces'; accepted: readonly number[] }
  | { code: 'not whole' }
  | {
      code: 'not built so';
      why: 'no hydraulics' | 'fixed caliper' | 'no fixed caliper' | 'no sensor' | 'no air brake';
    };

/** Pieces a wheel that are fixed by how a brake is made: two pads, one of the others. Nought is refused of pads. */
const PER_WHEEL: Partial<Record<KitPart, readonly number[]>> = {
  'brake pad': [2],
  rotor: [0, 1],
  caliper: [0, 1],
  'brake hose': [0, 1],
  bracket: [0, 1],
  'wear sensor': [0, 1],
  // A banjo has a washer on either side; some calipers have two joints.
  'sealing washer': [0, 2, 4],
};

type Built = Pick<CardAxle, 'brake' | 'build'>;
type NotBuilt = Extract<KitChangeFault, { code: 'not built so' }>['why'];

/** Parts that only a certain build has (common practice, no source). */
const ONLY_WHERE: readonly { kinds: readonly KitPart[]; has: (axle: Built) => boolean; why: NotBuilt }[] = [
  {
    kinds: ['brake hose', 'sealing washer', 'brake fluid'],
    has: ({ brake }) => brake === 'hydraulic',
    why: 'no hydraulics',
  },
  {
    kinds: ['bracket', 'pin boot set', 'clip set'],
    has: ({ build }) => build.caliper !== 'fixed',
    why: 'fixed caliper',
  },
  {
    kinds: ['pad pin set', 'spreader spring'],
    has: ({ build }) => build.caliper === 'fixed',
    why: 'no fixed caliper',
  },
  {
    kinds: ['pad retainer kit', 'guide pin kit', 'shear adapter'],
    has: ({ brake }) => brake === 'air',
    why: 'no air brake',
  },
  { kinds: ['wear sensor'], has: ({ build }) => build.sensor !== 'none', why: 'no sensor' },
];

/**
 * What is wrong with a change: three pads an axle, half a hose, a hose at an air brake.
 *
 * @param axle how the brake is built
 */
export function kitChangeFault(
  { kind, quantity }: Pick<KitChange, 'kind' | 'quantity'>,
  axle: Built,
): KitChangeFault | undefined {
  const bound = ONLY_WHERE.find(({ kinds, has }) => kinds.includes(kind) && !has(axle));
  if (bound && quantity > 0) return { code: 'not built so', why: bound.why };
  if (isConsumable(kind)) return undefined;
  if (!Number.isInteger(quantity)) return { code: 'not whole' };
  const accepted = PER_WHEEL[kind];
  return accepted && !accepted.includes(quantity) ? { code: 'pieces', accepted } : undefined;
}

/** Wheels of an axle at which one of the actions is done. */
export const wheelsOf = ({ scope }: Pick<CardAxle, 'scope'>, ...actions: readonly JobAction[]): Side[] =>
  SIDES.filter((side) =>
    scope.some(({ action, sides }) => actions.includes(action) && (sides === 'both' || sides.includes(side))),
  );

/** How many of a kind an axle takes at so many wheels, as a line. */
export function wheelLine(
  part: KitPart,
  perWheel: number,
  sides: readonly Side[],
  axle: number,
  oneTimeUse: boolean,
): KitLine {
  const side = sides.length === SIDES.length ? ('both' as const) : (sides[0] as Side);
  return { part, quantity: perWheel * sides.length, side, axle, oneTimeUse };
}

/** An axle's lines with the shop's changes; what other work takes of the same at the other wheel stays. */
export function changedLines(lines: readonly KitLine[], axle: CardAxle, changes: readonly KitChange[]): KitLine[] {
  return changes.reduce<KitLine[]>(
    (before, { kind, action, quantity }) => {
      const sides = wheelsOf(axle, action).filter((side) => kind !== 'wear sensor' || sensedAt(axle, side));
      if (isConsumable(kind) || sides.length === 0) return before;
      const own = before.find(({ part }) => part === kind);
      const others = own ? sidesOf(own).filter((side) => !sides.includes(side)) : [];
      const each = own ? (own.quantity ?? 0) / sidesOf(own).length : 0;
      const pieces = quantity * sides.length + each * others.length;
      const line: KitLine = {
        ...wheelLine(kind, 1, quantity > 0 ? [...others, ...sides] : others, axle.axle, own?.oneTimeUse ?? false),
        quantity: pieces,
      };
      const rest = (lineNow: KitLine) => (lineNow === own ? (pieces > 0 ? [line] : []) : [lineNow]);
      return own ? before.flatMap(rest) : pieces > 0 ? [...before, line] : before;
    },
    [...lines],
  );
}

const sidesOf = ({ side }: KitLine): readonly Side[] => (side === 'both' ? SIDES : [side]);

/** Whether the axle is built with a wear sensor at that wheel. */
export const sensedAt = ({ build }: Pick<CardAxle, 'build'>, side: Side): boolean =>
  build.sensor === 'both' || build.sensor === side;
