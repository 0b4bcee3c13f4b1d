import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { setTimeout } from 'node:timers/promises';
import { abandonedJobs, type LostRun, runJob, sweepRuns, type JobTools } from './run.ts';

/** A kind of job. */
export interface JobDefinition<Data> {
  name: string;
  /** What it is asked with; what does not fit is never queued, and never run. */
  schema: z.ZodType<Data>;
  /** Jobs of one key that wait are one job. */
  key: (data: Data) => string;
  /** How often it is tried again after a failure. */
  retry: number;
  /** A try that takes longer than this is given up, s. */
  expiresS?: number;
  /** How many are handed over at once. */
  batch?: number;
  /** Somebody waits for it before a screen: another process begins it within half a second, not two. */
  prompt?: boolean;
  /** Runs by itself at these times (cron). */
  schedule?: { cron: string; data: Data } | undefined;
  run: (items: readonly Data[], tools: JobTools) => Promise<void>;
}

/** Any job, whatever its data. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any -- data of each is parsed by its own schema
export type AnyJob = JobDefinition<any>;

/** Asks for a kind of job by its name alone, so that whoever asks need not know how it is done. */
export interface JobKind<Data> {
  name: string;
  schema: z.ZodType<Data>;
  key: (data: Data) => string;
}

export interface Jobs {
  /**
   * Queues a job, to begin at once or after some time; true where none of its key waited already.
   *
   * @throws Error while the queue is down
   */
  ask: <Data>(kind: JobKind<Data>, data: Data, options?: { afterS?: number }) => Promise<boolean>;
  /** Whether jobs are queued and done. */
  state: () => 'ok' | 'down';
  /** Closes the queue and opens it again, with a growing pause until it can be; asked again meanwhile it is one doing. */
  revive: () => void;
  stop: () => Promise<void>;
}

/** Look for new jobs this often, s; what is asked for in the same process begins at once. */
const POLL_S = { prompt: 0.5, patient: 2 };
/** Look for what a dead process left behind this often, ms. */
const SWEEP_MS = 15_000;
const STOP_MS = 5000;
/** The pause before the queue is opened again, at first and at most, ms. */
const PAUSE_MS = { first: 500, most: 10_000 };

interface Options {
  databaseUrl: string;
  fork: () => EntityManager;
  logger: Logger;
  /** Whether jobs are done here; where not, they are only asked for. */
  works: boolean;
  definitions: (jobs: Pick<Jobs, 'ask'>) => readonly AnyJob[];
  sweep: (jobs: Pick<Jobs, 'ask'>) => Promise<void>;
}

/**
 * The job queue on the same PostgreSQL, shared by any number of processes; every kind of job is named here once. It outlives
 * a database that goes away: what could not be queued is found by the sweep.
 *
 * @param sweep called now and every quarter of a minute where jobs are done: finds what was left undone
 */
export async function startJobs(options: Options): Promise<Jobs> {
  const { fork, logger, works } = options;
  let queue: Queue | undefined;
  let swept = true;
  let stopped = false;
  const ask: Jobs['ask'] = async (kind, data, { afterS } = {}) => {
    if (!queue) throw new Error('the job queue is down');
    return queue.send(kind, data, afterS);
  };
  const definitions = options.definitions({ ask });
  const sweep = async () => {
    if (!works || !queue) return;
    try {
      await queue.takeUp(await sweepRuns(fork()));
      const names = definitions.map(({ name }) => name);
      await queue.takeUp(await abandonedJobs(fork(), names));
      await options.sweep({ ask });
      swept = true;
    } catch (error) {
      swept = false;
      throw error;
    }
  };
  const open = async () => {
    queue = await openQueue(options, definitions, () => queue);
    await sweep();
  };
  const again = async () => {
    await close(queue);
    queue = undefined;
    for (let pause = PAUSE_MS.first; !stopped; pause = Math.min(2 * pause, PAUSE_MS.most)) {
      await setTimeout(pause);
      try {
        return await open();
      } catch (error) {
        logger.error({ err: error }, 'the job queue could not be opened');
        await close(queue);
        queue = undefined;
      }
    }
    return undefined;
  };
  let reviving: Promise<void> | undefined;
  const timer = setInterval(() => {
    sweep().catch((error: unknown) => logger.error({ err: error }, 'sweep'));
  }, SWEEP_MS);
  timer.unref();
  await open();
  return {
    ask,
    state: () => (queue && swept ? 'ok' : 'down'),
    revive: () => {
      reviving ??= again().finally(() => (reviving = undefined));
    },
    stop: async () => {
      stopped = true;
      clearInterval(timer);
      await reviving;
      await close(queue, true);
    },
  };
}

interface Queue {
  send: <Data>(kind: JobKind<Data>, data: Data, afterS?: number) => Promise<boolean>;
  /** Gives jobs of dead processes to whoever is there. */
  takeUp: (lost: readonly LostRun[]) => Promise<void>;
  /** Says of jobs that outlived the queue they came from that they are done. */
  complete: (name: string, ids: string[]) => Promise<void>;
  close: (graceful: boolean) => Promise<void>;
}

/** One opening of the queue; `present` is the one that is open when a job ends, which may be another by then. */
async function openQueue(
  { databaseUrl, fork, logger, works }: Options,
  definitions: readonly AnyJob[],
  present: () => Queue | undefined,
): Promise<Queue> {
  const boss = new PgBoss({ connectionString: databaseUrl, max: 4, supervise: works, schedule: works });
  boss.on('error', (error: Error) => logger.error({ err: error }, 'job queue'));
  const workers = new Map<string, string>();
  const queue: Queue = {
    send: async (kind, data, afterS) => {
      const parsed = kind.schema.parse(data);
      const startAfter = afterS === undefined ? {} : { startAfter: afterS };
      const id = await boss.send(kind.name, parsed as object, { singletonKey: kind.key(parsed), ...startAfter });
      const worker = workers.get(kind.name);
      if (worker && afterS === undefined) boss.notifyWorker(worker);
      return id !== null;
    },
    takeUp: async (lost) => {
      for (const { name, queueIds } of lost)
        for (const id of queueIds) await boss.fail(name, id, { message: 'whoever did it is gone' });
    },
    complete: async (name, ids) => boss.complete(name, ids),
    close: async (graceful) => boss.stop({ graceful, timeout: STOP_MS, close: true, wait: graceful }),
  };
  try {
    await boss.start();
    for (const job of definitions) {
      const { name, retry: retryLimit, expiresS, schedule } = job;
      const expiry = expiresS === undefined ? {} : { expireInSeconds: expiresS };
      await boss.createQueue(name, { name, policy: 'stately', retryLimit, ...expiry });
      if (!works) continue;
      const worker = await boss.work<unknown>(
        name,
        { pollingIntervalSeconds: job.prompt ? POLL_S.prompt : POLL_S.patient, batchSize: job.batch ?? 1 },
        async (jobs) => {
          const items = jobs.map(({ data }) => job.schema.parse(data) as unknown);
          const ids = jobs.map(({ id }) => id);
          await runJob(fork, { name, queueIds: ids }, (tools) => job.run(items, tools));
          const now = present();
          if (now && now !== queue) await now.complete(name, ids);
        },
      );
      workers.set(name, worker);
      if (schedule) await boss.schedule(name, schedule.cron, schedule.data as object);
      else await boss.unschedule(name);
    }
    return queue;
  } catch (error) {
    await close(queue);
    throw error;
  }
}

/** Closes a queue; where its database is gone there is nothing to say to it. */
async function close(queue: Queue | undefined, graceful = false): Promise<void> {
  await queue?.close(graceful).catch(() => undefined);
}
