import type { Side } from '../measure/index.ts';
import type { BrakeBuild } from './build.ts';
import type { JobAction, FindingItem } from './catalogue.ts';
import type { ShopPolicy } from './policy.ts';

/** What a step asks of the person: a tick, a state of an item, a figure, a torque, a look with a gauge, a count of stops. */
export type StepKind =
  'do' | 'check' | 'level' | 'pads left' | 'rotor left' | 'torque' | 'measure' | 'count' | 'second';

/** An axle as the card is made for it. */
export interface CardAxle {
  axle: number;
  brake: 'hydraulic' | 'air';
  build: BrakeBuild;
  scope: readonly { action: JobAction; sides: readonly Side[] | 'both' }[];
  /** Joints of the axle with a released specification, and those every such axle has that nobody released. */
  joints: readonly string[];
  unknownJoints: readonly string[];
}

/** Where a step is looked at, for its condition. */
export interface StepPlace extends CardAxle {
  side: Side | undefined;
  policy: ShopPolicy;
  /** Fluid to draw off first, mL. */
  drawOffMl: number;
  rear: boolean;
}

export interface StepDefinition {
  id: string;
  kind: StepKind;
  /** The job does not close without it. */
  hold?: true;
  /** Once a job, once an axle, or once a wheel; wheels are opened one after the other and closed one after the other. */
  part: 'prepare' | 'axle' | 'open' | 'close' | 'axle end' | 'finish';
  when?: (at: StepPlace) => boolean;
  /** Minutes it usually takes, until the shop's own cards tell (common practice, no source). */
  minutes: number;
  /** Steps of the same wheel that come before, where the order costs when it is not kept. */
  after?: readonly string[];
  item?: FindingItem;
  joint?: string;
}

/** Whether an action is in the scope, at this side where it is of a side. */
function inScope({ scope, side }: Pick<StepPlace, 'scope' | 'side'>, ...actions: JobAction[]): boolean {
  return scope.some(
    ({ action, sides }) => actions.includes(action) && (sides === 'both' || side === undefined || sides.includes(side)),
  );
}

const hydraulic = ({ brake }: StepPlace) => brake === 'hydraulic';
const air = ({ brake }: StepPlace) => brake === 'air';
const rotorOff = (at: StepPlace) => inScope(at, 'rotors new', 'rotors machined', 'rotor indexed');
const bracketOff = (at: StepPlace) =>
  at.build.caliper !== 'fixed' && (rotorOff(at) || inScope(at, 'bracket', 'channels bared'));
const opened = (at: StepPlace) => hydraulic(at) && inScope(at, 'calipers', 'hose', 'bleed', 'find the leak');
const sensorHere = ({ build: { sensor }, side }: StepPlace) => sensor === 'both' || sensor === side;
const newFriction = (at: StepPlace) => inScope(at, 'pads', 'rotors new', 'rotors machined');
const pads = (at: StepPlace) => inScope(at, 'pads');
const fixed = ({ build }: StepPlace) => build.caliper === 'fixed';
const sliding = (at: StepPlace) => hydraulic(at) && !fixed(at);
const joint = (name: string, when: (at: StepPlace) => boolean, after?: readonly string[]): StepDefinition => ({
  id: `torque ${name}`,
  kind: 'torque',
  hold: true,
  part: 'close',
  joint: name,
  minutes: 2,
  when,
  ...(after ? { after } : {}),
});

/**
 * The steps in working order. Holds are the ones that people forget and the ones that carry the risk: ground and stands,
 * torques, the moving-caliper test, level and cap, firm pedal, leak check, torque marks. Common practice, no source; what
 * is of air brakes comes from memory, and the maker's manual comes first.
 */
export const STEPS: readonly StepDefinition[] = [
  { id: 'complaint', kind: 'do', part: 'prepare', minutes: 2 },
  { id: 'kit', kind: 'do', part: 'prepare', minutes: 3 },
  { id: 'ground', kind: 'do', hold: true, part: 'prepare', minutes: 2 },
  { id: 'fluid level', kind: 'level', hold: true, part: 'prepare', when: hydraulic, minutes: 1 },
  {
    id: 'draw off',
    kind: 'do',
    hold: true,
    part: 'prepare',
    when: (at) => hydraulic(at) && (at.drawOffMl > 0 || at.policy.reservoir === 'fluid drawn off first'),
    minutes: 4,
  },
  { id: 'cap', kind: 'do', part: 'prepare', when: hydraulic, minutes: 1 },
  { id: 'nuts cracked', kind: 'do', part: 'axle', minutes: 2 },
  { id: 'parking brake', kind: 'do', hold: true, part: 'axle', when: (at) => !air(at), minutes: 1 },
  { id: 'spring brakes', kind: 'do', hold: true, part: 'axle', when: air, minutes: 6 },
  { id: 'stands', kind: 'do', hold: true, part: 'axle', minutes: 5 },
  { id: 'as found', kind: 'measure', hold: true, part: 'axle', minutes: 6 },
  { id: 'wheel off', kind: 'do', part: 'open', minutes: 3 },
  { id: 'dust', kind: 'do', part: 'open', minutes: 2 },
  { id: 'look', kind: 'do', part: 'open', minutes: 2 },
  { id: 'bleeder cracked', kind: 'do', part: 'open', when: opened, minutes: 2 },
  { id: 'sensor unplugged', kind: 'do', part: 'open', when: sensorHere, minutes: 1 },
  { id: 'adjuster wound back', kind: 'do', part: 'open', when: air, minutes: 4 },
  { id: 'pads out, fixed', kind: 'do', part: 'open', when: (at) => fixed(at) && pads(at), minutes: 4 },
  { id: 'caliper released', kind: 'do', part: 'open', when: sliding, minutes: 4 },
  { id: 'pads out, air', kind: 'do', part: 'open', when: (at) => air(at) && pads(at), minutes: 6 },
  { id: 'body off', kind: 'do', part: 'open', when: (at) => fixed(at) && rotorOff(at), minutes: 5 },
  { id: 'test pins', kind: 'check', hold: true, item: 'pins', part: 'open', when: (at) => !fixed(at), minutes: 2 },
  { id: 'test piston', kind: 'check', hold: true, item: 'piston', part: 'open', when: hydraulic, minutes: 2 },
  { id: 'test hose', kind: 'check', hold: true, item: 'hose', part: 'open', when: hydraulic, minutes: 1 },
  { id: 'test bracket', kind: 'check', item: 'bracket', part: 'open', when: sliding, minutes: 1 },
  { id: 'look at boots', kind: 'check', item: 'boots', part: 'open', minutes: 1 },
  { id: 'look for leaks', kind: 'check', hold: true, item: 'leak', part: 'open', when: hydraulic, minutes: 1 },
  { id: 'look at rotor', kind: 'check', hold: true, item: 'rotor', part: 'open', minutes: 1 },
  { id: 'bracket off', kind: 'do', part: 'open', when: bracketOff, minutes: 4 },
  {
    id: 'drum shoes backed off',
    kind: 'do',
    part: 'open',
    when: (at) => at.build.parking === 'drum in hat' && rotorOff(at),
    minutes: 3,
  },
  { id: 'rotor off', kind: 'do', part: 'open', when: rotorOff, minutes: 5 },
  { id: 'hub clean', kind: 'do', part: 'close', when: rotorOff, minutes: 5 },
  {
    id: 'hub film',
    kind: 'do',
    part: 'close',
    when: (at) => rotorOff(at) && at.policy['hub face'] === 'film on the face',
    after: ['hub clean'],
    minutes: 1,
  },
  { id: 'parts compared', kind: 'do', part: 'close', when: newFriction, minutes: 2 },
  { id: 'rotor coating', kind: 'do', part: 'close', when: (at) => inScope(at, 'rotors new'), minutes: 2 },
  { id: 'rotor scuffed', kind: 'do', part: 'close', when: (at) => inScope(at, 'rotors scuffed'), minutes: 6 },
  { id: 'rotor on', kind: 'do', part: 'close', when: rotorOff, after: ['hub clean'], minutes: 2 },
  joint('Rotor retaining screw', (at) => rotorOff(at) && at.policy['retaining screws'] === 'refit', ['rotor on']),
  {
    id: 'channels',
    kind: 'do',
    part: 'close',
    when: (at) => sliding(at) && (pads(at) || inScope(at, 'channels bared')),
    minutes: 4,
  },
  {
    id: 'clips',
    kind: 'do',
    part: 'close',
    when: (at) => !air(at) && inScope(at, 'hardware'),
    after: ['channels'],
    minutes: 2,
  },
  {
    id: 'pins greased',
    kind: 'do',
    part: 'close',
    when: (at) => !fixed(at) && (pads(at) || inScope(at, 'pins cleaned', 'pin boots')),
    minutes: 4,
  },
  { id: 'new boots', kind: 'do', part: 'close', when: (at) => inScope(at, 'pin boots'), minutes: 3 },
  joint('Bracket bolt', bracketOff, ['rotor on']),
  joint('Carrier bolt', (at) => air(at) && rotorOff(at), ['rotor on']),
  { id: 'piston home', kind: 'do', part: 'close', when: hydraulic, after: ['draw off'], minutes: 3 },
  {
    id: 'pads in',
    kind: 'do',
    part: 'close',
    when: pads,
    after: ['rotor on', 'channels', 'clips', 'piston home'],
    minutes: 3,
  },
  { id: 'pads left', kind: 'pads left', hold: true, part: 'close', when: pads, minutes: 2 },
  { id: 'rotor left', kind: 'rotor left', hold: true, part: 'close', minutes: 2 },
  {
    id: 'caliper on',
    kind: 'do',
    part: 'close',
    when: (at) => sliding(at),
    after: ['pads in', 'pins greased'],
    minutes: 2,
  },
  joint(
    'Guide pin bolt',
    (at) => !fixed(at) && (sliding(at) || rotorOff(at) || inScope(at, 'pins cleaned', 'pin boots')),
    ['caliper on'],
  ),
  joint('Pad retainer bolt', (at) => air(at) && pads(at), ['pads in']),
  joint('Brake chamber nut', (at) => air(at) && inScope(at, 'calipers')),
  { id: 'sensor plugged', kind: 'do', part: 'close', when: sensorHere, minutes: 1 },
  joint('Sensor or harness screw', (at) => sensorHere(at) && inScope(at, 'sensor')),
  {
    id: 'washers counted',
    kind: 'do',
    hold: true,
    part: 'close',
    when: (at) => hydraulic(at) && inScope(at, 'calipers', 'hose'),
    minutes: 1,
  },
  joint('Hose joint', (at) => hydraulic(at) && inScope(at, 'calipers', 'hose'), ['washers counted']),
  {
    id: 'bled',
    kind: 'do',
    hold: true,
    part: 'close',
    when: opened,
    after: ['caliper on', 'torque Hose joint'],
    minutes: 8,
  },
  joint('Bleeder screw', opened, ['bled']),
  { id: 'clearance set', kind: 'do', hold: true, part: 'close', when: air, after: ['pads in'], minutes: 5 },
  { id: 'faces cleaned', kind: 'do', part: 'close', minutes: 1 },
  { id: 'moving test', kind: 'do', hold: true, part: 'close', minutes: 1 },
  { id: 'bolts marked', kind: 'do', hold: true, part: 'close', minutes: 1 },
  { id: 'pumped', kind: 'do', hold: true, part: 'close', when: hydraulic, after: ['caliper on', 'bled'], minutes: 1 },
  { id: 'wheel on', kind: 'do', part: 'close', minutes: 3 },
  { ...joint('Wheel nut', () => true), part: 'axle end', after: ['wheel on'] },
  {
    id: 'nuts again',
    kind: 'do',
    hold: true,
    part: 'axle end',
    when: ({ policy }) => policy['double check'] === 'same person again',
    minutes: 1,
    after: ['torque Wheel nut'],
  },
  {
    id: 'nuts by a second',
    kind: 'second',
    hold: true,
    part: 'axle end',
    when: ({ policy }) => policy['double check'] === 'second person',
    minutes: 1,
    after: ['torque Wheel nut'],
  },
  { id: 'level and cap', kind: 'do', hold: true, part: 'finish', when: hydraulic, minutes: 2 },
  { id: 'air up', kind: 'do', hold: true, part: 'finish', when: air, minutes: 4 },
  { id: 'final pump', kind: 'do', hold: true, part: 'finish', when: hydraulic, after: ['level and cap'], minutes: 1 },
  { id: 'leak check', kind: 'do', hold: true, part: 'finish', minutes: 2 },
  {
    id: 'message reset',
    kind: 'do',
    part: 'finish',
    when: ({ build }) => build.sensor !== 'none' || build.parking === 'electronic',
    minutes: 2,
  },
  { id: 'yard stop', kind: 'do', hold: true, part: 'finish', after: ['final pump', 'leak check'], minutes: 3 },
  { id: 'bed in', kind: 'count', hold: true, part: 'finish', when: newFriction, after: ['yard stop'], minutes: 15 },
  { id: 'level again', kind: 'do', part: 'finish', when: hydraulic, after: ['bed in'], minutes: 1 },
];
