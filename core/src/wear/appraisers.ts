import { invertSymmetric, itemAt, normalInterval, square, type Square, valueAt } from '../numeric/index.ts';
import { resolutionVariance } from '../measure/index.ts';
import { runHistory } from './history.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import type { Appraiser, VehicleInput } from './types.ts';

/**
 * What one vehicle says of the appraisers that measured it, without what the prior put in: a normal likelihood of
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

/** Factors about the present repeatability at which its likelihood is told: steps of 0.12 in the logarithm. */
const SIGMA_FACTORS: readonly number[] = [-3, -2, -1, 0, 1, 2, 3].map((step) => Math.exp(0.12 * step));
const LOG_STEP = 0.12;

/** Prior of a bias while a vehicle is asked: wide enough to hear it, narrow enough to know a gross error, mm. */
const LISTENING_SD_MM = 0.35;

/**
 * Asks one vehicle: its history is run with the appraisers' biases open, N(present estimate, 0.35²); posterior
 * precision and mean less prior precision and mean are what the vehicle adds. The repeatability is asked by the
 * likelihood of each innovation, N(0, predicted variance + σ²) over the gauge's step, weighted by the chance
 * that the reading is regular.
 */
export function appraiserEvidence(input: VehicleInput): AppraiserEvidence {
  const open = (appraiser: Appraiser): Appraiser => ({
    ...appraiser,
    biasSdMm: Math.max(appraiser.biasSdMm, LISTENING_SD_MM),
  });
  const appraisers = Object.fromEntries(
    Object.entries(input.appraisers).map(([key, appraiser]) => [key, open(appraiser)]),
  );
  const unknownAppraiser = open(input.unknownAppraiser);
  const { state, judgements } = runHistory({ ...input, appraisers, unknownAppraiser });
  const count = state.appraisers.length;
  const own = (name: string): Appraiser => appraisers[name] ?? unknownAppraiser;
  const first = 2 * state.places.length;
  const part = square(count);
  for (let i = 0; i < count; i += 1)
    for (let j = 0; j < count; j += 1)
      part.data[i * count + j] = valueAt(state.cov.data, (first + i) * state.cov.size + first + j);
  const inverse = invertSymmetric(part);
  const precision = new Array<number>(count * count).fill(0);
  const weighted = new Array<number>(count).fill(0);
  if (inverse) {
    state.appraisers.forEach((name, i) => {
      const prior = 1 / own(name).biasSdMm ** 2;
      let sum = -prior * own(name).biasMm;
      for (let j = 0; j < count; j += 1) {
        const value = valueAt(inverse.data, i * count + j);
        sum += value * valueAt(state.mean, first + j);
        precision[i * count + j] = value - (i === j ? prior : 0);
      }
      weighted[i] = sum;
    });
  }
  const logLikelihood = new Array<number>(count * SIGMA_FACTORS.length).fill(0);
  const readings = new Array<number>(count).fill(0);
  const byId = new Map(input.readings.map((reading) => [reading.id, reading]));
  for (const { id, takenMm, expectedMm, expectedSdMm, hypotheses } of judgements) {
    const reading = byId.get(id);
    if (!reading) continue;
    const h = state.appraisers.indexOf(appraiserKeyOf(reading));
    const sigma = own(appraiserKeyOf(reading)).repeatabilityMm;
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
  return { appraisers: [...state.appraisers], precision, weighted, logLikelihood, readings };
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

/** An appraiser as it is put together from technician, gauge and, where drift is asked, period. */
export interface AppraiserPart {
  key: string;
  technician: string;
  gauge: string;
  /** Number of the period (quarters), where drift is asked. */
  period?: number | undefined;
}

/** A bias and its standard deviation, mm. */
export interface Estimate {
  biasMm: number;
  biasSdMm: number;
}

/** What is learnt of one appraiser; biases in mm. */
export interface AppraiserEstimate extends Estimate {
  key: string;
  /** Bias against the mean of all appraisers, which does not hang on what the truth is, and its sd, mm. */
  againstOthers: Estimate;
  repeatabilityMm: number;
  /** One standard deviation of the logarithm of the repeatability. */
  repeatabilityLogSd: number;
  readings: number;
}

/** What a fleet teaches of its appraisers, and of technicians and gauges by themselves. */
export interface PooledAppraisers {
  appraisers: AppraiserEstimate[];
  technicians: Map<string, Estimate>;
  gauges: Map<string, Estimate>;
}

/**
 * Spread of biases before any reading, mm: between technicians, between gauges, of one with the other, and from
 * period to period (common practice, no source; the technicians' is the one the virtual fleet is made with).
 */
export const BIAS_SPREAD = { technician: 0.3, gauge: 0.2, both: 0.05, period: 0.12 };
/**
 * How far what a new pad measures may be off its nominal over all models, mm (common practice, no source): the
 * biases' common level hangs on it however many readings there are.
 */
const LEVEL_SD_MM = 0.04;
/** How alike two neighbouring periods of one hand are. */
const PERIOD_LIKENESS = 0.7;
/** Repeatability before any reading: 0.3 mm, give or take half of it in the logarithm (common practice, no source). */
const SIGMA_PRIOR = { logMean: Math.log(0.3), logSd: 0.5 };

/**
 * Pools what all vehicles (and gauge studies) say of the appraisers. The biases' joint posterior is normal: precision
 * Σ₀⁻¹ + Σ (what each says); an appraiser with little evidence stays near nought, and what all appraisers share is known
 * only as far as new pads and references anchor it: the interval says so. Technicians' and gauges' shares are
 * told apart as far as gauges changed hands (linear-Gaussian components of the same posterior).
 * Source: Gelman et al., Bayesian Data Analysis, 3rd ed., §3.5 and ch. 15 (normal models, variance components).
 *
 * @param parts all appraisers that occur in the evidence
 * @param present the appraisers with which the evidence was gathered, by key
 */
export function poolAppraisers(
  parts: readonly AppraiserPart[],
  evidence: readonly AppraiserEvidence[],
  present: (key: string) => Appraiser,
): PooledAppraisers {
  const count = parts.length;
  const indexOf = new Map(parts.map(({ key }, index) => [key, index]));
  const prior = square(count);
  parts.forEach((a, i) => parts.forEach((b, j) => (prior.data[i * count + j] = covariance(a, b))));
  const priorInverse = invertSymmetric(prior) ?? square(count);
  const precision: Square = { size: count, data: Float64Array.from(priorInverse.data) };
  const weighted = new Float64Array(count);
  const logLikelihood = parts.map(() => new Array<number>(SIGMA_FACTORS.length).fill(0));
  const readings = new Array<number>(count).fill(0);
  for (const one of evidence) {
    const at = one.appraisers.map((key) => indexOf.get(key));
    at.forEach((i, a) => {
      if (i === undefined) return;
      weighted[i] = valueAt(weighted, i) + (one.weighted[a] ?? 0);
      readings[i] = (readings[i] ?? 0) + (one.readings[a] ?? 0);
      at.forEach((j, b) => {
        if (j === undefined) return;
        const cell = i * count + j;
        precision.data[cell] = valueAt(precision.data, cell) + (one.precision[a * at.length + b] ?? 0);
      });
      SIGMA_FACTORS.forEach((_, f) => {
        const row = itemAt(logLikelihood, i);
        row[f] = (row[f] ?? 0) + (one.logLikelihood[a * SIGMA_FACTORS.length + f] ?? 0);
      });
    });
  }
  const posterior = invertSymmetric(precision) ?? prior;
  const mean = multiply(posterior, weighted);
  const appraisers = parts.map(({ key }, i): AppraiserEstimate => {
    const sigma = peak(itemAt(logLikelihood, i), present(key).repeatabilityMm);
    return {
      key,
      biasMm: valueAt(mean, i),
      biasSdMm: Math.hypot(Math.sqrt(valueAt(posterior.data, i * count + i)), LEVEL_SD_MM),
      againstOthers: contrast(posterior, mean, i),
      ...sigma,
      readings: itemAt(readings, i),
    };
  });
  const share = (belongs: (part: AppraiserPart) => boolean, variance: number): Estimate => {
    const cross = Float64Array.from(parts, (part) => (belongs(part) ? variance : 0));
    const gain = multiply(priorInverse, cross);
    const explained = dot(gain, cross);
    return {
      biasMm: dot(gain, mean),
      biasSdMm: Math.sqrt(Math.max(0, variance - explained + dot(gain, multiply(posterior, gain)))),
    };
  };
  const shares = (field: 'technician' | 'gauge') =>
    new Map(
      [...new Set(parts.map((part) => part[field]))].map((name) => [
        name,
        share((part) => part[field] === name, BIAS_SPREAD[field] ** 2),
      ]),
    );
  return { appraisers, technicians: shares('technician'), gauges: shares('gauge') };
}

function covariance(a: AppraiserPart, b: AppraiserPart): number {
  const technician = a.technician === b.technician;
  const gauge = a.gauge === b.gauge;
  let sum = technician ? BIAS_SPREAD.technician ** 2 : 0;
  if (gauge) sum += BIAS_SPREAD.gauge ** 2;
  if (!technician || !gauge) return sum;
  sum += BIAS_SPREAD.both ** 2;
  if (a.period !== undefined && b.period !== undefined)
    sum += BIAS_SPREAD.period ** 2 * PERIOD_LIKENESS ** Math.abs(a.period - b.period);
  return sum;
}

/** The most likely repeatability under prior and likelihood, by a parabola through the best three of the grid. */
function peak(
  logLikelihood: readonly number[],
  sigma: number,
): { repeatabilityMm: number; repeatabilityLogSd: number } {
  const total = logLikelihood.map((value, f) => {
    const log = Math.log(sigma * itemAt(SIGMA_FACTORS, f));
    return value - 0.5 * ((log - SIGMA_PRIOR.logMean) / SIGMA_PRIOR.logSd) ** 2;
  });
  const best = total.reduce((top, value, f) => (value > itemAt(total, top) ? f : top), 0);
  const middle = Math.min(total.length - 2, Math.max(1, best));
  const [below, centre, above] = [total[middle - 1], total[middle], total[middle + 1]] as [number, number, number];
  const curvature = (below - 2 * centre + above) / LOG_STEP ** 2;
  const shift = curvature < 0 ? -(above - below) / (2 * LOG_STEP) / curvature : best === 0 ? -LOG_STEP : LOG_STEP;
  const step = Math.max(-2 * LOG_STEP, Math.min(2 * LOG_STEP, shift));
  return {
    repeatabilityMm: sigma * itemAt(SIGMA_FACTORS, middle) * Math.exp(step),
    repeatabilityLogSd: curvature < 0 ? 1 / Math.sqrt(-curvature) : SIGMA_PRIOR.logSd,
  };
}

/** Of one hand against the mean of all. */
function contrast(posterior: Square, mean: Float64Array, index: number): Estimate {
  const { size } = posterior;
  const direction = Float64Array.from({ length: size }, (_, k) => (k === index ? 1 : 0) - 1 / size);
  return {
    biasMm: dot(direction, mean),
    biasSdMm: Math.sqrt(Math.max(0, dot(direction, multiply(posterior, direction)))),
  };
}

function multiply({ size, data }: Square, vector: Float64Array): Float64Array {
  const result = new Float64Array(size);
  for (let i = 0; i < size; i += 1)
    for (let j = 0; j < size; j += 1) result[i] = valueAt(result, i) + valueAt(data, i * size + j) * valueAt(vector, j);
  return result;
}

function dot(a: Float64Array, b: Float64Array): number {
  return a.reduce((sum, value, i) => sum + value * valueAt(b, i), 0);
}

/**
 * What a gauge study says of the appraisers in it: differences between the means of hands on the same parts; with
 * references, the biases themselves; and their repeatability from the spread within cells.
 *
 * @param appraisers keys of the appraisers; `means[j]` is appraiser j's mean over all parts (less the reference, where known), mm
 * @param perAppraiser measurements of each appraiser: parts × trials
 * @param referenced whether values are deviations from a known reference
 */
export function studyEvidence(
  appraisers: readonly string[],
  means: readonly number[],
  withinVariances: readonly number[],
  perAppraiser: { parts: number; trials: number },
  referenced: boolean,
  present: (key: string) => Appraiser,
): AppraiserEvidence {
  const k = appraisers.length;
  const n = perAppraiser.parts * perAppraiser.trials;
  const pooled = withinVariances.reduce((sum, value) => sum + value, 0) / k;
  const each = n / Math.max(pooled, 1e-4);
  const precision = appraisers.flatMap((_, i) =>
    appraisers.map((__, j) => each * ((i === j ? 1 : 0) - (referenced ? 0 : 1 / k))),
  );
  const grand = referenced ? 0 : means.reduce((sum, value) => sum + value, 0) / k;
  const df = perAppraiser.parts * (perAppraiser.trials - 1);
  const logLikelihood = appraisers.flatMap((key, j) =>
    SIGMA_FACTORS.map((factor) => {
      const variance = (present(key).repeatabilityMm * factor) ** 2;
      return -0.5 * df * (Math.log(variance) + itemAt(withinVariances, j) / variance);
    }),
  );
  return {
    appraisers: [...appraisers],
    precision,
    weighted: means.map((value) => each * (value - grand)),
    logLikelihood,
    readings: appraisers.map(() => n),
  };
}
