import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import type { Orm } from '../db/orm.ts';
import type { Computer } from './compute.ts';
import { pollFeed } from './pollFeed.ts';
import { MODEL_VERSION, refreshFleet, refreshVehicles } from './refresh.ts';

/** Asks for forecasts to be brought up to date; the work is done by a job. */
export interface RefreshQueue {
  vehicles(ids: string[]): Promise<void>;
  fleet(): Promise<void>;
  /** New readings or studies came: the hands are learnt anew before long, once for all that came meanwhile. */
  handsSoon(): Promise<void>;
  /** Reads the telematics feed, where there is one. */
  feed(): Promise<void>;
}

const VEHICLE = 'refresh-vehicle';
const FLEET = 'refresh-fleet';
const HANDS = 'learn-hands';
const FEED = 'poll-feed';
const FEED_EVERY = '*/15 * * * *';
/** How long new readings may wait before the hands are learnt anew, seconds. */
const HANDS_AFTER_S = 300;
const SWEEP_MS = 15_000;

/**
 * The job queue on the same PostgreSQL. That a vehicle's forecast is behind stands in its row (input_rev), so
 * nothing is lost where a process dies between a write and its job: a sweep finds what is behind.
 */
export async function startQueue(
  databaseUrl: string,
  orm: Orm,
  computer: Computer,
  today: () => string,
  logger: Logger,
  feedUrl?: string,
): Promise<RefreshQueue & { stop(): Promise<void> }> {
  const boss = new PgBoss({ connectionString: databaseUrl, max: 4 });
  boss.on('error', (error: Error) => logger.error({ err: error }, 'job queue'));
  await boss.start();
  await boss.createQueue(VEHICLE, { name: VEHICLE, policy: 'stately', retryLimit: 3 });
  await boss.createQueue(FLEET, { name: FLEET, policy: 'stately', retryLimit: 3, expireInSeconds: 1800 });
  await boss.createQueue(HANDS, { name: HANDS, policy: 'stately', retryLimit: 3 });
  await boss.createQueue(FEED, { name: FEED, policy: 'stately', retryLimit: 0 });
  const options = { pollingIntervalSeconds: 0.5, batchSize: 1 };
  const vehicleWorker = await boss.work<{ id: string }>(VEHICLE, { ...options, batchSize: 25 }, async (jobs) => {
    await refreshVehicles(
      orm.em.fork(),
      computer,
      jobs.map(({ data }) => data.id),
      today(),
    );
  });
  const fleetWorker = await boss.work(FLEET, options, async () => {
    await refreshFleet(orm.em.fork(), computer, today());
  });

  await boss.work(HANDS, options, async () => queue.fleet());
  const feedWorker = await boss.work(FEED, options, async () => {
    if (!feedUrl) return;
    const changed = await pollFeed(() => orm.em.fork(), feedUrl);
    if (changed.length > 20) await queue.fleet();
    else await queue.vehicles(changed);
  });
  if (feedUrl) await boss.schedule(FEED, FEED_EVERY);
  else await boss.unschedule(FEED);

  const queue: RefreshQueue = {
    vehicles: async (ids) => {
      for (const id of ids) await boss.send(VEHICLE, { id }, { singletonKey: id });
      boss.notifyWorker(vehicleWorker);
    },
    fleet: async () => {
      await boss.send(FLEET, {}, { singletonKey: 'fleet' });
      boss.notifyWorker(fleetWorker);
    },
    handsSoon: async () => {
      await boss.send(HANDS, {}, { singletonKey: 'hands', startAfter: HANDS_AFTER_S });
    },
    feed: async () => {
      await boss.send(FEED, {}, { singletonKey: 'feed' });
      boss.notifyWorker(feedWorker);
    },
  };
  const sweep = async () => {
    const behind = await orm.em.fork().execute<{ id: string }[]>(
      `select v.id from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id
       where f.vehicle_id is null or f.input_rev < v.input_rev or f.today <> ?::date
         or exists (select 1 from forecast x where x.vehicle_id = v.id and x.model_version <> ?)`,
      [today(), MODEL_VERSION],
    );
    const [{ validated } = { validated: true }] = await orm.em
      .fork()
      .execute<{ validated: boolean }[]>(
        'select exists (select 1 from validation) or not exists (select 1 from vehicle) as validated',
      );
    if (behind.length > 20 || !validated) await queue.fleet();
    else if (behind.length > 0) await queue.vehicles(behind.map(({ id }) => id));
  };
  const timer = setInterval(() => {
    sweep().catch((error: unknown) => logger.error({ err: error }, 'sweep'));
  }, SWEEP_MS);
  timer.unref();
  await sweep();
  await queue.feed();
  return {
    ...queue,
    stop: async () => {
      clearInterval(timer);
      await boss.stop({ graceful: true, timeout: 5000, close: true });
    },
  };
}
