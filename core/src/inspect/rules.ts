import { PADS, SIDES, type Pad, type Side } from '../measure/index.ts';
import { findingOf, type Complaint, type JobAction, type Severity } from './catalogue.ts';
import type { BrakeBuild } from './build.ts';
import type { ShopPolicy } from './policy.ts';
import {
  bestRotorOption,
  rotorAlternatives,
  type PadLife,
  type RotorAlternative,
  type RotorBar,
  type RotorNow,
  type RotorPrices,
} from './rotorChoice.ts';

/** A pad as it is known today. */
export interface PadNow {
  side: Side;
  pad: Pad;
  mm: number;
}

/** All that a decision about one axle rests on. */
export interface AxleFacts {
  brake: 'hydraulic' | 'air';
  build: BrakeBuild;
  pads: readonly PadNow[];
  /** Thickness to service at, mm, and what law allows. */
  limitMm: number;
  law: { leastMm: number; equalityPasses: boolean } | null;
  /** Days to the mile mark; negative where it is passed, undefined where there is none. */
  daysToMark: number | undefined;
  /** How many times what duty explains it wears, lower end of the 90 % interval. */
  wearsAtLeast: number;
  rotor: RotorNow | undefined;
  /** Of the rotor as measured, mm; null where it was not, or no limit is released. */
  runout: { mm: number; firstHarmonicMm: number; limitMm: number } | null;
  variation: { mm: number; limitMm: number } | null;
  findings: readonly { side: Side | null; item: string; state: string }[];
  complaints: readonly Complaint[];
  fluid: 'as worn' | 'leak suspected' | 'topped up' | undefined;
  /** What a person asks for besides: what goes with it is asked for by the rules. */
  asked?: readonly JobAction[] | undefined;
  life: PadLife;
  prices: RotorPrices | undefined;
  policy: ShopPolicy;
}

/** A rule that fired: what it asks for, where, and what it was given. */
export interface Fired {
  rule: RuleId;
  action: JobAction;
  side?: Side | undefined;
  /** By law, limit or the axle rule; the rest is policy, and may be overridden with a reason. */
  mandatory: boolean;
  /** Figures and words it rests on; what they mean is said elsewhere. */
  inputs: Record<string, number | string>;
}

export interface Rule {
  id: string;
  /** Row of docs/decisions.md that it covers. */
  fires: (facts: AxleFacts) => Omit<Fired, 'rule'>[];
}

const thinnest = ({ pads }: AxleFacts) => Math.min(...pads.map(({ mm }) => mm));
/** Whether a pad is under what law allows. */
export const belowLaw = (facts: Pick<AxleFacts, 'pads' | 'law'>) =>
  facts.law !== null &&
  facts.pads.some(({ mm }) => (facts.law?.equalityPasses ? mm < facts.law.leastMm : mm <= (facts.law?.leastMm ?? 0)));

const asks = ({ asked }: AxleFacts, ...actions: JobAction[]) => actions.find((action) => asked?.includes(action));

/** Whether new pads go on for their own sake. */
const changesPads = (facts: AxleFacts) =>
  asks(facts, 'pads') !== undefined ||
  thinnest(facts) <= facts.limitMm ||
  belowLaw(facts) ||
  (facts.daysToMark ?? Infinity) <= SOON_DAYS ||
  facts.findings.some(({ item, state }) => findingOf(item, state)?.actions?.includes('pads'));
const once = (action: JobAction, mandatory: boolean, inputs: Fired['inputs']): Omit<Fired, 'rule'>[] => [
  { action, mandatory, inputs },
];
const none: Omit<Fired, 'rule'>[] = [];

/** A mark within so many days is done at this visit (common practice, no source). */
export const SOON_DAYS = 28;
/** Inboard and outboard pads of a wheel that differ so much wear apart, mm and as a share (common practice, no source). */
const APART_MM = 2;
const APART_SHARE = 0.25;
/** Wear that is at least so many times what duty explains has a cause (common practice, no source). */
const FAR_OVER = 1.5;

function wheelsApart({ pads }: AxleFacts): { side: Side; more: Pad; byMm: number }[] {
  return SIDES.flatMap((side) => {
    const [inner, outer] = PADS.map((pad) => pads.find((one) => one.side === side && one.pad === pad)?.mm);
    if (inner === undefined || outer === undefined) return [];
    const byMm = Math.abs(inner - outer);
    if (byMm < APART_MM || byMm < APART_SHARE * Math.max(inner, outer)) return [];
    return [{ side, more: inner < outer ? ('inner' as const) : ('outer' as const), byMm }];
  });
}

export function alternativesOf(facts: AxleFacts): RotorAlternative[] {
  const { rotor, findings, variation, life, prices } = facts;
  if (!rotor) return [];
  const has = (...states: string[]) => findings.some(({ item, state }) => item === 'rotor' && states.includes(state));
  const faces = {
    glazed: has('glazed') || facts.complaints.includes('noise after new pads'),
    bad: has('deeply scored', 'hard spots', 'heavy lip') || (variation !== null && variation.mm > variation.limitMm),
    cracked: has('cracked'),
  };
  return rotorAlternatives(rotor, faces, life, prices);
}

const ROTOR_ACTION = {
  keep: undefined,
  scuff: 'rotors scuffed',
  machine: 'rotors machined',
  replace: 'rotors new',
} as const;

const FORBIDS: readonly Severity[] = ['before next use', 'do not drive'];

/** What is done about the rotors, if anything, and why they can't stay as they are. */
function rotorsChosen(
  facts: AxleFacts,
): { action: JobAction; failing: RotorBar | undefined; always: boolean } | undefined {
  const alternatives = alternativesOf(facts);
  const failing = alternatives.find(({ option }) => option === 'keep')?.bar;
  // A rotor that will not last the next pads matters only when these go on.
  const now = failing === 'below discard' || failing === 'face fails';
  if (alternatives.length === 0 || (!changesPads(facts) && !now)) return undefined;
  const always = facts.policy.rotors === 'always new with pads' && changesPads(facts);
  const action = always ? 'rotors new' : ROTOR_ACTION[bestRotorOption(alternatives).option];
  return action && { action, failing, always };
}

/** Whether new pads go on at all: new or machined rotors get them too. */
const getsPads = (facts: AxleFacts) => {
  const action = asks(facts, 'rotors new', 'rotors machined') ?? rotorsChosen(facts)?.action;
  return changesPads(facts) || action === 'rotors new' || action === 'rotors machined';
};

/** The rules, in the order in which they are read. What each covers stands in docs/decisions.md, which a test reads. */
export const RULES = [
  {
    id: 'pads at the legal limit',
    fires: (facts) =>
      belowLaw(facts) ? once('pads', true, { thinnestMm: thinnest(facts), lawMm: facts.law?.leastMm ?? 0 }) : none,
  },
  {
    id: 'pads at the service limit',
    fires: (facts) =>
      thinnest(facts) <= facts.limitMm
        ? once('pads', true, { thinnestMm: thinnest(facts), limitMm: facts.limitMm })
        : none,
  },
  {
    id: 'pads at their mile mark',
    fires: (facts) =>
      (facts.daysToMark ?? Infinity) <= SOON_DAYS ? once('pads', false, { daysToMark: facts.daysToMark ?? 0 }) : none,
  },
  {
    id: 'finding',
    fires: (facts) =>
      facts.findings.flatMap(({ side, item, state }) => {
        const found = findingOf(item, state);
        // What is done about rotors' faces is weighed as a whole below.
        const actions = (found?.actions ?? []).filter((action) => !action.startsWith('rotors'));
        return actions.map((action) => ({
          action,
          ...(action === 'pads' || side === null ? {} : { side }),
          mandatory: found?.severity === 'do not drive' || found?.severity === 'before next use',
          inputs: { item, state },
        }));
      }),
  },
  {
    id: 'inboard and outboard apart',
    fires: (facts) =>
      wheelsApart(facts).flatMap(({ side, more, byMm }) =>
        (['pins cleaned', 'channels bared'] as const).map((action) => ({
          action,
          side,
          mandatory: false,
          inputs: { more, byMm },
        })),
      ),
  },
  {
    id: 'wears far over its duty',
    fires: (facts) =>
      facts.wearsAtLeast >= FAR_OVER ? once('find the cause', true, { times: facts.wearsAtLeast }) : none,
  },
  {
    id: 'fluid lower than wear explains',
    fires: ({ fluid, brake }) =>
      brake === 'hydraulic' && fluid === 'leak suspected' ? once('find the leak', true, { fluid }) : none,
  },
  {
    id: 'calipers in pairs',
    fires: (facts) => {
      const { policy, findings } = facts;
      const found = findings.some(({ item, state }) => findingOf(item, state)?.actions?.includes('calipers'));
      if ((!found && !asks(facts, 'calipers')) || policy.calipers !== 'in pairs') return none;
      return SIDES.flatMap((side) =>
        (['calipers', 'bleed'] as const).map((action) => ({
          action,
          side,
          mandatory: false,
          inputs: { policy: policy.calipers },
        })),
      );
    },
  },
  {
    id: 'runout sits in the seating',
    fires: ({ runout }) =>
      runout && runout.mm > runout.limitMm && runout.firstHarmonicMm >= runout.mm / 2
        ? once('rotor indexed', false, { runoutMm: runout.mm, limitMm: runout.limitMm })
        : none,
  },
  {
    id: 'rotors',
    fires: (facts) => {
      // A person who asks for one way of it has weighed the others.
      const chosen = asks(facts, 'rotors new', 'rotors machined', 'rotors scuffed') ? undefined : rotorsChosen(facts);
      if (!chosen) return none;
      const { failing, action, always } = chosen;
      const forbids = facts.findings.some(
        ({ item, state }) => item === 'rotor' && FORBIDS.includes(findingOf(item, state)?.severity ?? 'note'),
      );
      return once(action, failing === 'below discard' || forbids, {
        ...(failing ? { failing } : {}),
        ...(always ? { policy: 'always new with pads' } : {}),
      });
    },
  },
  {
    id: 'pads with rotors',
    fires: (facts) => {
      const action = asks(facts, 'rotors new', 'rotors machined') ?? rotorsChosen(facts)?.action;
      const newFaces = action === 'rotors new' || action === 'rotors machined';
      return newFaces && !changesPads(facts) ? once('pads', true, { rotors: action }) : none;
    },
  },
  {
    id: 'hardware with pads',
    fires: (facts) =>
      getsPads(facts) && facts.policy.hardware === 'always new'
        ? once('hardware', false, { policy: 'always new' })
        : none,
  },
  {
    id: 'sensor with pads',
    fires: (facts) => {
      const { sensor } = facts.build;
      if (!getsPads(facts) || sensor === 'none') return none;
      const inputs = { sensor };
      return SIDES.filter((side) => sensor === 'both' || sensor === side).map((side) => ({
        action: 'sensor' as const,
        side,
        mandatory: true,
        inputs,
      }));
    },
  },
  {
    id: 'bleed after the bleeder was open',
    fires: (facts) =>
      facts.brake === 'hydraulic' && getsPads(facts) && facts.policy['retracting pistons'] === 'bleeder open'
        ? once('bleed', true, { policy: 'bleeder open' })
        : none,
  },
] as const satisfies readonly Rule[];

export type RuleId = (typeof RULES)[number]['id'];
export const RULE_IDS: readonly RuleId[] = RULES.map(({ id }) => id);
