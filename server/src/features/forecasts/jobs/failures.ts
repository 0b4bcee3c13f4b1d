import { z } from 'zod';
import { isBadValue } from '../../../platform/db/faults.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { inTurns } from '../../../platform/inTurns.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { holdVehicles } from '../../register/index.ts';
import { VehiclesFailed } from '../computer.ts';
import type { VehicleRecord } from '../record.ts';
import type { Fleet } from './learnAppraisers.ts';
import { type Finished, MODEL_VERSION } from './saveForecasts.ts';

/** One vehicle that cannot be computed never keeps the others waiting: it is put aside, and why stands on record. */

/**
 * Failures that are of the record as it stands, of this version of the model and of this day (its two parameters): there
 * is nothing to be gained by another try.
 */
export const FAILED_SO = `
  select x.vehicle_id as id from forecast_failure x join vehicle w on w.id = x.vehicle_id
  where x.input_rev = w.input_rev and x.model_version = ? and x.today = ?::date`;

/** Does work for a fleet; whoever cannot be computed is put aside, and it is done for the others. */
export async function withoutFailing(fleet: Fleet, work: (sound: Fleet) => Promise<void>): Promise<void> {
  const { em, today, tools } = fleet;
  const known = await rowsOf(em, z.object({ id: z.string() }), FAILED_SO, [MODEL_VERSION, today]);
  const failed = new Set(known.map(({ id }) => id));
  for (;;)
    try {
      return await work({ ...fleet, records: fleet.records.filter(({ id }) => !failed.has(id)) });
    } catch (error) {
      if (!(error instanceof VehiclesFailed)) throw error;
      const failures = error.failures.map(({ item, message }) => ({ record: recordOf(item), message }));
      await note(em, failures, today);
      for (const { record, message } of failures) {
        tools.failed?.(record.unit, message);
        failed.add(record.id);
      }
    }
}

/** What is asked of a vehicle is its record, or has it. */
const recordOf = (item: unknown) =>
  typeof item === 'object' && item !== null && 'record' in item
    ? (item.record as VehicleRecord)
    : (item as VehicleRecord);

const MOST_LETTERS = 500;

async function note(
  em: EntityManager,
  failures: readonly { record: VehicleRecord; message: string }[],
  today: string,
): Promise<void> {
  const rows = failures.map(({ record, message }) => ({
    vehicle_id: record.id,
    input_rev: record.inputRev,
    message: (message || 'for no reason that was said').slice(0, MOST_LETTERS),
  }));
  await em.transactional(async (inner) => {
    await holdVehicles(
      inner,
      failures.map(({ record }) => record.id),
    );
    await inner.execute(
      `insert into forecast_failure (vehicle_id, input_rev, model_version, today, message)
       select vehicle_id, input_rev, ?, ?::date, message
       from jsonb_to_recordset(?::jsonb) as t(vehicle_id uuid, input_rev int, message text)
       on conflict (vehicle_id) do update set input_rev = excluded.input_rev, model_version = excluded.model_version,
         today = excluded.today, message = excluded.message, failed_at = clock_timestamp()`,
      [MODEL_VERSION, today, JSON.stringify(rows)],
    );
  });
}

/** Vehicles could be computed again, or left: nothing is said of them any more. */
export async function forgetFailures(em: EntityManager, ids: readonly string[]): Promise<void> {
  await em.execute('delete from forecast_failure where vehicle_id = any(?::uuid[])', [uuidArray([...ids])]);
}

/** What a function makes of each record, others being answered in between. @throws VehiclesFailed for those of which it makes nothing */
export async function eachOf<T>(records: readonly VehicleRecord[], make: (record: VehicleRecord) => T): Promise<T[]> {
  const failures: { item: VehicleRecord; message: string }[] = [];
  const made: T[] = [];
  await inTurns(records, (record) => {
    try {
      made.push(make(record));
    } catch (error) {
      failures.push({ item: record, message: String(error) });
    }
  });
  if (failures.length > 0) throw new VehiclesFailed(failures);
  return made;
}

/** Saves what could not be saved together. @throws VehiclesFailed for those whose figures the database would not take */
export async function saveOneByOne(
  part: readonly Finished[],
  save: (part: readonly Finished[]) => Promise<void>,
): Promise<void> {
  const failures: { item: VehicleRecord; message: string }[] = [];
  for (const one of part)
    try {
      await save([one]);
    } catch (error) {
      if (!isBadValue(error)) throw error;
      failures.push({ item: one.record, message: `its forecast can’t be kept: ${saidBy(error)}` });
    }
  if (failures.length > 0) throw new VehiclesFailed(failures);
}

/** What the database said, without the statement and its values. */
const saidBy = (error: unknown): string => {
  const { constraint, code } = Reason.safeParse(error).data ?? {};
  return constraint ? `against ${constraint.replaceAll('_', ' ')}` : `state ${code ?? 'unknown'}`;
};
const Reason = z.looseObject({ constraint: z.string().optional(), code: z.string().optional() });
