import { invertSymmetric, itemAt, square, valueAt } from '../numeric/index.ts';
import { type AppraiserPart, BIAS_SPREAD, type Estimate, LEVEL_SD_MM } from './appraisers.ts';
import type { AppraiserEvidence } from './lesson.ts';

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
