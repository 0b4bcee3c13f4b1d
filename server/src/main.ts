import { readFileSync } from 'node:fs';
import { createServer as createHttp } from 'node:http';
import { createServer as createHttps } from 'node:https';
import type { AddressInfo } from 'node:net';
import type { Logger } from 'pino';
import { createApp } from './app.ts';
import { computePool } from './compute.ts';
import { type Config, readConfig } from './config.ts';
import { DEMO_PASSWORD, DEMO_TODAY, STAFF } from './demo/cast.ts';
import { startDemoFeed } from './demo/feed.ts';
import { fillDemo } from './demo/fill.ts';
import { insertParts } from './demo/fillParts.ts';
import { ensureDemoLibrary } from './demo/library.ts';
import { insertShops } from './demo/fillShops.ts';
import { startDemoMail, startDemoSupplier } from './demo/supplier.ts';
import { createComputer, refreshFleet } from './features/forecasts/index.ts';
import { actorOf, PersonEntity, SESSION_COOKIE } from './features/people/index.ts';
import { reachOf } from './features/plan/index.ts';
import { planParts } from './features/parts/index.ts';
import { ensureShippedLimits } from './features/register/index.ts';
import { ensureShippedJoints } from './features/specifications/index.ts';
import { askForFeed, pollFeed } from './features/telematics/index.ts';
import { createAnswers } from './platform/answers/answers.ts';
import type { Pool } from './platform/compute/pool.ts';
import { isDatabaseGone } from './platform/db/faults.ts';
import { type EntityManager, migrate } from './platform/db/orm.ts';
import { createLogger } from './platform/log.ts';
import { createBus } from './platform/events/bus.ts';
import type { Jobs } from './platform/jobs/registry.ts';
import { connect, CONNECTIONS } from './schema.ts';
import { createGate, type Gate } from './stop.ts';
import { startWork } from './wiring.ts';

const VERSION = '0.1.0';

/** A word for what was built, as the build wrote it down beside it; the version, where it was not built that way. */
function buildWord(): string {
  try {
    return readFileSync(new URL('build.txt', import.meta.url), 'utf8');
  } catch {
    return VERSION;
  }
}

/** Starts the server: the one place that wires database, jobs and HTTP together. */
async function main(): Promise<void> {
  const config = readConfig(process.env);
  const logger = createLogger(config.logLevel);
  const orm = await connect(config.databaseUrl);
  // Who only asks for jobs needs no connections to do them.
  const jobsOrm = config.role === 'web' ? orm : await connect(config.databaseUrl, CONNECTIONS.jobs);
  await migrate(orm);
  const fork = () => orm.em.fork();
  await ensureShippedLimits(fork());
  await ensureShippedJoints(fork());
  const today = () => config.today ?? (config.demo ? DEMO_TODAY : localToday());
  const pool = computePool();
  const services = await standins(config, { fork, pool, today });
  const work = {
    orm,
    jobsOrm,
    pool,
    today,
    logger,
    databaseUrl: config.databaseUrl,
    works: config.role !== 'web',
    ...services,
  };
  const { events, jobs } = await startWork(work);
  keepUp(logger, jobs);
  if (work.works) await askForFeed(jobs).catch((error: unknown) => logger.error({ err: error }, 'asking for the feed'));
  const ends: (() => Promise<unknown>)[] = [
    () => jobs.stop(),
    () => pool.close(),
    () => orm.close(true),
    ...(jobsOrm === orm ? [] : [() => jobsOrm.close(true)]),
  ];
  if (config.role !== 'worker') {
    const longOrm = await connect(config.databaseUrl, CONNECTIONS.long);
    ends.push(() => longOrm.close(true));
    const app = createApp({
      ...{ orm, longOrm, logger, events, jobs, actorOf, reachOf, today, pool, answers: createAnswers() },
      sessionCookie: SESSION_COOKIE,
      demo: config.demo,
      feedConnected: services.feedUrl !== undefined,
      trustProxy: config.trustProxy,
      secure: config.tls !== undefined || config.trustProxy > 0,
      webFolder: config.webFolder,
      version: VERSION,
      build: buildWord(),
    });
    ends.unshift(listen(config, createGate(app), today));
  } else process.stdout.write(`\nMile Mark does its jobs here  (today is ${today()})\n`);
  stopWhenAsked(ends);
}

interface Ground {
  fork: () => EntityManager;
  pool: Pool;
  today: () => string;
}

/** The services outside, or in a demo their stand-ins; an empty demo is filled on the way. */
async function standins(config: Config, { fork, pool, today }: Ground) {
  const { feedUrl, supplierUrl, mailUrl, demo, vehicles, role } = config;
  if (!demo || role === 'web') return { feedUrl, supplierUrl, mailUrl };
  const filling = (await fork().count(PersonEntity)) === 0;
  if (filling) await fillDemo(fork(), vehicles);
  else {
    await ensureDemoLibrary(fork());
    // Whole or not at all: a start that is killed half-way leaves nothing half there.
    await fork().transactional((inner) => insertParts(inner));
    await fork().transactional((inner) => insertShops(inner));
  }
  const own = {
    feedUrl: feedUrl ?? (await startDemoFeed(fork())),
    supplierUrl: supplierUrl ?? (await startDemoSupplier()),
    mailUrl: mailUrl ?? (await startDemoMail()),
  };
  if (filling) {
    // The feed is read before the first forecasts, so that they know what was driven; nobody need be told of it.
    await pollFeed(fork, createBus(fork, []), own.feedUrl);
    await refreshFleet(fork(), createComputer(pool), today());
    await planParts(fork(), pool, today());
  }
  return own;
}

/**
 * What nobody waited for does not end the server: it is written down, and the queue, whose library leaves such failures
 * behind when its database goes away, is opened anew. Any other fault leaves the process in an unknown state: it ends, and
 * whoever supervises it starts it again.
 */
function keepUp(logger: Logger, jobs: Pick<Jobs, 'revive'>): void {
  process.on('unhandledRejection', (error) => {
    logger.error({ err: error }, 'a failure nobody waited for');
    jobs.revive();
  });
  process.on('uncaughtException', (error) => {
    logger.error({ err: error }, 'a fault nobody caught');
    if (isDatabaseGone(error)) jobs.revive();
    else process.exit(1);
  });
}

/** Answers requests. @returns what ends it: requests under way are finished, those that come meanwhile refused */
function listen(config: Config, gate: Gate, today: () => string): () => Promise<unknown> {
  const server = config.tls
    ? createHttps({ cert: readFileSync(config.tls.certFile), key: readFileSync(config.tls.keyFile) }, gate.listener)
    : createHttp(gate.listener);
  // Longer than any client or proxy keeps a connection idle: none is closed under a request just sent.
  server.keepAliveTimeout = 75_000;
  server.on('error', (error: NodeJS.ErrnoException) => {
    process.stderr.write(
      error.code === 'EADDRINUSE' ? `Port ${config.port} is taken; set PORT to another.\n` : `${error.message}\n`,
    );
    // Nothing that is started again would find it otherwise.
    process.exit(NOT_AGAIN);
  });
  server.listen(config.port, config.host, () => {
    const { port } = server.address() as AddressInfo;
    process.stdout.write(
      `\nMile Mark is at ${config.tls ? 'https' : 'http'}://${config.host}:${port}  (today is ${today()})\n`,
    );
    if (config.demo) {
      process.stdout.write(`Demo sign-ins, password ${DEMO_PASSWORD}:\n`);
      for (const { address, role } of STAFF) process.stdout.write(`  ${address}@linden-vale.example  (${role})\n`);
    }
    process.stdout.write('Ctrl-C stops everything.\n');
  });
  return () => gate.close(server);
}

/** How a process ends that must not be started again as it was: what it was told is wrong. */
const NOT_AGAIN = 78;

function stopWhenAsked(ends: readonly (() => Promise<unknown>)[]): void {
  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    for (const end of ends) await end();
    process.exit(0);
  };
  process.on('SIGINT', () => void stop());
  process.on('SIGTERM', () => void stop());
  // Started by the start script: when that is gone, so are we.
  if (process.connected) process.on('disconnect', () => void stop());
}

/** The calendar day where the server stands. */
function localToday(): string {
  const now = new Date();
  const two = (value: number) => String(value).padStart(2, '0');
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
}

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
  process.exit(1);
});
