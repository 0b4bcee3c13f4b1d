import type { RiskPolicy, VehicleForecast, VehicleInput } from '@mile-mark/core';
import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { isBadValue } from '../../../platform/db/faults.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { holdVehicles, policyOf } from '../../register/index.ts';
import type { ComputeOptions, Computer } from '../computer.ts';
import { vehicleInputOf } from '../input.ts';
import { type ForecastContext, loadForecastContext } from '../queries/context.ts';
import { loadVehicleRecords, readInPortions } from '../queries/records.ts';
import type { VehicleRecord } from '../record.ts';
import { backtestFleet } from './backtest.ts';
import { calibrateFleet } from './calibrateFleet.ts';
import { rememberContext } from './contextHistory.ts';
import { type Fleet, learnDrift } from './learnAppraisers.ts';
import { learnDuty } from './learnDuty.ts';
import { learnFleet } from './learnFleet.ts';
import { learnProcess } from './learnProcess.ts';
import { eachOf, forgetFailures, saveOneByOne, withoutFailing } from './failures.ts';
import { type Finished, MODEL_VERSION, saveForecasts } from './saveForecasts.ts';

/** Recomputes the forecasts of the named vehicles under the groups' stored priors. */
export async function refreshVehicles(
  em: EntityManager,
  computer: Computer,
  ids: string[],
  today: string,
  tools: ComputeOptions = {},
): Promise<void> {
  const [records, context] = await Promise.all([loadVehicleRecords(em, ids), loadForecastContext(em)]);
  await withoutFailing({ em, computer, records, today, tools }, (fleet) => refreshRecords(fleet, context));
}

/**
 * Learns the groups' levels and the appraisers from the whole fleet, then recomputes what that or anything else changed.
 * Marks behind their records come first, with what is known so far: learning takes longer than a person waits.
 */
export async function refreshFleet(
  em: EntityManager,
  computer: Computer,
  today: string,
  tools: ComputeOptions = {},
): Promise<void> {
  await refreshBehind({ em, computer, today, tools });
  const records = await loadVehicleRecords(em, 'all');
  await withoutFailing({ em, computer, records, today, tools }, learnAndRefresh);
}

async function learnAndRefresh(fleet: Fleet): Promise<void> {
  await learnDuty(fleet);
  // Vehicles are asked with what is known, until they teach nothing new; what scatters about it, and
  // how biases drifted, is asked last, and where it turns out another they are asked again. Once anything is another than
  // before, all goes to where it rests: what is taken in and taken back leaves little trace of the way between.
  let moved = false;
  const again = new Set<string>();
  for (let turn = 0; turn < MOST_TURNS; turn += 1) {
    for (let round = 0; round < MOST_ROUNDS; round += 1) {
      if (!(await learnFleet(fleet, { damped: round >= DAMPED_FROM, moved }))) break;
      moved = true;
    }
    const scatters = await learnProcess(fleet, { moved, again });
    const drifted = await learnDrift(fleet, moved || scatters);
    if (!scatters && !drifted) break;
    moved = true;
  }
  await calibrateFleet(fleet);
  await refreshRecords(fleet, await loadForecastContext(fleet.em));
  await backtestFleet(fleet);
  await rememberContext(fleet);
}

/** More rounds than this are not made at a time; the next refresh goes on. */
const MOST_ROUNDS = 8;
/** From this round on what is learnt goes half-way: two that swing about what both agree on come to rest. */
const DAMPED_FROM = 3;
const MOST_TURNS = 3;

/** Vehicles that are read, and then computed, together where all that are behind come first. */
const PORTION = 200;

/** Recomputes what changed since it was last computed, with what is known so far: some are read while others are computed. */
async function refreshBehind({ em, computer, today, tools }: Omit<Fleet, 'records'>): Promise<void> {
  const behind = await rowsOf(
    em,
    z.object({ id: z.string() }),
    `select v.id from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id
     where coalesce(f.input_rev, -1) < v.input_rev order by v.unit`,
  );
  if (behind.length === 0) return;
  const ids = behind.map(({ id }) => id);
  const [stands] = await rowsOf(
    em,
    z.object({ learnt: z.boolean() }),
    'select exists (select 1 from validation) as learnt',
  );
  const context = await loadForecastContext(em);
  const read = (from: number) => readInPortions(em, ids.slice(from, from + PORTION));
  let records = await read(0);
  for (let i = 0; i < ids.length; i += PORTION) {
    const progress = (done: number) => tools.progress?.(i + done, ids.length);
    const fleet = { em, computer, records, today, tools: { ...tools, progress } };
    const [following] = await Promise.all([
      read(i + PORTION),
      withoutFailing(fleet, (sound) => refreshRecords(sound, context, !stands?.learnt)),
    ]);
    records = following;
  }
}

const Known = z.object({ vehicle_id: z.string(), input_hash: z.string() });

/**
 * @param unlearnt nothing was learnt of the fleet yet: marks are given, but no change of wear is told that the fleet may
 *   soon explain, and all is computed once more
 */
async function refreshRecords(fleet: Fleet, context: ForecastContext, unlearnt = false): Promise<void> {
  const { em, computer, today, tools } = fleet;
  const records = fleet.records.filter(({ leftOn }) => leftOn === null);
  const departed = fleet.records.filter(({ leftOn }) => leftOn !== null);
  const taskOf = ({ record }: { record: VehicleRecord }) => ({
    input: vehicleInputOf(record, context, today),
    policy: policyOf(context.settings, record.model.class),
  });
  const known = await rowsOf(
    em,
    Known,
    'select distinct on (vehicle_id) vehicle_id, input_hash from forecast where vehicle_id = any(?::uuid[])',
    [uuidArray(records.map(({ id }) => id))],
  );
  const hashById = new Map(known.map(({ vehicle_id, input_hash }) => [vehicle_id, input_hash]));
  const jobs = await eachOf(records, (record) => ({
    record,
    hash: `${unlearnt ? UNLEARNT : ''}${hashOf(taskOf({ record }))}`,
  }));
  const changed = jobs.filter(({ record, hash }) => hashById.get(record.id) !== hash);
  const unchanged = jobs.filter(({ record, hash }) => hashById.get(record.id) === hash);
  const saveTogether = (part: readonly Finished[]) =>
    em.transactional((inner) => saveForecasts(inner, part, today, unlearnt));
  const save = async (jobs: typeof changed, forecasts: readonly VehicleForecast[]) => {
    const part = jobs.map((job, k): Finished => ({ ...job, forecast: forecasts[k] as VehicleForecast }));
    try {
      await saveTogether(part);
    } catch (error) {
      if (!isBadValue(error)) throw error;
      await saveOneByOne(part, saveTogether);
    }
  };
  // A part is saved while the next is computed: the forecasts of a large fleet are never all in memory at once.
  let waiting: { part: typeof changed; forecasts: VehicleForecast[] } | undefined;
  for (let i = 0; i < changed.length; i += PART) {
    const part = changed.slice(i, i + PART);
    const progress = (done: number) => tools.progress?.(i + done, changed.length);
    const [forecasts] = await Promise.all([
      computer.forecasts(part, taskOf, { ...tools, progress }),
      waiting && save(waiting.part, waiting.forecasts),
    ]);
    waiting = { part, forecasts };
  }
  if (waiting) await save(waiting.part, waiting.forecasts);
  if (unchanged.length + departed.length > 0) await noteUnchanged(em, unchanged, departed);
}

/** Notes that what rests on the same as before is as new as the vehicle, and takes the marks of those that left. */
async function noteUnchanged(
  em: EntityManager,
  unchanged: readonly { record: VehicleRecord }[],
  departed: readonly VehicleRecord[],
): Promise<void> {
  await em.transactional(async (inner) => {
    await holdVehicles(inner, [...unchanged.map(({ record }) => record.id), ...departed.map(({ id }) => id)]);
    await inner.execute(
      `update vehicle_forecast f set input_rev = greatest(f.input_rev, t.input_rev)
       from jsonb_to_recordset(?::jsonb) as t(vehicle_id uuid, input_rev int) where f.vehicle_id = t.vehicle_id and f.input_rev < t.input_rev`,
      [JSON.stringify(unchanged.map(({ record }) => ({ vehicle_id: record.id, input_rev: record.inputRev })))],
    );
    // Who left has no mark; what was last known of it stays for its page.
    const ids = uuidArray(departed.map(({ id }) => id));
    await inner.execute('delete from forecast where vehicle_id = any(?::uuid[])', [ids]);
    await inner.execute(
      `update vehicle_forecast f set input_rev = v.input_rev from vehicle v
       where v.id = f.vehicle_id and f.vehicle_id = any(?::uuid[])`,
      [ids],
    );
    await forgetFailures(inner, [...unchanged.map(({ record }) => record.id), ...departed.map(({ id }) => id)]);
  });
}

/** Before the hash of an input that nothing of the fleet had gone into: never the same as one that it had. */
const UNLEARNT = 'unlearnt:';
/** Vehicles whose forecasts are computed, and then saved, together. */
const PART = 50;

function hashOf({ input, policy }: { input: VehicleInput; policy: RiskPolicy }): string {
  return createHash('sha256')
    .update(JSON.stringify([MODEL_VERSION, input, policy]))
    .digest('hex');
}
