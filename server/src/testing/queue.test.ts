import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { pino } from 'pino';
import { computePool } from '../compute.ts';
import { refreshQueue, refreshVehicles } from '../features/forecasts/index.ts';
import type { EntityManager, Orm } from '../platform/db/orm.ts';
import { connect, CONNECTIONS } from '../schema.ts';
import { startWork } from '../wiring.ts';
import { createTestApp, fillSmallFleet, type TestApp, TODAY, localComputer } from './app.ts';

let test: TestApp;
let jobsOrm: Orm;
let gaugeId: string;

beforeAll(async () => {
  test = await createTestApp({ longApart: true });
  ({ gaugeId } = await fillSmallFleet(test));
  jobsOrm = await connect(test.databaseUrl, CONNECTIONS.jobs);
});
afterAll(async () => {
  await jobsOrm.close(true);
  await test.close();
});

const behind = async (orm = test.orm) => {
  const rows = await orm.em
    .fork()
    .execute<{ unit: string }[]>(
      `select v.unit from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id where f.input_rev is null or f.input_rev < v.input_rev order by 1`,
    );
  return rows.map(({ unit }) => unit);
};
const until = async (condition: () => Promise<boolean>) => {
  for (let i = 0; i < 100; i += 1) {
    if (await condition()) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('it did not come to that within 10 s');
};
const start = async () => {
  const { orm, databaseUrl } = test;
  const logger = pino({ level: 'silent' });
  const { jobs } = await startWork({
    orm,
    jobsOrm,
    databaseUrl,
    pool: computePool(0),
    today: () => TODAY,
    logger,
    works: true,
    feedUrl: undefined,
    supplierUrl: undefined,
    mailUrl: undefined,
  });
  return { ...refreshQueue(jobs.ask), stop: jobs.stop };
};

describe('the refresh of forecasts', () => {
  it('is done by a job, for what was asked', async () => {
    const queue = await start();
    try {
      await test.orm.em.fork().execute(`update vehicle set input_rev = input_rev + 1 where unit = 'P1'`);
      expect(await behind()).toEqual(['P1']);
      const [row] = await test.orm.em.fork().execute<{ id: string }[]>(`select id from vehicle where unit = 'P1'`);
      await queue.vehicles([row?.id ?? '']);
      await until(async () => (await behind()).length === 0);
    } finally {
      await queue.stop();
    }
  });

  it('catches up with what a killed process left behind', async () => {
    // A write whose process died before it could ask for a refresh: the row says that it is behind.
    await test.orm.em.fork().execute('update vehicle set input_rev = input_rev + 1');
    expect(await behind()).toEqual(['P1', 'P2']);
    const queue = await start();
    try {
      await until(async () => (await behind()).length === 0);
    } finally {
      await queue.stop();
    }
  });

  it('gives the same marks for the same record, and stores version, seed and hash of the input', async () => {
    const read = () =>
      test.orm.em
        .fork()
        .execute<{ mark: unknown; input_hash: string; seed: number }[]>(
          'select mark, input_hash, model_version, seed from forecast order by vehicle_id, axle',
        );
    const before = await read();
    await test.orm.em.fork().execute('delete from forecast');
    await test.orm.em.fork().execute('update vehicle set input_rev = input_rev + 1');
    const queue = await start();
    try {
      await queue.fleet();
      await until(async () => (await behind()).length === 0);
    } finally {
      await queue.stop();
    }
    expect(await read()).toEqual(before);
    expect(before[0]?.input_hash).toMatch(/^[0-9a-f]{64}$/);
  });

  it('recomputes at its start what an older version of the model left, and how past forecasts came out', async () => {
    await test.orm.em
      .fork()
      .execute(`update forecast set model_version = 'older', input_hash = 'another', pads = '[]'`);
    await test.orm.em.fork().execute('delete from validation');
    const left = async () => {
      const [row] = await test.orm.em.fork().execute<{ old: number; validated: number }[]>(
        `select (select count(*)::int from forecast where model_version = 'older' or pads = '[]') as old,
             (select count(*)::int from validation) as validated`,
      );
      return row;
    };
    const queue = await start();
    try {
      await until(async () => JSON.stringify(await left()) === JSON.stringify({ old: 0, validated: 1 }));
    } finally {
      await queue.stop();
    }
  });

  it('never writes a result over one that rests on a newer record', async () => {
    const em = test.orm.em.fork();
    const newer = { newer: true };
    const mark = `update forecast set input_rev = 1000000, input_hash = 'of a newer record', mark = ?::jsonb`;
    await em.execute(mark, [JSON.stringify(newer)]);
    await em.execute('update vehicle_forecast set input_rev = 1000000, detail = ?::jsonb', [JSON.stringify(newer)]);
    const ids = (await em.execute<{ id: string }[]>('select id from vehicle')).map(({ id }) => id);
    await refreshVehicles(test.orm.em.fork(), localComputer(), ids, TODAY);
    const kept = await em.execute<{ mark: unknown }[]>(
      'select mark from forecast union all select detail from vehicle_forecast',
    );
    expect(kept.length).toBeGreaterThan(ids.length);
    for (const { mark: found } of kept) expect(found).toEqual(newer);
  });
});

/** Takes so many connections and keeps them. @returns what gives them back */
async function hold(orm: Orm, count: number): Promise<() => Promise<unknown>> {
  const held = Array.from({ length: count }, () => orm.em.fork());
  for (const em of held) await em.begin();
  return () => Promise.all(held.map((em) => em.rollback()));
}

/** How many transactions wait for a row that another holds. */
async function waitingForLocks(em: EntityManager): Promise<number> {
  const [row] = await em.execute<{ n: number }[]>(
    `select count(*)::int as n from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`,
  );
  return row?.n ?? 0;
}

describe('connections', () => {
  it('of jobs are their own: a job is done while requests hold all of theirs', async () => {
    const other = await connect(test.databaseUrl, 1);
    const queue = await start();
    await test.orm.em.fork().execute(`update vehicle set input_rev = input_rev + 1 where unit = 'P1'`);
    const [row] = await test.orm.em.fork().execute<{ id: string }[]>(`select id from vehicle where unit = 'P1'`);
    const giveBack = await hold(test.orm, CONNECTIONS.requests);
    try {
      await queue.vehicles([row?.id ?? '']);
      await until(async () => (await behind(other)).length === 0);
    } finally {
      await giveBack();
      await queue.stop();
      await other.close(true);
    }
  });

  it('are left to who reads while many write about one vehicle, and all that was written is in', async () => {
    const [coordinator, other] = [await test.as('coordinator'), await connect(test.databaseUrl, 1)];
    const held = other.em.fork();
    await held.begin();
    await held.execute(`select 1 from vehicle where unit = 'P1' for update`);
    const notes = Array.from({ length: 2 * CONNECTIONS.requests }, (_, i) => `note ${i}`);
    const writing = notes.map((note, i) =>
      coordinator
        .post('/api/readings')
        .send({
          inspection: { id: randomUUID(), unit: 'P1', gaugeId, date: TODAY, odometer: '39,863 mi', note },
          readings: [{ id: randomUUID(), axle: 1, side: 'left', pad: 'inner', thickness: (6 + i / 10).toFixed(1) }],
        })
        .then(({ status }) => status),
    );
    try {
      await until(async () => (await waitingForLocks(held)) > 2);
      for (const path of ['/api/mile-marks', '/api/vehicles', '/api/gauges']) await coordinator.get(path).expect(200);
      expect(await waitingForLocks(held)).toBeLessThanOrEqual(CONNECTIONS.requests - 2);
    } finally {
      await held.rollback();
      await other.close(true);
    }
    expect(await Promise.all(writing)).toEqual(notes.map(() => 201));
  });

  it('of long work are their own: a file is looked at and an archive written while requests hold all of theirs', async () => {
    const coordinator = await test.as('coordinator');
    const giveBack = await hold(test.orm, CONNECTIONS.requests);
    try {
      const text = 'unit,date,odometer_mi\nP1,2026-02-21,39900\n';
      const { body } = await coordinator.post('/api/imports').send({ fileName: 'odometers.csv', text, dryRun: true });
      expect(body.counts).toBeDefined();
      await coordinator.get('/api/imports').expect(200);
      const archive = await coordinator.get('/api/archive').expect(200);
      expect(archive.type).toBe('application/zip');
    } finally {
      await giveBack();
    }
  });

  it('of requests are their own: they are answered while jobs hold all of theirs', async () => {
    const giveBack = await hold(jobsOrm, CONNECTIONS.jobs);
    try {
      const coordinator = await test.as('coordinator');
      await coordinator.get('/api/mile-marks').expect(200);
    } finally {
      await giveBack();
    }
  });
});
