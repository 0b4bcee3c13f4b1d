import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { seededRandom } from '@mile-mark/core';
import { expect, startServer, stop, test, type App } from '../support/app.ts';
import { withDatabase } from '../support/databases.ts';
import { kill, signedIn } from '../support/client.ts';

/**
 * The process is killed (SIGKILL) while inspections and a file are on their way; clients retry with the ids they
 * made. Afterwards everything is on record exactly once.
 */

const OPTIONS = { demo: true, today: '2026-11-20' };

/** Sends all entries, eight at once, while the server is killed now and then; what was not answered is sent again. */
async function sendThroughKills(
  databaseUrl: string,
  first: App,
  entries: readonly unknown[],
  path: string,
  random: () => number,
) {
  let app = first;
  let client = await signedIn(app);
  let killed = 0;
  const waiting = [...entries];
  while (waiting.length > 0) {
    const batch = waiting.slice(0, 8);
    const fate =
      random() < 0.5 && killed < 4
        ? new Promise((resolve) => setTimeout(resolve, 5 + 60 * random())).then(() => kill(app))
        : undefined;
    const results = await Promise.allSettled(batch.map((entry) => client.post(path, entry)));
    if (fate) {
      await fate;
      killed += 1;
      app = await startServer(databaseUrl, OPTIONS);
      client = await signedIn(app);
    }
    results.forEach((result, index) => {
      if (result.status === 'rejected') return;
      expect(result.value.status).toBe(201);
      waiting.splice(waiting.indexOf(batch[index]), 1);
    });
  }
  return { app, client, killed };
}

test('every reading is there exactly once, however often the server is killed', async () => {
  test.setTimeout(600_000);
  await withDatabase(OPTIONS, async (databaseUrl) => {
    const random = seededRandom(31);
    let app = await startServer(databaseUrl, OPTIONS);
    let client = await signedIn(app);
    const vehicles = await client.items<{ unit: string; odometerMi: number }>('/api/vehicles');
    const [gauge] = await client.items<{ id: string }>('/api/gauges');
    const inspections = vehicles.slice(0, 40).map(({ unit, odometerMi }) => ({
      inspection: { id: randomUUID(), unit, gaugeId: gauge?.id, date: '2026-11-20', odometer: odometerMi + 40 },
      readings: (['left', 'right'] as const).map((side) => ({
        id: randomUUID(),
        axle: 1,
        side,
        pad: 'inner',
        thickness: '7.7',
      })),
    }));
    const sent = await sendThroughKills(databaseUrl, app, inspections, '/api/readings', random);
    ({ app, client } = sent);
    expect(sent.killed).toBeGreaterThan(1);
    // A last repeat of everything answers, and adds nothing.
    for (const entry of inspections.slice(0, 5)) expect((await client.post('/api/readings', entry)).status).toBe(201);
    const database = new pg.Client({ connectionString: databaseUrl });
    await database.connect();
    const ids = inspections.flatMap(({ readings }) => readings.map(({ id }) => id));
    const { rows } = await database.query<{ inspections: number; readings: number; behind: number }>(
      `select (select count(*)::int from inspection where id = any($1)) inspections,
         (select count(*)::int from reading where id = any($2) and measured_on = '2026-11-20') readings,
         (select count(*)::int from reading where measured_on = '2026-11-20' and typed = '7.7') behind`,
      [inspections.map(({ inspection }) => inspection.id), ids],
    );
    await database.end();
    expect(rows[0]).toEqual({ inspections: 40, readings: 80, behind: 80 });
    await stop(app);
  });
});

test('stock reconciles however often the server is killed: every movement once, every bin the sum of its own', async () => {
  test.setTimeout(600_000);
  await withDatabase(OPTIONS, async (databaseUrl) => {
    const started = await startServer(databaseUrl, OPTIONS);
    const movements = Array.from({ length: 60 }, (_, i) => ({
      id: randomUUID(),
      kind: 'receive',
      part: i % 2 === 0 ? 'BC-500' : 'SW-10',
      depot: 'Northfold',
      bin: `k-${i % 3}`,
      units: 1 + (i % 4),
    }));
    const { app, client, killed } = await sendThroughKills(
      databaseUrl,
      started,
      movements,
      '/api/stock/movements',
      seededRandom(8),
    );
    expect(killed).toBeGreaterThan(1);
    // A picker's moves out, each of two rows that belong together.
    const moved = await client.post('/api/stock/movements', {
      ...movements[0],
      id: randomUUID(),
      kind: 'transfer',
      units: 2,
      toDepot: 'Saltmarsh depot',
      toBin: 'k-9',
    });
    expect(moved.status).toBe(201);
    for (const entry of movements.slice(0, 5))
      expect((await client.post('/api/stock/movements', entry)).status).toBe(201);
    const database = new pg.Client({ connectionString: databaseUrl });
    await database.connect();
    const { rows } = await database.query<{ requests: number; units: number; apart: number }>(
      `select (select count(*)::int from stock_movement where request_id = any($1)) requests,
         (select coalesce(sum(units), 0)::int from stock_movement where request_id = any($1)) units,
         (select count(*)::int from (select part_id, bin_id, coalesce(lot, '') as lot, sum(units) as units from stock_movement group by 1, 2, 3) m
           full join stock_level l using (part_id, bin_id, lot) where m.units is distinct from l.units) apart`,
      [movements.map(({ id }) => id)],
    );
    await database.end();
    expect(rows[0]).toEqual({ requests: 60, units: movements.reduce((sum, { units }) => sum + units, 0), apart: 0 });
    await stop(app);
  });
});

test('a file on its way when the server is killed is in whole or not at all, and once when sent again', async () => {
  test.setTimeout(600_000);
  await withDatabase(OPTIONS, async (databaseUrl) => {
    let app = await startServer(databaseUrl, OPTIONS);
    let client = await signedIn(app);
    const vehicles = await client.items<{ unit: string; odometerMi: number }>('/api/vehicles');
    const [gauge] = await client.items<{ id: string }>('/api/gauges');
    const people = await client.items<{ id: string; role: string }>('/api/people');
    const technicianId = people.find(({ role }) => role === 'technician')?.id;
    const rows = vehicles.flatMap(({ unit, odometerMi }) =>
      ['left', 'right'].map((side) => `2026-11-20,${unit},${odometerMi + 30},1,${side},outer,6.6`),
    );
    const request = {
      id: randomUUID(),
      fileName: 'depot.csv',
      text: `date,unit,odometer,axle,side,pad,thickness\n${rows.join('\n')}\n`,
      understanding: { technicianId, gaugeId: gauge?.id },
    };
    const count = async () => {
      const database = new pg.Client({ connectionString: databaseUrl });
      await database.connect();
      const { rows: found } = await database.query<{ count: number }>(
        `select count(*)::int as count from reading where typed = '6.6' and measured_on = '2026-11-20'`,
      );
      await database.end();
      return found[0]?.count;
    };
    for (const wait of [40, 250, 700]) {
      const sent = client.post('/api/imports', request).catch(() => undefined);
      await new Promise((resolve) => setTimeout(resolve, wait));
      await kill(app);
      await sent;
      app = await startServer(databaseUrl, OPTIONS);
      client = await signedIn(app);
      expect([0, rows.length]).toContain(await count());
    }
    const answer = await client.post('/api/imports', request);
    expect(answer.body).toMatchObject({ id: request.id, records: rows.length });
    expect(await count()).toBe(rows.length);
    await stop(app);
  });
});

test('a specification is released whole or not at all, however often the server is killed', async () => {
  test.setTimeout(600_000);
  await withDatabase(OPTIONS, async (databaseUrl) => {
    const random = seededRandom(77);
    let app = await startServer(databaseUrl, OPTIONS);
    let people = { coordinator: await signedIn(app), technician: await signedIn(app, 'technician') };
    const [model] = await people.coordinator.items<{ id: string; name: string }>('/api/library');
    const kinds = await people.coordinator.items<{ id: string; name: string; brake: string | null }>(
      '/api/joint-kinds',
    );
    const sensor = kinds.find(({ name }) => name === 'Sensor or harness screw');
    const torque = { unit: 'N·m', nominal: 10 };
    const entries = Array.from({ length: 24 }, (_, index) => ({
      id: randomUUID(),
      modelId: model?.id,
      axle: 2,
      jointKindId: sensor?.id,
      position: `screw ${index}`,
      values: { about: 'joint', fastener: { thread: 'M6', headKind: 'hex', headSize: '10 mm' }, torque },
      source: { document: 'Manual (invented)', page: '1', revision: 'A', date: '2025-01-01' },
    }));
    const attempts = new Map(entries.map(({ id }) => [id, { id: randomUUID(), typed: { about: 'joint', torque } }]));
    let killed = 0;
    const entered = new Set<string>();
    const released = new Set<string>();
    while (released.size < entries.length) {
      const batch = entries.filter(({ id }) => !released.has(id)).slice(0, 6);
      const fate =
        random() < 0.6 && killed < 4
          ? new Promise((resolve) => setTimeout(resolve, 4 + 50 * random())).then(() => kill(app))
          : undefined;
      await Promise.allSettled(
        batch.map(async (entry) => {
          if (!entered.has(entry.id)) {
            expect((await people.coordinator.post('/api/specifications', entry)).status).toBe(201);
            entered.add(entry.id);
          }
          const answer = await people.technician.post(
            `/api/specification-revisions/${entry.id}/releases`,
            attempts.get(entry.id),
          );
          expect(answer).toMatchObject({ status: 200, body: { released: true } });
          released.add(entry.id);
        }),
      );
      if (fate) {
        await fate;
        killed += 1;
        app = await startServer(databaseUrl, OPTIONS);
        people = { coordinator: await signedIn(app), technician: await signedIn(app, 'technician') };
      }
    }
    expect(killed).toBeGreaterThan(1);
    const database = new pg.Client({ connectionString: databaseUrl });
    await database.connect();
    const { rows } = await database.query<{ revisions: number; releases: number; attempts: number; whole: number }>(
      `select count(distinct r.id)::int revisions, count(distinct rel.revision_id)::int releases,
         (select count(*)::int from specification_attempt a where a.revision_id = any($1)) attempts,
         count(distinct s.id) filter (where s.released_revision_id = r.id and s.open_revision_id is null)::int whole
       from specification_revision r join specification s on s.id = r.specification_id
         left join specification_release rel on rel.revision_id = r.id where r.id = any($1)`,
      [entries.map(({ id }) => id)],
    );
    expect(rows).toEqual([{ revisions: 24, releases: 24, attempts: 24, whole: 24 }]);
    await database.end();
    await stop(app);
  });
});
