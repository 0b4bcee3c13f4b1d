import type { ImportKind } from '@mile-mark/contract/imports';
import { z } from 'zod';
import { catalogueChanged, depotChanged, importTakenBack, orderMoved } from '../../../events.ts';
import type { Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { quoted } from '../../../platform/db/quoted.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { ApiError } from '../../../platform/errors.ts';
import { lockVehicle } from '../../register/index.ts';
import type { Gone } from './withdraw.ts';

const Row = z.record(z.string(), z.unknown());
type Row = z.output<typeof Row>;

const Change = z.object({
  table: z.string(),
  key: z.record(z.string(), z.string()),
  /** The row as it was before the import, null where it was none. */
  before: Row.nullable(),
  /** The row as the import left it, null where it was deleted. */
  after: Row.nullable(),
});
type Change = z.output<typeof Change>;

/** What a record may change in besides what it says: how often it was changed, and who entered it. */
const NO_CONTENT: readonly string[] = ['revision', 'input_rev', 'entered_by', 'person_id', 'approved_by'];

/**
 * Takes back what a list changed: rows that it entered go, those it changed become what they were. Where something was
 * changed since, or stands on what it entered, it says what and nothing is changed.
 */
export async function withdrawList(tx: Transaction, importId: string, kind: ImportKind): Promise<Gone> {
  const { em } = tx;
  const changes = await changesOf(em, importId);
  if (changes.length === 0)
    throw new ApiError(
      'conflict',
      'What this file changed was not written down row by row when it was taken in; it is corrected where it stands.',
    );
  const touched = await vehiclesOf(em, changes);
  await lockVehicle(em, ...touched);
  await em.execute(`select set_config('mile_mark.taken_back', ?, true)`, [importId]);
  for (const change of changes) await restore(em, change);
  await em.execute(`select set_config('mile_mark.taken_back', '', true)`);
  const left = await rowsOf(em, z.object({ id: z.string() }), 'select id from vehicle where id = any(?::uuid[])', [
    uuidArray(touched),
  ]);
  const vehicleIds = left.map(({ id }) => id);
  await tell(tx, kind, changes, vehicleIds);
  return { vehicleIds, records: changes.length };
}

/**
 * What an import did to each row; several changes of one row are one. The row it touched first comes last: what was entered
 * on top of it goes before it, also where it was changed again afterwards.
 */
async function changesOf(em: EntityManager, importId: string): Promise<Change[]> {
  const all = await rowsOf(
    em,
    Change,
    'select table_name as "table", row_key as key, before, after from import_change where import_id = ? order by serial',
    [importId],
  );
  const byRow = new Map<string, Change>();
  for (const change of all) {
    const of = `${change.table} ${JSON.stringify(change.key)}`;
    const earlier = byRow.get(of);
    byRow.set(of, earlier ? { ...change, before: earlier.before } : change);
  }
  return [...byRow.values()].filter(({ before, after }) => before !== null || after !== null).reverse();
}

/** The vehicles that the changes are of, those of changed models included. */
async function vehiclesOf(em: EntityManager, changes: readonly Change[]): Promise<string[]> {
  const named = (of: (change: Change) => unknown) => [
    ...new Set(changes.map(of).filter((id): id is string => typeof id === 'string')),
  ];
  const own = named(({ table, key, before, after }) => (table === 'vehicle' ? key.id : (after ?? before)?.vehicle_id));
  const models = named(({ table, key, after, before }) =>
    table === 'model' ? key.id : table === 'model_axle' ? (after ?? before)?.model_id : undefined,
  );
  const ofModels = await rowsOf(
    em,
    z.object({ id: z.string() }),
    'select id from vehicle where model_id = any(?::uuid[])',
    [uuidArray(models)],
  );
  return [...new Set([...own, ...ofModels.map(({ id }) => id)])];
}

async function restore(em: EntityManager, change: Change): Promise<void> {
  const { table, before, after } = change;
  const { where, values } = byKey(change);
  const current = await firstRow(
    em,
    z.object({ row: Row }),
    `select to_jsonb(t) as row from ${quoted(table)} t where ${where} for update`,
    values,
  );
  const changed = after === null ? [] : changedColumns(before, after);
  const asLeft =
    after === null
      ? current === undefined
      : current !== undefined && changed.every((c) => same(current.row[c], after[c]));
  if (!asLeft) throw restsOn(`${await nameOf(em, change)} was changed since`);
  if (before === null) return remove(em, change);
  const columns = after === null ? Object.keys(before) : changed;
  const names = columns.map(quoted).join(', ');
  const held = `select ${names} from jsonb_populate_record(null::${quoted(table)}, ?::jsonb)`;
  if (after === null) await em.execute(`insert into ${quoted(table)} (${names}) ${held}`, [JSON.stringify(before)]);
  else if (columns.length > 0)
    await em.execute(`update ${quoted(table)} set (${names}) = (${held}) where ${where}`, [
      JSON.stringify(before),
      ...values,
    ]);
}

/** Columns that an import gave another content; of a row that it entered, all. */
function changedColumns(before: Row | null, after: Row): string[] {
  return Object.keys(after).filter(
    (column) => !NO_CONTENT.includes(column) && (before === null || !same(before[column], after[column])),
  );
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);

function byKey({ key }: Change): { where: string; values: string[] } {
  const names = Object.keys(key);
  return {
    where: names.map((name) => `${quoted(name)}::text = ?`).join(' and '),
    values: names.map((name) => key[name] ?? ''),
  };
}

/** What is computed of a row and goes with it, by the column that names it. */
const COMPUTED: Record<string, { column: string; tables: string[] }> = {
  vehicle: {
    column: 'vehicle_id',
    tables: [
      'wear_change',
      'reading_doubt',
      'measured_duty',
      'kept_answer',
      'forecast_failure',
      'forecast',
      'vehicle_forecast',
    ],
  },
  model: { column: 'model_id', tables: ['wear_group'] },
  part: { column: 'part_id', tables: ['part_plan'] },
  depot: { column: 'depot_id', tables: ['part_plan'] },
};

/** A row that something else on record names: by PostgreSQL’s words for it. */
const StillNamed = z.looseObject({ code: z.literal('23503'), table: z.string() });

async function remove(em: EntityManager, change: Change): Promise<void> {
  const { table, key } = change;
  const { where, values } = byKey(change);
  const computed = COMPUTED[table];
  for (const one of computed?.tables ?? [])
    await em.execute(`delete from ${quoted(one)} where ${quoted(computed?.column ?? '')} = ?`, [key.id]);
  const name = await nameOf(em, change);
  try {
    await em.execute(`delete from ${quoted(table)} where ${where}`, values);
  } catch (error) {
    const by = StillNamed.safeParse(error).data?.table;
    if (by === undefined) throw error;
    throw restsOn(`${name} has ${RESTING[by] ?? by.replaceAll('_', ' ')} on record`);
  }
}

const restsOn = (what: string) =>
  new ApiError('conflict', `Something later rests on this import: ${what}. Take that back first.`);

/** What may stand on a row that a list entered, in words. */
const RESTING: Record<string, string> = {
  inspection: 'looks',
  service_record: 'services',
  job: 'jobs',
  photo: 'photos',
  rotor_measurement: 'measured rotors',
  defect: 'defects',
  finding: 'findings',
  instrument_change: 'another instrument',
  vehicle_move: 'moves',
  duty_period: 'duties of vehicles',
  duty_correction: 'corrected duties',
  absence: 'absences',
  feed_day: 'days of the feed',
  vehicle_model_change: 'another model',
  plan_visit: 'visits in a plan',
  odometer_withdrawal: 'corrections',
  vehicle: 'vehicles',
  model: 'models whose wear is told for it',
  specification: 'specifications',
  part_fit: 'parts that fit it',
  part_offer: 'offers',
  stock_movement: 'movements of stock',
  stock_level: 'stock',
  order_line: 'orders',
  bin: 'bins',
  purchase_order: 'orders',
  torque_tool: 'torque tools',
};

const NAMED: Record<string, { noun: string; column: string }> = {
  vehicle: { noun: '', column: 'unit' },
  model: { noun: 'model', column: 'name' },
  depot: { noun: 'depot', column: 'name' },
  duty: { noun: 'duty', column: 'name' },
  part: { noun: 'part', column: 'number' },
  purchase_order: { noun: 'order', column: 'supplier_reference' },
};

/** A row in words: `V12`, `the duty of V12`, `axle 2 of a model`. */
async function nameOf(em: EntityManager, { table, after, before }: Change): Promise<string> {
  const row = after ?? before ?? {};
  const named = NAMED[table];
  if (named) return `${named.noun} ${String(row[named.column])}`.trim();
  if (typeof row.vehicle_id === 'string') {
    const of = await firstRow(em, z.object({ unit: z.string() }), 'select unit from vehicle where id = ?', [
      row.vehicle_id,
    ]);
    const what = { duty_period: 'a duty', odometer_record: 'an odometer', vehicle_move: 'a move' }[table] ?? 'a record';
    return `${what} of ${of?.unit ?? 'a vehicle'}`;
  }
  if (table === 'model_axle') return `axle ${String(row.axle)} of a model`;
  return { part_fit: 'where a part fits', part_offer: 'an offer', order_line: 'a line of an order' }[table] ?? table;
}

/** Tells whoever has to know: vehicles that stay are computed anew, and what is planned for depots and parts. */
async function tell(
  { emit }: Transaction,
  kind: ImportKind,
  changes: readonly Change[],
  vehicleIds: string[],
): Promise<void> {
  if (kind === 'parts') return emit(catalogueChanged({}));
  if (kind === 'orders') return emit(orderMoved({}));
  if (changes.some(({ table }) => table === 'depot')) await emit(depotChanged({}));
  await emit(importTakenBack({ vehicleIds }));
}
