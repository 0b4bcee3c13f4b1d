import type { Side } from '../measure/index.ts';
import type { CardAxle } from './cardSteps.ts';
import type { CardStep } from './card.ts';
import type { JobAction } from './catalogue.ts';
import {
  AMOUNTS,
  changedLines,
  type Consumable,
  isConsumable,
  type KitChange,
  sensedAt,
  wheelLine,
  wheelsOf,
} from './kitChange.ts';
import type { ShopPolicy } from './policy.ts';

/** Kinds of parts and consumables a job may take, in the trade's words. */
export const KIT_PARTS = [
  'brake pad',
  'rotor',
  'caliper',
  'brake hose',
  'bracket',
  'clip set',
  'pin boot set',
  'pad pin set',
  'spreader spring',
  'wear sensor',
  'pad retainer kit',
  'guide pin kit',
  'shear adapter',
  'rotor retaining screw',
  'sealing washer',
  'brake fluid',
  'brake cleaner',
  'rubber-safe grease',
  'hub film',
  'medium thread locker',
] as const;
export type KitPart = (typeof KIT_PARTS)[number];

/** A line of what a job takes; a consumable has an amount in the place of a quantity. */
export interface KitLine {
  part: KitPart;
  quantity: number | null;
  /** Wheels it is for, where not both: sensors, calipers and inner pads are handed. */
  side: Side | 'both';
  axle: number | undefined;
  /** Never fitted again once it is off. */
  oneTimeUse: boolean;
  /** Of a consumable, in the unit of `AMOUNTS`. */
  amount?: number;
}

/**
 * What a job takes, axle by axle, then consumables of the whole job. Common practice, no source; of air brakes from memory.
 *
 * @param changes what this shop takes other than that, at axles of this model
 */
export function kitOf(axles: readonly CardAxle[], policy: ShopPolicy, changes: readonly KitChange[] = []): KitLine[] {
  const at = (axle: CardAxle) =>
    changes
      .filter((one) => one.axle === axle.axle)
      .map((one) => ({ ...one, quantity: Math.max(one.quantity, otherwise(one, axle, policy)) }));
  const lines = axles.flatMap((axle) => changedLines(axleKit(axle, policy), axle, at(axle)));
  const amounts = new Map<Consumable, number>();
  for (const axle of axles)
    for (const [kind, amount] of amountsAt(axle, policy, at(axle)))
      amounts.set(kind, (amounts.get(kind) ?? 0) + amount);
  const consumables = [...amounts]
    .filter(([, amount]) => amount > 0)
    .map(([part, amount]): KitLine => ({
      part,
      quantity: null,
      side: 'both',
      axle: undefined,
      oneTimeUse: false,
      amount,
    }));
  return [...lines, ...consumables];
}

/** Works that come with every set of pads, and what is said of pads is said of them. */
const WITH_PADS: readonly JobAction[] = ['pads', 'hardware', 'sensor'];

/** What the other works of an axle take of a changed kind by themselves: a change of one work takes nothing from them. */
function otherwise({ kind, action }: KitChange, axle: CardAxle, policy: ShopPolicy): number {
  const own = action === 'pads' ? WITH_PADS : [action];
  const rest = { ...axle, scope: axle.scope.filter((one) => !own.includes(one.action)) };
  if (isConsumable(kind)) return amountsAt(rest, policy, []).get(kind) ?? 0;
  const line = axleKit(rest, policy).find(({ part }) => part === kind);
  return line ? (line.quantity ?? 0) / (line.side === 'both' ? 2 : 1) : 0;
}

/** The joint of caliper and hose has a washer on either side of its banjo. */
const WASHERS_PER_JOINT = 2;

function axleKit(axle: CardAxle, policy: ShopPolicy): KitLine[] {
  const { build, brake } = axle;
  const asked = (...actions: JobAction[]) => wheelsOf(axle, ...actions);
  const lines: KitLine[] = [];
  const add = (part: KitPart, perWheel: number, sides: readonly Side[], oneTimeUse = false) => {
    if (sides.length > 0) lines.push(wheelLine(part, perWheel, sides, axle.axle, oneTimeUse));
  };
  const pads = asked('pads');
  const air = brake === 'air';
  add('brake pad', 2, pads);
  add('rotor', 1, asked('rotors new'));
  if (policy['retaining screws'] === 'refit') add('rotor retaining screw', 1, air ? [] : asked('rotors new'));
  add('caliper', 1, asked('calipers'));
  if (!air) add('brake hose', 1, asked('hose'));
  add('bracket', 1, build.caliper === 'fixed' ? [] : asked('bracket'));
  if (air) add('pad retainer kit', 1, pads, true);
  else if (build.caliper === 'fixed') {
    add('pad pin set', 1, asked('hardware'));
    add('spreader spring', 1, asked('hardware'));
  } else add('clip set', 1, asked('hardware'));
  if (build.caliper !== 'fixed') add(air ? 'guide pin kit' : 'pin boot set', 1, asked('pin boots'));
  add(
    'wear sensor',
    1,
    asked('sensor').filter((side) => sensedAt(axle, side)),
    true,
  );
  // A caliper and a hose renewed at one wheel share the joint between them.
  if (!air) add('sealing washer', WASHERS_PER_JOINT, asked('calipers', 'hose'), true);
  return lines;
}

/** What an axle's work takes of each consumable; nought where it takes none. */
function amountsAt(axle: CardAxle, policy: ShopPolicy, changes: readonly KitChange[]): Map<Consumable, number> {
  const any = (...actions: JobAction[]) => wheelsOf(axle, ...actions).length > 0;
  const rotorOff = any('rotors new', 'rotors machined', 'rotor indexed');
  const wanted: Record<Consumable, boolean> = {
    'brake fluid': axle.brake === 'hydraulic' && any('calipers', 'hose', 'bleed', 'find the leak'),
    'brake cleaner': axle.scope.length > 0,
    'rubber-safe grease': axle.build.caliper !== 'fixed' && any('pads', 'pins cleaned', 'pin boots'),
    'hub film': policy['hub face'] === 'film on the face' && rotorOff,
    'medium thread locker': policy['bracket bolts'] === 'medium thread locker' && (rotorOff || any('bracket')),
  };
  const amounts = new Map<Consumable, number>();
  for (const [kind, takes] of Object.entries(wanted) as [Consumable, boolean][])
    amounts.set(kind, takes ? AMOUNTS[kind].perAxle : 0);
  for (const { kind, action, quantity } of changes) if (isConsumable(kind) && any(action)) amounts.set(kind, quantity);
  return amounts;
}

/** Tools a card lists beside sockets and torque wrenches. */
export const CARD_TOOLS = [
  'rated jack and stands',
  'wheel chocks',
  'wet cleaner, gloves, mask',
  'pad gauge',
  'rotor micrometer',
  'scan tool',
  'piston retractor',
  'turn tool for the pistons',
  'pin punch',
  'hex key and a lever for the outer spring',
  'hook for the caliper',
  'hub brush',
  'bleeding bottle and hose',
  'syringe for fluid',
  'caging bolts for the spring brakes',
  'lifting gear for wheel end and caliper',
  'feeler gauge for the running clearance',
  'paint pen',
] as const;
export type CardTool = (typeof CARD_TOOLS)[number];

const TOOLS_BY_STEP: Readonly<Record<string, CardTool>> = {
  stands: 'rated jack and stands',
  ground: 'wheel chocks',
  dust: 'wet cleaner, gloves, mask',
  'as found': 'pad gauge',
  'rotor left': 'rotor micrometer',
  'pads out, fixed': 'pin punch',
  'caliper released': 'hook for the caliper',
  'hub clean': 'hub brush',
  bled: 'bleeding bottle and hose',
  'draw off': 'syringe for fluid',
  'spring brakes': 'caging bolts for the spring brakes',
  'rotor off': 'rated jack and stands',
  'clearance set': 'feeler gauge for the running clearance',
  'bolts marked': 'paint pen',
  'message reset': 'scan tool',
};

/** The tools that a card's steps ask for, each once, in the order of the list. Common practice, no source. */
export function toolsOf(steps: readonly CardStep[], axles: readonly CardAxle[]): CardTool[] {
  const on = new Set(steps.map(({ step }) => step));
  const tools = new Set([...on].flatMap((step) => TOOLS_BY_STEP[step] ?? []));
  for (const { build, brake, axle } of axles) {
    const pistons = steps.some((one) => one.step === 'piston home' && one.axle === axle);
    if (pistons) tools.add(build.parking === 'screw-in piston' ? 'turn tool for the pistons' : 'piston retractor');
    if (build.parking === 'electronic') tools.add('scan tool');
    if (build.caliper === 'sliding, outer spring') tools.add('hex key and a lever for the outer spring');
    if (brake === 'air') tools.add('lifting gear for wheel end and caliper');
  }
  return CARD_TOOLS.filter((tool) => tools.has(tool));
}
