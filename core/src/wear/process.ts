import { runHistory } from './history.ts';
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
}

/** Before a fleet has taught it (common practice, no source). */
export const DEFAULT_WEAR_PROCESS: WearProcess = {
  perPeriod: DEFAULT_NOISE.perPeriod,
  perPad: DEFAULT_NOISE.perPad,
  sdPad: PAD_SPREAD,
};

const FIGURES = ['perPeriod', 'perPad', 'sdPad'] as const;
/** Steps above the default at which each figure is asked, in logarithms: up to 1.65 times. */
const LOG_STEP = 0.25;
const STEPS = [0, 1, 2] as const;
/** How far a fleet's figures are from the default before any reading, in the logarithm (starting value). */
const PRIOR_SD = 0.3;

/** A vehicle as a process has it. */
export function withProcess(input: VehicleInput, { perPeriod, perPad, sdPad }: WearProcess): VehicleInput {
  return {
    ...input,
    noise: { ...input.noise, perPeriod, perPad },
    axles: input.axles.map((axle) => ({ ...axle, prior: { ...axle.prior, sdPad } })),
  };
}

/**
 * How much likelier a vehicle's readings are with each figure at each of its steps, the others at the default: logarithms
 * of likelihood ratios, figure by figure. They add up over vehicles.
 */
export function processEvidence(input: VehicleInput): number[] {
  const base = runHistory(withProcess(input, DEFAULT_WEAR_PROCESS)).logEvidence;
  return FIGURES.flatMap((figure) =>
    STEPS.map((step) => {
      if (step === 0) return 0;
      const value = DEFAULT_WEAR_PROCESS[figure] * Math.exp(LOG_STEP * step);
      return runHistory(withProcess(input, { ...DEFAULT_WEAR_PROCESS, [figure]: value })).logEvidence - base;
    }),
  );
}

/**
 * The process under which a fleet's readings are likeliest: each figure at the peak of its likelihood and a lognormal
 * prior about the default, by a parabola through its three steps. Never below the default, the width that was validated
 * (on fleets of foreign make pads' spread was learnt as .07 and intervals came out too narrow), nor beyond the last step.
 *
 * @param evidence of each vehicle, as `processEvidence` gives it
 */
export function learnWearProcess(evidence: readonly (readonly number[])[]): WearProcess {
  const learnt = { ...DEFAULT_WEAR_PROCESS };
  FIGURES.forEach((figure, f) => {
    const total = STEPS.map((step, k) => {
      const told = evidence.reduce((sum, own) => sum + (own[f * STEPS.length + k] ?? 0), 0);
      return told - 0.5 * ((LOG_STEP * step) / PRIOR_SD) ** 2;
    });
    const [at0, at1, at2] = total as [number, number, number];
    const bend = at0 - 2 * at1 + at2;
    const peak = bend < 0 ? 1 + (at0 - at2) / (2 * bend) : at2 > at0 ? 2 : 0;
    const step = Math.min(2, Math.max(0, peak));
    learnt[figure] = DEFAULT_WEAR_PROCESS[figure] * Math.exp(LOG_STEP * step);
  });
  return learnt;
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
