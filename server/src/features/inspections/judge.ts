import {
  appraiserKeyOf,
  type ReadingInput,
  type ReadingJudgement,
  runHistory,
  type Suspicion,
  type VehicleInput,
} from '@mile-mark/core';
import type { Pool } from '../../platform/compute/pool.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { inTurns, type Watch } from '../../platform/inTurns.ts';
import { loadForecastContext, loadVehicleRecords, vehicleInputOf } from '../forecasts/index.ts';
import { type Doubt, doubtsOf } from './judgeTask.ts';

type Records = Awaited<ReturnType<typeof loadVehicleRecords>>;

/** So many vehicles' records are held at a time. */
const VEHICLES_AT_ONCE = 250;
/** So many of them a thread judges at a time. */
const CHUNK = 5;

/** Judges readings of one vehicle that are not in yet among those that are. */
export async function judgeAmongRecord(
  em: EntityManager,
  vehicleId: string,
  added: ReadingInput[],
  today: string,
): Promise<Map<string, ReadingJudgement>> {
  const judged = new Map<string, ReadingJudgement>();
  await eachWith(em, new Map([[vehicleId, added]]), today, async (own, inputOf) => {
    for (const one of own)
      for (const judgement of runHistory(inputOf(one)).judgements) judged.set(judgement.id, judgement);
  });
  return judged;
}

/**
 * What is suspected of readings of many vehicles, by the reading's id. Others are answered meanwhile; threads of the pool
 * do it, where there are any.
 */
export async function suspicionsAmongRecord(
  em: EntityManager,
  added: ReadonlyMap<string, ReadingInput[]>,
  today: string,
  { pool, ...watch }: Watch & { pool?: Pool | undefined },
): Promise<Map<string, Suspicion>> {
  const suspicions = new Map<string, Suspicion>();
  const keep = (doubts: readonly Doubt[]) => {
    for (const { id, suspicion } of doubts) suspicions.set(id, suspicion);
  };
  await eachWith(em, added, today, (own, inputOf) =>
    pool && pool.threads > 0
      ? inThreads(pool, own, inputOf, { ...watch, keep })
      : inTurns(own, (one) => keep(doubtsOf(inputOf(one))), watch),
  );
  return suspicions;
}

/** No more is under way than threads can do, and one waiting: whoever looks at a sheet waits for it. */
async function inThreads<T>(
  pool: Pool,
  items: readonly T[],
  inputOf: (item: T) => VehicleInput,
  { signal, onDone, keep }: Watch & { keep: (doubts: readonly Doubt[]) => void },
): Promise<void> {
  let next = 0;
  const lane = async () => {
    try {
      while (next < items.length) {
        const part = items.slice(next, (next += CHUNK));
        keep((await pool.run('inspections/doubts', part.map(inputOf), { first: true })) as Doubt[]);
        onDone?.(part.length);
        signal?.throwIfAborted();
      }
    } finally {
      // Where one could not go on, nobody need.
      next = Math.max(next, items.length);
    }
  };
  await Promise.all(Array.from({ length: pool.threads + 1 }, lane));
}

/** Vehicles with the readings that are not in yet, some at a time, and what makes a computation's input of each. */
async function eachWith(
  em: EntityManager,
  added: ReadonlyMap<string, ReadingInput[]>,
  today: string,
  judge: (records: Records, inputOf: (record: Records[number]) => VehicleInput) => Promise<void>,
): Promise<void> {
  const ids = [...added.keys()];
  for (let from = 0; from < ids.length; from += VEHICLES_AT_ONCE) {
    const [context, records] = await Promise.all([
      loadForecastContext(em),
      loadVehicleRecords(em, ids.slice(from, from + VEHICLES_AT_ONCE)),
    ]);
    await judge(records, (record) => {
      const own = added.get(record.id) ?? [];
      const input = vehicleInputOf(record, context, today);
      const appraisers = Object.fromEntries(own.map(appraiserKeyOf).map((key) => [key, context.appraiserOf(key)]));
      return {
        ...input,
        appraisers: { ...input.appraisers, ...appraisers },
        readings: [...input.readings, ...own],
      };
    });
  }
}
