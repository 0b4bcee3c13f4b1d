import { slowdownWork, type DutySettings } from '../duty/index.ts';
import { MPS_PER_MPH } from '../units/index.ts';

/** A bedding-in: so many stops from a speed, with driving between. */
export interface BedIn {
  stops: number;
  fromMph: number;
  /** Driving between stops, s. */
  betweenS: number;
}

/** What a bedding-in does to one rotor. */
export interface BedInHeat {
  /** Work of one stop at all the vehicle's brakes, J. */
  stopJ: number;
  /** Work of all stops into one rotor of the axle, per kg of it, J/kg. */
  perKgJ: number;
  /** Rotor temperature after the last stop, °C. */
  endC: number;
}

/** Share of a stop's work that goes into the rotors (as in `duty`, from memory). */
const INTO_ROTOR = 0.9;
/** Specific heat of grey iron, J/(kg·K) (as in `duty`, from memory). */
const IRON_J_PER_KG_K = 490;

/**
 * Energy and temperature of a bedding-in. Each stop heats a rotor by ΔT = ½·m·v²-less-resistance × share/(m_r·c); between
 * stops it cools towards the air, T → T_air + (T − T_air)·e^(−hA·t/(m_r·c)).
 *
 * @param massKg mass on the road, as the vehicle is driven for it
 * @param brakeShare the axle's share of the braking; each of its two rotors takes half
 * @example a van of 2,200 kg, 5 stops from 35 mph, share .68: 269 kJ at the brakes before resistance
 */
export function bedInHeat(
  { stops, fromMph, betweenS }: BedIn,
  { massKg, brakeShare }: { massKg: number; brakeShare: number },
  settings: DutySettings,
): BedInHeat {
  const { rotor, deceleration } = settings;
  const stop = slowdownWork(
    { massKg, fromMps: fromMph * MPS_PER_MPH, toMps: 0, deceleration, retarderShare: 0 },
    settings,
  );
  const own = (stop.brakeJ * INTO_ROTOR * brakeShare) / 2;
  const capacity = rotor.massKg * IRON_J_PER_KG_K;
  const kept = Math.exp((-rotor.coolingM2 * rotor.coolingWPerM2K * betweenS) / capacity);
  let above = 0;
  for (let i = 0; i < stops; i += 1) above = (i === 0 ? 0 : above * kept) + own / capacity;
  return { stopJ: stop.brakeJ, perKgJ: (own * stops) / rotor.massKg, endC: rotor.ambientC + above };
}

/** The two habits of shops, where the pad maker's sheet says nothing (common practice, no source). */
export const BED_IN_HABITS = {
  'few firm stops': { stops: 5, fromMph: 35, betweenS: 60 },
  'many with cooling': { stops: 20, fromMph: 30, betweenS: 30 },
} as const satisfies Record<string, BedIn>;
