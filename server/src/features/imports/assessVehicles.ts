import type { Understanding } from '@mile-mark/contract/imports';
import { metresToMiles, parseDate } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { DepotEntity, DutyEntity, ModelEntity, normaliseUnit, VehicleEntity } from '../register/index.ts';
import { type Draft, RowReader } from './assess.ts';
import { refused, sameName, start } from './draft.ts';

export interface VehicleRecordIn {
  unit: string;
  modelId: string;
  depot: string;
  dutyId: string;
  from: string;
  odometerM: number | null;
  /** The duty is on record from that day; the row moves the vehicle and does nothing else. */
  onlyDepot: boolean;
  /** It is the file's latest row of this vehicle: its depot is the one where the vehicle is. */
  newest: boolean;
}

/**
 * Reads a list of vehicles. What it says otherwise than the record is asked about: a vehicle of another depot moves
 * there where the row is taken, another odometer of a day on record is told and left.
 */
export async function assessVehicles(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
  today: string,
): Promise<Draft<VehicleRecordIn>[]> {
  const models = await em.find(ModelEntity, {});
  const duties = await em.find(DutyEntity, {});
  const known = await em.find(DepotEntity, {});
  const depots = known.map(({ name }) => name);
  const closedDepots = known.filter(({ closedOn }) => closedOn != null);
  const depotOf = new Map(known.map(({ id, name }) => [id, name]));
  const vehicles = new Map((await em.find(VehicleEntity, {})).map((one) => [one.unit, one]));
  const periods = new Set(
    (
      await rowsOf(
        em,
        z.object({ key: z.string() }),
        `select vehicle_id || '/' || from_date || '/' || duty_id as key from duty_period`,
      )
    ).map(({ key }) => key),
  );
  const odometers = await startOdometers(em);
  const latest = latestRows(rows, understanding);
  const seen = new Map<string, { line: number; modelId: string; depot: string }>();
  return rows.map((row) => {
    const draft = start<VehicleRecordIn>(row);
    if (draft.reasons.length > 0) return draft;
    const reader = new RowReader(row, understanding, draft);
    const typed = reader.needed('unit', 'The unit number');
    const unit = typed === undefined ? undefined : normaliseUnit(typed);
    if (unit !== undefined && unit !== typed) draft.notes.push(`“${typed}” was read as ${unit}.`);
    const modelName = reader.needed('model', 'The model');
    const model = models.find(({ name }) => modelName !== undefined && sameName(name, modelName));
    if (modelName !== undefined && !model)
      reader.refuse('model', `There is no model “${modelName}” on record; import the models first.`);
    const dutyName = reader.needed('duty', 'The duty');
    const duty = duties.find(({ name }) => dutyName !== undefined && sameName(name, dutyName));
    if (dutyName !== undefined && !duty)
      reader.refuse('duty', `There is no duty “${dutyName}” on record; import the duties first.`);
    const depot = reader.needed('depot', 'The depot');
    const from = reader.date('duty_from', today);
    const blank = reader.text('odometer') === '';
    const odometer = blank ? undefined : reader.distance('odometer');
    if (!unit || !model || !duty || depot === undefined || from === undefined || (!blank && !odometer)) return draft;
    const onRecord = vehicles.get(unit);
    if (onRecord?.leftOn)
      return refused(
        draft,
        reader,
        'unit',
        `${unit} was ${onRecord.leftHow ?? 'retired'} on ${onRecord.leftOn}; take that back under Fleet first if it is back.`,
      );
    const inFile = seen.get(unit);
    const earlier = onRecord ? { modelId: onRecord.modelId } : inFile;
    if (earlier && earlier.modelId !== model.id)
      return refused(draft, reader, 'model', `${unit} is on record as another model.`);
    if (!earlier && !odometer)
      return refused(
        draft,
        reader,
        'odometer',
        'The odometer at the start is needed for a vehicle that is not on record yet.',
      );
    const closed = closedDepots.find(({ name }) => sameName(name, depot));
    if (closed)
      return refused(draft, reader, 'depot', `${closed.name} closed on ${closed.closedOn}; an open depot is accepted.`);
    if (!depots.some((name) => sameName(name, depot))) {
      depots.push(depot);
      draft.notes.push(`Depot “${depot}” is new and will be entered.`);
    }
    seen.set(unit, { line: row.line, modelId: model.id, depot });
    const before = onRecord ? depotOf.get(onRecord.depotId) : inFile?.depot;
    const newest = latest.get(unit) === from;
    const moves = newest && before !== undefined && !sameName(before, depot);
    if (moves && !onRecord) draft.notes.push(`${unit} moves from ${before} to ${depot} with this row.`);
    else if (moves)
      draft.reasons.push({
        column: reader.column('depot'),
        outcome: 'questioned',
        message: `${unit} is on record at ${before}; the row says ${depot}. Taken, it moves there.`,
        holds: true,
      });
    const metres = odometer ? Math.round(odometer.metres) : null;
    const told = onRecord && odometers.get(`${onRecord.id}/${from}`);
    if (told !== undefined && metres !== null && Math.abs(told - metres) > SAME_ODOMETER_M)
      draft.reasons.push({
        column: reader.column('odometer'),
        outcome: 'questioned',
        message: `On record ${unit} stood at ${inMiles(told)} on that day; the row says ${inMiles(metres)}. What is on record stays.`,
        holds: true,
        bars: true,
      });
    const same = onRecord && periods.has(`${onRecord.id}/${from}/${duty.id}`);
    if (same && !moves && draft.reasons.length === 0) draft.already = 1;
    else
      draft.records.push({
        unit,
        modelId: model.id,
        depot,
        dutyId: duty.id,
        from,
        odometerM: metres,
        onlyDepot: same === true,
        newest,
      });
    return draft;
  });
}

/** The latest day a list gives for each of its vehicles. */
function latestRows(rows: readonly CsvRecord[], { columns, dateOrder }: Understanding): Map<string, string> {
  const [unitAt, fromAt] = ['unit', 'duty_from'].map((name) => columns.findIndex(({ field }) => field === name));
  const latest = new Map<string, string>();
  for (const { cells } of rows) {
    const unit = normaliseUnit(cells[unitAt ?? -1] ?? '');
    const from = parseDate(cells[fromAt ?? -1] ?? '', dateOrder);
    if (from.ok && from.value > (latest.get(unit) ?? '')) latest.set(unit, from.value);
  }
  return latest;
}

/** Odometers nearer to each other than this are the same figure rounded, m: a mile. */
const SAME_ODOMETER_M = 1610;
const inMiles = (metres: number) => `${Math.round(metresToMiles(metres)).toLocaleString('en-US')} mi`;

/** Odometers that a list of vehicles gave, by vehicle and day. */
async function startOdometers(em: EntityManager): Promise<Map<string, number>> {
  const rows = await rowsOf(
    em,
    z.object({ at: z.string(), metres: z.int() }),
    `select vehicle_id || '/' || read_on as at, odometer_m as metres from odometer where source = 'vehicle list'`,
  );
  return new Map(rows.map(({ at, metres }) => [at, metres]));
}
