import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { setTimeout } from 'node:timers/promises';
import pg from 'pg';
import { dateOfDay, dayNumber, seededRandom } from '@mile-mark/core';
import { expect, fixture, startServer, stop, test } from '../support/app.ts';

/**
 * The database is killed again and again while sheets come in, at moments nobody chose. The server stays, says how it is,
 * loses nothing it acknowledged, keeps nothing twice, and does its jobs when the database is back.
 */

interface Cluster {
  url: (database: string) => string;
  ensureDatabase: (database: string) => void;
  kill: () => void;
  keepUp: () => boolean;
  stop: () => void;
}
/** As `npm start` makes it; no part of the tests' own program. */
const clusters = new URL('../../scripts/lib/postgres.mjs', import.meta.url).href;

const OUTAGES = 6;

/** A sheet a day, from the first to the last that is not in the future, however quick the machine is. */
const FIRST_DAY = '2025-08-05';
const MOST_SHEETS = dayNumber('2026-11-19') - dayNumber(FIRST_DAY);

test('a database that goes away and comes back ends nothing and loses nothing', async () => {
  test.setTimeout(600_000);
  // Of its own, and one that keeps what it acknowledged: those of other tests are quicker and do not.
  const { startCluster } = (await import(clusters)) as { startCluster: (name: string) => Promise<Cluster> };
  const cluster = await startCluster('outage-pg');
  const database = `outage_${randomUUID().slice(0, 8)}`;
  cluster.ensureDatabase(database);
  const app = await startServer(cluster.url(database), { demo: false, today: '2026-11-20' });
  const random = seededRandom(18);
  try {
    const send = (path: string, init: RequestInit = {}) =>
      fetch(app.url + path, { ...init, signal: AbortSignal.timeout(30_000) });
    const json = { 'content-type': 'application/json', origin: app.url };
    const person = { name: 'Ada Wrenfield', email: 'ada@dairy.example', password: 'curds and whey 26' };
    const first = await send('/api/first-account', { method: 'POST', headers: json, body: JSON.stringify(person) });
    const cookie = first.headers.get('set-cookie')?.split(';')[0] ?? '';
    const post = async (path: string, body: object) =>
      send(`/api/${path}`, { method: 'POST', headers: { ...json, cookie }, body: JSON.stringify(body) });
    const [technicianId, gaugeId] = [randomUUID(), randomUUID()];
    for (const [path, body] of [
      ['people', { id: technicianId, name: 'Chidi Okafor', role: 'technician' }],
      ['gauges', { id: gaugeId, name: 'Depth gauge', kind: 'digital depth gauge', resolutionMm: 0.1, unit: 'mm' }],
      ...['models', 'duties', 'vehicles'].map((name) => [
        'imports',
        { fileName: `${name}.csv`, text: readFileSync(fixture(`${name}.csv`), 'utf8') },
      ]),
    ] as [string, object][])
      expect((await post(path, body)).ok).toBe(true);

    const health = async () => {
      const answer = await send('/api/health');
      return { status: answer.status, body: (await answer.json()) as Record<string, string> };
    };
    const acknowledged = new Set<string>();
    let sent = 0;
    let writing = true;
    // One sheet a time, with the same id until it is acknowledged: as the outbox of a tablet sends.
    const writer = async () => {
      while (writing && sent < MOST_SHEETS) {
        sent += 1;
        const day = dateOfDay(dayNumber(FIRST_DAY) + sent);
        const text = `date,unit,odometer mi,axle,left inner,left outer\n${day},P13,${52_900 + sent * 40},1,9.${sent % 10},9.${sent % 10}\n`;
        const understanding = { technicianId, gaugeId, thicknessUnit: 'mm', distanceUnit: 'mi' };
        const body = { id: randomUUID(), fileName: `${sent}.csv`, text, understanding };
        for (;;) {
          const answer = await post('imports', body).catch(() => undefined);
          if (answer?.ok) break;
          if (answer) expect([401, 503]).toContain(answer.status);
          await setTimeout(50);
        }
        acknowledged.add(body.id);
      }
    };
    const written = writer();
    const states: string[] = [];
    for (let outage = 0; outage < OUTAGES; outage += 1) {
      await setTimeout(200 + random() * 1500);
      cluster.kill();
      const down = await health();
      states.push(`${down.status} ${down.body.database}`);
      expect((await send('/api/health/live')).status).toBe(200);
      await setTimeout(random() * 3000);
      expect(cluster.keepUp()).toBe(true);
      await expect.poll(async () => (await health()).body, { timeout: 45_000 }).toMatchObject({ status: 'ok' });
    }
    writing = false;
    await written;
    expect(states).toEqual(Array.from({ length: OUTAGES }, () => '503 down'));
    expect([app.process.exitCode, app.process.signalCode]).toEqual([null, null]);

    const onRecord = new pg.Client({ connectionString: cluster.url(database) });
    await onRecord.connect();
    const { rows } = await onRecord.query<{ id: string; readings: number }>(
      `select b.id, (select count(*)::int from inspection i join reading r on r.inspection_id = i.id
         where i.import_id = b.id) as readings
       from import_batch b where b.kind = 'readings'`,
    );
    await onRecord.end();
    expect(acknowledged.size).toBeGreaterThan(OUTAGES);
    expect(new Set(rows.map(({ id }) => id))).toEqual(acknowledged);
    expect(rows.filter(({ readings }) => readings !== 2)).toEqual([]);
    // What was asked of the queue meanwhile, or could not be asked, is done.
    const pending = async () => {
      const answer = await send('/api/mile-marks', { headers: { cookie } });
      return ((await answer.json()) as { refresh: { pending: number } }).refresh.pending;
    };
    await expect.poll(pending, { timeout: 90_000 }).toBe(0);
  } finally {
    await stop(app);
    cluster.stop();
  }
});
