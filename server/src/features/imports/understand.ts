import type { ImportKind, Understanding } from '@mile-mark/contract/imports';
import { type DateOrder, parseDate, parseNumber } from '@mile-mark/core';
import type { CsvFile } from '../../platform/documents/csv.ts';
import { FIELDS, guessKind, normaliseHeader } from './fields.ts';

type WheelSpot = Understanding['wheelNames'][string];

/** A model's file may hold wheel names of vehicles with two axles (front and rear) or more (numbered). */
const WHEEL_NAMES: Understanding['wheelNames'] = {
  LF: { axle: 1, side: 'left' },
  RF: { axle: 1, side: 'right' },
  LR: { axle: 2, side: 'left' },
  RR: { axle: 2, side: 'right' },
  ...Object.fromEntries<WheelSpot>(
    [1, 2, 3, 4, 5].flatMap((axle): [string, WheelSpot][] => [
      [`L${axle}`, { axle, side: 'left' }],
      [`R${axle}`, { axle, side: 'right' }],
    ]),
  ),
};

/** How a file's columns, units, marks and names are read, found by looking at header and cells. */
export function guessUnderstanding(file: CsvFile, kind?: ImportKind): Understanding {
  const understoodKind = kind ?? guessKind(file.header) ?? 'readings';
  const fields = FIELDS[understoodKind];
  const taken = new Set<string>();
  const columns = file.header.map((header) => {
    const found = fields.find(({ field, headers }) => !taken.has(field) && headers.test(normaliseHeader(header)));
    if (found) taken.add(found.field);
    return { header, field: found?.field ?? 'ignore' };
  });
  const cellsOf = (name: RegExp) =>
    columns.flatMap(({ field }, index) =>
      name.test(field) ? file.records.map(({ cells }) => (cells[index] ?? '').trim()) : [],
    );
  const headerOf = (name: string) => normaliseHeader(columns.find(({ field }) => field === name)?.header ?? '');
  const thickness = cellsOf(/^(thickness|inner|outer|(left|right)_(inner|outer))$/);
  return {
    kind: understoodKind,
    encoding: file.encoding,
    delimiter: file.delimiter,
    decimalMark: guessDecimalMark(file, thickness.length > 0 ? thickness : file.records.flatMap(({ cells }) => cells)),
    dateOrder: guessDateOrder(cellsOf(/^(date|duty_from|expires)$/)),
    distanceUnit: /km|kilomet/.test(headerOf('odometer')) ? 'km' : 'mi',
    thicknessUnit: guessThicknessUnit(
      thickness,
      columns.map(({ header }) => normaliseHeader(header)),
    ),
    columns,
    wheelNames: guessWheelNames(cellsOf(/^wheel$/)),
    technicianId: null,
    gaugeId: null,
    gaugeNames: {},
  };
}

function guessDecimalMark(file: CsvFile, cells: readonly string[]): '.' | ',' {
  const commas = cells.filter((cell) => /^\d*,\d{1,2}$/.test(cell)).length;
  const points = cells.filter((cell) => /^\d*\.\d+$/.test(cell)).length;
  if (commas === points) return file.delimiter === ';' ? ',' : '.';
  return commas > points ? ',' : '.';
}

/** The order under which most of the dates are days of the calendar; a tie goes to the one the signs suggest. */
export function guessDateOrder(cells: readonly string[]): DateOrder {
  const filled = cells.filter((cell) => cell !== '');
  const suggested: DateOrder = filled.some((cell) => /^\d{4}/.test(cell))
    ? 'YMD'
    : filled.some((cell) => cell.includes('/'))
      ? 'MDY'
      : 'DMY';
  const orders: DateOrder[] = [suggested, ...(['YMD', 'DMY', 'MDY'] as const).filter((order) => order !== suggested)];
  const fits = (order: DateOrder) => filled.filter((cell) => parseDate(cell, order).ok).length;
  return orders.reduce((best, order) => (fits(order) > fits(best) ? order : best), suggested);
}

function guessThicknessUnit(cells: readonly string[], headers: readonly string[]): Understanding['thicknessUnit'] {
  if (headers.some((header) => /(^|_)32nds?$/.test(header))) return '1/32 in';
  const fractions = cells.filter((cell) => /\d\s*\/\s*\d/.test(cell)).length;
  if (fractions > cells.length / 2) return '1/32 in';
  if (headers.some((header) => /(^|_)(in|inch|inches)$/.test(header))) return 'in';
  const numbers = cells.flatMap((cell) => {
    const parsed = parseNumber(cell);
    return parsed.ok ? [parsed.value] : [];
  });
  const small = numbers.filter((value) => value > 0 && value < 1).length;
  return small > numbers.length / 2 ? 'in' : 'mm';
}

function guessWheelNames(cells: readonly string[]): Understanding['wheelNames'] {
  const names = [...new Set(cells.map((cell) => cell.toUpperCase()).filter((cell) => cell !== ''))].sort();
  return Object.fromEntries(names.flatMap((name) => (WHEEL_NAMES[name] ? [[name, WHEEL_NAMES[name]]] : [])));
}

/** The same header read the same way: what a remembered understanding is found by. */
export function signatureOf(kind: ImportKind, header: readonly string[]): string {
  return `${kind}:${header.map(normaliseHeader).join('|')}`;
}
