import { square, type Square } from '../numeric/index.ts';
import type { WearNoise, WearPrior, Appraiser } from './types.ts';

/** A class of vehicle, as far as first guesses about wear go. */
export type WearClass = 'light' | 'heavy';

/**
 * Before any reading: 0.2 mm per 1,000 miles light, 0.1 heavy, under the model's reference duty, and as much
 * as three times more or less (common practice, no source). The fleet's readings take over at once.
 */
const CLASS_LOG_RATE: Record<WearClass, number> = { light: Math.log(0.2), heavy: Math.log(0.1) };
const CLASS_SD = 1;

/** Spread of log rates between the pads of an axle before a fleet has taught it (common practice, no source). */
export const PAD_SPREAD = 0.1;
/** Spread of log rates: between vehicles of a group, between axles of a vehicle, between pads of an axle. */
const GROUP_SPREAD = { vehicle: 0.25, axle: 0.12, pad: PAD_SPREAD };

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
  return levelPrior(weighted / precision, 1 / Math.sqrt(precision), spread);
}

/** Prior of a group whose level is known to a standard deviation. */
export function levelPrior(mean: number, sd: number, spread: number): WearPrior {
  return {
    mean,
    sdVehicle: spread * GROUP_SPREAD.vehicle,
    sdAxle: Math.hypot(spread * GROUP_SPREAD.axle, sd),
    sdPad: GROUP_SPREAD.pad,
  };
}

/** What is known of a group's level before any reading: mean and one sd of its logarithm. */
export const LEVEL_BEFORE: Readonly<Record<WearClass, { mean: number; sd: number }>> = {
  light: { mean: CLASS_LOG_RATE.light, sd: CLASS_SD },
  heavy: { mean: CLASS_LOG_RATE.heavy, sd: CLASS_SD },
};

/** Covariance of the levels of one vehicle's axles about their groups', at a factor of the assumed spreads. */
export function spreadOf(axles: number, spread: number): Square {
  const cov = square(axles);
  for (let i = 0; i < axles; i += 1)
    for (let k = 0; k < axles; k += 1) {
      const own = i === k ? (spread * GROUP_SPREAD.axle) ** 2 + GROUP_SPREAD.pad ** 2 / 4 : 0;
      cov.data[i * axles + k] = (spread * GROUP_SPREAD.vehicle) ** 2 + own;
    }
  return cov;
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
