import type { VehicleClass } from '@mile-mark/contract';
import { DEFAULT_DUTY_SETTINGS, type Duty, type DutySpan, severity, withLevelAhead } from '@mile-mark/core';
import { dutyOf } from '../register/index.ts';
import type { ClassProcesses } from './input.ts';
import type { VehicleRecord } from './record.ts';

/** A span of duty, and whether the feed of driven days measured it. */
export interface RecordedSpan extends DutySpan {
  measured: boolean;
}

type DutyRecord = Pick<VehicleRecord, 'model' | 'axles' | 'dutyPeriods' | 'reference' | 'measured'>;

/**
 * Severity by dates, from the duty periods of a vehicle; where the feed measured what was driven, that counts
 * instead, and what it measured last goes on until another duty is stated.
 */
export function dutySpansOf(record: DutyRecord): RecordedSpan[] {
  const known = SPANS.get(record) ?? readSpans(record);
  SPANS.set(record, known);
  return known;
}

/** Spans of a record, made once: a refresh asks for them again and again. */
const SPANS = new WeakMap<DutyRecord, RecordedSpan[]>();

function readSpans({ model, axles, dutyPeriods, reference, measured }: DutyRecord): RecordedSpan[] {
  const settings = DEFAULT_DUTY_SETTINGS[model.class as VehicleClass];
  const base = reference ?? dutyPeriods[0]?.duty;
  if (!base) return [];
  const weigh = (duty: Duty) => ({
    severity: severity(model, duty, dutyOf(base), settings),
    byAxle: Object.fromEntries(
      axles.map(({ axle, brakeShare }) => [axle, severity(model, duty, dutyOf(base), settings, brakeShare)]),
    ),
  });
  const stated = dutyPeriods.map(({ period, duty }) => ({ from: period.fromDate, ...weigh(dutyOf(duty)) }));
  const blocks = measured.map(({ from_date, to_date, duty }) => ({ from: from_date, to: to_date, ...weigh(duty) }));
  const starts = [...new Set([...stated, ...blocks].map(({ from }) => from).concat(blocks.map(({ to }) => to)))].sort();
  const spans = starts.flatMap((from, index): RecordedSpan[] => {
    const own = stated.filter((one) => one.from <= from).at(-1) ?? stated[0];
    const block =
      blocks.find((one) => one.from <= from && from < one.to) ??
      (from >= (blocks.at(-1)?.to ?? '9') && (blocks.at(-1)?.from ?? '') >= (own?.from ?? '')
        ? blocks.at(-1)
        : undefined);
    const taken = block ?? own;
    if (!taken) return [];
    return [
      {
        from,
        to: starts[index + 1],
        severity: taken.severity,
        byAxle: taken.byAxle,
        continues: false,
        measured: block !== undefined,
      },
    ];
  });
  // Between blocks of the same kind nothing else begins; from stated to measured the figures themselves change.
  return spans.map((span, index) => {
    const before = spans[index - 1];
    const restated = stated.some((one) => one.from === span.from);
    return { ...span, continues: before !== undefined && before.measured === span.measured && !restated };
  });
}

const DAY_MS = 86_400_000;
const dayOf = (date: string) => Date.parse(date) / DAY_MS;

/** How hard an axle's duty was from one day to another, in the mean by days; undefined where no duty is known of them. */
export function meanSeverity(
  spans: readonly RecordedSpan[],
  axle: number,
  from: string,
  to: string,
): number | undefined {
  let [days, sum] = [0, 0];
  for (const span of spans) {
    const own =
      dayOf(span.to !== undefined && span.to < to ? span.to : to) - dayOf(span.from > from ? span.from : from);
    if (own <= 0) continue;
    days += own;
    sum += own * (span.byAxle?.[axle] ?? span.severity);
  }
  return days > 0 ? sum / days : undefined;
}

/** The same with the level of its present route from the last measured block on, and what may become of it. */
export function dutyWithLevel(
  record: DutyRecord,
  { processOf }: { processOf: (vehicleClass: string) => Pick<ClassProcesses, 'duty' | 'stated'> },
  today: string,
): ReturnType<typeof withLevelAhead> {
  const axles = record.axles.map(({ axle }) => axle);
  const { duty, stated } = processOf(record.model.class);
  return withLevelAhead(dutySpansOf(record), today, axles, duty, stated);
}
