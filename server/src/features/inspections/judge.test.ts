import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ReadingInput } from '@mile-mark/core';
import { TASKS } from '../../compute.ts';
import type { Pool } from '../../platform/compute/pool.ts';
import { perform } from '../../platform/compute/worker.ts';
import { createDemoDatabase, TODAY } from '../../testing/app.ts';
import { loadForecastContext, loadVehicleRecords, vehicleInputOf } from '../forecasts/index.ts';
import { suspicionsAmongRecord } from './index.ts';

/** Readings of many vehicles are judged by threads as by the thread that answers. */

const VEHICLES = 12;
const MINUTES = 120_000;
/** Friction and backing plate measured together, as it is most often done wrong, mm. */
const PLATE_MM = 6;

let fleet: Awaited<ReturnType<typeof createDemoDatabase>>;
/** Of each vehicle its last reading once more, of every second one with the plate. */
let added: Map<string, ReadingInput[]>;
let wrong: string[];
beforeAll(async () => {
  fleet = await createDemoDatabase(VEHICLES);
  const em = fleet.orm.em.fork();
  const [records, context] = [await loadVehicleRecords(em, 'all'), await loadForecastContext(em)];
  wrong = [];
  added = new Map(
    records.map((record, k) => {
      const last = vehicleInputOf(record, context, TODAY).readings.at(-1) as ReadingInput;
      const id = randomUUID();
      if (k % 2 === 0) wrong.push(id);
      return [record.id, [{ ...last, id, date: TODAY, trust: 'typed', mm: last.mm + (k % 2 === 0 ? PLATE_MM : 0) }]];
    }),
  );
}, MINUTES);
afterAll(() => fleet.close());

/** Threads that do what they are asked after a moment, and count who asks at once. */
function threads(fail?: string) {
  const counts = { tasks: 0, atOnce: 0, most: 0 };
  const pool: Pool = {
    threads: 2,
    run: async (task, input) => {
      counts.tasks += 1;
      counts.most = Math.max(counts.most, (counts.atOnce += 1));
      await new Promise((resolve) => setTimeout(resolve, 20));
      counts.atOnce -= 1;
      if (fail) throw new Error(fail);
      return perform(TASKS, { task, input: structuredClone(input) }, { onProgress: () => undefined });
    },
    close: () => Promise.resolve(),
  };
  return { pool, counts };
}

const judged = (watch: Parameters<typeof suspicionsAmongRecord>[3]) =>
  suspicionsAmongRecord(fleet.orm.em.fork(), added, TODAY, watch);

describe('readings of many vehicles', () => {
  it('are doubted by threads exactly as without, and every vehicle is told as done', async () => {
    let done = 0;
    const { pool, counts } = threads();
    const [alone, together] = [await judged({}), await judged({ pool, onDone: (items) => (done += items) })];
    expect(new Map([...together].sort())).toEqual(new Map([...alone].sort()));
    expect([...together.keys()]).toEqual(expect.arrayContaining(wrong));
    expect(done).toBe(added.size);
    expect(counts.tasks).toBeGreaterThan(1);
    expect(counts.most).toBeLessThanOrEqual(pool.threads + 1);
  });

  it('are left where the look is given up, and where a thread fails', async () => {
    const stop = new AbortController();
    const first = threads();
    const givenUp = judged({ pool: first.pool, signal: stop.signal, onDone: () => stop.abort(new Error('given up')) });
    await expect(givenUp).rejects.toThrow('given up');
    await expect(judged({ pool: threads('no memory').pool })).rejects.toThrow('no memory');
  });
});
