import type { Understanding } from '@mile-mark/contract';
import { suspicionInWords } from '@mile-mark/contract';
import {
  consistentOdometers,
  doubtOdometer,
  metresToMiles,
  parseDistance,
  parseThickness,
  type OdometerEntry,
  type Pad,
  type ReadingInput,
  type Side,
  type ThicknessUnit,
} from '@mile-mark/core';
import { GaugeEntity, ModelAxleEntity, VehicleEntity, type ModelAxleRow } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';
import { uuidArray } from '../db/uuidArray.ts';
import { doubtInWords, normaliseUnit, odometersOnRecord } from '../services/lookups.ts';
import { impossibleThickness, judgeAmongRecord } from '../services/readings.ts';
import { RowReader, type Draft, type Reason } from './assess.ts';
import type { CsvRecord } from './csv.ts';

/** A reading that a row would add. */
export interface ReadingRecord {
  key: string;
  column: number;
  vehicleId: string;
  unitNumber: string;
  axle: number;
  side: Side;
  pad: Pad;
  date: string;
  odometerM: number;
  odometerTyped: string;
  mm: number;
  typed: string;
  unit: ThicknessUnit;
  technicianId: string | null;
  gaugeId: string | null;
  resolutionMm: number;
  note: string;
}

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
  const ground = await loadGround(em, today);
  const drafts = rows.map((row) => readRow(row, understanding, ground));
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

function readRow(row: CsvRecord, understanding: Understanding, ground: Ground): Draft<ReadingRecord> {
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
  const date = reader.date('date', ground.today);
  const vehicle = readVehicle(reader, row, ground);
  const odometer = parseDistance(reader.text('odometer'), {
    unit: understanding.distanceUnit,
    mark: understanding.decimalMark,
  });
  if (!odometer.ok) reader.refuse('odometer', odometer.failure.message);
  const spot = readSpot(reader, understanding, vehicle?.axles);
  const gauge = readGauge(reader, understanding, ground);
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
  ground: Ground,
): { id: string; unit: string; axles: ModelAxleRow[] } | undefined {
  const typed = reader.needed('unit', 'The unit number');
  if (typed === undefined) return undefined;
  const unit = normaliseUnit(typed);
  const column = reader.column('unit');
  const raw = column === null ? typed : (row.cells[column] ?? '');
  const vehicle = ground.vehicles.get(unit);
  if (!vehicle) {
    const close = ground.units
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
  ground: Ground,
): { id: string; resolutionMm: number } | undefined {
  const name = reader.text('gauge');
  const id = (name && understanding.gaugeNames[name]) || understanding.gaugeId;
  return id ? ground.gauges.get(id) : undefined;
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
      parsed.failure.message.replace(` ${stated}”`, '”'),
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

/**
 * Holds each odometer against the others of its vehicle, in the sheet and on record: those outside the
 * heaviest consistent set are questioned and can't be taken as typed.
 */
async function judgeOdometers(
  em: EntityManager,
  drafts: Draft<ReadingRecord>[],
  understanding: Understanding,
): Promise<void> {
  const byVehicle = new Map<string, Draft<ReadingRecord>[]>();
  for (const draft of drafts) {
    const vehicleId = draft.records[0]?.vehicleId;
    if (vehicleId) byVehicle.set(vehicleId, [...(byVehicle.get(vehicleId) ?? []), draft]);
  }
  const column = understanding.columns.findIndex(({ field }) => field === 'odometer');
  for (const [vehicleId, own] of byVehicle) {
    const known = (await odometersOnRecord(em, vehicleId)).map((entry) => ({ ...entry, weight: 1000 }));
    const counted = new Map<string, OdometerEntry & { weight: number }>();
    for (const { records } of own) {
      for (const { date, odometerM } of records) {
        const key = `${date}/${odometerM}`;
        counted.set(key, { date, metres: odometerM, weight: (counted.get(key)?.weight ?? 0) + 1 });
      }
    }
    const chain = consistentOdometers([...known, ...counted.values()]);
    const consistent = new Set(chain.map(({ date, metres }) => `${date}/${metres}`));
    for (const draft of own) {
      const [first] = draft.records;
      if (!first || consistent.has(`${first.date}/${first.odometerM}`)) continue;
      const entry = { date: first.date, metres: first.odometerM };
      const doubt = doubtOdometer(entry, chain, understanding.distanceUnit);
      if (!doubt) continue;
      const mends = doubt.kind === 'km_as_miles' || doubt.kind === 'miles_as_km';
      draft.reasons.push({
        column,
        outcome: 'questioned',
        message: doubtInWords(entry, doubt),
        suggestion: mends ? inUnit(doubt.insteadMetres, understanding) : undefined,
        holds: true,
        bars: true,
      });
    }
  }
}

function inUnit(metres: number, { distanceUnit }: Understanding): string {
  return String(Math.round(distanceUnit === 'mi' ? metresToMiles(metres) : metres / 1000));
}

const identityOf = (record: ReadingRecord) =>
  [
    record.technicianId,
    record.vehicleId,
    record.axle,
    record.side,
    record.pad,
    record.date,
    record.odometerM,
    Math.round(record.mm * 1000),
  ].join('/');

/** Questions readings that stand twice in one file; the first of them goes in, the second adds nothing. */
function markTwins(drafts: Draft<ReadingRecord>[]): void {
  const seen = new Map<string, number>();
  for (const draft of drafts) {
    const twins = draft.records.filter((record) => seen.has(identityOf(record)));
    for (const record of draft.records) if (!seen.has(identityOf(record))) seen.set(identityOf(record), draft.line);
    if (twins.length === 0 || draft.reasons.some(({ bars }) => bars)) continue;
    const line = seen.get(identityOf(twins[0] as ReadingRecord));
    draft.records = draft.records.filter((record) => !twins.includes(record));
    draft.reasons.push({
      column: null,
      outcome: 'questioned',
      message: `${draft.records.length === 0 ? 'The same as' : 'Partly the same as'} line ${line}: was it entered twice? It counts once.`,
      holds: draft.records.length === 0,
    });
  }
}

async function markAlready(em: EntityManager, drafts: Draft<ReadingRecord>[]): Promise<void> {
  const vehicleIds = [...new Set(drafts.flatMap(({ records }) => records.map(({ vehicleId }) => vehicleId)))];
  const known = await em.execute<{ identity: string }[]>(
    `select concat_ws('/', technician_id, vehicle_id, axle, side, pad, measured_on, odometer_m, thickness_um) as identity
     from reading where vehicle_id = any(?::uuid[]) and supersedes_id is null`,
    [uuidArray(vehicleIds)],
  );
  const identities = new Set(known.map(({ identity }) => identity));
  for (const draft of drafts) {
    const fresh = draft.records.filter((record) => !identities.has(identityOf(record)));
    draft.already = draft.records.length - fresh.length;
    draft.records = fresh;
  }
}

/** Judges the values of what is left, each vehicle's readings in order of date among those on record. */
async function judgeValues(em: EntityManager, drafts: Draft<ReadingRecord>[], today: string): Promise<void> {
  const byVehicle = new Map<string, { draft: Draft<ReadingRecord>; record: ReadingRecord }[]>();
  for (const draft of drafts) {
    if (draft.reasons.some(({ bars }) => bars)) continue;
    for (const record of draft.records) {
      byVehicle.set(record.vehicleId, [...(byVehicle.get(record.vehicleId) ?? []), { draft, record }]);
    }
  }
  for (const [vehicleId, items] of byVehicle) {
    const added = items.map(({ record }): ReadingInput => ({
      id: record.key,
      date: record.date,
      miles: metresToMiles(record.odometerM),
      axle: record.axle,
      side: record.side,
      pad: record.pad,
      mm: record.mm,
      unit: record.unit,
      resolutionMm: record.resolutionMm,
      technician: record.technicianId ?? 'who measured is not said yet',
    }));
    const judged = await judgeAmongRecord(em, vehicleId, added, today);
    for (const { draft, record } of items) {
      const suspicion = judged.get(record.key)?.suspicion;
      if (!suspicion) continue;
      draft.reasons.push({
        column: record.column,
        outcome: 'questioned',
        message: `Axle ${record.axle}, ${record.side}, ${record.pad}: ${suspicionInWords(suspicion, record.unit)} ${suspicion.kind === 'thinner_than_expected' ? 'It goes in as typed, and counts.' : 'It goes in as typed, and weighs little until it is settled.'}`,
      });
    }
  }
}
