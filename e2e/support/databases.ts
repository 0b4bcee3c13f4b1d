import { randomBytes } from 'node:crypto';
import pg from 'pg';
import { startServer, stop, type AppOptions } from './server.ts';

const POLL_MS = 250;
/** So many looks one after the other must find nothing in the queue: what one job asks for next is soon there. */
const QUIET = 4;

function urlOf(database: string): string {
  const admin = process.env.TEST_DATABASE_URL;
  if (!admin) throw new Error('TEST_DATABASE_URL is not set: run these tests through npm test.');
  return admin.replace(/\/[^/]*$/, `/${database}`);
}

async function ask<T>(database: string, what: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({ connectionString: urlOf(database) });
  await client.connect();
  try {
    return await what(client);
  } finally {
    await client.end();
  }
}

/** A database of its own on the test cluster, dropped afterwards; with the demo in it where that is asked. */
export async function withDatabase<T>(
  { demo, today }: Pick<AppOptions, 'demo' | 'today'>,
  use: (url: string) => Promise<T>,
): Promise<T> {
  const name = `e2e_${randomBytes(6).toString('hex')}`;
  const template = demo ? ` template ${await demoTemplate(today)}` : '';
  await ask('postgres', (client) => client.query(`create database ${name}${template}`));
  try {
    return await use(urlOf(name));
  } finally {
    await ask('postgres', (client) => client.query(`drop database ${name} with (force)`));
  }
}

/**
 * The database of the demo once it is filled, learnt from and planned, of which others are copies. Whoever asks first lets
 * the application make it, and others wait meanwhile; it has its name only once it is whole, and is of this run alone.
 */
async function demoTemplate(today: string): Promise<string> {
  const name = `template_${process.env.TEST_RUN ?? process.pid}_demo_${today.replaceAll('-', '')}`;
  await ask('postgres', async (client) => {
    await client.query('select pg_advisory_lock(hashtext($1))', [name]);
    const { rowCount } = await client.query('select from pg_database where datname = $1', [name]);
    if (rowCount) return;
    const making = `${name}_making`;
    await client.query(`drop database if exists ${making} with (force)`);
    await client.query(`create database ${making}`);
    const app = await startServer(urlOf(making), { demo: true, today });
    await ask(making, untilQuiet);
    await stop(app);
    await client.query(`alter database ${making} rename to ${name}`);
  });
  return name;
}

/** Waits until the queue has nothing more to do. */
async function untilQuiet(client: pg.Client): Promise<void> {
  const due = `select from pgboss.job where state in ('created', 'retry', 'active') and start_after < now() + interval '1 minute'`;
  for (let quiet = 0; quiet < QUIET;) {
    const { rowCount } = await client.query(due);
    quiet = rowCount ? 0 : quiet + 1;
    await new Promise((resolve) => setTimeout(resolve, POLL_MS));
  }
}
