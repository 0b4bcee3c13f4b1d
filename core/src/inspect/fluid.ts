/** Pistons of one caliper as they are stated: `2x51` is two of 51 mm. */
export interface Pistons {
  count: number;
  diameterMm: number;
}

/** Reads `2x51`, `1 x 54 mm`; undefined where it is none. */
export function parsePistons(text: string | null | undefined): Pistons | undefined {
  const found = /^([1-8])\s*[x×]\s*(\d{2,3}(?:\.\d+)?)(?:\s*mm)?$/i.exec((text ?? '').trim());
  if (!found) return undefined;
  return { count: Number(found[1]), diameterMm: Number(found[2]) };
}

/**
 * Fluid that one caliper takes in per mm of wear, mL: area of its pistons; of a fixed (opposed) caliper those of one side.
 *
 * @example two pistons of 51 mm, sliding: 4.086 mL/mm
 */
export function fluidPerMm({ count, diameterMm }: Pistons, fixed: boolean): number {
  const working = fixed ? count / 2 : count;
  return (working * Math.PI * (diameterMm / 2) ** 2) / 1000;
}

/** One caliper with what was worn at it since the fluid was last set to MAX, mm: both pads together, and the rotor. */
export interface CaliperWear {
  pistons: Pistons;
  fixed: boolean;
  padsMm: number;
  rotorMm: number;
}

/** Fluid that went from the reservoir into calipers by wear, mL. */
export function fluidTaken(calipers: readonly CaliperWear[]): number {
  return calipers.reduce(
    (sum, { pistons, fixed, padsMm, rotorMm }) => sum + fluidPerMm(pistons, fixed) * (padsMm + rotorMm),
    0,
  );
}

/** A reservoir with marks: what lies between MIN and MAX, mL, and the level as a share of it (0 at MIN, 1 at MAX). */
export interface Reservoir {
  betweenMarksMl: number;
  level: number;
}

export type FluidVerdict = 'as worn' | 'leak suspected' | 'topped up';

/** How well a level is read on a drawn reservoir, as a share between the marks (common practice, no source). */
const READ_TO = 0.1;
/** How far wear tells the fluid it took: the readings' own scatter, a share (common practice, no source). */
const WEAR_TO = 0.25;

/** What a level says, with the figures it was judged by, mL. */
export interface FluidJudgement {
  verdict: FluidVerdict;
  /** Missing below MAX. */
  missingMl: number;
  /** Explained by wear. */
  expectedMl: number;
  /** Either may be off by so much together. */
  toleranceMl: number;
}

/** Holds the level against what wear explains: more missing is a leak until found, less was topped up earlier. */
export function judgeFluid({ betweenMarksMl, level }: Reservoir, expectedMl: number): FluidJudgement {
  const missingMl = (1 - level) * betweenMarksMl;
  const toleranceMl = Math.hypot(READ_TO * betweenMarksMl, WEAR_TO * expectedMl);
  const off = missingMl - expectedMl;
  const verdict = off > toleranceMl ? 'leak suspected' : off < -toleranceMl ? 'topped up' : 'as worn';
  return { verdict, missingMl, expectedMl, toleranceMl };
}

/**
 * Fluid to draw off before the pistons are pressed home, mL: what comes back less the room up to MAX; 0 where there is
 * room.
 */
export function drawOff({ betweenMarksMl, level }: Reservoir, comesBackMl: number): number {
  return Math.max(0, comesBackMl - (1 - level) * betweenMarksMl);
}
