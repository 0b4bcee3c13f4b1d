import type { ImportNeed, Understanding } from '@mile-mark/contract/imports';
import type { CsvRecord } from '../../../platform/documents/csv.ts';
import { FIELDS } from './fields.ts';
import { placeInWords, placeOfField } from './places.ts';
import { isThickness } from './understand.ts';

const asksFor = (kind: ImportNeed['kind'], name: string | null, message: string): ImportNeed => ({
  kind,
  name,
  message,
  options: [],
});

/** What a person must still say of a sheet: columns no header tells, and for readings who, with what, and where. */
export function needsOf(records: readonly CsvRecord[], understanding: Understanding): ImportNeed[] {
  const filled = new Set(understanding.columns.map(({ field }) => field));
  const needs = FIELDS[understanding.kind]
    .filter(({ field, needed }) => needed && !filled.has(field))
    .map(({ field, label }) => asksFor('column', field, `Which column is “${label}”?`));
  if (understanding.kind !== 'readings') return needs;
  const places = [...filled].flatMap((field) => placeOfField(field) ?? []);
  if (!filled.has('wheel') && !filled.has('axle') && places.length === 0)
    needs.push(asksFor('column', 'wheel', 'Which column is the wheel or the axle?'));
  if (![...filled].some(isThickness)) needs.push(asksFor('column', 'thickness', 'Which column holds a thickness?'));
  return [
    ...needs,
    ...asksWheels(records, understanding),
    ...asksPad(understanding, filled),
    ...asksPeople(records, understanding, filled),
    ...asksGauges(records, understanding, filled),
  ];
}

/** Every place a wheel may be at, to choose from. */
const PLACES: ImportNeed['options'] = ([1, 'rear', 2, 3, 4, 5, 6] as const).flatMap((axle) =>
  (['left', 'right'] as const).map((side) => ({
    value: `${axle}:${side}`,
    label: `${placeInWords({ axle, side, pad: null })}${axle === 'rear' ? ' (of two axles)' : ''}`,
    example: null,
  })),
);

/** Names of wheels that are not understood and stand in more than a row or two: a single one is a slip of its row. */
function asksWheels(records: readonly CsvRecord[], { columns, wheelNames }: Understanding): ImportNeed[] {
  const counts = new Map<string, number>();
  for (const { text } of namesIn(records, columns, 'wheel'))
    if (!wheelNames[text.toUpperCase()]) counts.set(text.toUpperCase(), (counts.get(text.toUpperCase()) ?? 0) + 1);
  return [...counts]
    .filter(([, count]) => count > 1 || count > records.length / 10)
    .slice(0, MOST_NAMES)
    .map(([name, count]) => ({
      ...asksFor('wheel', name, `Which wheel is “${name}”? It stands in ${count} ${count === 1 ? 'row' : 'rows'}.`),
      options: PLACES,
    }));
}

function asksPad({ pad, wheelNames }: Understanding, filled: ReadonlySet<string>): ImportNeed[] {
  const untold =
    [...filled].some((field) => placeOfField(field)?.pad === null && field.startsWith('at:')) ||
    (filled.has('thickness') && !filled.has('pad') && !Object.values(wheelNames).some((place) => place.pad));
  if (!untold || pad !== null || (filled.has('pad') && !filled.has('thickness'))) return [];
  const options = (['inner', 'outer'] as const).map((value) => ({ value, label: `the ${value} pads`, example: null }));
  return [{ ...asksFor('pad', null, 'The sheet has a figure a wheel. Of which pad?'), options }];
}

function asksPeople(
  records: readonly CsvRecord[],
  { columns, technicianId, personNames }: Understanding,
  filled: ReadonlySet<string>,
): ImportNeed[] {
  const named = filled.has('technician') ? namesIn(records, columns, 'technician') : [];
  const unknown = distinct(named.map(({ text }) => text)).filter((name) => !personNames[name]);
  const asks = unknown.map((name) =>
    asksFor('person', name, `The sheet names “${name}”, who is not on record by that name. Who is it?`),
  );
  const rowsNamed = new Set(named.map(({ line }) => line)).size;
  if (technicianId === null && rowsNamed < records.length)
    asks.push(
      asksFor(
        'technician',
        null,
        rowsNamed === 0
          ? 'The sheet doesn’t say who measured. Who was it?'
          : `${records.length - rowsNamed} rows don’t say who measured. Who was it there?`,
      ),
    );
  return asks;
}

function asksGauges(
  records: readonly CsvRecord[],
  { columns, gaugeId, gaugeNames }: Understanding,
  filled: ReadonlySet<string>,
): ImportNeed[] {
  const named = filled.has('gauge') ? namesIn(records, columns, 'gauge') : [];
  const asks = distinct(named.map(({ text }) => text))
    .filter((name) => !gaugeNames[name])
    .map((name) => asksFor('gauge', name, `The sheet names a gauge “${name}” that is not on record. Which is it?`));
  const rowsNamed = new Set(named.map(({ line }) => line)).size;
  if (gaugeId === null && rowsNamed < records.length)
    asks.push(
      asksFor(
        'gauge',
        null,
        rowsNamed === 0
          ? 'The sheet doesn’t say with which gauge. Which was it?'
          : `${records.length - rowsNamed} rows don’t say with which gauge. Which was it there?`,
      ),
    );
  return asks;
}

/** So many names are asked about at once. */
const MOST_NAMES = 50;
const distinct = (names: readonly string[]) => [...new Set(names)].slice(0, MOST_NAMES);

/** The names that stand in the column of a field, with their lines; blank cells left out. */
export function namesIn(
  records: readonly CsvRecord[],
  columns: Understanding['columns'],
  field: string,
): { line: number; text: string }[] {
  const column = columns.findIndex((one) => one.field === field);
  if (column < 0) return [];
  return records.flatMap(({ line, cells, fault }) => {
    const text = (cells[column] ?? '').trim();
    return text === '' || fault !== undefined ? [] : [{ line, text }];
  });
}
