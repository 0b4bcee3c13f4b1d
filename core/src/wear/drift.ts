import { invertSymmetric, itemAt, square, valueAt } from '../numeric/index.ts';
import { type AppraiserPart, BIAS_SPREAD, type Estimate, LEVEL_SD_MM } from './appraisers.ts';
import { dateOfDay, dayNumber } from '../units/index.ts';
import { appraiserKeyOf } from './appraiserKey.ts';
import type { AppraiserEvidence } from './lesson.ts';
import type { Appraiser, VehicleInput } from './types.ts';

/** An appraiser in one period. */
export interface PeriodPart extends AppraiserPart {
  /** Key of the appraiser whose period this is. */
  whole: string;
  /** Number of the period (quarters). */
  period: number;
}

/** Bias of an appraiser in one period, mm. */
export interface PeriodEstimate extends Estimate {
  key: string;
  readings: number;
}

/** How alike two neighbouring periods of one appraiser are. */
const PERIOD_LIKENESS = 0.7;

/**
 * How each appraiser's bias moved from period to period: a bias of its own and a drift that is alike in neighbouring periods,
 * every other appraiser taken as it is known over the whole record. One small system an appraiser: the work grows
 * with appraisers × periods³, not with the cube of both.
 *
 * @param parts periods of appraisers, as they occur in the evidence
 * @param known each appraiser over its whole record, by its key
 */
export function poolDrift(
  parts: readonly PeriodPart[],
  evidence: readonly AppraiserEvidence[],
  known: (whole: string) => Estimate,
): PeriodEstimate[] {
  const partOf = new Map(parts.map((part) => [part.key, part]));
  const byWhole = new Map<string, PeriodPart[]>();
  for (const part of parts) byWhole.set(part.whole, [...(byWhole.get(part.whole) ?? []), part]);
  const systems = new Map([...byWhole].map(([whole, own]) => [whole, systemOf(own)]));
  for (const { appraisers, precision, weighted, readings } of evidence)
    appraisers.forEach((key, i) => {
      const part = partOf.get(key);
      const system = part && systems.get(part.whole);
      const row = system?.at.get(key);
      if (!part || !system || row === undefined) return;
      let told = weighted[i] ?? 0;
      appraisers.forEach((other, k) => {
        const value = precision[i * appraisers.length + k] ?? 0;
        const column = system.at.get(other);
        if (column === undefined) told -= value * known(partOf.get(other)?.whole ?? other).biasMm;
        else {
          const cell = row * system.size + column;
          system.precision.data[cell] = valueAt(system.precision.data, cell) + value;
        }
      });
      system.weighted[row] = valueAt(system.weighted, row) + told;
      system.readings[row] = itemAt(system.readings, row) + (readings[i] ?? 0);
    });
  return [...byWhole].flatMap(([whole, own]) => solved(own, systems.get(whole) as System));
}

type System = ReturnType<typeof systemOf>;

/** The system of one appraiser, with what is known of its periods before any reading. */
function systemOf(own: readonly PeriodPart[]) {
  const size = own.length;
  const prior = square(size);
  const lasting = BIAS_SPREAD.technician ** 2 + BIAS_SPREAD.gauge ** 2 + BIAS_SPREAD.both ** 2;
  own.forEach((a, i) =>
    own.forEach((b, k) => {
      prior.data[i * size + k] = lasting + BIAS_SPREAD.period ** 2 * PERIOD_LIKENESS ** Math.abs(a.period - b.period);
    }),
  );
  return {
    size,
    at: new Map(own.map(({ key }, i) => [key, i])),
    precision: invertSymmetric(prior) ?? square(size),
    weighted: new Float64Array(size),
    readings: new Array<number>(size).fill(0),
  };
}

function solved(own: readonly PeriodPart[], { size, precision, weighted, readings }: System): PeriodEstimate[] {
  const posterior = invertSymmetric(precision) ?? square(size);
  return own.map(({ key }, i) => ({
    key,
    biasMm: own.reduce((sum, _, k) => sum + valueAt(posterior.data, i * size + k) * valueAt(weighted, k), 0),
    biasSdMm: Math.hypot(Math.sqrt(valueAt(posterior.data, i * size + i)), LEVEL_SD_MM),
    readings: itemAt(readings, i),
  }));
}

/** First day of the quarter of a date. */
export function quarterOf(date: string): string {
  const month = Math.floor((Number(date.slice(5, 7)) - 1) / 3) * 3 + 1;
  return `${date.slice(0, 4)}-${String(month).padStart(2, '0')}-01`;
}

/** Key of an appraiser in a quarter. */
const periodKey = (appraiser: string, quarter: string) => `${appraiser}@${quarter}`;

/** The appraiser and the quarter of such a key. */
export function partsOfPeriod(key: string): { appraiser: string; quarter: string } {
  const at = key.lastIndexOf('@');
  return { appraiser: key.slice(0, at), quarter: key.slice(at + 1) };
}

/** A vehicle whose appraisers are asked quarter by quarter, as if each quarter's were another. */
export function byQuarter(input: VehicleInput, appraiserOf: (key: string) => Appraiser): VehicleInput {
  const readings = input.readings.map((reading) => ({
    ...reading,
    driftMm: undefined,
    appraiser: periodKey(appraiserKeyOf(reading), quarterOf(reading.date)),
  }));
  const keys = [...new Set(readings.map(({ appraiser }) => appraiser))];
  return {
    ...input,
    readings,
    appraisers: Object.fromEntries(keys.map((key) => [key, appraiserOf(partsOfPeriod(key).appraiser)])),
  };
}

/** Less drift than this is none, mm. */
const LEAST_DRIFT_MM = 0.02;

/**
 * How far each appraiser's bias in a quarter is from its mean over the record, each quarter weighing by its readings, mm;
 * quarters that are not far from it are left out.
 *
 * @returns by key of appraiser and quarter
 */
export function driftOffsets(periods: readonly Omit<PeriodEstimate, 'biasSdMm'>[]): Map<string, number> {
  const whole = new Map<string, { readings: number; sum: number }>();
  for (const { key, biasMm, readings } of periods) {
    const own = whole.get(partsOfPeriod(key).appraiser) ?? { readings: 0, sum: 0 };
    whole.set(partsOfPeriod(key).appraiser, { readings: own.readings + readings, sum: own.sum + readings * biasMm });
  }
  return new Map(
    periods.flatMap(({ key, biasMm }) => {
      const { readings, sum } = whole.get(partsOfPeriod(key).appraiser) as { readings: number; sum: number };
      const off = readings > 0 ? biasMm - sum / readings : 0;
      return Math.abs(off) < LEAST_DRIFT_MM ? [] : [[key, off] as const];
    }),
  );
}

/** A vehicle whose readings know how far their appraiser's bias was then from its mean. */
export function withDrift(input: VehicleInput, offsets: ReadonlyMap<string, number>): VehicleInput {
  if (offsets.size === 0) return input;
  return {
    ...input,
    readings: input.readings.map((reading) => {
      const driftMm = keptDrift(appraiserKeyOf(reading), reading.date, offsets);
      return driftMm === undefined ? reading : { ...reading, driftMm };
    }),
  };
}

const KEPT = new WeakMap<ReadonlyMap<string, number>, Map<string, number | undefined>>();

/** Drift on a day; kept by month, as a fleet's readings ask for the same again and again. */
function keptDrift(appraiser: string, date: string, offsets: ReadonlyMap<string, number>): number | undefined {
  let kept = KEPT.get(offsets);
  if (!kept) KEPT.set(offsets, (kept = new Map<string, number | undefined>()));
  const key = `${appraiser} ${date.slice(0, 7)}`;
  if (!kept.has(key)) kept.set(key, driftAt(appraiser, quarterOf(date), offsets));
  return kept.get(key);
}

/** So many quarters on, the last one known still tells something. */
const QUARTERS_ON = 4;

/** Drift in a quarter; after the last one that is known what is left of it, as neighbouring quarters are alike. */
function driftAt(appraiser: string, quarter: string, offsets: ReadonlyMap<string, number>): number | undefined {
  let from = quarter;
  for (let k = 0; k <= QUARTERS_ON; k += 1) {
    const known = offsets.get(periodKey(appraiser, from));
    if (known !== undefined) return known * PERIOD_LIKENESS ** k;
    from = quarterOf(dateOfDay(dayNumber(from) - 1));
  }
  return undefined;
}
