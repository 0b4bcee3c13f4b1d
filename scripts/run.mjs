/**
 * npm run web, npm run worker: one process that answers, or one that does the jobs, on the database at DATABASE_URL; any
 * number of each, on any machines. Whoever supervises them starts them again; docs/operating.md says how.
 */
import { spawn } from 'node:child_process';
import path from 'node:path';
import { checkNode, ensureLocal, ensureModules, ROOT } from './lib/setup.mjs';
import { giveUp } from './lib/say.mjs';

const role = process.argv[2];
if (role !== 'web' && role !== 'worker') giveUp('run.mjs takes web or worker.');
checkNode();
if (process.env.DATABASE_URL === undefined) giveUp('DATABASE_URL is needed: the address of a PostgreSQL database.');
ensureLocal();
ensureModules();
const { ensureBuilt } = await import('./lib/build.mjs');
await ensureBuilt();
const own = spawn(process.execPath, [path.join(ROOT, 'server/dist/main.js')], {
  stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
  env: {
    ...process.env,
    MILEMARK_ROLE: role,
    MILEMARK_WEB: path.join(ROOT, 'web/dist'),
    NODE_ENV: 'production',
  },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => own.kill('SIGTERM'));
own.on('exit', (code) => process.exit(code ?? 1));
