import { readFileSync } from 'node:fs';
import { createServer as createHttp } from 'node:http';
import { createServer as createHttps } from 'node:https';
import type { AddressInfo } from 'node:net';
import { pino } from 'pino';
import { readConfig } from './config.ts';
import { connect, migrate } from './db/orm.ts';
import { DEMO_PASSWORD, DEMO_TODAY, STAFF } from './demo/cast.ts';
import { startDemoFeed } from './demo/feed.ts';
import { fillDemo } from './demo/fill.ts';
import { ensureDemoLibrary } from './demo/library.ts';
import { createApp } from './http/app.ts';
import { createComputer } from './jobs/compute.ts';
import { pollFeed } from './jobs/pollFeed.ts';
import { startQueue } from './jobs/queue.ts';
import { refreshFleet } from './jobs/refresh.ts';
import { ensureShippedJoints } from './services/jointsShipped.ts';
import { ensureShippedLimits } from './services/limitsShipped.ts';

/** Starts the server: the one place that wires database, jobs and HTTP together. */
async function main(): Promise<void> {
  const config = readConfig(process.env);
  const logger = pino({ level: config.logLevel });
  const orm = await connect(config.databaseUrl);
  await migrate(orm);
  await ensureShippedLimits(orm.em.fork());
  await ensureShippedJoints(orm.em.fork());
  const today = () => config.today ?? (config.demo ? DEMO_TODAY : localToday());
  const computer = createComputer();

  const [{ count } = { count: 0 }] = await orm.em
    .fork()
    .execute<{ count: number }[]>('select count(*)::int as count from person');
  const filling = config.demo && count === 0;
  if (filling) await fillDemo(orm.em.fork(), config.vehicles);
  else if (config.demo) await ensureDemoLibrary(orm.em.fork());
  const feedUrl = config.feedUrl ?? (config.demo ? await startDemoFeed(orm.em.fork()) : undefined);
  if (filling) {
    // The feed is read before the first forecasts, so that they know what was driven.
    if (feedUrl) await pollFeed(() => orm.em.fork(), feedUrl);
    await refreshFleet(orm.em.fork(), computer, today());
  }
  const queue = await startQueue(config.databaseUrl, orm, computer, today, logger, feedUrl);
  const app = createApp({
    orm,
    logger,
    queue,
    today,
    demo: config.demo,
    feedConnected: feedUrl !== undefined,
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
    await queue.stop();
    await computer.close();
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
