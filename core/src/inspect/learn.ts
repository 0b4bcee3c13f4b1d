import { betaQuantile, studentQuantile } from '../numeric/index.ts';
import type { JobAction } from './catalogue.ts';

/** Something written on a card that tells how time went. */
export type CardMoment =
  /** A step was signed. `step` is its definition’s name. */
  | { kind: 'signed'; atMin: number; step: string; usualMin: number }
  /** The card was laid down or handed over: what follows until the next moment is not work. */
  | { kind: 'rest'; atMin: number }
  /** It was taken up, or begun. */
  | { kind: 'taken up'; atMin: number };

/** Minutes between signings that are one batch: nobody does a step in 20 s and finds its button too (an assumption, no source). */
const BATCH_MIN = 1 / 3;
/** A stretch over an hour that is over five times the usual is rest that nobody told of (an assumption, no source). */
const UNTOLD_REST = { minutes: 60, times: 5 };
/** A batch signed in under a tenth of its usual time was written down afterwards, not as it was done (an assumption, no source). */
const AFTERWARDS = 0.1;

/** Minutes of work that a job’s steps took, each step’s places together. */
export interface TimeSpent {
  step: string;
  minutes: number;
  usualMin: number;
}

/**
 * How long each step took, told by the gaps between signings. Steps signed together share their gap by what they usually
 * take. A gap that holds a rest, told or untold, and a card that was filled in afterwards tell nothing and are left out.
 *
 * @param moments in the order in which they happened
 */
export function timeSpent(moments: readonly CardMoment[]): TimeSpent[] {
  const byStep = new Map<string, TimeSpent>();
  let since: number | undefined;
  let batch: Extract<CardMoment, { kind: 'signed' }>[] = [];
  const close = () => {
    const [first] = batch;
    const last = batch.at(-1);
    if (first && last && since !== undefined) book(byStep, batch, last.atMin - since);
    since = last?.atMin ?? since;
    batch = [];
  };
  for (const moment of moments) {
    const previous = batch.at(-1);
    if (moment.kind === 'signed') {
      if (previous && moment.atMin - previous.atMin >= BATCH_MIN) close();
      batch.push(moment);
      continue;
    }
    close();
    since = moment.kind === 'rest' ? undefined : moment.atMin;
  }
  close();
  return [...byStep.values()];
}

function book(
  byStep: Map<string, TimeSpent>,
  batch: readonly { step: string; usualMin: number }[],
  minutes: number,
): void {
  const usual = batch.reduce((sum, { usualMin }) => sum + usualMin, 0);
  const rested = minutes > UNTOLD_REST.minutes && minutes > UNTOLD_REST.times * usual;
  if (usual <= 0 || rested || minutes < AFTERWARDS * usual) return;
  for (const { step, usualMin } of batch) {
    const own = byStep.get(step) ?? { step, minutes: 0, usualMin: 0 };
    own.minutes += (minutes * usualMin) / usual;
    own.usualMin += usualMin;
    byStep.set(step, own);
  }
}

/**
 * A job’s minutes: what its timed steps took, for all of its steps. Undefined where under half of the usual time was timed.
 *
 * @param usualMin what the whole card usually takes
 */
export function jobMinutes(spent: readonly TimeSpent[], usualMin: number): number | undefined {
  const timed = spent.reduce((sum, one) => sum + one.usualMin, 0);
  if (timed <= 0 || timed < usualMin / 2) return undefined;
  return (spent.reduce((sum, one) => sum + one.minutes, 0) * usualMin) / timed;
}

/** What is kept of times already seen: how many, the sum of ln(minutes ÷ usual), the sum of its squares. */
export interface TimeSums {
  n: number;
  sumLn: number;
  sumLn2: number;
}

/** What is believed before the first card: the usual minutes, worth two jobs, with a scatter of half a log unit. */
const PRIOR = { jobs: 2, shape: 2, variance: 0.25 };

/** A figure with the interval that holds it with 80 %. */
export interface Told {
  value: number;
  low: number;
  high: number;
}

/**
 * How long something takes as a multiple of the usual: the median, with the 80 % interval of that median. The logarithm is
 * taken as normal with mean and variance unknown: its posterior mean under a normal-inverse-gamma prior is a Student t.
 * Source: Gelman et al., Bayesian Data Analysis, 3rd ed., §3.3, from memory. The prior is an assumption, no source.
 */
export function paceOf({ n, sumLn, sumLn2 }: TimeSums): Told {
  const mean = n > 0 ? sumLn / n : 0;
  const squares = Math.max(0, sumLn2 - n * mean * mean);
  const weight = PRIOR.jobs + n;
  const centre = (n * mean) / weight;
  const shape = PRIOR.shape + n / 2;
  const rate = PRIOR.variance * (PRIOR.shape - 1) + squares / 2 + (PRIOR.jobs * n * mean * mean) / (2 * weight);
  const half = studentQuantile(0.9, 2 * shape) * Math.sqrt(rate / (shape * weight));
  return { value: Math.exp(centre), low: Math.exp(centre - half), high: Math.exp(centre + half) };
}

/**
 * A share with its 80 % interval after Jeffreys; at none or all the interval reaches to 0 or 1.
 * Source: Brown, Cai and DasGupta, Interval Estimation for a Binomial Proportion, Statistical Science 16 (2001).
 *
 * @throws RangeError where not 0 ≤ hits ≤ n and n ≥ 1
 */
export function shareOf(hits: number, n: number): Told {
  if (!(n >= 1 && hits >= 0 && hits <= n)) throw new RangeError(`${hits} of ${n} is no share`);
  const [a, b] = [hits + 0.5, n - hits + 0.5];
  return {
    value: hits / n,
    low: hits === 0 ? 0 : betaQuantile(0.1, a, b),
    high: hits === n ? 1 : betaQuantile(0.9, a, b),
  };
}

/** Kinds of work that are compared with their like. */
export const WORK_KINDS = [
  'pads',
  'pads, rotors scuffed',
  'pads, rotors machined',
  'pads and rotors',
  'rotors',
  'other work',
] as const;
export type WorkKind = (typeof WORK_KINDS)[number];

/** What kind of work a scope is: by what is done about its friction, whatever goes with it. */
export function workKind(actions: readonly JobAction[]): WorkKind {
  const has = (action: JobAction) => actions.includes(action);
  if (!has('pads')) return has('rotors new') || has('rotors machined') ? 'rotors' : 'other work';
  if (has('rotors new')) return 'pads and rotors';
  if (has('rotors machined')) return 'pads, rotors machined';
  return has('rotors scuffed') ? 'pads, rotors scuffed' : 'pads';
}
