import { invertSymmetric, itemAt, square, type Square, valueAt } from '../numeric/index.ts';
import { type AppraiserEvidence, LOG_STEP, SIGMA_FACTORS } from './lesson.ts';
import type { Appraiser } from './types.ts';

/** An appraiser as it is put together from technician and gauge. */
export interface AppraiserPart {
  key: string;
  technician: string;
  gauge: string;
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
export const LEVEL_SD_MM = 0.04;
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
