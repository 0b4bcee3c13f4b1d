import {
  thicknessIn,
  type Fired,
  type JobAction,
  type Matter,
  type Missing,
  type ThicknessUnit,
} from '@mile-mark/core';
import type { JobAxle, ScopeItem } from '../jobs/index.ts';
import { limitInWords } from './readings.ts';
import { cornerInWords } from './steps.ts';

/** What is done, as it stands in a list. */
export const ACTION_WORDS: Record<JobAction, string> = {
  pads: 'pads',
  'rotors new': 'new rotors',
  'rotors machined': 'rotors machined',
  'rotors scuffed': 'rotors scuffed',
  'rotor indexed': 'rotor indexed on its hub',
  calipers: 'caliper',
  hose: 'hose',
  'pins cleaned': 'pins cleaned and greased',
  'pin boots': 'pin boots',
  bracket: 'bracket',
  hardware: 'clips and springs',
  sensor: 'wear sensor',
  'channels bared': 'channels bared',
  'find the leak': 'find the leak',
  'find the cause': 'find the cause',
  bleed: 'bleed',
};

/** `pads`, `caliper left`. */
export function actionInWords({ action, sides }: Pick<ScopeItem, 'action' | 'sides'>): string {
  return sides === 'both' ? ACTION_WORDS[action] : `${ACTION_WORDS[action]} ${sides.join(', ')}`;
}

/** `axle 1: pads, new rotors; axle 2: pads`. */
export function scopeInWords(axles: readonly Pick<JobAxle, 'axle' | 'scope'>[]): string {
  return axles
    .map(
      ({ axle, scope }) =>
        `axle ${axle}: ${scope.length > 0 ? scope.map(actionInWords).join(', ') : 'to be inspected'}`,
    )
    .join('; ');
}

const figure = (value: number | string | undefined) => (typeof value === 'number' ? value.toFixed(1) : (value ?? ''));

/** Why a rule asks for something, with the figures it was given. */
export function firedInWords({ rule, inputs }: Pick<Fired, 'rule' | 'inputs'>, unit: ThicknessUnit = 'mm'): string {
  const mm = (value: number | string | undefined) => {
    const own = thicknessIn(Number(value), unit);
    return unit === 'mm' ? `${own.toFixed(1)} mm` : unit === 'in' ? `${own.toFixed(3)} in` : `${Math.round(own)}/32 in`;
  };
  switch (rule) {
    case 'pads at the legal limit':
      return `Thinnest pad ${mm(inputs.thinnestMm)}, under the legal least of ${limitInWords(Number(inputs.lawMm), unit)}.`;
    case 'pads at the service limit':
      return `Thinnest pad ${mm(inputs.thinnestMm)}, service limit ${limitInWords(Number(inputs.limitMm), unit)}.`;
    case 'pads at their mile mark':
      return Number(inputs.daysToMark) < 0
        ? `The mile mark passed ${-Number(inputs.daysToMark)} days ago.`
        : `The mile mark is ${inputs.daysToMark} days away.`;
    case 'finding':
      return `Found: ${inputs.item} ${inputs.state}.`;
    case 'inboard and outboard apart':
      return `The ${inputs.more} pad is thinner by ${mm(inputs.byMm)}.`;
    case 'wears far over its duty':
      return `It wears at least ${figure(inputs.times)} times what its duty explains; “replaced, cause unknown” must be said aloud.`;
    case 'fluid lower than wear explains':
      return 'The fluid is lower than wear explains.';
    case 'calipers in pairs':
      return 'The shop renews calipers in pairs.';
    case 'runout sits in the seating':
      return `Runout ${Number(inputs.runoutMm).toFixed(2)} mm over ${Number(inputs.limitMm).toFixed(2)} mm, mostly once a turn.`;
    case 'rotors':
      return inputs.policy
        ? 'The shop renews rotors with pads.'
        : `The rotors can’t stay as they are: ${inputs.failing}.`;
    case 'pads with rotors':
      return `New pads go with ${inputs.rotors === 'rotors new' ? 'new' : 'machined'} rotors.`;
    case 'hardware with pads':
      return 'The shop renews clips and springs with pads.';
    case 'sensor with pads':
      return 'The wear sensor is good for one set of pads.';
    case 'bleed after the bleeder was open':
      return 'The shop opens the bleeder when pistons go home: then it is bled.';
  }
}

/** What keeps a job open. */
export function missingInWords(missing: Missing, stepText: (step: string) => string): string {
  switch (missing.code) {
    case 'step':
      return `Not done: ${stepText(missing.step)}`;
    case 'unreleased':
      return `${missing.joint}: nobody has released a specification, so it can’t be signed. Have it entered and released.`;
    case 'above new':
      return `The ${missing.pad} pad reads ${missing.mm.toFixed(1)} mm, above the new ${missing.newMm.toFixed(1)} mm: measure again, or confirm it with a reason.`;
    case 'below limit':
      return `The ${missing.pad} pad was left at ${missing.mm.toFixed(1)} mm, at or under the limit of ${missing.limitMm.toFixed(1)} mm.`;
    case 'rotor below discard':
      return `The rotor was left at ${missing.mm.toFixed(1)} mm, under its discard thickness of ${missing.discardMm.toFixed(1)} mm.`;
    case 'defect':
      return 'An open defect is neither closed nor put off with a reason.';
    case 'odometer':
      return 'The odometer is not on record.';
  }
}

/** A step’s id as a place: `Stands, axle 1`. */
export function stepPlaceInWords(id: string): string {
  const [step = '', axle, side] = id.split('/');
  const corner = cornerInWords(axle === undefined ? undefined : Number(axle), side);
  const name = step.startsWith('torque ') ? step.slice(7) : step.charAt(0).toUpperCase() + step.slice(1);
  return corner === null ? name : `${name}, ${corner}`;
}

/** When each school makes sense; common practice, no source. */
export const MATTER_WHENS: Record<Matter, string> = {
  'retracting pistons':
    'Closed, with the reservoir watched, by default. Open where the maker asks or a fluid change is planned: then the job is bled.',
  reservoir: 'Loosened by default; the fluid arithmetic says when to draw off. The cap stays on while a line is open.',
  'pad contact points': 'Film under the clips; ears as the pad maker says; never a friction face.',
  'hub face': 'A film where roads are salted, on the face only.',
  'bracket bolts': 'The specification says. Never instead of torque.',
  'bracket bolt thread': 'Clean and dry. Never grease and locker on one thread.',
  'new rotor': 'By its kind: an oil film is washed off, a dry coating stays.',
  rotors: 'Measurement and cost by the mile decide, unless the shop always renews them.',
  calipers: 'In pairs by default; one alone needs its mate’s test on record.',
  hardware: 'New, from the kit, by default.',
  'retaining screws': 'Refit where present; never what stops a job.',
  'bed-in': 'The pad maker’s sheet first.',
  'double check': 'A second person where two are in the shop.',
};
