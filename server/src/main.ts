import { readFileSync } from 'node:fs';
import { createServer as createHttp } from 'node:http';
import { createServer as createHttps } from 'node:https';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { createApp } from './app.ts';
import { computePool } from './compute.ts';
import { readConfig } from './config.ts';
import { DEMO_PASSWORD, DEMO_TODAY, STAFF } from './demo/cast.ts';
import { startDemoFeed } from './demo/feed.ts';
import { fillDemo } from './demo/fill.ts';
import { insertParts } from './demo/fillParts.ts';
import { ensureDemoLibrary } from './demo/library.ts';
import { insertShops } from './demo/fillShops.ts';
import { startDemoMail, startDemoSupplier } from './demo/supplier.ts';
import { createComputer, refreshFleet } from './features/forecasts/index.ts';
import { actorOf, PersonEntity, SESSION_COOKIE } from './features/people/index.ts';
import { planParts } from './features/parts/index.ts';
import { ensureShippedLimits } from './features/register/index.ts';
import { ensureShippedJoints } from './features/specifications/index.ts';
import { askForFeed, pollFeed } from './features/telematics/index.ts';
import { migrate } from './platform/db/orm.ts';
import { createBus } from './platform/events/bus.ts';
import { connect } from './schema.ts';
import { startWork } from './wiring.ts';

/** Starts the server: the one place that wires database, jobs and HTTP together. */
async function main(): Promise<void> {
  const config = readConfig(process.env);
  const logger = pino({ level: config.logLevel });
  const orm = await connect(config.databaseUrl);
  await migrate(orm);
  const fork = () => orm.em.fork();
  await ensureShippedLimits(fork());
  await ensureShippedJoints(fork());
  const today = () => config.today ?? (config.demo ? DEMO_TODAY : localToday());
  const pool = computePool();

  const filling = config.demo && (await fork().count(PersonEntity)) === 0;
  if (filling) await fillDemo(fork(), config.vehicles);
  else if (config.demo) {
    await ensureDemoLibrary(fork());
    // Whole or not at all: a start that is killed half-way leaves nothing half there.
    await fork().transactional((inner) => insertParts(inner));
    await fork().transactional((inner) => insertShops(inner));
  }
  const feedUrl = config.feedUrl ?? (config.demo ? await startDemoFeed(fork()) : undefined);
  const supplierUrl = config.supplierUrl ?? (config.demo ? await startDemoSupplier() : undefined);
  const mailUrl = config.mailUrl ?? (config.demo ? await startDemoMail() : undefined);
  if (filling) {
    // The feed is read before the first forecasts, so that they know what was driven; nobody need be told of it.
    if (feedUrl) await pollFeed(fork, createBus(fork, []), feedUrl);
    await refreshFleet(fork(), createComputer(pool), today());
    await planParts(fork(), pool, today());
  }
  const { databaseUrl } = config;
  const { events, jobs } = await startWork({ orm, databaseUrl, pool, today, logger, feedUrl, supplierUrl, mailUrl });
  await askForFeed(jobs);
  const app = createApp({
    orm,
    logger,
    events,
    jobs,
    actorOf,
    sessionCookie: SESSION_COOKIE,
    today,
    demo: config.demo,
    feedConnected: feedUrl !== undefined,
    pool,
    secure: config.tls !== undefined,
    webFolder: config.webFolder,
    version: '0.1.0',
  });
  const server = config.tls
    ? createHttps({ cert: readFileSync(config.tls.certFile), key: readFileSync(config.tls.keyFile) }, app)
    : createHttp(app);

  // Longer than any client or proxy keeps a connection idle: none is closed under a request just sent.
  server.keepAliveTimeout = 75_000;
  server.on('error', (error: NodeJS.ErrnoException) => {
    process.stderr.write(
      error.code === 'EADDRINUSE' ? `Port ${config.port} is taken; set PORT to another.\n` : `${error.message}\n`,
    );
    process.exit(1);
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

  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    server.close();
    server.closeAllConnections();
    await jobs.stop();
    await pool.close();
    await orm.close(true);
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
