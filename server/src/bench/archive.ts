/**
 * Times the whole record of a fleet out as an archive and into a second database, with the longest time for which others
 * were not answered. Prints a JSON line each; called by `npm run bench` with DATABASE_URL of an empty database.
 */
import { randomUUID } from 'node:crypto';
import { monitorEventLoopDelay } from 'node:perf_hooks';
import { DEMO_TODAY } from '../demo/cast.ts';
import { fillDemo } from '../demo/fill.ts';
import { takeInArchive, writeArchive } from '../features/archive/index.ts';
import { makeFirstAccount } from '../features/people/index.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import { ensureShippedJoints } from '../features/specifications/index.ts';
import { migrate } from '../platform/db/orm.ts';
import { createBus } from '../platform/events/bus.ts';
import { connect } from '../schema.ts';

const VEHICLES = 2000;
const MB = 1024 * 1024;
const print = (what: string, value: number, unit: string) =>
  process.stdout.write(
    `${JSON.stringify({ name: `archive of ${VEHICLES} vehicles: ${what}`, value: Math.round(value * 100) / 100, unit })}\n`,
  );

/** An installation with what ships on record. */
async function installation(url: string) {
  const orm = await connect(url);
  await migrate(orm);
  await ensureShippedLimits(orm.em.fork());
  await ensureShippedJoints(orm.em.fork());
  return orm;
}

async function time<T>(what: string, work: () => Promise<T>): Promise<T> {
  const delay = monitorEventLoopDelay({ resolution: 5 });
  delay.enable();
  const begun = performance.now();
  const result = await work();
  print(`${what}`, (performance.now() - begun) / 1000, 's');
  print(`${what}, longest block`, delay.max / 1e6, 'ms');
  print(`${what}, memory after`, process.memoryUsage().rss / MB, 'MB');
  return result;
}

const url = process.env.DATABASE_URL ?? '';
const from = await installation(url);
await fillDemo(from.em.fork(), VEHICLES);
const parts: Uint8Array[] = [];
await time('written', () =>
  writeArchive(from.em.fork(), DEMO_TODAY, async (chunk) => {
    parts.push(chunk);
  }),
);
const bytes = Buffer.concat(parts);
print('size', bytes.length / MB, 'MB');
const name = `archived_${Date.now()}`;
await from.em.fork().execute(`create database ${name}`);
const to = await installation(url.replace(/\/[^/]*$/, `/${name}`));
const account = { name: randomUUID(), email: 'bench@dairy.example', password: randomUUID() };
const { id } = await makeFirstAccount(to.em.fork(), account);
const caller = {
  em: to.em.fork(),
  actor: { id, name: account.name, role: 'coordinator' as const },
  today: DEMO_TODAY,
  events: createBus(() => to.em.fork(), []),
};
const taken = await time('taken in', () => takeInArchive.run(caller, { bytes }));
print('rows', taken.rows, 'rows');
await to.close(true);
await from.em.fork().execute(`drop database ${name}`);
await from.close(true);
