import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { setTimeout } from 'node:timers/promises';
import PgBoss from 'pg-boss';
import { pino } from 'pino';
import { z } from 'zod';
import { createTestApp, type TestApp } from '../../testing/app.ts';
import { type AnyJob, type Jobs, startJobs } from './registry.ts';

/** The queue outlives what stands around it: a process that died, a database that went away and came back. */

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
});
afterAll(async () => test.close());

const Item = z.object({ of: z.string() });
const kind = (name: string) => ({ name, schema: Item, key: ({ of }: z.output<typeof Item>) => of });
const fork = () => test.orm.em.fork();

async function start(name: string, more: { works?: boolean; run?: AnyJob['run'] } = {}) {
  const done: string[] = [];
  const jobs: Jobs = await startJobs({
    databaseUrl: test.databaseUrl,
    fork,
    logger: pino({ level: 'silent' }),
    works: more.works ?? true,
    definitions: () => [
      {
        ...kind(name),
        retry: 3,
        run:
          more.run ?? (async (items: readonly z.output<typeof Item>[]) => void done.push(...items.map(({ of }) => of))),
      },
    ],
    sweep: async () => undefined,
  });
  return { jobs, done };
}
const until = async (condition: () => boolean | Promise<boolean>) => {
  for (let i = 0; i < 200; i += 1) {
    if (await condition()) return;
    await setTimeout(50);
  }
  throw new Error('it did not come to that within 10 s');
};

describe('the job queue', () => {
  it('gives what a dead process was doing to one that lives, long before the job would expire', async () => {
    // A process took the job and died: it stands as begun in the queue, and its run gives no sign of life.
    const boss = new PgBoss({ connectionString: test.databaseUrl });
    await boss.start();
    await boss.createQueue('orphan', { name: 'orphan', policy: 'stately', retryLimit: 3, expireInSeconds: 1800 });
    await boss.send('orphan', { of: 'the dead' }, { singletonKey: 'the dead' });
    const [taken] = await boss.fetch('orphan');
    await boss.stop({ graceful: false, close: true });
    await fork().execute(
      `insert into job_run (id, name, state, queue_ids, heartbeat_at)
       values (?, 'orphan', 'running', ?::jsonb, now() - interval '40 seconds')`,
      [randomUUID(), JSON.stringify([taken?.id])],
    );
    const { jobs, done } = await start('orphan');
    await until(() => done.includes('the dead'));
    await jobs.stop();
    const runs = await fork().execute<{ state: string }[]>(
      `select state from job_run where name = 'orphan' order by state`,
    );
    expect(runs.map(({ state }) => state)).toEqual(['done', 'lost']);
  });

  it('takes up what stands as begun though nobody does it, which would keep all of its kind waiting', async () => {
    // Neither that a job began nor that it failed could be written down: the disk was full.
    const boss = new PgBoss({ connectionString: test.databaseUrl });
    await boss.start();
    await boss.createQueue('stuck', { name: 'stuck', policy: 'stately', retryLimit: 3, expireInSeconds: 1800 });
    const begun: string[] = [];
    for (const which of ['never begun', 'ended untold', 'begun just now', 'told just now']) {
      await boss.send('stuck', { of: which }, { singletonKey: which });
      const [taken] = await boss.fetch('stuck');
      begun.push(taken?.id ?? '');
    }
    await boss.stop({ graceful: false, close: true });
    const [first, second, , fourth] = begun;
    await fork().execute(`update pgboss.job set started_on = now() - interval '40 seconds' where id in (?, ?, ?)`, [
      first,
      second,
      fourth,
    ]);
    const ran = (id: string | undefined, seconds: number) =>
      fork().execute(
        `insert into job_run (id, name, state, queue_ids, heartbeat_at, ended_at)
         values (?, 'stuck', 'failed', ?::jsonb, now(), now() - make_interval(secs => ?))`,
        [randomUUID(), JSON.stringify([id]), seconds],
      );
    await ran(second, 40);
    await ran(fourth, 1);
    const { jobs, done } = await start('stuck');
    await until(() => done.length >= 2);
    // One of a kind and key stands in the way of those that wait; now they get their turn.
    await jobs.ask(kind('stuck'), { of: 'never begun' });
    await until(() => done.length >= 3);
    await jobs.stop();
    expect(done.sort()).toEqual(['ended untold', 'never begun', 'never begun']);
  });

  it('leaves alone what gives signs of life', async () => {
    let finish = () => {};
    const running = new Promise<void>((resolve) => (finish = resolve));
    let begun = 0;
    const run = async () => {
      begun += 1;
      await running;
    };
    const { jobs } = await start('alive', { run });
    await jobs.ask(kind('alive'), { of: 'one' });
    await until(() => begun === 1);
    const other = await start('alive', { run });
    await setTimeout(1500);
    expect(begun).toBe(1);
    finish();
    await Promise.all([jobs.stop(), other.jobs.stop()]);
  });

  it('asks from a process that does none; another does it', async () => {
    const web = await start('asked', { works: false });
    await web.jobs.ask(kind('asked'), { of: 'the web' });
    await setTimeout(1200);
    expect(web.done).toEqual([]);
    const worker = await start('asked');
    await until(() => worker.done.includes('the web'));
    await Promise.all([web.jobs.stop(), worker.jobs.stop()]);
  });

  it('is opened again however often that is asked, and goes on; what ran meanwhile ends as done', async () => {
    let finish = () => {};
    const running = new Promise<void>((resolve) => (finish = resolve));
    const begun: string[] = [];
    const { jobs } = await start('revived', {
      run: async (items: readonly z.output<typeof Item>[]) => {
        begun.push(...items.map(({ of }) => of));
        if (begun.length === 1) await running;
      },
    });
    await jobs.ask(kind('revived'), { of: 'long' });
    await until(() => begun.length === 1);
    for (const _ of [1, 2, 3]) jobs.revive();
    await until(() => jobs.state() === 'down');
    await expect(jobs.ask(kind('revived'), { of: 'meanwhile' })).rejects.toThrow(/queue is down/);
    await until(() => jobs.state() === 'ok');
    finish();
    await jobs.ask(kind('revived'), { of: 'after' });
    await until(() => begun.includes('after'));
    const states = async () =>
      (
        await fork().execute<{ state: string }[]>(
          `select state::text from pgboss.job where name = 'revived' order by created_on`,
        )
      ).map(({ state }) => state);
    await until(async () => (await states()).every((state) => state === 'completed'));
    // What was cut off is done again, as after any death: at least once.
    expect([...new Set(begun)].sort()).toEqual(['after', 'long']);
    await jobs.stop();
  });
});
