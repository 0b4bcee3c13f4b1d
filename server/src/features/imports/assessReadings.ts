import { failureInWords } from '@mile-mark/contract/words';
import type { Understanding } from '@mile-mark/contract/imports';
import { type Pad, parseDistance, parseThickness, type Side, type ThicknessUnit } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { GaugeEntity } from '../gauges/index.ts';
import { impossibleThickness } from '../inspections/index.ts';
import { ModelAxleEntity, type ModelAxleRow, normaliseUnit, VehicleEntity } from '../register/index.ts';
import { type Draft, type Reason, RowReader } from './assess.ts';
import { judgeOdometers, judgeValues, markAlready, markTwins } from './judgeSheet.ts';
import type { ReadingRecord } from './readingRecord.ts';

interface Ground {
  vehicles: Map<string, { id: string; unit: string; axles: ModelAxleRow[] }>;
  units: string[];
  gauges: Map<string, { id: string; resolutionMm: number }>;
  today: string;
}

/** Thickness columns: which pads a cell speaks of; null: the row's own axle, side or pad says. */
const CELLS: Record<string, { side: Side | null; pad: Pad | null }> = {
  thickness: { side: null, pad: null },
  inner: { side: null, pad: 'inner' },
  outer: { side: null, pad: 'outer' },
  left_inner: { side: 'left', pad: 'inner' },
  left_outer: { side: 'left', pad: 'outer' },
  right_inner: { side: 'right', pad: 'inner' },
  right_outer: { side: 'right', pad: 'outer' },
};

/** Reads every row of a sheet of readings and judges it among its neighbours and the record. Nothing is written. */
export async function assessReadings(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
  today: string,
): Promise<Draft<ReadingRecord>[]> {
  const context = await loadGround(em, today);
  const drafts = rows.map((row) => readRow(row, understanding, context));
  await judgeOdometers(em, drafts, understanding);
  markTwins(drafts);
  await markAlready(em, drafts);
  await judgeValues(em, drafts, today);
  return drafts;
}

async function loadGround(em: EntityManager, today: string): Promise<Ground> {
  const axles = await em.find(ModelAxleEntity, {}, { orderBy: { axle: 'asc' } });
  const vehicles = await em.find(VehicleEntity, {});
  const gauges = await em.find(GaugeEntity, {});
  return {
    vehicles: new Map(
      vehicles.map(({ id, unit, modelId }) => [
        unit,
        { id, unit, axles: axles.filter((axle) => axle.modelId === modelId) },
      ]),
    ),
    units: vehicles.map(({ unit }) => unit),
    gauges: new Map(gauges.map(({ id, resolutionUm }) => [id, { id, resolutionMm: resolutionUm / 1000 }])),
    today,
  };
}

function readRow(row: CsvRecord, understanding: Understanding, context: Ground): Draft<ReadingRecord> {
  const draft: Draft<ReadingRecord> = {
    line: row.line,
    cells: row.cells,
    reasons: [],
    notes: [],
    records: [],
    already: 0,
  };
  if (row.fault !== undefined) {
    draft.reasons.push({ column: null, outcome: 'refused', message: row.fault });
    return draft;
  }
  const reader = new RowReader(row, understanding, draft);
  const date = reader.date('date', context.today);
  const vehicle = readVehicle(reader, row, context);
  const odometer = parseDistance(reader.text('odometer'), {
    unit: understanding.distanceUnit,
    mark: understanding.decimalMark,
  });
  if (!odometer.ok) reader.refuse('odometer', failureInWords(odometer.failure));
  const spot = readSpot(reader, understanding, vehicle?.axles);
  const gauge = readGauge(reader, understanding, context);
  if (date === undefined || vehicle === undefined || !odometer.ok || spot === undefined) return draft;

  understanding.columns.forEach(({ field }, column) => {
    const cell = CELLS[field];
    if (!cell) return;
    const side = cell.side ?? spot.side;
    const pad = cell.pad ?? spot.pad;
    if (side === undefined || pad === undefined) {
      draft.reasons.push({
        column,
        outcome: 'refused',
        message: `It isn’t said which ${side === undefined ? 'side' : 'pad'} this is; left or right, inner or outer are accepted.`,
      });
      return;
    }
    const value = readThickness(row.cells[column] ?? '', column, reader, understanding, spot.axle, draft.reasons);
    if (value === undefined) return;
    draft.records.push({
      key: `${row.line}/${column}`,
      column,
      vehicleId: vehicle.id,
      unitNumber: vehicle.unit,
      axle: spot.axle.axle,
      side,
      pad,
      date,
      odometerM: Math.round(odometer.value.metres),
      odometerTyped: reader.text('odometer'),
      mm: value.mm,
      typed: (row.cells[column] ?? '').trim(),
      unit: value.unit,
      technicianId: understanding.technicianId,
      gaugeId: gauge?.id ?? null,
      resolutionMm: gauge?.resolutionMm ?? (value.unit === '1/32 in' ? 0.79375 : 0.1),
      note: reader.text('note'),
    });
  });
  return draft;
}

function readVehicle(
  reader: RowReader,
  row: CsvRecord,
  context: Ground,
): { id: string; unit: string; axles: ModelAxleRow[] } | undefined {
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
  axle: ModelAxleRow;
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
  const number = wheelName?.axle ?? reader.whole('axle', 'The axle', 1, 6);
  if (number === undefined || axles === undefined) return undefined;
  const axle = axles.find((one) => one.axle === number);
  if (!axle) {
    return reader.refuse(
      wheelName ? 'wheel' : 'axle',
      `This vehicle has no axle ${number}; ${axles.map((one) => one.axle).join(', ')} are accepted.`,
    );
  }
  const side =
    wheelName?.side ?? readWord(reader, 'side', { left: /^(l|left|nearside.*)$/i, right: /^(r|right|offside.*)$/i });
  const pad = readWord(reader, 'pad', {
    inner: /^(i|in|inner|inboard|inside)$/i,
    outer: /^(o|out|outer|outboard|outside)$/i,
  });
  return { axle, side, pad };
}

function readWord<T extends string>(reader: RowReader, field: string, words: Record<T, RegExp>): T | undefined {
  const text = reader.text(field);
  if (text === '') return undefined;
  const found = (Object.keys(words) as T[]).find((word) => words[word].test(text));
  return found ?? reader.refuse(field, `“${text}” is not understood; ${Object.keys(words).join(' or ')} are accepted.`);
}

function readGauge(
  reader: RowReader,
  understanding: Understanding,
  context: Ground,
): { id: string; resolutionMm: number } | undefined {
  const name = reader.text('gauge');
  const id = (name && understanding.gaugeNames[name]) || understanding.gaugeId;
  return id ? context.gauges.get(id) : undefined;
}

function readThickness(
  cell: string,
  column: number,
  reader: RowReader,
  understanding: Understanding,
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
  const carriesUnit = /[a-z"”″/]/i.test(typed);
  const parsed = parseThickness(carriesUnit || stated === '' ? typed : `${typed} ${stated}`, {
    unit: understanding.thicknessUnit,
    mark: understanding.decimalMark,
  });
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
      ? `${typed.slice(0, -1)}${understanding.decimalMark}${typed.slice(-1)}`
      : undefined;
    return refuse(impossible, suggestion);
  }
  return parsed.value;
}
