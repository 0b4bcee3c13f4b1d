import { invertSymmetric, normalInterval, square, type Square, valueAt } from '../numeric/index.ts';
import { resolutionVariance } from '../measure/index.ts';
import { runUntraced, type History } from './history.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import type { Appraiser, VehicleInput } from './types.ts';

/**
 * What a vehicle or a study says of the appraisers that measured, without what the prior put in: a normal likelihood of
 * their biases (information form) and the log-likelihood of each appraiser's repeatability at `SIGMA_FACTORS`
 * times the one it was run with.
 */
export interface AppraiserEvidence {
  appraisers: string[];
  /** Precision of the biases, row-major, appraisers × appraisers, 1/mm². */
  precision: number[];
  /** Precision × mean, 1/mm. */
  weighted: number[];
  /** appraisers × SIGMA_FACTORS.length, row-major. */
  logLikelihood: number[];
  readings: number[];
}

/**
 * The same of a vehicle, jointly with the levels of its axles' log rates: `precision` and `weighted` are of the axles that
 * were read first, of the appraisers after them.
 */
export interface Lesson extends AppraiserEvidence {
  /** Model-axle group of each axle that was read. */
  groups: string[];
}

/** Factors about the present repeatability at which its likelihood is told: steps of 0.12 in the logarithm. */
export const SIGMA_FACTORS: readonly number[] = [-3, -2, -1, 0, 1, 2, 3].map((step) => Math.exp(0.12 * step));
export const LOG_STEP = 0.12;

/** Prior of a bias while a vehicle is asked: wide enough to hear it, narrow enough to know a gross error, mm. */
const LISTENING_SD_MM = 0.35;

const open = (appraiser: Appraiser): Appraiser => ({
  ...appraiser,
  biasSdMm: Math.max(appraiser.biasSdMm, LISTENING_SD_MM),
});

/**
 * Asks one vehicle, once, all that a fleet learns from it: its history is run with the appraisers' biases open, N(present
 * estimate, 0.35²); posterior precision and mean less prior precision and mean are what the vehicle adds, of biases and
 * levels jointly. The repeatability is asked by the likelihood of each innovation, N(0, predicted variance + σ²) over the
 * gauge's step, weighted by the chance that the reading is regular. Lessons add up over vehicles.
 *
 * @param groupOf the name of an axle's group
 */
export function lessonOf(input: VehicleInput, groupOf: (axle: number) => string): Lesson {
  const appraisers = Object.fromEntries(
    Object.entries(input.appraisers).map(([key, appraiser]) => [key, open(appraiser)]),
  );
  const asked = { ...input, appraisers, unknownAppraiser: open(input.unknownAppraiser) };
  const history = runUntraced(asked);
  const read = asked.axles.filter(({ axle }) => asked.readings.some((reading) => reading.axle === axle));
  const { precision, weighted, kept } = information(asked, history, read);
  return {
    groups: kept.map(({ axle }) => groupOf(axle)),
    appraisers: [...history.state.appraisers],
    precision,
    weighted,
    ...repeatabilities(asked, history),
  };
}

/** What a vehicle says of the appraisers alone, its axles' levels being as unknown as their prior has them. */
export function appraiserEvidence(input: VehicleInput): AppraiserEvidence {
  const appraisers = Object.fromEntries(
    Object.entries(input.appraisers).map(([key, appraiser]) => [key, open(appraiser)]),
  );
  const asked = { ...input, appraisers, unknownAppraiser: open(input.unknownAppraiser) };
  const history = runUntraced(asked);
  const { precision, weighted } = information(asked, history, []);
  return { appraisers: [...history.state.appraisers], precision, weighted, ...repeatabilities(asked, history) };
}

type Axle = VehicleInput['axles'][number];

/** Less than this says nothing of a level, 1/log². */
const LEAST_PRECISION = 1e-3;

/**
 * Posterior less prior information of axles' mean log rates and of biases. An axle of which the history left less known
 * than the prior (its duty changed often, and it was hardly read) is left out.
 */
function information(
  input: VehicleInput,
  history: Pick<History, 'state'>,
  axles: readonly Axle[],
): { precision: number[]; weighted: number[]; kept: readonly Axle[] } {
  const { state } = history;
  const rows = [
    ...axles.map(({ axle }) => state.places.flatMap((place, p) => (place.axle === axle ? [p] : []))),
    ...state.appraisers.map((_, j) => [2 * state.places.length + j]),
  ];
  const size = rows.length;
  const posterior = square(size);
  const mean = new Float64Array(size);
  rows.forEach((own, i) => {
    mean[i] = own.reduce((sum, p) => sum + valueAt(state.mean, p), 0) / own.length;
    rows.forEach((other, k) => {
      let sum = 0;
      for (const p of own) for (const q of other) sum += valueAt(state.cov.data, p * state.cov.size + q);
      posterior.data[i * size + k] = sum / own.length / other.length;
    });
  });
  const prior = priorOf(input, history, axles);
  const [after, before] = [invertSymmetric(posterior), invertSymmetric(prior.cov)];
  if (!after || !before) {
    const { length } = state.appraisers;
    return { precision: new Array<number>(length ** 2).fill(0), weighted: new Array<number>(length).fill(0), kept: [] };
  }
  const precision = Array.from(after.data, (value, k) => value - valueAt(before.data, k));
  const dull = axles.findIndex((_, a) => (precision[a * size + a] ?? 0) < LEAST_PRECISION);
  if (dull >= 0) return information(input, history, [...axles.slice(0, dull), ...axles.slice(dull + 1)]);
  const weighted = rows.map((_, i) =>
    rows.reduce(
      (sum, __, k) =>
        sum +
        valueAt(after.data, i * size + k) * valueAt(mean, k) -
        valueAt(before.data, i * size + k) * valueAt(prior.mean, k),
      0,
    ),
  );
  return { precision, weighted, kept: axles };
}

/** Prior of the axles' mean log rates and of the biases a history was begun with. */
function priorOf(
  input: VehicleInput,
  { state }: Pick<History, 'state'>,
  axles: readonly Axle[],
): { mean: Float64Array; cov: Square } {
  const size = axles.length + state.appraisers.length;
  const cov = square(size);
  const mean = new Float64Array(size);
  axles.forEach(({ axle, prior }, i) => {
    const pads = state.places.filter((place) => place.axle === axle).length;
    mean[i] = prior.mean;
    axles.forEach((other, k) => {
      const own = i === k ? prior.sdAxle ** 2 + prior.sdPad ** 2 / pads : 0;
      cov.data[i * size + k] = prior.sdVehicle * other.prior.sdVehicle + own;
    });
  });
  state.appraisers.forEach((name, j) => {
    const i = axles.length + j;
    const { biasMm, biasSdMm } = input.appraisers[name] ?? input.unknownAppraiser;
    mean[i] = biasMm;
    cov.data[i * size + i] = biasSdMm ** 2;
  });
  return { mean, cov };
}

/** Log-likelihood of each appraiser's repeatability, and how many readings tell it. */
function repeatabilities(
  input: VehicleInput,
  { state, judgements }: Pick<History, 'state' | 'judgements'>,
): Pick<AppraiserEvidence, 'logLikelihood' | 'readings'> {
  const count = state.appraisers.length;
  const logLikelihood = new Array<number>(count * SIGMA_FACTORS.length).fill(0);
  const readings = new Array<number>(count).fill(0);
  const byId = new Map(input.readings.map((reading) => [reading.id, reading]));
  for (const { id, takenMm, expectedMm, expectedSdMm, hypotheses } of judgements) {
    const reading = byId.get(id);
    if (!reading) continue;
    const h = state.appraisers.indexOf(appraiserKeyOf(reading));
    const sigma = (input.appraisers[appraiserKeyOf(reading)] ?? input.unknownAppraiser).repeatabilityMm;
    const regular = hypotheses.find(({ explanation }) => explanation === 'regular')?.probability ?? 0;
    const known = expectedSdMm ** 2 - sigma ** 2;
    readings[h] = (readings[h] ?? 0) + 1;
    // A figure of nought is nought or less: it tells no scatter.
    if (takenMm < reading.resolutionMm / 2) continue;
    SIGMA_FACTORS.forEach((factor, f) => {
      const at = h * SIGMA_FACTORS.length + f;
      const log = logDensity(takenMm - expectedMm, known + (sigma * factor) ** 2, reading.resolutionMm);
      logLikelihood[at] = (logLikelihood[at] ?? 0) + regular * log;
    });
  }
  return { logLikelihood, readings };
}

/** Log density of an innovation; a step that is coarse against the spread counts by the mass of its interval. */
function logDensity(innovationMm: number, variance: number, resolutionMm: number): number {
  if (resolutionMm ** 2 < 0.3 * variance) {
    const total = variance + resolutionVariance(resolutionMm);
    return -0.5 * (Math.log(total) + innovationMm ** 2 / total);
  }
  const sd = Math.sqrt(variance);
  const mass = normalInterval((innovationMm - resolutionMm / 2) / sd, (innovationMm + resolutionMm / 2) / sd);
  return Math.log(Math.max(mass, 1e-12) / resolutionMm) + 0.5 * Math.log(2 * Math.PI);
}
