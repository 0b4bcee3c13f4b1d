/**
 * npm start: sets up what is missing, starts a private database, and serves Mile Mark.
 *
 *   --empty        without the demo, on a database of its own
 *   --vehicles N   a demo of N vehicles (default 60), each size on a database of its own
 *   environment    PORT, HOST, TODAY, DATABASE_URL, TLS_CERT, TLS_KEY
 */
import { spawn } from 'node:child_process';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { checkNode, ensureLocal, ensureModules, ensurePackages, ROOT } from './lib/setup.mjs';
import { giveUp } from './lib/say.mjs';

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
  const database = values.empty ? 'milemark' : vehicles === 60 ? 'milemark_demo' : `milemark_demo_${vehicles}`;
  cluster.ensureDatabase(database);
  databaseUrl = cluster.url(database);
}

const server = spawn(process.execPath, [path.join(ROOT, 'server/dist/main.js')], {
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
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill('SIGTERM'));
server.on('exit', (code) => {
  cluster?.stop();
  process.exit(code ?? 1);
});
