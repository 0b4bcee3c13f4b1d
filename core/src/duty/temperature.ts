import { METRES_PER_MILE, MPS_PER_MPH } from '../units/index.ts';
import {
  descentPower,
  rollingMass,
  slowdownWork,
  workPerMile,
  type Duty,
  type DutySettings,
  retarderTakes,
  type VehicleMasses,
} from './work.ts';

/** Share of a stop's work that goes into the rotors; the rest leaves through pads and air (from memory). */
const INTO_ROTOR = 0.9;
/** Specific heat of grey iron, J/(kg·K) (from memory: 460 to 500). */
const IRON_J_PER_KG_K = 490;
/** Mean speed over a day as a share of the speed before stops (common practice, no source). */
const MEAN_SPEED_SHARE = 0.6;
/** Where the longest descent is not stated: what descends in so many miles (common practice, no source). */
const DESCENT_TOGETHER_MI = 5;

/** How hot the rotors of an axle get under a duty, °C. */
export interface RotorTemperature {
  meanC: number;
  /** Rise of one stop from the duty's speed, K. */
  stopRiseK: number;
  /** Rise over the longest descent, K. */
  descentRiseK: number;
  /** Mean, and the greater rise on top of it, °C. */
  peakC: number;
  fadeC: number;
  /** What takes it beyond the fade threshold; undefined where nothing does. */
  fades?: 'stop' | 'descent' | 'mean' | undefined;
}

/**
 * What heat does to wear: 1 up to 200 °C, then twice as much every 100 °C (from memory; the fleet's own readings set
 * the level of wear, this only its course).
 */
export function wearAtTemperature(celsius: number): number {
  return celsius <= 200 ? 1 : 2 ** ((celsius - 200) / 100);
}

/**
 * Rise of one rotor that takes `powerW` for `seconds` and cools meanwhile: P/(hA)·(1 − e^(−t·hA/(mc))).
 *
 * @example without cooling it tends to P·t/(mc): 267 kJ × 0.9 × 0.35 into a rotor of 10 kg: 17.2 K
 */
export function rotorRise(
  powerW: number,
  seconds: number,
  { massKg, coolingM2, coolingWPerM2K }: DutySettings['rotor'],
): number {
  const cooling = coolingM2 * coolingWPerM2K;
  const capacity = massKg * IRON_J_PER_KG_K;
  if (cooling <= 0) return (powerW * seconds) / capacity;
  return (powerW / cooling) * -Math.expm1((-seconds * cooling) / capacity);
}

/**
 * Temperatures of an axle's rotors under a duty: mean over the day from mean brake power, the rise of a single stop
 * (no cooling within it), and that of the longest descent.
 *
 * @param brakeShare the axle's share of the braking; each of its two rotors takes half of it
 */
export function rotorTemperature(
  masses: VehicleMasses,
  duty: Duty,
  settings: DutySettings,
  brakeShare: number,
): RotorTemperature {
  const { rotor } = settings;
  const share = (INTO_ROTOR * brakeShare) / 2;
  const speed = duty.mphBeforeStop * MPS_PER_MPH;
  const milesPerSecond = (MEAN_SPEED_SHARE * speed) / METRES_PER_MILE;
  const meanW = workPerMile(masses, duty, settings).totalJ * milesPerSecond * share;
  const meanC = rotor.ambientC + meanW / (rotor.coolingM2 * rotor.coolingWPerM2K);
  const massKg = rollingMass(masses, duty);
  const retarderShare = retarderTakes(masses, duty);
  const stop = slowdownWork(
    { massKg, fromMps: speed, toMps: 0, deceleration: settings.deceleration, retarderShare },
    settings,
  );
  const stopRiseK = duty.stopsPerMile > 0 ? (stop.brakeJ * share) / (rotor.massKg * IRON_J_PER_KG_K) : 0;
  const heightM = duty.longestDescentM || duty.descentMPerMile * DESCENT_TOGETHER_MI;
  const seconds = speed > 0 ? heightM / Math.sin(Math.atan(settings.descentGrade)) / speed : 0;
  const power = descentPower({ massKg, grade: settings.descentGrade, speedMps: speed, retarderShare }, settings);
  const descentRiseK = rotorRise(power.brakeW * share, seconds, rotor);
  const peakC = meanC + Math.max(stopRiseK, descentRiseK);
  const causes = meanC > rotor.fadeC ? 'mean' : descentRiseK > stopRiseK ? 'descent' : 'stop';
  return { meanC, stopRiseK, descentRiseK, peakC, fadeC: rotor.fadeC, fades: peakC > rotor.fadeC ? causes : undefined };
}

/**
 * Brake work per mile of an axle that counts as wear, J: each cause's work × wear at the temperature half-way up its rise.
 */
export function wearingWork(masses: VehicleMasses, duty: Duty, settings: DutySettings, brakeShare: number): number {
  const work = workPerMile(masses, duty, settings);
  const { meanC, stopRiseK, descentRiseK } = rotorTemperature(masses, duty, settings, brakeShare);
  return (
    brakeShare *
    ((work.stopsJ + work.slowdownsJ) * wearAtTemperature(meanC + stopRiseK / 2) +
      work.descentsJ * wearAtTemperature(meanC + descentRiseK / 2))
  );
}
