import { failureInWords } from '@mile-mark/contract/words';
import { LibraryEntry } from '@mile-mark/contract/specifications';
import { parseNumber, parseTorque, type TorqueUnit, torqueUnitOf } from '@mile-mark/core';
import { type CsvFile, readCsv, writeCsv } from '../../platform/documents/csv.ts';
import type { FieldError } from '../../platform/errors.ts';

/** Columns of the library as CSV; docs/specification-library.md tells what each holds. */
const COLUMNS = [
  'model',
  'axle',
  'joint',
  'position',
  'absent',
  'thread',
  'strength',
  'head_kind',
  'head_size',
  'count',
  'counter_hold',
  'torque_unit',
  'torque_least',
  'torque_nominal',
  'torque_most',
  'torque_passes',
  'angle_deg',
  'stated_too',
  'preparation',
  'one_time_use',
  'pattern',
  'recheck_miles',
  'pad_min_mm',
  'rotor_discard_mm',
  'rotor_machine_to_mm',
  'runout_mm',
  'thickness_variation_mm',
  'fluid_grade',
  'bed_in',
  'parking_brake',
  'note',
  'document',
  'page',
  'revision',
  'date',
] as const;
type Column = (typeof COLUMNS)[number];

/** Columns whose header may carry the unit of their figures, as in `torque_nominal_nm` or `torque_nominal [lbf·ft]`. */
const TORQUES = ['torque_least', 'torque_nominal', 'torque_most', 'torque_passes'] as const;
type TorqueColumn = (typeof TORQUES)[number];

/** A line of a file: an entry, or what is wrong with it; as it names itself in either case. */
export interface LibraryLine {
  line: number;
  name: { model: string; axle: string; joint: string };
  entry?: LibraryEntry;
  problems: FieldError[];
}

const plain = (value: number | null) => (value === null ? '' : String(value));
const yesNo = (value: boolean | null) => (value === null ? '' : value ? 'yes' : 'no');

/** The library as CSV, a line a specification. */
export function libraryToCsv(entries: readonly LibraryEntry[]): string {
  return writeCsv(
    COLUMNS,
    entries.map((entry) => {
      const cells = cellsOf(entry);
      return COLUMNS.map((column) => cells[column] ?? '');
    }),
  );
}

function cellsOf({ model, axle, joint, position, values, source }: LibraryEntry): Partial<Record<Column, string>> {
  const common = { model, axle: String(axle), joint: joint ?? '', position, note: values.note ?? '', ...source };
  if (values.about === 'axle') {
    const { padMinMm, rotorDiscardMm, rotorMachineToMm, runoutMm, thicknessVariationMm } = values;
    return {
      ...common,
      pad_min_mm: plain(padMinMm),
      rotor_discard_mm: plain(rotorDiscardMm),
      rotor_machine_to_mm: plain(rotorMachineToMm),
      runout_mm: plain(runoutMm),
      thickness_variation_mm: plain(thicknessVariationMm),
      fluid_grade: values.fluidGrade ?? '',
      bed_in: values.bedIn ?? '',
      parking_brake: values.parkingBrake ?? '',
    };
  }
  const { fastener, torque } = values;
  return {
    ...common,
    absent: values.absent ? 'yes' : '',
    thread: fastener.thread ?? '',
    strength: fastener.strength ?? '',
    head_kind: fastener.headKind ?? '',
    head_size: fastener.headSize ?? '',
    count: plain(fastener.count),
    counter_hold: fastener.counterHold ?? '',
    torque_unit: torque?.unit ?? '',
    torque_least: plain(torque?.least ?? null),
    torque_nominal: plain(torque?.nominal ?? null),
    torque_most: plain(torque?.most ?? null),
    torque_passes: (torque?.passes ?? []).join(' '),
    angle_deg: plain(torque?.angleDeg ?? null),
    stated_too: torque?.statedToo ? `${torque.statedToo.value} ${torque.statedToo.unit}` : '',
    preparation: values.preparation ?? '',
    one_time_use: yesNo(values.oneTimeUse),
    pattern: values.pattern ?? '',
    recheck_miles: plain(values.recheckMiles),
  };
}

interface Header {
  column: Map<Column, number>;
  unit: Partial<Record<TorqueColumn, TorqueUnit>>;
  unknown: string[];
}

function headerOf({ header }: CsvFile): Header {
  const column = new Map<Column, number>();
  const unit: Header['unit'] = {};
  const unknown: string[] = [];
  header.forEach((text, index) => {
    const bare = text.toLowerCase().trim();
    const own = COLUMNS.find((name) => name === bare.replace(/[\s-]+/g, '_'));
    const torque = TORQUES.find((name) => bare.replace(/[\s-]+/g, '_').startsWith(name));
    if (own) column.set(own, index);
    else if (torque) {
      const rest = bare.slice(torque.length).replace(/[[\]()_]/g, ' ');
      const named = torqueUnitOf(rest);
      if (named) {
        column.set(torque, index);
        unit[torque] = named;
      } else unknown.push(text);
    } else if (bare !== '') unknown.push(text);
  });
  return { column, unit, unknown };
}

/** Reads a library file of CSV; no line is lost, each is an entry or says what is wrong with it. */
export function libraryFromCsv(text: string): { lines: LibraryLine[]; faults: FieldError[] } {
  const file = readCsv(new TextEncoder().encode(text));
  const header = headerOf(file);
  const missing = (['model', 'axle', 'joint', 'document', 'page', 'revision', 'date'] as const).filter(
    (name) => !header.column.has(name),
  );
  const faults = [
    ...missing.map((name) => ({
      field: name,
      message: `The column ${name} is missing; a header line that has it is accepted.`,
    })),
    ...header.unknown.map((name) => ({
      field: name,
      message: `The column “${name}” is not one of the library's; remove it, or see the list in docs/specification-library.md.`,
    })),
  ];
  if (faults.length > 0) return { lines: [], faults };
  return {
    faults: [],
    lines: file.records.map(({ line, cells, fault }) => {
      const cell = (name: Column) => (cells[header.column.get(name) ?? -1] ?? '').trim().replace(/^'(?=[=+\-@])/, '');
      const name = { model: cell('model'), axle: cell('axle'), joint: cell('joint') };
      if (fault !== undefined) return { line, name, problems: [{ field: 'line', message: fault }] };
      return { line, name, ...entryOf(cell, header) };
    }),
  };
}

type Cell = (name: Column) => string;

function entryOf(cell: Cell, header: Header): { entry?: LibraryEntry; problems: FieldError[] } {
  const problems: FieldError[] = [];
  const number = (name: Column): number | null => {
    if (cell(name) === '') return null;
    const parsed = parseNumber(cell(name));
    if (parsed.ok) return parsed.value;
    problems.push({ field: name, message: `${failureInWords(parsed.failure)} A figure is accepted, or nothing.` });
    return null;
  };
  const yes = (name: Column): boolean | null => {
    if (/^(yes|y|true|1)$/i.test(cell(name))) return true;
    if (/^(no|n|false|0)$/i.test(cell(name))) return false;
    if (cell(name) !== '')
      problems.push({ field: name, message: `“${cell(name)}” is neither yes nor no; yes, no or nothing is accepted.` });
    return null;
  };
  const orNull = (name: Column) => (cell(name) === '' ? null : cell(name));
  const values =
    cell('joint') === ''
      ? {
          about: 'axle',
          padMinMm: number('pad_min_mm'),
          rotorDiscardMm: number('rotor_discard_mm'),
          rotorMachineToMm: number('rotor_machine_to_mm'),
          runoutMm: number('runout_mm'),
          thicknessVariationMm: number('thickness_variation_mm'),
          fluidGrade: orNull('fluid_grade'),
          bedIn: orNull('bed_in'),
          parkingBrake: orNull('parking_brake'),
          note: orNull('note'),
        }
      : {
          about: 'joint',
          absent: yes('absent') ?? false,
          fastener: {
            thread: orNull('thread'),
            strength: orNull('strength'),
            headKind: orNull('head_kind'),
            headSize: orNull('head_size'),
            count: number('count'),
            counterHold: orNull('counter_hold'),
          },
          torque: torqueOf(cell, header, number, problems),
          preparation: orNull('preparation'),
          oneTimeUse: yes('one_time_use'),
          pattern: orNull('pattern'),
          recheckMiles: number('recheck_miles'),
          note: orNull('note'),
        };
  const parsed = LibraryEntry.safeParse({
    model: cell('model'),
    axle: Number(cell('axle')),
    joint: orNull('joint'),
    position: cell('position'),
    values,
    source: { document: cell('document'), page: cell('page'), revision: cell('revision'), date: cell('date') },
  });
  if (problems.length === 0 && parsed.success) return { entry: parsed.data, problems };
  const issues = parsed.success ? [] : parsed.error.issues;
  return {
    problems: [...problems, ...issues.map(({ path, message }) => ({ field: path.map(String).join('.'), message }))],
  };
}

function torqueOf(
  cell: Cell,
  header: Header,
  number: (name: Column) => number | null,
  problems: FieldError[],
): unknown {
  const typed = TORQUES.filter((name) => cell(name) !== '');
  if (typed.length === 0 && cell('angle_deg') === '' && cell('stated_too') === '') return null;
  const said = cell('torque_unit') === '' ? undefined : torqueUnitOf(cell('torque_unit'));
  if (cell('torque_unit') !== '' && said === undefined)
    problems.push({
      field: 'torque_unit',
      message: `“${cell('torque_unit')}” is not a unit of torque; N·m, lbf·ft and lbf·in are accepted.`,
    });
  const units = new Set<TorqueUnit>(said ? [said] : []);
  const figure = (name: TorqueColumn, text: string): number | null => {
    const unit = header.unit[name];
    if (unit && said && unit !== said) {
      problems.push({
        field: name,
        message: `The header of this column says ${unit}, torque_unit says ${said}; one of them is wrong.`,
      });
      return null;
    }
    const parsed = parseTorque(text, { unit: unit ?? said });
    if (!parsed.ok) {
      problems.push({ field: name, message: failureInWords(parsed.failure) });
      return null;
    }
    units.add(parsed.value.unit);
    return parsed.value.value;
  };
  const one = (name: TorqueColumn) => (cell(name) === '' ? null : figure(name, cell(name)));
  const [least, nominal, most] = [one('torque_least'), one('torque_nominal'), one('torque_most')];
  const passes = cell('torque_passes')
    .split(/[\s;|]+/)
    .filter((text) => text !== '')
    .flatMap((text) => figure('torque_passes', text) ?? []);
  if (units.size > 1)
    problems.push({
      field: 'torque_unit',
      message: `Units are mixed (${[...units].join(', ')}); one unit a line is accepted.`,
    });
  return {
    unit: [...units][0],
    least,
    nominal,
    most,
    passes,
    angleDeg: number('angle_deg'),
    statedToo: statedOf(cell, problems),
  };
}

function statedOf(cell: Cell, problems: FieldError[]): { unit: TorqueUnit; value: number } | null {
  if (cell('stated_too') === '') return null;
  const parsed = parseTorque(cell('stated_too'));
  if (parsed.ok) return parsed.value;
  problems.push({ field: 'stated_too', message: failureInWords(parsed.failure) });
  return null;
}
