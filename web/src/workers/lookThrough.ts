import Papa from 'papaparse';
import {
  figureOf,
  DEFAULT_DUTY_SETTINGS,
  findInTrace,
  METRES_PER_MILE,
  MPS_PER_MPH,
  type Trace,
  type TraceFindings,
  type VehicleMasses,
} from '@mile-mark/core';

/** A trace to be looked through: the file's text and what it can't know. */
export interface TraceTask {
  csv: string;
  vehicleClass: 'pickup' | 'van' | 'heavy';
  masses: VehicleMasses;
  massKg: number;
  retarderShare: number;
}

/** What the worker answers: a failure comes back as a value. */
export type TraceAnswer =
  | { ok: true; findings: TraceFindings; profile: TraceProfile; tookMs: number; samples: number }
  | { ok: false; message: string };

/** The trace thinned for drawing. */
interface TraceProfile {
  seconds: number[];
  mph: number[];
  altitudeM: number[];
}

/** Columns by the names in which recorders write them; figures are turned into SI. */
const COLUMNS: Record<'seconds' | 'speed' | 'altitude' | 'mass', [RegExp, number][]> = {
  seconds: [[/^(t|time|seconds?|time_s|elapsed)$/i, 1]],
  speed: [
    [/^(speed|v)[_ ]?(mps|m\/s|ms)$/i, 1],
    [/^(speed|v)[_ ]?(kmh|km\/h|kph)$/i, 1 / 3.6],
    [/^(speed|v)[_ ]?mph$/i, MPS_PER_MPH],
  ],
  altitude: [
    [/^(alt|altitude|elevation)([_ ]?m)?$/i, 1],
    [/^(alt|altitude|elevation)[_ ]?ft$/i, 0.3048],
  ],
  mass: [[/^mass([_ ]?kg)?$/i, 1]],
};

/** A figure as a recorder writes it, powers of ten included; NaN where it is none. */
function recorded(cell: string, mark: '.' | ','): number {
  return /\de[-+]?\d/i.test(cell) ? Number(cell) : (figureOf(cell, { mark }) ?? NaN);
}

function traceOf(csv: string): Trace {
  const { data, errors } = Papa.parse<string[]>(csv.trim(), { skipEmptyLines: true });
  const header = (data[0] ?? []).map((name) => name.trim());
  const find = (what: keyof typeof COLUMNS) => {
    for (const [pattern, factor] of COLUMNS[what]) {
      const at = header.findIndex((name) => pattern.test(name));
      if (at >= 0) return { at, factor };
    }
    return undefined;
  };
  const columns = { seconds: find('seconds'), speed: find('speed'), altitude: find('altitude'), mass: find('mass') };
  for (const [what, accepted] of [
    ['seconds', 'time_s'],
    ['speed', 'speed_kmh, speed_mph or speed_mps'],
    ['altitude', 'altitude_m or altitude_ft'],
  ] as const)
    if (!columns[what]) throw new Error(`No column of ${what} in the first line; ${accepted} is accepted.`);
  const rows = data.slice(1);
  if (rows.length < 2) throw new Error(errors[0]?.message ?? 'At least two lines under the header are needed.');
  const mark = rows.some((row) => row.some((cell) => /\d,\d/.test(cell))) ? ',' : '.';
  const read = (what: keyof typeof COLUMNS) => {
    const column = columns[what];
    if (!column) return undefined;
    return Float64Array.from(rows, (row, i) => {
      const value = recorded(row[column.at] ?? '', mark) * column.factor;
      if (!Number.isFinite(value)) throw new Error(`Line ${i + 2}: “${row[column.at] ?? ''}” is no figure of ${what}.`);
      return value;
    });
  };
  const [seconds, speedMps, altitudeM] = [read('seconds'), read('speed'), read('altitude')] as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const late = seconds.findIndex((t, i) => i > 0 && t <= (seconds[i - 1] as number));
  if (late > 0) throw new Error(`Line ${late + 2}: time does not rise; seconds since the start are accepted.`);
  return { seconds, speedMps, altitudeM, massKg: read('mass') };
}

const MOST_DRAWN = 1500;

function profileOf({ seconds, speedMps, altitudeM }: Trace): TraceProfile {
  const step = Math.max(1, Math.ceil(seconds.length / MOST_DRAWN));
  const thin = (values: Float64Array, factor = 1) =>
    Array.from({ length: Math.ceil(values.length / step) }, (_, i) => (values[i * step] as number) * factor);
  return { seconds: thin(seconds), mph: thin(speedMps, 3600 / METRES_PER_MILE), altitudeM: thin(altitudeM) };
}

/** Looks through a trace; called in the worker, and by tests where there is none. */
export function lookThrough({ csv, vehicleClass, masses, massKg, retarderShare }: TraceTask): TraceAnswer {
  const begun = performance.now();
  try {
    const trace = traceOf(csv);
    const findings = findInTrace(trace, masses, DEFAULT_DUTY_SETTINGS[vehicleClass], { massKg, retarderShare });
    if (findings.miles < 0.5) throw new Error('Less than half a mile was driven in it; nothing can be said of a duty.');
    return {
      ok: true,
      findings,
      profile: profileOf(trace),
      tookMs: performance.now() - begun,
      samples: trace.seconds.length,
    };
  } catch (error) {
    return { ok: false, message: error instanceof Error ? error.message : String(error) };
  }
}
