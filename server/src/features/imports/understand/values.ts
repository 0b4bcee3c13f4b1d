import {
  dateOfDay,
  type DateOrder,
  dayNumber,
  dependsOnOrder,
  type DistanceUnit,
  MM_PER_INCH,
  parseDate,
  parseNumber,
  parseThickness,
  type ThicknessUnit,
} from '@mile-mark/core';
import { groupBy } from '../../../platform/groupBy.ts';
import { remembering } from '../../../platform/remembering.ts';

/** A cell and the line it stands in. */
export interface Cell {
  line: number;
  text: string;
}

/**
 * What cells tell of a unit or an order: the most likely value, whether they decide it, and why; where they do not,
 * the values there are and what each would make of a cell.
 */
export interface Finding<T> {
  value: T;
  decided: boolean;
  why: string | null;
  options: { value: T; label: string; example: string | null }[];
}

const decided = <T>(value: T, why: string | null = null): Finding<T> => ({ value, decided: true, why, options: [] });

const ORDER_LABELS: Record<DateOrder, string> = {
  YMD: 'year, month, day',
  DMY: 'day, month, year',
  MDY: 'month, day, year',
};

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' });
/** An ISO date in words: `3 April 2026`. */
export const dayInWords = remembering((date) => DAY.format(new Date(`${date}T00:00:00Z`)));

/** How far back and ahead a date on a sheet may lie before another order of its numbers is more likely. */
const YEARS_BACK = 10;
const YEARS_AHEAD = 15;

/**
 * The order of day, month and year, from dates whose numbers fit one order only: a month over 12, a day that lies
 * ahead of today, a year long past. Where every date fits two orders and they would differ, it is not decided.
 *
 * @param mayLieAhead whether these dates may be of days to come
 */
export function dateOrderOf(cells: readonly Cell[], today: string, mayLieAhead = false): Finding<DateOrder> {
  const open = cells.filter(({ text }) => dependsOnOrder(text));
  if (open.length === 0) return decided('YMD');
  const year = Number(today.slice(0, 4));
  const from = `${year - YEARS_BACK}${today.slice(4)}`;
  const until = mayLieAhead ? `${year + YEARS_AHEAD}${today.slice(4)}` : today;
  const since = (earliest: string) =>
    open.map(({ text }) =>
      ORDERS.flatMap((order) => {
        const parsed = parseDate(text, order);
        return parsed.ok && parsed.value >= earliest && parsed.value <= until ? [{ order, date: parsed.value }] : [];
      }),
    );
  const lately = since(from);
  // A sheet all of whose dates are long past is an old sheet, and no less undecided for it.
  const readings = lately.some((one) => one.length > 0) ? lately : since('1990-01-01');
  const fits = new Map(
    ORDERS.map((order) => [order, readings.filter((one) => one.some((r) => r.order === order)).length]),
  );
  const most = Math.max(...fits.values());
  const left = ORDERS.filter((order) => fits.get(order) === most);
  const dotted = open.every(({ text }) => /^\s*\d{1,2}\.\d{1,2}\.\d{2,4}/.test(text));
  const first =
    (dotted ? left.find((order) => order === 'DMY') : left.find((order) => order === 'MDY')) ?? left[0] ?? 'DMY';
  if (most === 0) return decided(first);
  const only = (order: DateOrder) =>
    readings.filter((one) => one.length > 0 && one.every((r) => r.order === order)).length;
  const others = ORDERS.filter((order) => !left.includes(order) && only(order) > 0);
  const differ = left.length > 1 && readings.some((one) => new Set(one.map(({ date }) => date)).size > 1);
  if (left.length === 1 && others.length === 0)
    return decided(first, `Dates are ${ORDER_LABELS[first]}: ${only(first)} of ${open.length} fit no other order.`);
  if (dotted && others.length === 0 && left.includes('DMY'))
    return decided('DMY', 'Dates are day, month, year, as dates with dots are.');
  if (left.length > 1 && !differ) return decided(first);
  const offered = ORDERS.filter((order) => left.includes(order) || others.includes(order));
  const options = offered.map((value) => ({ value, label: ORDER_LABELS[value], example: exampleOfDate(open, value) }));
  return { value: first, decided: false, why: null, options };
}

const ORDERS: readonly DateOrder[] = ['MDY', 'DMY', 'YMD'];

function exampleOfDate(cells: readonly Cell[], order: DateOrder): string | null {
  const differing = cells.find(({ text }) => {
    const found = ORDERS.map((one) => parseDate(text, one));
    return new Set(found.map((one) => (one.ok ? one.value : ''))).size > 1 && parseDate(text, order).ok;
  });
  const parsed = differing && parseDate(differing.text, order);
  return parsed?.ok ? `line ${differing?.line}: ${differing?.text.trim()} is ${dayInWords(parsed.value)}` : null;
}

/** The sign between whole and decimals that most figures of a sheet use; null where no figure tells. */
export function decimalMarkOf(cells: readonly Cell[]): '.' | ',' | null {
  const commas = cells.filter(({ text }) => /^[\d .]*,\d{1,2}(?!\d)/.test(text)).length;
  const points = cells.filter(({ text }) => /^[\d ,]*\.\d{1,2}(?![\d.])/.test(text)).length;
  if (commas === points) return null;
  return commas > points ? ',' : '.';
}

/** What a thickness of a sheet can be at most: the thickest new pad on record with its plate and a slip, mm. */
export interface ThicknessBounds {
  mostMm: number;
}

const THICKNESS_LABELS: Record<ThicknessUnit, string> = {
  mm: 'millimetres',
  '1/32 in': '32nds of an inch',
  in: 'inches',
};
const UNITS: readonly ThicknessUnit[] = ['mm', '1/32 in', 'in'];

/**
 * The unit of the thicknesses that carry none. A unit is left where most of the plain figures could be pads in it: a
 * fraction of a 32nd is no step of a gauge, and nothing is thicker than the thickest pad on record with its plate.
 * A unit that the header tells holds unless the figures can't be that.
 */
export function thicknessUnitOf(
  cells: readonly Cell[],
  told: ThicknessUnit | undefined,
  { mostMm }: ThicknessBounds,
): Finding<ThicknessUnit> {
  const typed = cells.filter(({ text }) => text.trim() !== '');
  const plain = typed.flatMap(({ line, text }) => {
    if (carriesUnit(text)) return [];
    const parsed = parseNumber(text, { mark: /,/.test(text) ? ',' : '.' });
    return parsed.ok && parsed.value > 0 ? [{ line, text: text.trim(), value: parsed.value }] : [];
  });
  const fractions = typed.filter(({ text }) => text.includes('/')).length;
  if (plain.length === 0) return decided(told ?? (fractions > 0 ? '1/32 in' : 'mm'));
  const fits = new Map(UNITS.map((unit) => [unit, plain.filter(({ value }) => mayBe(value, unit, mostMm)).length]));
  const enough = plain.length * 0.8;
  const left = UNITS.filter((unit) => (fits.get(unit) ?? 0) >= enough);
  const mixed = told === undefined && fractions > 0;
  if (told !== undefined && (left.includes(told) || left.length === 0)) return decided(told);
  const [only] = left;
  if (told === undefined && left.length === 1 && only && !mixed)
    return decided(only, `Thicknesses are ${THICKNESS_LABELS[only]}: the figures could be no pads in another unit.`);
  const offered =
    left.length > 1 || mixed || told !== undefined
      ? UNITS.filter((unit) => left.includes(unit) || unit === told || mixed)
      : UNITS;
  const [example] = plain;
  const options = offered.map((value) => ({
    value,
    label: THICKNESS_LABELS[value],
    example: example ? exampleOfThickness(example, value) : null,
  }));
  return { value: told ?? only ?? (fractions > plain.length ? '1/32 in' : 'mm'), decided: false, why: null, options };
}

/** Whether a thickness tells its own unit: letters, an inch sign or a fraction. */
const carriesUnit = (text: string): boolean => /[a-z"”″/]/i.test(text);

function mayBe(value: number, unit: ThicknessUnit, mostMm: number): boolean {
  // A gauge in 32nds shows halves at the finest; one in inches tells hundredths, so whole ones are none.
  if (unit === '1/32 in') return Number.isInteger(value * 2) && value * (MM_PER_INCH / 32) <= mostMm && value >= 1;
  if (unit === 'in') return value * MM_PER_INCH <= mostMm && value < 2 && !Number.isInteger(value);
  return value <= mostMm && value >= 0.5;
}

function exampleOfThickness({ line, text }: { line: number; text: string }, unit: ThicknessUnit): string | null {
  const parsed = parseThickness(text, { unit, mark: /,/.test(text) ? ',' : '.' });
  return parsed.ok ? `line ${line}: ${text} is ${parsed.value.mm.toFixed(1)} mm` : null;
}

/** An odometer of the sheet, with its vehicle and its day where they can be read. */
export interface OdometerCell extends Cell {
  unit: string;
  date: string | undefined;
}

/** Where a vehicle stood on days on record, in order, and how far its duty says it goes in a day. */
export interface VehicleRecord {
  points: readonly { day: number; miles: number }[];
  milesPerDay: number;
}

const DISTANCE_LABELS: Record<DistanceUnit, string> = { mi: 'miles', km: 'kilometres' };

/**
 * The unit of odometers that carry none: what the header tells, unless most vehicles of the sheet go with their records
 * in the other; without a header what the records tell; without either it is not decided.
 */
export function distanceUnitOf(
  cells: readonly OdometerCell[],
  told: DistanceUnit | undefined,
  recordOf: (unit: string) => VehicleRecord | undefined,
): Finding<DistanceUnit> {
  const plain = cells.filter(({ text }) => text.trim() !== '' && !/[a-z]/i.test(text));
  if (plain.length === 0) return decided(told ?? 'mi');
  const vehicles = [...groupBy(plain, ({ unit }) => unit)].map(([unit, own]) => unitByRecord(own, recordOf(unit)));
  const votes = {
    mi: vehicles.filter((one) => one === 'mi').length,
    km: vehicles.filter((one) => one === 'km').length,
  };
  const all = votes.mi + votes.km;
  const fits = votes.mi > 0 && votes.mi >= all * 0.9 ? 'mi' : votes.km > 0 && votes.km >= all * 0.9 ? 'km' : undefined;
  if (told !== undefined && (fits === undefined || fits === told)) return decided(told);
  if (told === undefined && fits !== undefined)
    return decided(
      fits,
      `Odometers are ${DISTANCE_LABELS[fits]}: ${votes[fits]} of ${all} vehicles go with their records so and not otherwise.`,
    );
  const example = plain.find(({ unit }) => recordOf(unit) !== undefined) ?? plain[0];
  const options = (['mi', 'km'] as const).map((value) => ({
    value,
    label: DISTANCE_LABELS[value],
    example: example ? exampleOfDistance(example, value, recordOf(example.unit)) : null,
  }));
  return { value: fits ?? told ?? 'mi', decided: false, why: null, options };
}

/** A vehicle's pace may be so many times less or more than its duty says (common practice, no source). */
const PACE_TIMES = 2.6;

/** Days so near to each other that only the distance between two odometers counts, not the pace. */
const NEAR_DAYS = 5;

/**
 * The unit in which a vehicle's odometers go with its record, each step at a pace near its duty's; undefined where none
 * or both do.
 */
function unitByRecord(cells: readonly OdometerCell[], record: VehicleRecord | undefined): DistanceUnit | undefined {
  if (!record || record.points.length === 0) return undefined;
  const figures = new Map<string, { day: number; figure: number }>();
  for (const { text, date } of cells) {
    const figure = plainFigure(text);
    if (figure !== undefined && date !== undefined) figures.set(`${date} ${figure}`, { day: dayNumber(date), figure });
  }
  const goes = (perMile: number) => {
    const known = record.points.map((point) => ({ ...point, ofSheet: false }));
    const sheet = [...figures.values()].map(({ day, figure }) => ({ day, miles: figure / perMile, ofSheet: true }));
    const all = [...known, ...sheet].sort((a, b) => a.day - b.day || a.miles - b.miles);
    const steps = all.flatMap((point, index) => {
      const before = all[index - 1];
      if (!before || !(point.ofSheet || before.ofSheet)) return [];
      const [days, times] = [point.day - before.day, (point.miles - before.miles) / record.milesPerDay];
      if (days < NEAR_DAYS) return point.ofSheet === before.ofSheet ? [] : [Math.abs(times) <= PACE_TIMES * (days + 1)];
      return [times / days > 1 / PACE_TIMES && times / days < PACE_TIMES];
    });
    return steps.length > 0 && steps.filter(Boolean).length >= steps.length * 0.8;
  };
  const [asMi, asKm] = [goes(1), goes(KM_PER_MILE)];
  return asMi === asKm ? undefined : asMi ? 'mi' : 'km';
}

const KM_PER_MILE = 1.609344;

/** An odometer's figure, thousands with whatever sign. */
function plainFigure(text: string): number | undefined {
  const parsed = parseNumber(text, { thousandsLikely: true });
  if (parsed.ok) return parsed.value;
  return parsed.failure.code === 'ambiguous' ? Number(parsed.failure.asThousands) : undefined;
}

function exampleOfDistance(
  { line, text }: OdometerCell,
  unit: DistanceUnit,
  record: VehicleRecord | undefined,
): string | null {
  const figure = plainFigure(text);
  if (figure === undefined) return null;
  const miles = (value: number) => `${Math.round(value).toLocaleString('en-US')} mi`;
  const last = record?.points.at(-1);
  const known = last ? `; on record ${miles(last.miles)} on ${dayInWords(dateOfDay(last.day))}` : '';
  return `line ${line}: ${text.trim()} is ${miles(unit === 'mi' ? figure : figure / KM_PER_MILE)}${known}`;
}

/** The unit of a models file's figures where a header tells none: the one in which they can be what they are. */
export function boundedUnitOf<T extends string>(
  cells: readonly Cell[],
  told: T | undefined,
  units: readonly { value: T; label: string; least: number; most: number; inBase: (value: number) => string }[],
): Finding<T> {
  const [first] = units;
  if (!first) throw new Error('A finding needs units to choose from.');
  if (told !== undefined) return decided(told);
  const figures = cells.flatMap((cell) => {
    const value = plainFigure(cell.text);
    return value === undefined ? [] : [{ ...cell, value }];
  });
  if (figures.length === 0) return decided(first.value);
  const left = units.filter(({ least, most }) => figures.every(({ value }) => value >= least && value <= most));
  const [only] = left;
  if (left.length === 1 && only)
    return decided(only.value, `Figures are in ${only.label}: in no other unit can they be what they are.`);
  const [example] = figures;
  return {
    value: only?.value ?? first.value,
    decided: false,
    why: null,
    options: (left.length > 1 ? left : units).map(({ value, label, inBase }) => ({
      value,
      label,
      example: example ? `line ${example.line}: ${example.text.trim()} is ${inBase(example.value)}` : null,
    })),
  };
}
