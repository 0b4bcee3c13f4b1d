import { failureInWords } from '@mile-mark/contract/words';
import type { NamedAxle, Understanding } from '@mile-mark/contract/imports';
import { type Pad, parseThickness, type Side, type ThicknessUnit, thicknessUnitNamed } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import { groupBy } from '../../platform/groupBy.ts';
import { inTurns } from '../../platform/inTurns.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { remembering } from '../../platform/remembering.ts';
import { GaugeEntity } from '../gauges/index.ts';
import { impossibleThickness } from '../inspections/index.ts';
import {
  afterDeparture,
  ModelAxleEntity,
  type ModelAxleRow,
  normaliseUnit,
  VehicleEntity,
  type VehicleRow,
} from '../register/index.ts';
import { PersonEntity } from '../people/index.ts';
import { type Draft, type Reason, RowReader } from './assess.ts';
import { start } from './draft.ts';
import { judgeOdometers, judgeValues, markAlready, markTwins } from './judgeSheet.ts';
import { type Stages, UNWATCHED } from './stages.ts';
import type { ReadingRecord } from './readingRecord.ts';
import { unitInHeader } from './understand/fields.ts';
import { placeInWords, placeOfField } from './understand/places.ts';

interface KnownVehicle {
  id: string;
  unit: string;
  axles: ModelAxleRow[];
  row: VehicleRow;
}

interface Gauge {
  id: string;
  name: string;
  resolutionMm: number;
}

interface Ground {
  vehicles: Map<string, KnownVehicle>;
  units: string[];
  gauges: Map<string, Gauge>;
  /** Names of people by their id. */
  people: Map<string, string>;
  today: string;
}

/** Which pad a column of thickness speaks of; null: the row, or the file, says. */
interface CellPlace {
  axle: NamedAxle | null;
  side: Side | null;
  pad: Pad | null;
}
const CELLS: Record<string, CellPlace> = {
  thickness: { axle: null, side: null, pad: null },
  inner: { axle: null, side: null, pad: 'inner' },
  outer: { axle: null, side: null, pad: 'outer' },
  left_inner: { axle: null, side: 'left', pad: 'inner' },
  left_outer: { axle: null, side: 'left', pad: 'outer' },
  right_inner: { axle: null, side: 'right', pad: 'inner' },
  right_outer: { axle: null, side: 'right', pad: 'outer' },
};
const cellPlace = (field: string): CellPlace | undefined => CELLS[field] ?? placeOfField(field);

/**
 * Reads every row of a sheet of readings and judges it among its neighbours and the record. Nothing is written.
 *
 * @param onRead is given the rows as understood, before their figures are held against the record: the longest part
 */
export async function assessReadings(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
  today: string,
  stages: Stages = UNWATCHED,
  onRead: (drafts: Draft<ReadingRecord>[]) => void = () => undefined,
): Promise<Draft<ReadingRecord>[]> {
  const context = { ...(await loadGround(em, today)), columnUnits: unitsOfColumns(understanding) };
  const drafts: Draft<ReadingRecord>[] = [];
  const reading = stages.begin('reading', rows.length);
  await inTurns(rows, (row) => drafts.push(readRow(row, understanding, context)), reading);
  await judgeOdometers(em, drafts, understanding, { signal: reading.signal });
  markTwins(drafts);
  await markAlready(em, drafts);
  onRead(drafts);
  await judgeValues(em, drafts, today, (vehicles) => ({
    ...stages.begin('judging', vehicles),
    pool: stages.pool,
  }));
  return drafts;
}

/** With what the sheet itself tells of each column. */
type SheetGround = Ground & { columnUnits: ThicknessUnit[] };

async function loadGround(em: EntityManager, today: string): Promise<Ground> {
  const axles = await em.find(ModelAxleEntity, {}, { orderBy: { axle: 'asc' } });
  const axlesOf = groupBy(axles, ({ modelId }) => modelId);
  const vehicles = await em.find(VehicleEntity, {});
  const gauges = await em.find(GaugeEntity, {});
  return {
    vehicles: new Map(
      vehicles.map((row) => [row.unit, { id: row.id, unit: row.unit, axles: axlesOf.get(row.modelId) ?? [], row }]),
    ),
    units: vehicles.map(({ unit }) => unit),
    gauges: new Map(gauges.map(({ id, name, resolutionUm }) => [id, { id, name, resolutionMm: resolutionUm / 1000 }])),
    people: new Map((await em.find(PersonEntity, {})).map(({ id, name }) => [id, name])),
    today,
  };
}

function readRow(row: CsvRecord, understanding: Understanding, context: SheetGround): Draft<ReadingRecord> {
  const draft = start<ReadingRecord>(row);
  if (draft.reasons.length > 0) return draft;
  const reader = new RowReader(row, understanding, draft);
  const date = reader.date('date', context.today);
  const vehicle = readVehicle(reader, row, context);
  const odometer = reader.distance('odometer');
  const spot = readSpot(reader, understanding, vehicle?.axles);
  const gauge = readGauge(reader, understanding, context);
  const technicianId = readPerson(reader, understanding, context);
  const note = reader.notes();
  const gone = vehicle && date !== undefined ? afterDeparture(vehicle.row, date) : undefined;
  if (gone !== undefined) reader.refuse('date', gone);
  if (date === undefined || vehicle === undefined || odometer === undefined || spot === undefined || gone !== undefined)
    return draft;

  const wide = understanding.columns.some(({ field }) => field.startsWith('at:'));
  let measured = 0;
  understanding.columns.forEach(({ field }, column) => {
    const cell = cellPlace(field);
    if (!cell) return;
    const typed = (row.cells[column] ?? '').trim();
    // In a row of a whole vehicle a blank is a pad that nobody measured, or an axle it hasn't.
    if (typed === '' && wide) return;
    measured += 1;
    const refuse = (message: string, suggestion?: string) => {
      draft.reasons.push({ column, outcome: 'refused', message, suggestion });
    };
    const axle = cell.axle === null ? spot.axle : axleNamed(cell.axle, vehicle.axles);
    if (axle === undefined || typeof axle === 'string')
      return refuse(axle ?? 'It isn’t said which axle this is; a column of axles or wheels is needed.');
    const side = cell.side ?? spot.side;
    const pad = cell.pad ?? spot.pad ?? understanding.pad ?? undefined;
    if (side === undefined || pad === undefined)
      return refuse(
        `It isn’t said which ${side === undefined ? 'side' : 'pad'} this is; left or right, inner or outer are accepted.`,
      );
    const { decimalMark, thicknessUnit } = understanding;
    const ofFile = { unit: context.columnUnits[column] ?? thicknessUnit, decimalMark };
    const value = readThickness(typed, column, reader, ofFile, axle, draft.reasons);
    if (value === undefined) return;
    draft.understood[column] = `axle ${axle.axle} ${side} ${pad}: ${value.mm.toFixed(value.unit === 'mm' ? 1 : 2)} mm`;
    draft.records.push({
      key: `${row.line}/${column}`,
      column,
      vehicleId: vehicle.id,
      unitNumber: vehicle.unit,
      axle: axle.axle,
      side,
      pad,
      date,
      odometerM: Math.round(odometer.metres),
      odometerTyped: reader.text('odometer'),
      mm: value.mm,
      typed,
      unit: value.unit,
      technicianId,
      gaugeId: gauge?.id ?? null,
      resolutionMm: gauge?.resolutionMm ?? (value.unit === '1/32 in' ? 0.79375 : 0.1),
      note: [note, mendedInWords(row, column)].filter(Boolean).join('; '),
    });
  });
  if (measured === 0) reader.refuse(null, 'The row holds no thickness; at least one is needed.');
  return draft;
}

/** What a mended figure was in the sheet, which stays with the look; blank where it is as typed. */
function mendedInWords({ cells, asTyped }: CsvRecord, column: number): string {
  const before = (asTyped?.[column] ?? '').trim();
  const now = (cells[column] ?? '').trim();
  return asTyped === undefined || before === now ? '' : `${now} was “${before}” in the sheet`;
}

/** The axle a name means on this vehicle, or in words why it means none. */
function axleNamed(named: NamedAxle, axles: readonly ModelAxleRow[]): ModelAxleRow | string {
  const numbers = axles.map(({ axle }) => axle).sort((a, b) => a - b);
  if (named === 'rear' && numbers.length > 2)
    return `This vehicle has axles ${numbers.join(', ')}, so that “rear” does not say which; an axle’s number is needed.`;
  const found = axles.find(({ axle }) => axle === (named === 'rear' ? 2 : named));
  return (
    found ??
    `This vehicle has no ${named === 'rear' ? 'rear axle' : `axle ${named}`} on record; ${numbers.join(', ')} are accepted.`
  );
}

/** Who measured the row: whom its own name stands for, else who is said to have measured the sheet. */
function readPerson(reader: RowReader, understanding: Understanding, context: Ground): string | null {
  const name = reader.text('technician');
  const id = name === '' ? understanding.technicianId : (understanding.personNames[name] ?? null);
  const person = id === null ? undefined : context.people.get(id);
  if (name !== '' && person !== undefined) reader.understoodAs('technician', person);
  return id;
}

function readVehicle(reader: RowReader, row: CsvRecord, context: Ground): KnownVehicle | undefined {
  const typed = reader.needed('unit', 'The unit number');
  if (typed === undefined) return undefined;
  const unit = normaliseUnit(typed);
  const column = reader.column('unit');
  const raw = column === null ? typed : (row.cells[column] ?? '');
  const vehicle = context.vehicles.get(unit);
  if (!vehicle) {
    const close = context.units
      .filter((one) => one[0] === unit[0])
      .slice(0, 3)
      .join(', ');
    return reader.refuse(
      'unit',
      `There is no vehicle ${unit} on record${close ? ` (there are ${close}, …)` : ''}; a unit number of the vehicle list is accepted.`,
    );
  }
  if (raw !== unit) reader.draft.notes.push(`“${raw}” was read as ${unit}.`);
  return vehicle;
}

interface Spot {
  /** Undefined where each column tells its own. */
  axle: ModelAxleRow | undefined;
  side: Side | undefined;
  pad: Pad | undefined;
}

function readSpot(
  reader: RowReader,
  understanding: Understanding,
  axles: ModelAxleRow[] | undefined,
): Spot | undefined {
  const wheel = reader.text('wheel');
  const wheelName = wheel === '' ? undefined : understanding.wheelNames[wheel.toUpperCase()];
  if (wheel !== '' && !wheelName)
    return reader.refuse(
      'wheel',
      `“${wheel}” is not a wheel name of this sheet; ${Object.keys(understanding.wheelNames).join(', ') || 'LF, RF, LR, RR or L1, R1, …'} are accepted.`,
    );
  const perColumn = understanding.columns.some(({ field }) => field.startsWith('at:'));
  const untold = wheelName === undefined && reader.text('axle') === '';
  const named = wheelName?.axle ?? (untold && perColumn ? undefined : reader.whole('axle', 'The axle', 1, 6));
  if (axles === undefined || (named === undefined && !(untold && perColumn))) return undefined;
  const axle = named === undefined ? undefined : axleNamed(named, axles);
  if (typeof axle === 'string') return reader.refuse(wheelName ? 'wheel' : 'axle', axle);
  if (wheelName && axle)
    reader.understoodAs('wheel', placeInWords({ axle: axle.axle, side: wheelName.side, pad: wheelName.pad ?? null }));
  const side = wheelName?.side ?? readWord(reader, 'side', { left: /^(l|left|lh)$/i, right: /^(r|right|rh)$/i });
  const pad =
    readWord(reader, 'pad', {
      inner: /^(i|in|inner|inboard|inside)$/i,
      outer: /^(o|out|outer|outboard|outside)$/i,
    }) ??
    wheelName?.pad ??
    undefined;
  return { axle, side, pad };
}

function readWord<T extends string>(reader: RowReader, field: string, words: Record<T, RegExp>): T | undefined {
  const text = reader.text(field);
  if (text === '') return undefined;
  const found = (Object.keys(words) as T[]).find((word) => words[word].test(text));
  if (found) reader.understoodAs(field, found);
  return found ?? reader.refuse(field, `“${text}” is not understood; ${Object.keys(words).join(' or ')} are accepted.`);
}

function readGauge(reader: RowReader, understanding: Understanding, context: Ground): Gauge | undefined {
  const name = reader.text('gauge');
  const id = (name && understanding.gaugeNames[name]) || understanding.gaugeId;
  const gauge = id ? context.gauges.get(id) : undefined;
  if (name && gauge) reader.understoodAs('gauge', gauge.name);
  return gauge;
}

/** The unit of each column's plain figures: the file's, unless the headers of its columns tell different ones. */
function unitsOfColumns({ columns, thicknessUnit }: Understanding): ThicknessUnit[] {
  const told = columns.map(({ field, header }) => {
    const unit = cellPlace(field) ? unitInHeader(header) : undefined;
    return unit === 'mm' || unit === 'in' || unit === '1/32 in' ? unit : undefined;
  });
  const differ = new Set(told.filter((unit) => unit !== undefined)).size > 1;
  return told.map((unit) => (differ ? (unit ?? thicknessUnit) : thicknessUnit));
}

/** What a typed thickness is, by the unit of those that carry none. */
const THICKNESS_IN = {
  mm: remembering((typed) => parseThickness(typed, { unit: 'mm' })),
  in: remembering((typed) => parseThickness(typed, { unit: 'in' })),
  '1/32 in': remembering((typed) => parseThickness(typed, { unit: '1/32 in' })),
};

function readThickness(
  cell: string,
  column: number,
  reader: RowReader,
  ofFile: { unit: ThicknessUnit; decimalMark: Understanding['decimalMark'] },
  axle: ModelAxleRow,
  reasons: Reason[],
): { mm: number; unit: ThicknessUnit } | undefined {
  const refuse = (message: string, suggestion?: string) => {
    reasons.push({ column, outcome: 'refused', message, suggestion });
    return undefined;
  };
  const stated = reader.text('thickness_unit');
  const typed = cell.trim();
  if (typed === '')
    return refuse('The thickness is blank; a figure is needed. The other cells of the row are not touched by this.');
  const named = stated === '' ? undefined : thicknessUnitNamed(stated);
  if (stated !== '' && !named) return refuse(`“${stated}” is not a unit of thickness; mm, in or 1/32 in are accepted.`);
  const unit = named ?? ofFile.unit;
  const first = THICKNESS_IN[unit](typed);
  // One sign before three digits parts decimals: no pad is a thousand of anything thick.
  const parsed =
    !first.ok && first.failure.code === 'ambiguous'
      ? parseThickness(typed.replace(',', '.'), { unit, mark: '.' })
      : first;
  if (!parsed.ok) {
    const fraction = /^(\d+)\s*\/\s*\d+$/.exec(typed);
    return refuse(
      failureInWords({ ...parsed.failure, typed }),
      parsed.failure.code === 'fraction_denominator' && fraction ? `${fraction[1]}/32` : undefined,
    );
  }
  const impossible = impossibleThickness(parsed.value.mm, typed, axle);
  if (impossible) {
    const suggestion = /^\d{2,3}$/.test(typed)
      ? `${typed.slice(0, -1)}${ofFile.decimalMark ?? '.'}${typed.slice(-1)}`
      : undefined;
    return refuse(impossible, suggestion);
  }
  return parsed.value;
}
