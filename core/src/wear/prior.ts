import { valueAt } from '../numeric/index.ts';
import { runHistory } from './history.ts';
import type { VehicleInput, WearNoise, WearPrior, Appraiser } from './types.ts';

/** A class of vehicle, as far as first guesses about wear go. */
export type WearClass = 'light' | 'heavy';

/**
 * Before any reading: 0.2 mm per 1,000 miles light, 0.1 heavy, under the model's reference duty, and as much
 * as three times more or less (common practice, no source). The fleet's readings take over at once.
 */
const CLASS_LOG_RATE: Record<WearClass, number> = { light: Math.log(0.2), heavy: Math.log(0.1) };
const CLASS_SD = 1;

/** Spread of log rates: between vehicles of a group, between axles of a vehicle, between pads of an axle. */
const GROUP_SPREAD = { vehicle: 0.25, axle: 0.12, pad: 0.1 };

/** Scatter of wear where nothing else is said (common practice, no source). */
export const DEFAULT_NOISE: WearNoise = { perPeriod: 0.12, perPad: 0.2, perDuty: 0.12, newToleranceMm: 0.1 };

/** A technician of whom nothing is known: bias sd 0.35 mm, repeatability 0.3 mm. */
export const UNKNOWN_APPRAISER: Appraiser = { biasMm: 0, biasSdMm: 0.35, repeatabilityMm: 0.3 };

/** Prior of a group from which nothing was measured yet. */
export function classPrior(wearClass: WearClass): WearPrior {
  return {
    mean: CLASS_LOG_RATE[wearClass],
    sdVehicle: GROUP_SPREAD.vehicle,
    sdAxle: Math.hypot(GROUP_SPREAD.axle, CLASS_SD),
    sdPad: GROUP_SPREAD.pad,
  };
}

/** What one vehicle says of one group's log rate: a normal likelihood. */
export interface GroupEvidence {
  group: string;
  mean: number;
  variance: number;
}

/**
 * What a vehicle's own readings say of its axles' log rates, without what the prior put in.
 *
 * The history is run under the broad class prior N(m0, V0); the posterior N(m, V) of the axle's mean rate
 * gives the likelihood back: precision 1/V − 1/V0, mean (m/V − m0/V0) ÷ that.
 *
 * @param input the vehicle with `classPrior` on every axle
 * @param groupOf the name of an axle's group
 */
export function groupEvidence(input: VehicleInput, groupOf: (axle: number) => string): GroupEvidence[] {
  if (input.readings.length === 0) return [];
  const { state } = runHistory(input);
  const { size, data } = state.cov;
  return input.axles.flatMap(({ axle, prior }) => {
    const own = state.places.flatMap((place, p) => (place.axle === axle ? [p] : []));
    let sum = 0;
    let variance = 0;
    for (const p of own) {
      sum += valueAt(state.mean, p);
      for (const q of own) variance += valueAt(data, p * size + q);
    }
    const mean = sum / own.length;
    variance /= own.length ** 2;
    const priorVariance = prior.sdVehicle ** 2 + prior.sdAxle ** 2 + prior.sdPad ** 2 / own.length;
    const precision = 1 / variance - 1 / priorVariance;
    if (precision < 1e-3) return [];
    return [
      {
        group: groupOf(axle),
        mean: (mean / variance - prior.mean / priorVariance) / precision,
        variance: 1 / precision,
      },
    ];
  });
}

/**
 * Prior of a group from what its vehicles say: normal-normal shrinkage of the group's level towards its
 * class, each vehicle weighing 1/(its variance + spread between vehicles). What stays unknown of the level is that of
 * this axle's pads, not of the vehicle: front and rear are of two groups. `spread` multiplies the assumed spreads (see `learnSpread`). Source: Gelman et al., Bayesian Data Analysis, 3rd ed., §2.5 and §5.4.
 */
export function groupPrior(wearClass: WearClass, evidence: readonly GroupEvidence[], spread = 1): WearPrior {
  const between = spread ** 2 * (GROUP_SPREAD.vehicle ** 2 + GROUP_SPREAD.axle ** 2);
  let precision = 1 / CLASS_SD ** 2;
  let weighted = CLASS_LOG_RATE[wearClass] * precision;
  for (const { mean, variance } of evidence) {
    const weight = 1 / (variance + between);
    precision += weight;
    weighted += weight * mean;
  }
  return {
    mean: weighted / precision,
    sdVehicle: spread * GROUP_SPREAD.vehicle,
    sdAxle: Math.hypot(spread * GROUP_SPREAD.axle, 1 / Math.sqrt(precision)),
    sdPad: GROUP_SPREAD.pad,
  };
}

/** How well the factor is known before anything was measured, in the logarithm (starting value, common practice, no source). */
const SPREAD_SD = 0.4;

/**
 * By how many times the fleet's vehicles differ more (or less) than was assumed, over all groups: the factor of the
 * spreads between vehicles and axles at which the vehicles' levels are likeliest about their groups' (marginal
 * likelihood on a grid, with a lognormal prior about 1). Source: Gelman et al., Bayesian Data Analysis, 3rd ed., §5.4.
 *
 * @returns 0.4 to 2.5; 1 where nothing was measured
 */
export function learnSpread(evidence: readonly GroupEvidence[]): number {
  const assumed = GROUP_SPREAD.vehicle ** 2 + GROUP_SPREAD.axle ** 2 + GROUP_SPREAD.pad ** 2 / 4;
  const groups = new Map<string, GroupEvidence[]>();
  for (const one of evidence) groups.set(one.group, [...(groups.get(one.group) ?? []), one]);
  let best = { factor: 1, log: -Infinity };
  for (let step = -18; step <= 18; step += 1) {
    const factor = Math.exp(step * 0.05);
    let log = -0.5 * ((step * 0.05) / SPREAD_SD) ** 2;
    for (const own of groups.values()) log += groupLikelihood(own, factor ** 2 * assumed);
    if (log > best.log) best = { factor, log };
  }
  return best.factor;
}

/** Log marginal likelihood of one group's levels with its own mean integrated out under a flat prior. */
function groupLikelihood(evidence: readonly GroupEvidence[], between: number): number {
  let [precision, weighted, log] = [0, 0, 0];
  for (const { mean, variance } of evidence) {
    precision += 1 / (variance + between);
    weighted += mean / (variance + between);
  }
  const level = weighted / precision;
  for (const { mean, variance } of evidence)
    log -= 0.5 * (Math.log(variance + between) + (mean - level) ** 2 / (variance + between));
  return log - 0.5 * Math.log(precision);
}
