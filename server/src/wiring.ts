import type { Logger } from 'pino';
import { catchUp, createComputer, forecastJobs, forecastSubscriber, refreshQueue } from './features/forecasts/index.ts';
import { defectSubscriber } from './features/jobs/index.ts';
import { catchUpParts, partsJobs, partsSubscriber } from './features/parts/index.ts';
import { catchUpPlans, planJobs, planSubscriber } from './features/plan/index.ts';
import { forgetDrafts } from './features/imports/index.ts';
import { makeMovesDue } from './features/register/index.ts';
import { feedJob } from './features/telematics/index.ts';
import { addUpChanges } from './platform/answers/answers.ts';
import type { Pool } from './platform/compute/pool.ts';
import type { Orm } from './platform/db/orm.ts';
import { createBus, type EventBus, forgetTold } from './platform/events/bus.ts';
import { startJobs, type Jobs } from './platform/jobs/registry.ts';

export interface Running {
  events: EventBus;
  jobs: Jobs;
}

/** Wires events to jobs: what happens is told to whoever subscribed, and asks for the work that follows from it. */
export async function startWork(options: {
  /** What requests are answered with. */
  orm: Orm;
  /** What jobs are done with. */
  jobsOrm: Orm;
  databaseUrl: string;
  pool: Pool;
  today: () => string;
  logger: Logger;
  /** Whether jobs are done here, or only asked for. */
  works: boolean;
  feedUrl: string | undefined;
  supplierUrl: string | undefined;
  mailUrl: string | undefined;
}): Promise<Running> {
  const { orm, jobsOrm, databaseUrl, pool, today, logger, works, feedUrl, supplierUrl, mailUrl } = options;
  const fork = () => jobsOrm.em.fork();
  const computer = createComputer(pool);
  let asking: Jobs['ask'] | undefined;
  const ask: Jobs['ask'] = async (kind, data, more) => asking?.(kind, data, more) ?? false;
  const queue = refreshQueue(ask);
  const events = createBus(
    () => orm.em.fork(),
    [forecastSubscriber(queue), defectSubscriber, partsSubscriber(ask), planSubscriber(() => orm.em.fork(), ask)],
  );
  const jobs = await startJobs({
    databaseUrl,
    fork,
    logger,
    works,
    definitions: (own) => {
      asking = own.ask;
      return [
        ...forecastJobs(fork, computer, today, ask, logger),
        feedJob(fork, events, feedUrl),
        ...partsJobs(fork, pool, today, supplierUrl, ask),
        ...planJobs(fork, pool, today, mailUrl, ask),
      ];
    },
    sweep: async () => {
      await makeMovesDue(fork(), today());
      await forgetDrafts(fork());
      await addUpChanges(fork());
      await forgetTold(fork());
      await events.deliver();
      await catchUp(fork(), today(), queue);
      await catchUpParts(fork(), ask);
      await catchUpPlans(fork(), ask);
    },
  });
  return { events, jobs };
}
