import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { runJob, sweepRuns, type JobTools } from './run.ts';

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
  /** Queues a job, to begin at once or after some time. */
  ask: <Data>(kind: JobKind<Data>, data: Data, options?: { afterS?: number }) => Promise<void>;
  stop: () => Promise<void>;
}

/** Look for new jobs this often, s. */
const POLL_S = 0.5;
/** Look for what a dead process left behind this often, ms. */
const SWEEP_MS = 15_000;
const STOP_MS = 5000;

/**
 * The job queue on the same PostgreSQL, shared by any number of processes; every kind of job is named here once.
 *
 * @param sweep called now and every quarter of a minute: finds what was left undone
 */
export async function startJobs(options: {
  databaseUrl: string;
  fork: () => EntityManager;
  logger: Logger;
  definitions: (jobs: Pick<Jobs, 'ask'>) => readonly AnyJob[];
  sweep: (jobs: Pick<Jobs, 'ask'>) => Promise<void>;
}): Promise<Jobs> {
  const { databaseUrl, fork, logger } = options;
  const boss = new PgBoss({ connectionString: databaseUrl, max: 4 });
  boss.on('error', (error: Error) => logger.error({ err: error }, 'job queue'));
  await boss.start();
  const workers = new Map<string, string>();
  const ask: Jobs['ask'] = async (kind, data, { afterS } = {}) => {
    const parsed = kind.schema.parse(data);
    const startAfter = afterS === undefined ? {} : { startAfter: afterS };
    await boss.send(kind.name, parsed as object, { singletonKey: kind.key(parsed), ...startAfter });
    const worker = workers.get(kind.name);
    if (worker && afterS === undefined) boss.notifyWorker(worker);
  };
  for (const job of options.definitions({ ask })) {
    const { name, retry: retryLimit, expiresS, schedule } = job;
    const expiry = expiresS === undefined ? {} : { expireInSeconds: expiresS };
    await boss.createQueue(name, { name, policy: 'stately', retryLimit, ...expiry });
    const worker = await boss.work<unknown>(
      name,
      { pollingIntervalSeconds: POLL_S, batchSize: job.batch ?? 1 },
      async (jobs) => {
        const items = jobs.map(({ data }) => job.schema.parse(data) as unknown);
        await runJob(fork, name, (tools) => job.run(items, tools));
      },
    );
    workers.set(name, worker);
    if (schedule) await boss.schedule(name, schedule.cron, schedule.data as object);
    else await boss.unschedule(name);
  }
  const sweep = async () => {
    await sweepRuns(fork());
    await options.sweep({ ask });
  };
  const timer = setInterval(() => {
    sweep().catch((error: unknown) => logger.error({ err: error }, 'sweep'));
  }, SWEEP_MS);
  timer.unref();
  await sweep();
  return {
    ask,
    stop: async () => {
      clearInterval(timer);
      await boss.stop({ graceful: true, timeout: STOP_MS, close: true });
    },
  };
}
