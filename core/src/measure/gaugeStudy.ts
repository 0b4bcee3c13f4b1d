import { fUpperTail, itemAt, meanRange, rootMeanSquaredRange } from '../numeric/index.ts';

/** One measurement of a crossed gauge study; the value may be a deviation from a reference, so of either sign. */
export interface StudyReading {
  part: string;
  technician: string;
  /** Counted from 1. */
  trial: number;
  /** mm. */
  value: number;
}

/** What is wrong with a study as entered: which cell has no or too few measurements. */
export interface StudyGap {
  kind: 'too_few_parts' | 'too_few_technicians' | 'too_few_trials' | 'missing' | 'repeated';
  part?: string;
  technician?: string;
  trial?: number;
}

/** Standard deviations of the parts of the variation, mm. */
export interface Variation {
  /** Equipment variation: one hand on one part. */
  ev: number;
  /** Appraiser variation: between appraisers. */
  av: number;
  /** Interaction of appraiser and part; 0 where it was pooled. */
  interaction: number;
  grr: number;
  /** Part variation. */
  pv: number;
  tv: number;
  /** GRR as per cent of TV. */
  percentOfTotal: number;
  /** 6·GRR as per cent of the one-sided tolerance, new thickness less service limit; undefined without one. */
  percentOfTolerance?: number | undefined;
  /** Number of distinct categories, 1.41·PV/GRR, before it is cut to a whole number. */
  ndc: number;
}

/** A line of an analysis of variance; `p` is the chance of an F as large where the source has no effect. */
export interface AnovaLine {
  source: 'technician' | 'part' | 'interaction' | 'error' | 'pooled error' | 'total';
  df: number;
  ss: number;
  ms?: number | undefined;
  f?: number | undefined;
  p?: number | undefined;
}

/** A finished gauge study by both methods of the reference manual, in the unit of its readings (mm here). */
export interface StudyResult {
  parts: string[];
  technicians: string[];
  trials: number;
  anova: { table: AnovaLine[]; pooled: boolean; variation: Variation };
  averageAndRange: { variation: Variation; meanRange: number; partRange: number; technicianRange: number };
  /** Means and ranges for the charts. */
  byTechnician: {
    technician: string;
    mean: number;
    ev: number;
    byPart: { part: string; mean: number; range: number }[];
  }[];
  byPart: { part: string; mean: number; values: number[] }[];
}

/** How a gauge study is analysed. */
export interface StudyOptions {
  /** `test`: pooled with the error where its p is over 0.25 (the usual rule of the reference manual). */
  interaction: 'test' | 'pool' | 'keep';
  /** New thickness less service limit, mm. */
  toleranceMm?: number | undefined;
}

/** The interaction is pooled where its p is over this (usual practice of measurement systems analysis, from memory). */
const POOL_ABOVE_P = 0.25;

/** Factors of the average-and-range method as the reference manual rounds them (AIAG, MSA 4th ed., from memory). */
const K1: Record<number, number> = { 2: 0.8862, 3: 0.5908 };
const K2_K3: Record<number, number> = {
  2: 0.7071,
  3: 0.5231,
  4: 0.4467,
  5: 0.403,
  6: 0.3742,
  7: 0.3534,
  8: 0.3375,
  9: 0.3249,
  10: 0.3146,
};
/** √2 as the reference manual rounds it. */
const NDC_FACTOR = 1.41;
const k1 = (trials: number) => K1[trials] ?? 1 / meanRange(trials);
const k2 = (count: number) => K2_K3[count] ?? 1 / rootMeanSquaredRange(count);

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const range = (values: readonly number[]) => Math.max(...values) - Math.min(...values);
const unique = (values: readonly string[]) => [...new Set(values)];

/** Gaps of a study: every technician must have measured every part equally often, at least twice. */
export function studyGaps(readings: readonly StudyReading[]): StudyGap[] {
  const parts = unique(readings.map(({ part }) => part));
  const technicians = unique(readings.map(({ technician }) => technician));
  const trials = unique(readings.map(({ trial }) => String(trial))).map(Number);
  const gaps: StudyGap[] = [];
  if (parts.length < 2) gaps.push({ kind: 'too_few_parts' });
  if (technicians.length < 2) gaps.push({ kind: 'too_few_technicians' });
  if (trials.length < 2) gaps.push({ kind: 'too_few_trials' });
  const count = new Map<string, number>();
  const key = (part: string, technician: string, trial: number) => JSON.stringify([part, technician, trial]);
  for (const { part, technician, trial } of readings) {
    count.set(key(part, technician, trial), (count.get(key(part, technician, trial)) ?? 0) + 1);
  }
  for (const part of parts)
    for (const technician of technicians)
      for (const trial of trials) {
        const found = count.get(key(part, technician, trial)) ?? 0;
        if (found === 0) gaps.push({ kind: 'missing', part, technician, trial });
        if (found > 1) gaps.push({ kind: 'repeated', part, technician, trial });
      }
  return gaps;
}

/**
 * Analyses a crossed gauge study by analysis of variance and by averages and ranges.
 *
 * Two-way random-effects ANOVA with interaction: EV² = MS_error, INT² = (MS_int − MS_error)/r,
 * AV² = (MS_tech − MS_int)/(n·r), PV² = (MS_part − MS_int)/(k·r), negatives taken as 0; where the interaction
 * is pooled, MS_int and MS_error give way to the pooled mean square. GRR² = EV² + AV² + INT².
 * Source: Measurement Systems Analysis reference manual, 4th ed. (AIAG, 2010), ch. III B and appendix A (from
 * memory); Montgomery, Design and Analysis of Experiments, §13.
 *
 * @param readings complete and balanced: `studyGaps` is empty
 * @throws RangeError where it is not
 */
export function analyseStudy(readings: readonly StudyReading[], options: StudyOptions): StudyResult {
  if (studyGaps(readings).length > 0) throw new RangeError('the study is not complete');
  const parts = unique(readings.map(({ part }) => part));
  const technicians = unique(readings.map(({ technician }) => technician));
  const of = (match: Partial<StudyReading>) =>
    readings
      .filter((one) => (Object.keys(match) as (keyof StudyReading)[]).every((field) => one[field] === match[field]))
      .map(({ value }) => value);
  const cells = technicians.map((technician) => parts.map((part) => of({ part, technician })));
  const trials = cells[0]?.[0]?.length ?? 0;
  const partMeans = parts.map((part) => mean(of({ part })));
  const technicianMeans = technicians.map((technician) => mean(of({ technician })));
  const { table, pooled, variation } = anova(cells, partMeans, technicianMeans, trials, options);
  return {
    parts,
    technicians,
    trials,
    anova: { table, pooled, variation },
    averageAndRange: averageAndRange(cells, partMeans, technicianMeans, trials, options.toleranceMm),
    byTechnician: technicians.map((technician, j) => ({
      technician,
      mean: itemAt(technicianMeans, j),
      ev: Math.sqrt(mean((cells[j] ?? []).map(withinVariance))),
      byPart: parts.map((part, i) => {
        const cell = cells[j]?.[i] ?? [];
        return { part, mean: mean(cell), range: range(cell) };
      }),
    })),
    byPart: parts.map((part, i) => ({ part, mean: itemAt(partMeans, i), values: of({ part }) })),
  };
}

/** Variance within one cell, n − 1 in the denominator. */
function withinVariance(cell: readonly number[]): number {
  const centre = mean(cell);
  return cell.reduce((sum, value) => sum + (value - centre) ** 2, 0) / (cell.length - 1);
}

function anova(
  cells: readonly (readonly (readonly number[])[])[],
  partMeans: readonly number[],
  technicianMeans: readonly number[],
  trials: number,
  { interaction, toleranceMm }: StudyOptions,
): StudyResult['anova'] {
  const [n, k] = [partMeans.length, technicianMeans.length];
  const grand = mean(partMeans);
  const around = (values: readonly number[], times: number) =>
    times * values.reduce((sum, value) => sum + (value - grand) ** 2, 0);
  const part = line('part', n - 1, around(partMeans, k * trials));
  const technician = line('technician', k - 1, around(technicianMeans, n * trials));
  const flat = cells.flat();
  const between = around(flat.map(mean), trials);
  const both = line('interaction', (n - 1) * (k - 1), Math.max(0, between - part.ss - technician.ss));
  const error = line(
    'error',
    n * k * (trials - 1),
    flat.reduce((sum, cell) => sum + withinVariance(cell) * (cell.length - 1), 0),
  );
  const total = { source: 'total' as const, df: n * k * trials - 1, ss: between + error.ss };
  against(both, error);
  const pooled = interaction === 'pool' || (interaction === 'test' && (both.p ?? 1) > POOL_ABOVE_P);
  const rest = pooled ? line('pooled error', both.df + error.df, both.ss + error.ss) : both;
  against(part, rest);
  against(technician, rest);
  const root = (variance: number) => Math.sqrt(Math.max(0, variance));
  const variation = variationOf(
    root(pooled ? rest.ms : error.ms),
    root((technician.ms - rest.ms) / (n * trials)),
    pooled ? 0 : root((both.ms - error.ms) / trials),
    root((part.ms - rest.ms) / (k * trials)),
    toleranceMm,
  );
  const table: AnovaLine[] = [technician, part, both, error, ...(pooled ? [rest] : []), total];
  return { table, pooled, variation };
}

interface MeanSquare extends AnovaLine {
  ms: number;
}

function line(source: AnovaLine['source'], df: number, ss: number): MeanSquare {
  return { source, df, ss, ms: ss / df };
}

/** F of a line over another; where nothing varies within cells there is no test. */
function against(of: MeanSquare, over: MeanSquare): void {
  if (!(over.ms > 0)) return;
  of.f = of.ms / over.ms;
  of.p = fUpperTail(of.f, of.df, over.df);
}

function averageAndRange(
  cells: readonly (readonly (readonly number[])[])[],
  partMeans: readonly number[],
  technicianMeans: readonly number[],
  trials: number,
  toleranceMm: number | undefined,
): StudyResult['averageAndRange'] {
  const ranges = {
    meanRange: mean(cells.flat().map(range)),
    partRange: range(partMeans),
    technicianRange: range(technicianMeans),
  };
  const ev = ranges.meanRange * k1(trials);
  const between = (ranges.technicianRange * k2(technicianMeans.length)) ** 2 - ev ** 2 / (partMeans.length * trials);
  const pv = ranges.partRange * k2(partMeans.length);
  return { ...ranges, variation: variationOf(ev, Math.sqrt(Math.max(0, between)), 0, pv, toleranceMm) };
}

function variationOf(
  ev: number,
  av: number,
  interaction: number,
  pv: number,
  toleranceMm: number | undefined,
): Variation {
  const grr = Math.hypot(ev, av, interaction);
  const tv = Math.hypot(grr, pv);
  return {
    ev,
    av,
    interaction,
    grr,
    pv,
    tv,
    percentOfTotal: tv > 0 ? (100 * grr) / tv : 0,
    percentOfTolerance: toleranceMm === undefined ? undefined : (100 * 6 * grr) / toleranceMm,
    ndc: grr > 0 ? (NDC_FACTOR * pv) / grr : Infinity,
  };
}

/** How fit a gauge and appraisers are; each step's bounds: usual practice of measurement systems analysis (from memory). */
export type Fitness = 'fit' | 'conditional' | 'unfit';

/** What a study says of the gauge in these people’s use. */
export interface StudyVerdict {
  fitness: Fitness;
  /** What limits it: one hand on one pad, or the difference between appraisers. */
  mainly: 'repeatability' | 'technicians';
  /** A single reading by any of these appraisers must be at least this for the pad to be at the limit or over with 95 %, mm. */
  safeReadingMm: number;
}

const Z95 = 1.6449;

/**
 * Whether gauge and appraisers are fit to decide at the service limit: GRR under 10 % of the tolerance or of the
 * total variation fit, up to 30 % conditionally, over that not; and the reading from which a pad is surely
 * above the limit (limit + 1.645·GRR).
 */
export function studyVerdict(variation: Variation, limitMm: number): StudyVerdict {
  const percent = Math.min(variation.percentOfTotal, variation.percentOfTolerance ?? Infinity);
  return {
    fitness: percent <= 10 ? 'fit' : percent <= 30 ? 'conditional' : 'unfit',
    mainly: variation.ev >= Math.hypot(variation.av, variation.interaction) ? 'repeatability' : 'technicians',
    safeReadingMm: limitMm + Z95 * variation.grr,
  };
}
