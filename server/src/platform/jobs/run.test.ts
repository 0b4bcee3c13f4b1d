import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { createTestApp, type TestApp } from '../../testing/app.ts';
import { JobRunEntity } from './entities.ts';
import { cancelJob, runJob, sweepRuns, type JobTools } from './run.ts';

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
});
afterAll(async () => test.close());

const fork = () => test.orm.em.fork();
const HEARTBEAT_MS = 20;
const run = (name: string, work: (tools: JobTools) => Promise<void>) => runJob(fork, { name }, work, HEARTBEAT_MS);
const runOf = (name: string) => fork().findOneOrFail(JobRunEntity, { name });
const until = async (condition: () => Promise<boolean>) => {
  for (let i = 0; i < 200; i += 1) {
    if (await condition()) return;
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  throw new Error('it did not come to that');
};

describe('a job as it runs', () => {
  it('tells how far it is, and that it is done', async () => {
    let finish = () => {};
    const running = run('far', async ({ progress }) => {
      progress(3, 10);
      await new Promise<void>((resolve) => (finish = resolve));
      progress(10, 10);
    });
    await until(async () => (await fork().count(JobRunEntity, { name: 'far', done: 3, total: 10 })) === 1);
    expect((await runOf('far')).state).toBe('running');
    finish();
    await running;
    expect(await runOf('far')).toMatchObject({ state: 'done', done: 10, total: 10 });
  });

  it('stops where somebody asks, and is not tried again', async () => {
    const running = run('cancelled', async ({ signal }) => {
      await new Promise((_, reject) => signal.addEventListener('abort', () => reject(signal.reason as Error)));
    });
    await until(async () => (await fork().count(JobRunEntity, { name: 'cancelled' })) === 1);
    expect(await cancelJob(fork(), (await runOf('cancelled')).id)).toBe(true);
    await expect(running).resolves.toBeUndefined();
    const ended = await runOf('cancelled');
    expect(ended.state).toBe('cancelled');
    expect(await cancelJob(fork(), ended.id)).toBe(false);
  });

  it('that fails says why and throws on, so that the queue tries again', async () => {
    await expect(run('fails', async () => Promise.reject(new Error('no disk')))).rejects.toThrow('no disk');
    expect(await runOf('fails')).toMatchObject({ state: 'failed', failure: 'Error: no disk' });
  });

  it('whose process died is found, and what ended long ago is forgotten', async () => {
    const silent = (name: string, seconds: number, more = '') =>
      fork().execute(
        `insert into job_run (id, name, state, heartbeat_at${more ? ', ended_at' : ''})
         values (gen_random_uuid(), ?, ?, now() - make_interval(secs => ?)${more})`,
        [name, more ? 'done' : 'running', seconds],
      );
    await silent('died', 45);
    await silent('lives', 15);
    await silent('old', 0, `, now() - interval '8 days'`);
    await sweepRuns(fork());
    expect((await runOf('died')).state).toBe('lost');
    expect((await runOf('lives')).state).toBe('running');
    expect(await fork().count(JobRunEntity, { name: 'old' })).toBe(0);
  });
});
