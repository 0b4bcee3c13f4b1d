import { square } from '../numeric/index.ts';
import { roadsAhead } from './horizon.ts';
import { firstPassage, type AxleState, type PassageNoise } from './passage.ts';
import type { VehicleInput } from './types.ts';

/** What makes the interval of the miles left wide: shares of its variance, 0 to 1, together 1. */
export interface WidthShares {
  /** How the duty ahead may turn out. */
  duty: number;
  /** How fast these pads wear. */
  wear: number;
  /** How thick they are now. */
  thickness: number;
}

/** Draws enough for shares to the tenth. */
const DRAWS = 256;
/** A spread under this is none, miles. */
const LEAST_SD_MI = 1;

/**
 * Shares of the variance of the miles left that each source makes by itself, the others at their middle (first-order
 * effects; Saltelli et al., Global Sensitivity Analysis (2008), from memory), scaled to one.
 *
 * @returns undefined where nothing is wide: the limit is passed, or all is known
 */
export function widthShares(
  { mean, cov }: AxleState,
  limitMm: number,
  noise: PassageNoise,
  road: { input: VehicleInput; milesPerDay: number; axle: number; seed: number },
): WidthShares | undefined {
  const { input, milesPerDay, axle, seed } = road;
  const rates = cov.size / 2;
  const only = (kept: (row: number, column: number) => boolean): AxleState => {
    const part = square(cov.size);
    for (let i = 0; i < cov.size; i += 1)
      for (let k = 0; k < cov.size; k += 1)
        part.data[i * cov.size + k] = kept(i, k) ? (cov.data[i * cov.size + k] as number) : 0;
    return { mean, cov: part };
  };
  const variance = (state: AxleState, own: Partial<PassageNoise>, ahead: VehicleInput['ahead']) => {
    const passage = firstPassage(state, limitMm, { ...noise, perPeriod: 0, perPad: 0, ...own }, DRAWS, seed);
    const roads = roadsAhead({ ...input, ahead }, milesPerDay, axle, { count: DRAWS, seed });
    const miles = Array.from(passage, (exposure, i) => roads.daysTo(exposure, i) * milesPerDay);
    const middle = miles.reduce((sum, value) => sum + value, 0) / DRAWS;
    return miles.reduce((sum, value) => sum + (value - middle) ** 2, 0) / DRAWS;
  };
  const nothing = () => false;
  const duty = variance(only(nothing), { perPeriod: noise.perPeriod }, input.ahead);
  const wear = variance(
    only((i, k) => i < rates && k < rates),
    { perPad: noise.perPad },
    undefined,
  );
  const thickness = variance(
    only((i, k) => i >= rates && k >= rates),
    {},
    undefined,
  );
  const total = duty + wear + thickness;
  if (!(total > LEAST_SD_MI ** 2)) return undefined;
  return { duty: duty / total, wear: wear / total, thickness: thickness / total };
}
