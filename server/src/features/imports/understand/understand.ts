import type { ImportKind, ImportNeed, Understanding } from '@mile-mark/contract/imports';
import { MM_PER_INCH, parseDate } from '@mile-mark/core';
import type { CsvRecord } from '../../../platform/documents/csv.ts';
import { remembering } from '../../../platform/remembering.ts';
import { columnsOf, FIELDS, guessKind, MANY, normaliseHeader, unitInHeader } from './fields.ts';
import type { Heading } from './heading.ts';
import { placeInWords, placeOf } from './places.ts';
import type { Sheet } from './sheet.ts';
import {
  boundedUnitOf,
  type Cell,
  dateOrderOf,
  decimalMarkOf,
  distanceUnitOf,
  type Finding,
  type OdometerCell,
  type ThicknessBounds,
  thicknessUnitOf,
  type VehicleRecord,
} from './values.ts';

/** A sheet with its header found, and which column is what: all that must be known before its values are looked at. */
export interface Mapped {
  sheet: Sheet;
  heading: Heading;
  kind: ImportKind;
  columns: Understanding['columns'];
}

/** What is known beside the sheet: today, what a pad can be, and where its vehicles stood on days on record. */
export interface Ground extends ThicknessBounds {
  today: string;
  recordOf: (unit: string) => VehicleRecord | undefined;
}

/** How a sheet is understood, what of it nothing decides, and why the rest was understood so. */
export interface Understood {
  understanding: Understanding;
  questions: ImportNeed[];
  evidence: string[];
  /** What the evidence of this sheet decided: it holds for the next one of the kind that decides less. */
  learnt: Partial<Understanding>;
}

/** Finds which column is what, by what a person stated, what is remembered of such sheets, or the header. */
export function mapColumns(
  sheet: Sheet,
  heading: Heading,
  stated: Partial<Understanding>,
  remembered: Partial<Understanding> = {},
): Mapped {
  const kind = stated.kind ?? guessKind(heading.header) ?? 'readings';
  const known = [stated.columns, remembered.columns].find((columns) => columns?.length === heading.header.length);
  const fields = known?.map(({ field }) => field) ?? columnsOf(kind, heading.header);
  return {
    sheet,
    heading,
    kind,
    columns: heading.header.map((header, index) => ({ header, field: fields[index] ?? 'ignore' })),
  };
}

const THICKNESSES = /^(thickness|inner|outer|(left|right)_(inner|outer)|at:.*)$/;
export const isThickness = (field: string): boolean => THICKNESSES.test(field);
const DATES = /^(date|duty_from|expires|ordered_on|promised_on)$/;
/** Dates of days that may be still to come. */
const AHEAD = /^(expires|promised_on)$/;

/** What a person may have said against the header, so that the same header next time is asked about. */
const OVERRULED: ReadonlySet<string> = new Set(['distanceUnit', 'thicknessUnit']);

const MESSAGES = {
  dateOrder: 'The dates can be read in more than one order, and nothing in the file decides it. Which is meant?',
  distanceUnit: 'Are the odometers miles or kilometres? Neither the file nor the record decides it.',
  thicknessUnit: 'In which unit are the thicknesses that carry none?',
  lengthUnit: 'In which unit are the thicknesses of the models?',
  massUnit: 'In which unit are the masses?',
} as const;

/**
 * How a mapped sheet is read: units, orders and names from the values of the mapped columns, whoever mapped them.
 * What a person stated holds; what is remembered holds; the rest is decided by evidence or asked.
 */
export function understand(
  { sheet, heading, kind, columns }: Mapped,
  stated: Partial<Understanding>,
  remembered: Partial<Understanding>,
  ground: Ground,
): Understood {
  const known = { ...remembered, ...stated };
  const questions: ImportNeed[] = [];
  const evidence: string[] = [];
  let learnt: Partial<Understanding> = {};
  const cells = (pattern: RegExp) => cellsOf(heading.records, columns, pattern);
  const thicknesses = cells(THICKNESSES);
  const settle = <K extends keyof typeof MESSAGES>(key: K, finding: Finding<Understanding[K]>): Understanding[K] => {
    const said = stated[key] as Understanding[K] | undefined;
    if (said !== undefined) return said;
    const before = remembered[key] as Understanding[K] | undefined;
    if (before !== undefined && finding.decided && before !== finding.value && OVERRULED.has(key))
      finding = {
        ...finding,
        decided: false,
        options: [before, finding.value].map((value) => ({ value, label: String(value), example: null })),
      };
    else if (!finding.decided && finding.options.some(({ value }) => value === before))
      return before as Understanding[K];
    if (finding.why) {
      evidence.push(finding.why);
      learnt = { ...learnt, [key]: finding.value };
    }
    if (!finding.decided)
      questions.push({
        kind: key,
        name: null,
        message: MESSAGES[key],
        options: finding.options.map(({ value, label, example }) => ({ value: String(value), label, example })),
      });
    return finding.value;
  };
  const ahead = columns.some(({ field }) => AHEAD.test(field));
  const decimalMark =
    known.decimalMark ?? decimalMarkOf(thicknesses.length > 0 ? thicknesses : cells(/^(?!ignore|note|date)/));
  const dateOrder = settle('dateOrder', dateOrderOf(cells(DATES), ground.today, ahead));
  // A column of units tells them row by row; the rows it leaves blank are looked at as if it were not there.
  const untold = (field: string) => rowsWithout(heading.records, columns, field);
  const unitOf = <T>(field: string, told: T, find: (rows: CsvRecord[]) => Finding<T>): Finding<T> => {
    const rows = untold(field);
    return rows.length === 0 && heading.records.length > 0
      ? { value: told, decided: true, why: null, options: [] }
      : find(rows);
  };
  const distanceUnit = settle(
    'distanceUnit',
    unitOf('odometer_unit', known.distanceUnit ?? 'mi', (rows) =>
      distanceUnitOf(
        odometers(rows, columns, dateOrder),
        toldUnit(columns, /^odometer$/, ['mi', 'km']),
        ground.recordOf,
      ),
    ),
  );
  const thicknessUnit = settle(
    'thicknessUnit',
    unitOf('thickness_unit', known.thicknessUnit ?? 'mm', (rows) =>
      thicknessUnitOf(
        cellsOf(rows, columns, THICKNESSES),
        toldUnit(columns, THICKNESSES, ['mm', '1/32 in', 'in']),
        ground,
      ),
    ),
  );
  const lengthUnit = settle('lengthUnit', lengthUnitOf(kind, columns, cells));
  const massUnit = settle('massUnit', massUnitOf(kind, columns, cells));
  const wheels = { ...namesOfWheels(heading.records, columns), ...remembered.wheelNames, ...stated.wheelNames };
  return {
    understanding: {
      kind,
      encoding: sheet.encoding,
      sheet: sheet.name,
      headerLine: heading.headerLine,
      headerLines: heading.headerLines,
      delimiter: sheet.delimiter,
      decimalMark,
      dateOrder,
      distanceUnit,
      thicknessUnit,
      lengthUnit,
      massUnit,
      pad: known.pad ?? null,
      columns,
      wheelNames: wheels,
      technicianId: known.technicianId ?? null,
      gaugeId: known.gaugeId ?? null,
      gaugeNames: { ...remembered.gaugeNames, ...stated.gaugeNames },
      personNames: { ...remembered.personNames, ...stated.personNames },
    },
    questions,
    evidence,
    learnt,
  };
}

/** The rows in which the cell of this field is blank; all of them where there is no such column. */
function rowsWithout(records: readonly CsvRecord[], columns: Understanding['columns'], field: string): CsvRecord[] {
  const at = columns.findIndex((one) => one.field === field);
  return records.filter(({ cells }) => at < 0 || (cells[at] ?? '').trim() === '');
}

function cellsOf(records: readonly CsvRecord[], columns: Understanding['columns'], pattern: RegExp): Cell[] {
  const wanted = columns.flatMap(({ field }, index) => (pattern.test(field) ? [index] : []));
  return records.flatMap(({ line, cells }) => wanted.map((index) => ({ line, text: (cells[index] ?? '').trim() })));
}

/** The unit that the headers of these columns tell; none where they tell two. */
function toldUnit<T extends string>(
  columns: Understanding['columns'],
  pattern: RegExp,
  units: readonly T[],
): T | undefined {
  const told = new Set<T>(
    columns.flatMap(({ header, field }) => {
      const unit = pattern.test(field) ? unitInHeader(header) : undefined;
      // `LF in` beside `LF out` tells a pad, not inches.
      if (unit === 'in' && field.endsWith(':inner') && /\bin\s*$/i.test(header)) return [];
      return units.filter((one) => one === unit);
    }),
  );
  return told.size === 1 ? [...told][0] : undefined;
}

function odometers(
  records: readonly CsvRecord[],
  columns: Understanding['columns'],
  dateOrder: Understanding['dateOrder'],
): OdometerCell[] {
  const at = (name: string) => columns.findIndex(({ field }) => field === name);
  const [unit, odometer] = [at('unit'), at('odometer')];
  const date = columns.findIndex(({ field }) => DATES.test(field));
  if (odometer < 0) return [];
  const dayOf = remembering((text) => parseDate(text, dateOrder));
  return records.map(({ line, cells }) => {
    const parsed = dayOf(cells[date] ?? '');
    return {
      line,
      text: (cells[odometer] ?? '').trim(),
      unit: (cells[unit] ?? '').trim().toUpperCase(),
      date: parsed.ok ? parsed.value : undefined,
    };
  });
}

const KG_PER_LB = 0.45359237;

function lengthUnitOf(kind: ImportKind, columns: Understanding['columns'], cells: (pattern: RegExp) => Cell[]) {
  const pattern = /^(pad_new|rotor_new)$/;
  return boundedUnitOf<'mm' | 'in'>(kind === 'models' ? cells(pattern) : [], toldUnit(columns, pattern, ['mm', 'in']), [
    { value: 'mm', label: 'millimetres', least: 3, most: 100, inBase: (value) => `${value} mm` },
    { value: 'in', label: 'inches', least: 0.1, most: 4, inBase: (value) => `${(value * MM_PER_INCH).toFixed(1)} mm` },
  ]);
}

function massUnitOf(kind: ImportKind, columns: Understanding['columns'], cells: (pattern: RegExp) => Cell[]) {
  const pattern = /^(tare_kg|gvwr_kg)$/;
  return boundedUnitOf<'kg' | 'lb'>(kind === 'models' ? cells(pattern) : [], toldUnit(columns, pattern, ['kg', 'lb']), [
    { value: 'kg', label: 'kilograms', least: 300, most: 100_000, inBase: (value) => `${value} kg` },
    {
      value: 'lb',
      label: 'pounds',
      least: 660,
      most: 220_000,
      inBase: (value) => `${Math.round(value * KG_PER_LB)} kg`,
    },
  ]);
}

/** The names of wheels in the sheet that tell their place, by how they are typed (in capitals). */
function namesOfWheels(records: readonly CsvRecord[], columns: Understanding['columns']): Understanding['wheelNames'] {
  const names = new Set(cellsOf(records, columns, /^wheel$/).map(({ text }) => text.toUpperCase()));
  const besideOut = [...names].some((name) => /\bOUT\b/.test(name));
  return Object.fromEntries(
    [...names].sort().flatMap((name) => {
      const place = placeOf(name, besideOut);
      return place ? [[name, place]] : [];
    }),
  );
}

/** Single fields that two columns are said to fill: the second would be read by nobody. */
export function filledTwice({ kind, columns }: Mapped): ImportNeed[] {
  const labels = new Map(FIELDS[kind].map(({ field, label }) => [field, label]));
  const seen = new Set<string>();
  return columns.flatMap(({ header, field }) => {
    if (MANY.includes(field)) return [];
    if (!seen.has(field)) {
      seen.add(field);
      return [];
    }
    const message = `Two columns are “${labels.get(field) ?? fieldLabel(field)}”; the second is “${header}”. Only one is accepted.`;
    return [{ kind: 'column' as const, name: field, message, options: [] }];
  });
}

/** The label of a column of one place's figures. */
export function fieldLabel(field: string): string {
  const [, axle, side, pad] = field.split(':');
  if (!axle || (side !== 'left' && side !== 'right')) return field;
  const place = {
    axle: axle === 'rear' ? ('rear' as const) : Number(axle),
    side,
    pad: pad === 'inner' || pad === 'outer' ? pad : null,
  };
  return `Thickness, ${placeInWords(place as Parameters<typeof placeInWords>[0])}`;
}

/** The column that is added to rows not taken, when they are downloaded to be mended. */
const WHY_NOT_TAKEN = 'why_not_taken';

/** The same header read the same way: what a remembered understanding is found by. */
export function signatureOf(kind: ImportKind, header: readonly string[]): string {
  const own = header.map(normaliseHeader).filter((name) => name !== WHY_NOT_TAKEN);
  return `${kind}:${own.join('|')}`;
}
