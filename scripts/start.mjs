/**
 * npm start: sets up what is missing, starts a private database, serves Mile Mark, and brings either back where it ends.
 *
 *   --empty        without the demo, on a database of its own
 *   --vehicles N   a demo of N vehicles (default 60), each size on a database of its own
 *   environment    PORT, HOST, TODAY, DATABASE_URL, TLS_CERT, TLS_KEY
 */
import { spawn } from 'node:child_process';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { checkNode, ensureLocal, ensureModules, ensurePackages, ROOT } from './lib/setup.mjs';
import { databaseOf } from './lib/database.mjs';
import { giveUp, say } from './lib/say.mjs';

checkNode();
const { values } = parseArgs({
  options: { empty: { type: 'boolean', default: false }, vehicles: { type: 'string', default: '60' } },
});
const vehicles = Number(values.vehicles);
if (!Number.isInteger(vehicles) || vehicles < 1 || vehicles > 20_000)
  giveUp('--vehicles takes a whole number from 1 to 20000.');
ensureLocal();
const own = process.env.DATABASE_URL === undefined;
if (own) ensurePackages(['postgresql']);
ensureModules();
const { ensureBuilt } = await import('./lib/build.mjs');
await ensureBuilt();

let cluster;
let databaseUrl = process.env.DATABASE_URL;
if (own) {
  const { startCluster } = await import('./lib/postgres.mjs');
  cluster = await startCluster('pg');
  const database = databaseOf({ empty: values.empty, vehicles });
  cluster.ensureDatabase(database);
  databaseUrl = cluster.url(database);
}

/** A server that ends sooner than this at its first start was told something wrong, ms. */
const AT_ONCE_MS = 10_000;
/** One that ran this long is started again without a pause, ms. */
const STEADY_MS = 60_000;
const PAUSE_MS = { first: 500, most: 30_000 };
/** How it ends where starting it again would change nothing. */
const NOT_AGAIN = 78;
const WATCH_MS = 3000;

let stopping = false;
let server;
let pause = PAUSE_MS.first;
let first = true;

const finish = (code) => {
  cluster?.stop();
  process.exit(code);
};

/** Starts the server, and again when it ends by itself, with a growing pause. */
function startServer() {
  const begun = Date.now();
  server = spawn(process.execPath, [path.join(ROOT, 'server/dist/main.js')], {
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      MILEMARK_DEMO: values.empty ? '0' : '1',
      MILEMARK_VEHICLES: String(vehicles),
      MILEMARK_WEB: path.join(ROOT, 'web/dist'),
      NODE_ENV: 'production',
    },
  });
  server.on('exit', (code) => {
    const ran = Date.now() - begun;
    if (stopping || code === NOT_AGAIN || (first && ran < AT_ONCE_MS)) return finish(stopping ? 0 : (code ?? 1));
    first = false;
    pause = ran > STEADY_MS ? PAUSE_MS.first : Math.min(2 * pause, PAUSE_MS.most);
    say(`The server ended (${code ?? 'killed'}); it is started again in ${pause / 1000} s.`);
    setTimeout(() => (stopping ? finish(0) : startServer()), pause);
  });
}

startServer();
if (cluster)
  setInterval(() => {
    if (!stopping && !cluster.keepUp()) say('The database does not start; it is tried again.');
  }, WATCH_MS).unref();
for (const signal of ['SIGINT', 'SIGTERM'])
  process.on(signal, () => {
    if (stopping) return;
    stopping = true;
    if (server.exitCode !== null || server.signalCode !== null) finish(0);
    else server.kill('SIGTERM');
  });
