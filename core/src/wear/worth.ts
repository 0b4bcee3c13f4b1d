import { valueAt, sortedQuantile, square } from '../numeric/index.ts';
import { firstPassage, type AxleState, type PassageNoise } from './passage.ts';

/** What one more look at an axle is worth on average: value of information for the decision when to do it. */
export interface ValueOfInspection {
  /** How much later the mark would stand, miles: pad life not thrown away for want of knowing. */
  laterMi: number;
  /** Width of the 80 % interval of the first passage now and after the look, miles. */
  width80Mi: number;
  width80AfterMi: number;
}

/** A look by an appraiser of middling skill: scatter 0.25 mm, its bias known to 0.1 mm (common practice, no source). */
const LOOK_VARIANCE = 0.25 ** 2 + 0.1 ** 2;
/** Draws enough to rank looks; the forecast itself takes more. */
const DRAWS = 256;

/**
 * What measuring an axle's pads today would bring: the covariance is updated as by four readings that turn out
 * as expected, and both first-passage distributions are taken on the same draws, so their difference is not
 * noise. Source of the idea: Raiffa & Schlaifer, Applied Statistical Decision Theory (1961), preposterior analysis,
 * here at the mean outcome.
 *
 * @param axle log rates then thicknesses, jointly normal
 * @param milesPerExposure miles per thousand duty-weighted miles
 */
export function valueOfInspection(
  axle: AxleState,
  limitMm: number,
  noise: PassageNoise,
  riskTarget: number,
  milesPerExposure: number,
  seed: number,
): ValueOfInspection {
  const before = firstPassage(axle, limitMm, noise, DRAWS, seed);
  const after = firstPassage(looked(axle), limitMm, noise, DRAWS, seed);
  const at = (sorted: Float64Array, p: number) => sortedQuantile(sorted, p) * milesPerExposure;
  const width = (sorted: Float64Array) => at(sorted, 0.9) - at(sorted, 0.1);
  return {
    laterMi: at(after, riskTarget) - at(before, riskTarget),
    width80Mi: width(before),
    width80AfterMi: width(after),
  };
}

/** The axle after one reading of each pad that turned out as expected. */
function looked({ mean, cov }: AxleState): AxleState {
  const { size } = cov;
  const next = square(size);
  next.data.set(cov.data);
  for (let x = size / 2; x < size; x += 1) {
    const total = valueAt(next.data, x * size + x) + LOOK_VARIANCE;
    const column = Float64Array.from({ length: size }, (_, k) => valueAt(next.data, k * size + x));
    for (let i = 0; i < size; i += 1)
      for (let k = 0; k < size; k += 1) {
        const cell = i * size + k;
        next.data[cell] = valueAt(next.data, cell) - (valueAt(column, i) * valueAt(column, k)) / total;
      }
  }
  return { mean, cov: next };
}
