import { valueAt, square, type Square } from '../numeric/index.ts';
import { padPlaces, type PadPlace } from '../measure/index.ts';
import type { AxleInput, Appraiser } from './types.ts';

/**
 * Joint Gaussian state of one vehicle: for its P pads the log wear rates L (log mm per 1,000 duty-weighted
 * miles), then their thicknesses x (mm), then the biases b of the appraisers that measured it (mm).
 * Index of L of pad p: p; of x: P + p; of b of appraiser j: 2P + j.
 */
export interface WearState {
  places: PadPlace[];
  /** An appraiser is a technician with a gauge. */
  appraisers: string[];
  mean: Float64Array;
  cov: Square;
  /** Whether anything is known of a pad's present thickness: a reading or a fitting. */
  informed: boolean[];
}

/** Thickness of a pad of which nothing is known yet: anywhere between limit and new (moments of the uniform distribution). */
function unknownThickness({ newMm, limitMm }: AxleInput): { mean: number; variance: number } {
  return { mean: (newMm + limitMm) / 2, variance: (newMm - limitMm) ** 2 / 12 };
}

/**
 * The state before anything was measured.
 *
 * L of pads p and q covaries by su², plus sa² on the same axle, plus sw² on the same pad.
 */
export function initialState(
  axles: readonly AxleInput[],
  appraisers: readonly string[],
  appraiserOf: (name: string) => Appraiser,
): WearState {
  const places = padPlaces(axles.map(({ axle }) => axle));
  const count = places.length;
  const size = 2 * count + appraisers.length;
  const mean = new Float64Array(size);
  const cov = square(size);
  const inputOf = (place: PadPlace) => axles.find(({ axle }) => axle === place.axle) as AxleInput;
  places.forEach((place, p) => {
    const input = inputOf(place);
    mean[p] = input.prior.mean;
    places.forEach((other, q) => {
      const shared = input.prior.sdVehicle * inputOf(other).prior.sdVehicle;
      const axle = other.axle === place.axle ? input.prior.sdAxle ** 2 : 0;
      cov.data[p * size + q] = shared + axle + (p === q ? input.prior.sdPad ** 2 : 0);
    });
  });
  appraisers.forEach((name, j) => {
    const appraiser = appraiserOf(name);
    mean[2 * count + j] = appraiser.biasMm;
    cov.data[(2 * count + j) * size + 2 * count + j] = appraiser.biasSdMm ** 2;
  });
  const state = { places, appraisers: [...appraisers], mean, cov, informed: places.map(() => false) };
  for (const axle of axles) forgetThickness(state, axle);
  return state;
}

/** How alike the pads of an axle are of which nothing is known: they were fitted together. */
const SAME_AGE = 0.95;

/**
 * Sets an axle's thicknesses to "nothing is known": anywhere between limit and new, the axle's pads alike.
 * Also what miles driven before the first reading or fitting leave: how old the pads are is not known then.
 */
export function forgetThickness(state: WearState, axle: AxleInput): void {
  const start = unknownThickness(axle);
  eachPad(state, axle, (at, others) => {
    state.mean[at] = start.mean;
    const { size, data } = state.cov;
    for (const other of others) data[at * size + other] = start.variance * (other === at ? 1 : SAME_AGE);
  });
}

/** Zeroes the covariances of an axle's thicknesses, then lets each be set; `others` are the axle's own. */
function eachPad(state: WearState, axle: AxleInput, set: (at: number, others: number[]) => void): void {
  const { size, data } = state.cov;
  const count = state.places.length;
  const own = state.places.flatMap((place, p) => (place.axle === axle.axle ? [count + p] : []));
  for (const at of own) {
    for (let k = 0; k < size; k += 1) {
      data[at * size + k] = 0;
      data[k * size + at] = 0;
    }
  }
  for (const at of own) set(at, own);
}

/** New pads on an axle: thickness nominal ± tolerance, its covariances zeroed; the rates are kept. */
export function fitNewPads(state: WearState, axle: AxleInput, toleranceMm: number): void {
  const { size, data } = state.cov;
  eachPad(state, axle, (at) => {
    state.mean[at] = axle.newMm;
    data[at * size + at] = toleranceMm ** 2;
    state.informed[at - state.places.length] = true;
  });
}

/** Makes every rate less sure by the same unknown factor; `variance` is that of its logarithm. */
export function widenRates(state: WearState, variance: number): void {
  const { size, data } = state.cov;
  const count = state.places.length;
  for (let p = 0; p < count; p += 1)
    for (let q = 0; q < count; q += 1) data[p * size + q] = valueAt(data, p * size + q) + variance;
}

/** A step of the rates of some pads by a factor not well known; its logarithm is N(mean, sd²). */
export interface RateStep {
  /** Indices of the pads. */
  pads: number[];
  mean: number;
  sd: number;
}

/** The state with the logarithms of steps added at its end, not yet in any rate. */
export function withSteps(state: WearState, steps: readonly RateStep[]): WearState {
  const old = state.cov.size;
  const size = old + steps.length;
  const cov = square(size);
  for (let i = 0; i < old; i += 1) cov.data.set(state.cov.data.subarray(i * old, (i + 1) * old), i * size);
  const mean = new Float64Array(size);
  mean.set(state.mean);
  steps.forEach((step, j) => {
    mean[old + j] = step.mean;
    cov.data[(old + j) * size + old + j] = step.sd ** 2;
  });
  return { ...state, mean, cov, informed: [...state.informed] };
}

/** Adds (sign 1) or takes back (sign −1) the step kept at index `at` to the rates of its pads. */
export function takeStep(state: WearState, pads: readonly number[], at: number, sign: 1 | -1): void {
  const { size, data } = state.cov;
  for (const p of pads) {
    state.mean[p] = valueAt(state.mean, p) + sign * valueAt(state.mean, at);
    for (let k = 0; k < size; k += 1)
      data[p * size + k] = valueAt(data, p * size + k) + sign * valueAt(data, at * size + k);
    for (let k = 0; k < size; k += 1)
      data[k * size + p] = valueAt(data, k * size + p) + sign * valueAt(data, k * size + at);
  }
}

/** A state that can go another way. */
export function copyState(state: WearState): WearState {
  const { mean, cov, informed } = state;
  return { ...state, mean: mean.slice(), cov: { size: cov.size, data: cov.data.slice() }, informed: [...informed] };
}
