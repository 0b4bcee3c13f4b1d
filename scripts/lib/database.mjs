import { spawnSync } from 'node:child_process';
import path from 'node:path';
import { ensureLocal, ensurePackages, postgresBin } from './setup.mjs';
import { giveUp } from './say.mjs';

/** Which database a start with these options uses. */
export function databaseOf({ empty, vehicles }) {
  if (empty) return 'milemark';
  return vehicles === 60 ? 'milemark_demo' : `milemark_demo_${vehicles}`;
}

/**
 * Works on the database at DATABASE_URL, or on that of `npm start` in the private cluster.
 *
 * @param name of the database in the private cluster
 */
export async function withDatabase(name, work) {
  const given = process.env.DATABASE_URL;
  if (given !== undefined) return work(given);
  ensureLocal();
  ensurePackages(['postgresql']);
  const { startCluster } = await import('./postgres.mjs');
  const cluster = await startCluster('pg');
  try {
    cluster.ensureDatabase(name);
    return await work(cluster.url(name));
  } finally {
    cluster.stop();
  }
}

/** Runs a program of PostgreSQL on a database; what is secret goes by the environment, never by the command line. */
export function postgres(program, url, args, options = {}) {
  const bin = postgresBin();
  if (!bin) giveUp('PostgreSQL’s programs are not installed (Debian package postgresql).');
  const { hostname, port, username, password, pathname } = new URL(url);
  return spawnSync(path.join(bin, program), args, {
    encoding: 'utf8',
    maxBuffer: 64 * 1024 * 1024,
    ...options,
    env: {
      ...process.env,
      PGHOST: hostname,
      PGPORT: port || '5432',
      PGUSER: decodeURIComponent(username),
      PGPASSWORD: decodeURIComponent(password),
      PGDATABASE: decodeURIComponent(pathname.slice(1)),
    },
  });
}
