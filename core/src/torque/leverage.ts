/**
 * What to set on a wrench whose drive is lengthened by an adapter in line with it.
 *
 * By balance of moments: a force F at the grip, L from the wrench's drive, makes F·L there, which is what the wrench
 * shows, and F·(L + E) at the fastener. So setting = target × L ÷ (L + E). An adapter turned out of line lengthens by
 * E·cos θ only; at a right angle by nothing.
 *
 * @param target torque at the fastener, any unit
 * @param lengthMm L, from the middle of the grip to the middle of the drive, mm
 * @param extensionMm E, from the drive to the middle of the fastener, mm
 * @param outOfLineDeg θ, between adapter and wrench, degrees; 0 is in line, 180 folded back
 * @returns the setting, in the target's unit
 * @example adapterSetting(155, 450, 50) = 139.5
 */
export function adapterSetting(target: number, lengthMm: number, extensionMm: number, outOfLineDeg = 0): number {
  const along = extensionMm * Math.cos((outOfLineDeg * Math.PI) / 180);
  return (target * lengthMm) / (lengthMm + along);
}

/**
 * What to set on a wrench that drives a torque multiplier: target ÷ ratio.
 *
 * @param ratio output over input as its maker states it, losses included
 */
export function multiplierSetting(target: number, ratio: number): number {
  return target / ratio;
}

/** Flats of a hexagon passed in a turn: 60° each. */
export function flatsOf(angleDeg: number): number {
  return angleDeg / 60;
}
