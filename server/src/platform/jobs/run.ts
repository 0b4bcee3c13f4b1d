import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { rowsOf } from '../db/rows.ts';
import { JobRunEntity } from './entities.ts';

/** What a job has beside its data. */
export interface JobTools {
  /** Aborts where somebody asked for the job to stop. */
  signal: AbortSignal;
  /** Tells how far it is; written down with the next heartbeat. */
  progress: (done: number, total: number) => void;
}

/** How often a running job gives a sign of life and looks whether it is to stop, ms. */
const HEARTBEAT_MS = 2000;
/** Silent for longer than this, a job is lost: its process died, s. With the sweep it is taken up within a minute. */
const LOST_AFTER_S = 30;

/** A run, and the queue's own ids of what it does. */
interface Run {
  name: string;
  queueIds?: readonly string[];
}

/** Somebody asked for the job to stop. */
class JobCancelled extends Error {
  constructor() {
    super('the job was cancelled');
  }
}

/**
 * Runs one job under a row of its own: heartbeat, progress, cancel. A failure is written down and thrown on, so that
 * the queue tries again; a cancelled job ends quietly and is not tried again.
 */
export async function runJob(
  fork: () => EntityManager,
  { name, queueIds = [] }: Run,
  work: (tools: JobTools) => Promise<void>,
  heartbeatMs = HEARTBEAT_MS,
): Promise<void> {
  const id = randomUUID();
  const stop = new AbortController();
  const far: { done: number; total: number | null } = { done: 0, total: null };
  await fork().insert(JobRunEntity, {
    id,
    name,
    queueIds: [...queueIds],
    state: 'running',
    done: 0,
    startedAt: new Date(),
    heartbeatAt: new Date(),
  });
  const beat = async () => {
    const [run] = await rowsOf(
      fork(),
      z.object({ cancel: z.boolean() }),
      `update job_run set heartbeat_at = now(), done = ?, total = ? where id = ? returning cancel_asked_at is not null as cancel`,
      [far.done, far.total, id],
    );
    if (run?.cancel) stop.abort(new JobCancelled());
  };
  const timer = setInterval(() => void beat().catch(() => undefined), heartbeatMs);
  const end = (state: string, failure?: string) =>
    fork().nativeUpdate(JobRunEntity, { id }, { state, ...far, endedAt: new Date(), failure: failure ?? null });
  try {
    await work({ signal: stop.signal, progress: (done, total) => Object.assign(far, { done, total }) });
    await end('done');
  } catch (error) {
    if (stop.signal.aborted) {
      await end('cancelled');
      return;
    }
    await end('failed', String(error).slice(0, 500));
    throw error;
  } finally {
    clearInterval(timer);
  }
}

/** Asks a running job to stop; it does at its next heartbeat. False where it does not run. */
export async function cancelJob(em: EntityManager, id: string): Promise<boolean> {
  return (await em.nativeUpdate(JobRunEntity, { id, state: 'running' }, { cancelAskedAt: new Date() })) > 0;
}

const LostRun = z.object({ name: z.string(), queueIds: z.array(z.string()) });
/** A run whose process died, and the queue's own ids of what it did. */
export type LostRun = z.output<typeof LostRun>;

/**
 * Jobs of the queue that stand as begun though nobody does them: their run could not be begun, or could not be said to have
 * ended (the disk was full, the database gone). They would keep their kind of job waiting until they expire.
 *
 * @param names kinds of jobs that are looked at
 */
export async function abandonedJobs(em: EntityManager, names: readonly string[]): Promise<LostRun[]> {
  return rowsOf(
    em,
    LostRun,
    `select j.name, jsonb_agg(j.id) as "queueIds" from pgboss.job j
     where j.state = 'active' and j.name in (select jsonb_array_elements_text(?::jsonb)) and j.started_on < now() - make_interval(secs => ?)
       and not exists (select from job_run r where r.queue_ids @> jsonb_build_array(j.id)
                         and (r.state = 'running' or r.ended_at > now() - make_interval(secs => ?)))
     group by j.name`,
    [JSON.stringify(names), LOST_AFTER_S, LOST_AFTER_S],
  );
}

/** Marks runs whose process died, and forgets those that ended a week ago. @returns those that died */
export async function sweepRuns(em: EntityManager): Promise<LostRun[]> {
  const lost = await rowsOf(
    em,
    LostRun,
    `update job_run set state = 'lost', ended_at = now()
     where state = 'running' and heartbeat_at < now() - make_interval(secs => ?)
     returning name, queue_ids as "queueIds"`,
    [LOST_AFTER_S],
  );
  await em.execute(`delete from job_run where ended_at < now() - interval '7 days'`);
  return lost;
}
