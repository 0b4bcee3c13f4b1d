import { METRES_PER_MILE, MPS_PER_MPH, STANDARD_GRAVITY } from '../units/index.ts';

/** What of a vehicle decides the resistance it meets. */
export interface Resistance {
  /** Coefficient of rolling resistance, dimensionless. */
  rolling: number;
  /** Drag coefficient × frontal area, m². */
  dragAreaM2: number;
  /** Rotating-mass factor k, 1.03 to 1.1. */
  rotatingMass: number;
  /** Air density, kg/m³. */
  airDensity: number;
}

/** A braking from one speed to another, for `slowdownWork`. */
export interface Slowdown {
  massKg: number;
  /** Speed before, m/s. */
  fromMps: number;
  /** Speed after, m/s; 0 for a stop. */
  toMps: number;
  /** Deceleration, m/s². */
  deceleration: number;
  /** Share of the work that the engine brake or retarder takes, 0 to 1. */
  retarderShare: number;
}

/** Where the energy of a slowdown goes, J; distance in m. */
export interface SlowdownWork {
  distanceM: number;
  kineticJ: number;
  rollingJ: number;
  airJ: number;
  /** What is left for the friction brakes, J, never below 0. */
  brakeJ: number;
}

/**
 * Work of one stop or slowdown.
 *
 *     d = (v1² − v2²)/(2a);  W_kin = ½·m·k·(v1² − v2²);  W_roll = c_rr·m·g·d;  W_air = ½·ρ·CdA·d·(v1² + v2²)/2
 *
 * Air drag is exact for constant deceleration, as v² falls linearly with distance.
 *
 * @example a 3,000 kg van from 30 mph (13.411 m/s) to rest at 2 m/s²: 44.965 m, 267.08 kJ to the brakes
 */
export function slowdownWork(
  { massKg, fromMps, toMps, deceleration, retarderShare }: Slowdown,
  { rolling, dragAreaM2, rotatingMass, airDensity }: Resistance,
): SlowdownWork {
  const distanceM = (fromMps ** 2 - toMps ** 2) / (2 * deceleration);
  const kineticJ = 0.5 * massKg * rotatingMass * (fromMps ** 2 - toMps ** 2);
  const rollingJ = rolling * massKg * STANDARD_GRAVITY * distanceM;
  const airJ = (0.5 * airDensity * dragAreaM2 * distanceM * (fromMps ** 2 + toMps ** 2)) / 2;
  const brakeJ = Math.max(0, kineticJ - rollingJ - airJ) * (1 - retarderShare);
  return { distanceM, kineticJ, rollingJ, airJ, brakeJ };
}

/** A slope driven down at constant speed, m/s, for `descentPower`; the retarder takes its share, 0 to 1. */
export interface Descent {
  massKg: number;
  /** Slope as rise over run, e.g. 0.06. */
  grade: number;
  speedMps: number;
  retarderShare: number;
}

/** Where the power of a descent goes, W. */
export interface DescentPower {
  /** Power gravity gives, W. */
  gravityW: number;
  rollingW: number;
  airW: number;
  /** What is left for the friction brakes, W, never below 0. */
  brakeW: number;
}

/**
 * Brake power of a descent at steady speed: (m·g·sin θ − c_rr·m·g·cos θ − ½·ρ·CdA·v²)·v.
 *
 * @example 36,287 kg down 6 % at 55 mph: gravity 524.0 kW, rolling 52.4 kW, air 54.6 kW
 */
export function descentPower(
  { massKg, grade, speedMps, retarderShare }: Descent,
  { rolling, dragAreaM2, airDensity }: Resistance,
): DescentPower {
  const angle = Math.atan(grade);
  const weight = massKg * STANDARD_GRAVITY;
  const gravityW = weight * Math.sin(angle) * speedMps;
  const rollingW = rolling * weight * Math.cos(angle) * speedMps;
  const airW = 0.5 * airDensity * dragAreaM2 * speedMps ** 3;
  return { gravityW, rollingW, airW, brakeW: Math.max(0, gravityW - rollingW - airW) * (1 - retarderShare) };
}

/** A duty as it is stated. */
export interface Duty {
  stopsPerMile: number;
  mphBeforeStop: number;
  /** Share of (GVWR − tare) carried on average, 0 to 1.5. */
  payloadShare: number;
  /** Metres of descent in a mile. */
  descentMPerMile: number;
  /** Share of brake work taken by engine brake or retarder, 0 to 1. */
  retarderShare: number;
  /** Towed mass that the vehicle's own brakes hold, kg. */
  towedKg: number;
  /** Slowdowns that do not end in a stop, a mile, and their speeds; none where left out. */
  slowdownsPerMile?: number | undefined;
  slowdownFromMph?: number | undefined;
  slowdownToMph?: number | undefined;
  /** Height of the longest descent in one piece, m; where left out, that of five miles together. */
  longestDescentM?: number | undefined;
}

/** Unladen mass and gross vehicle weight rating, kg. */
export interface VehicleMasses {
  tareKg: number;
  gvwrKg: number;
  /** Whether it has a retarder or an engine brake of its own; not known, where left out: then the duty is believed. */
  retarder?: boolean | undefined;
}

/** Assumptions of the duty model for a class of vehicle, each replaceable by a setting. */
export interface DutySettings extends Resistance {
  /** Deceleration of an ordinary stop, m/s². */
  deceleration: number;
  /** Mean grade of descents, rise over run. */
  descentGrade: number;
  rotor: RotorThermal;
}

/** What of an axle's rotors decides how hot they get. */
export interface RotorThermal {
  /** Mass of one rotor's ring, kg. */
  massKg: number;
  /** Cooled area of one rotor, both faces and vents, m². */
  coolingM2: number;
  /** Mean cooling coefficient on the road, W/(m²·K). */
  coolingWPerM2K: number;
  /** Rotor temperature from which friction may fade, °C. */
  fadeC: number;
  /** Temperature of the air, °C. */
  ambientC: number;
}

/**
 * Where nothing better is known; common practice, no source. Rotor figures are typical of the class, from memory; fade
 * of everyday pads is told from about 350 °C (light) and 400 °C (heavy), from memory.
 */
export const DEFAULT_DUTY_SETTINGS: Record<'pickup' | 'van' | 'heavy', DutySettings> = {
  pickup: {
    deceleration: 2,
    rolling: 0.01,
    dragAreaM2: 1.3,
    rotatingMass: 1.05,
    airDensity: 1.225,
    descentGrade: 0.04,
    rotor: { massKg: 8.5, coolingM2: 0.24, coolingWPerM2K: 60, fadeC: 350, ambientC: 15 },
  },
  van: {
    deceleration: 2,
    rolling: 0.01,
    dragAreaM2: 1.6,
    rotatingMass: 1.05,
    airDensity: 1.225,
    descentGrade: 0.04,
    rotor: { massKg: 10, coolingM2: 0.27, coolingWPerM2K: 60, fadeC: 350, ambientC: 15 },
  },
  heavy: {
    deceleration: 1.2,
    rolling: 0.006,
    dragAreaM2: 6,
    rotatingMass: 1.05,
    airDensity: 1.225,
    descentGrade: 0.04,
    rotor: { massKg: 30, coolingM2: 0.75, coolingWPerM2K: 60, fadeC: 400, ambientC: 15 },
  },
};

/** What an engine takes by itself, without a retarder or engine brake: at most this share (common practice, no source). */
const ENGINE_ALONE = 0.2;

/**
 * Share of the brake work that this vehicle's retarder takes under a duty, 0 to 1: a duty says how far one is used; a
 * vehicle without one has its engine only, whatever a duty made for others says.
 */
export function retarderTakes({ retarder }: VehicleMasses, { retarderShare }: Duty): number {
  return retarder === false ? Math.min(retarderShare, ENGINE_ALONE) : retarderShare;
}

/** Mass on the road under a duty, kg: tare + payload share × (GVWR − tare) + towed. */
export function rollingMass({ tareKg, gvwrKg }: VehicleMasses, { payloadShare, towedKg }: Duty): number {
  return tareKg + payloadShare * (gvwrKg - tareKg) + towedKg;
}

/** Friction-brake work of a duty by cause, J a mile, of the laden vehicle. */
export interface WorkPerMile {
  massKg: number;
  /** From stops, J per mile. */
  stopsJ: number;
  /** From slowdowns that do not end in a stop, J per mile. */
  slowdownsJ: number;
  /** From descents, J per mile. */
  descentsJ: number;
  /** Of the sum, what towed mass causes, J per mile. */
  towingJ: number;
  totalJ: number;
}

/**
 * Friction-brake work of the whole vehicle per mile under a stated duty.
 *
 * @returns joules per mile, by cause; `towingJ` is the difference against the same duty without the trailer
 */
export function workPerMile(masses: VehicleMasses, duty: Duty, settings: DutySettings): WorkPerMile {
  const whole = causes(masses, duty, settings);
  const towingJ = duty.towedKg > 0 ? whole.totalJ - causes(masses, { ...duty, towedKg: 0 }, settings).totalJ : 0;
  return { ...whole, towingJ };
}

function causes(masses: VehicleMasses, duty: Duty, settings: DutySettings): Omit<WorkPerMile, 'towingJ'> {
  const massKg = rollingMass(masses, duty);
  const speedMps = duty.mphBeforeStop * MPS_PER_MPH;
  const retarderShare = retarderTakes(masses, duty);
  const stop = slowdownWork(
    { massKg, fromMps: speedMps, toMps: 0, deceleration: settings.deceleration, retarderShare },
    settings,
  );
  const stopsJ = duty.stopsPerMile * stop.brakeJ;
  const slowdown = slowdownWork(
    {
      massKg,
      fromMps: (duty.slowdownFromMph ?? 0) * MPS_PER_MPH,
      toMps: Math.min(duty.slowdownFromMph ?? 0, duty.slowdownToMph ?? 0) * MPS_PER_MPH,
      deceleration: settings.deceleration,
      retarderShare,
    },
    settings,
  );
  const slowdownsJ = (duty.slowdownsPerMile ?? 0) * slowdown.brakeJ;
  const lengthM = Math.min(METRES_PER_MILE, duty.descentMPerMile / Math.sin(Math.atan(settings.descentGrade)));
  const power = descentPower({ massKg, grade: settings.descentGrade, speedMps, retarderShare }, settings);
  const descentsJ = speedMps > 0 ? (power.brakeW / speedMps) * lengthM : 0;
  return { massKg, stopsJ, slowdownsJ, descentsJ, totalJ: stopsJ + slowdownsJ + descentsJ };
}
