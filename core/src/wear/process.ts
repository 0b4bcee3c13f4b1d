import { believedBlocks, DEFAULT_DUTY_PROCESS } from '../duty/index.ts';
import { runUntraced } from './history.ts';
import { DEFAULT_NOISE, PAD_SPREAD } from './prior.ts';
import type { VehicleInput } from './types.ts';

/** How wear scatters, one standard deviation of the logarithm each: what a fleet's own readings teach of it. */
export interface WearProcess {
  /** Of severity per 28 days, common to the vehicle. */
  perPeriod: number;
  /** Shocks per pad and 1,000 miles. */
  perPad: number;
  /** Between the pads of an axle, lasting. */
  sdPad: number;
  /** How much of what a measured block is off the level of its route is true, 0 to 1; the rest is error of measuring. */
  blockShare: number;
}

/** Error of a measured block that is its own and not its route's: one sd of the logarithm (starting value; of an error of .15 half of the variance lasts). */
const BLOCK_ERROR = 0.15 / Math.SQRT2;

/** Before a fleet has taught it (common practice, no source). */
export const DEFAULT_WEAR_PROCESS: WearProcess = {
  perPeriod: DEFAULT_NOISE.perPeriod,
  perPad: DEFAULT_NOISE.perPad,
  sdPad: PAD_SPREAD,
  blockShare: 1 - (BLOCK_ERROR / DEFAULT_DUTY_PROCESS.blockSd) ** 2,
};

const FIGURES = ['perPeriod', 'perPad', 'sdPad'] as const;
/** Steps above the default at which each figure is asked, in logarithms: up to 1.65 times. */
const LOG_STEP = 0.25;
const STEPS = [0, 1, 2] as const;
/** How far a fleet's figures are from the default before any reading, in the logarithm (starting value). */
const PRIOR_SD = 0.3;

/** Shares of blocks that are asked about: the default in the middle, and everything believed. */
const SHARE_STEP = 1 - DEFAULT_WEAR_PROCESS.blockShare;
/** How far a fleet's share is from the default before any reading (starting value). */
const SHARE_PRIOR_SD = 0.25;

/** A vehicle as a process has it. */
export function withProcess(input: VehicleInput, { perPeriod, perPad, sdPad, blockShare }: WearProcess): VehicleInput {
  return {
    ...input,
    duty: believedBlocks(input.duty, blockShare),
    noise: { ...input.noise, perPeriod, perPad },
    axles: input.axles.map((axle) => ({ ...axle, prior: { ...axle.prior, sdPad } })),
  };
}

/**
 * How much likelier a vehicle's readings are with each figure at each of its steps, the others at the default: logarithms
 * of likelihood ratios, figure by figure, the share of blocks last. They add up over vehicles.
 */
export function processEvidence(input: VehicleInput): number[] {
  const evidence = (own: Partial<WearProcess>) =>
    runUntraced(withProcess(input, { ...DEFAULT_WEAR_PROCESS, ...own })).logEvidence;
  const base = evidence({});
  const figures = FIGURES.flatMap((figure) =>
    STEPS.map((step) =>
      step === 0 ? 0 : evidence({ [figure]: DEFAULT_WEAR_PROCESS[figure] * Math.exp(LOG_STEP * step) }) - base,
    ),
  );
  const hasBlocks = input.duty.some(({ block }) => block);
  const shares = [-1, 0, 1].map((step) =>
    step === 0 || !hasBlocks ? 0 : evidence({ blockShare: DEFAULT_WEAR_PROCESS.blockShare + step * SHARE_STEP }) - base,
  );
  return [...figures, ...shares];
}

/**
 * The process under which a fleet's readings are likeliest: each figure at the peak of its likelihood and a prior about
 * the default, by a parabola through its three steps. Spreads are never below the default, the width that was validated
 * (on fleets of foreign make pads' spread was learnt as .07 and intervals came out too narrow), nor beyond the last step.
 *
 * @param evidence of each vehicle, as `processEvidence` gives it
 */
export function learnWearProcess(evidence: readonly (readonly number[])[]): WearProcess {
  const learnt = { ...DEFAULT_WEAR_PROCESS };
  const told = (at: number) => evidence.reduce((sum, own) => sum + (own[at] ?? 0), 0);
  FIGURES.forEach((figure, f) => {
    const total = STEPS.map((step, k) => told(f * STEPS.length + k) - 0.5 * ((LOG_STEP * step) / PRIOR_SD) ** 2);
    learnt[figure] = DEFAULT_WEAR_PROCESS[figure] * Math.exp(LOG_STEP * peakOf(total));
  });
  const shares = STEPS.map(
    (step, k) => told(FIGURES.length * STEPS.length + k) - 0.5 * (((step - 1) * SHARE_STEP) / SHARE_PRIOR_SD) ** 2,
  );
  learnt.blockShare = Math.min(1, DEFAULT_WEAR_PROCESS.blockShare + (peakOf(shares) - 1) * SHARE_STEP);
  return learnt;
}

/** Where a parabola through values at 0, 1 and 2 has its peak; the higher end, where it has none between them. */
function peakOf(values: readonly number[]): number {
  const [at0, at1, at2] = values as [number, number, number];
  const bend = at0 - 2 * at1 + at2;
  const peak = bend < 0 ? 1 + (at0 - at2) / (2 * bend) : at2 > at0 ? 2 : 0;
  return Math.min(2, Math.max(0, peak));
}

/** So many vehicles of a class teach its process well enough: those with most readings. */
const MOST_VEHICLES = 24;
const LEAST_READINGS = 12;

/** The vehicles of a class that are asked about its process, most readings first. */
export function teachersOfProcess<T extends { readings: number }>(vehicles: readonly T[]): T[] {
  return vehicles
    .filter(({ readings }) => readings >= LEAST_READINGS)
    .sort((a, b) => b.readings - a.readings)
    .slice(0, MOST_VEHICLES);
}
