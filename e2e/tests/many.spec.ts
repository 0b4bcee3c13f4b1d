/**
 * Two processes that answer and three that work, on one database: one of the five is killed (SIGKILL) every few seconds
 * for two minutes, while people write. What was acknowledged is there, once; every job is done, once in effect.
 */
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { seededRandom } from '@mile-mark/core';
import { type App, expect, startServer, stop, test } from '../support/app.ts';
import { withDatabase } from '../support/databases.ts';
import { type Client, kill, signedIn } from '../support/client.ts';

const OPTIONS = { demo: true, today: '2026-11-20' };
const ROLES = ['web', 'web', 'worker', 'worker', 'worker'] as const;
const KILLED_FOR_MS = 120_000;
const WRITERS = 3;
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

const sites: Site[] = [];
// Whatever failed: no process is left behind.
test.afterEach(async () => {
  for (const site of sites.splice(0)) await site.end();
});

/** The five processes, each of which is begun again when it was killed. */
class Site {
  readonly apps: (App | undefined)[] = [];
  killed = 0;
  private readonly databaseUrl: string;
  constructor(databaseUrl: string) {
    this.databaseUrl = databaseUrl;
  }

  async begin(slot: number): Promise<void> {
    this.apps[slot] = await startServer(this.databaseUrl, { ...OPTIONS, role: ROLES[slot] ?? 'web' });
  }

  async killOne(slot: number): Promise<void> {
    const app = this.apps[slot];
    if (!app) return;
    this.apps[slot] = undefined;
    await kill(app);
    this.killed += 1;
    await pause(300);
    await this.begin(slot);
  }

  async end(): Promise<void> {
    for (const app of this.apps.splice(0)) if (app) await stop(app);
  }

  /** Whichever that answers is up. */
  web(random: () => number): App | undefined {
    const up = this.apps.slice(0, 2).flatMap((one) => one ?? []);
    return up[Math.floor(random() * up.length)];
  }
}

interface Entry {
  inspection: { id: string; unit: string; gaugeId: string; date: string; odometer: number };
  readings: object[];
}

/** Writes one inspection after another until told to stop; each is sent until it is acknowledged. */
async function write(site: Site, client: Client, next: () => Entry, until: () => boolean, random: () => number) {
  const acknowledged: Entry[] = [];
  while (!until()) {
    const entry = next();
    for (let sent = false; !sent;) {
      const app = site.web(random);
      const answer =
        app &&
        (await client
          .at(app)
          .post('/api/readings', entry)
          .catch(() => undefined));
      sent = answer?.status === 201;
      // Refused for what it says would be a fault of this test; what is out of reach is asked again.
      if (answer && !sent) expect([answer.status, answer.body.detail]).toEqual([503, answer.body.detail]);
      if (!sent) await pause(100);
    }
    acknowledged.push(entry);
    await pause(150);
  }
  return acknowledged;
}

test('two that answer and three that work lose nothing and do nothing twice, whichever is killed', async () => {
  test.setTimeout(900_000);
  await withDatabase(OPTIONS, async (databaseUrl) => {
    const random = seededRandom(1129);
    const first = await startServer(databaseUrl, OPTIONS);
    const client = await signedIn(first);
    const vehicles = await client.items<{ unit: string; odometerMi: number }>('/api/vehicles');
    const [gauge] = await client.items<{ id: string }>('/api/gauges');
    await stop(first);
    const site = new Site(databaseUrl);
    sites.push(site);
    for (const slot of ROLES.keys()) await site.begin(slot);

    let made = 0;
    const next = (): Entry => {
      const { unit, odometerMi } = vehicles[made % vehicles.length] as (typeof vehicles)[number];
      // Each a mile on, so that none is the same look as another.
      const odometer = odometerMi + 40 + Math.floor(made / vehicles.length);
      made += 1;
      return {
        inspection: { id: randomUUID(), unit, gaugeId: gauge?.id ?? '', date: '2026-11-20', odometer },
        readings: (['left', 'right'] as const).map((side) => ({
          ...{ id: randomUUID(), axle: 1, side, pad: 'inner', thickness: '7.7', answer: 'measured_twice' },
        })),
      };
    };
    const end = Date.now() + KILLED_FOR_MS;
    const over = () => Date.now() > end;
    const killing = (async () => {
      while (!over()) {
        await pause(1500 + 3000 * random());
        await site.killOne(Math.floor(random() * ROLES.length));
      }
    })();
    const planId = randomUUID();
    const planning = (async () => {
      for (let asked = false; !asked; await pause(200)) {
        const app = site.web(random);
        const plan = { id: planId, gap: 0.05, seconds: 3 };
        const answer =
          app &&
          (await client
            .at(app)
            .post('/api/plans', plan)
            .catch(() => undefined));
        asked = answer?.status === 201;
      }
    })();
    const written = await Promise.all(Array.from({ length: WRITERS }, () => write(site, client, next, over, random)));
    await Promise.all([killing, planning]);
    const entries = written.flat();
    // How many depends on how fast the machine begins a process.
    expect(site.killed).toBeGreaterThan(5);
    expect(entries.length).toBeGreaterThan(60);

    const database = new pg.Client({ connectionString: databaseUrl });
    database.on('error', () => undefined);
    await database.connect();
    const row = async (sql: string, params: unknown[] = []) =>
      (await database.query<Record<string, unknown>>(sql, params)).rows[0];
    // Everything that was asked for comes to its end.
    await expect
      .poll(
        () =>
          row(`select (select count(*)::int from outbox where delivered_at is null) untold,
            (select count(*)::int from vehicle v join vehicle_forecast f on f.vehicle_id = v.id
              where v.left_on is null and f.input_rev < v.input_rev) behind,
            (select count(*)::int from job_run where state = 'running') running,
            (select state from plan where id = '${planId}') plan`),
        { timeout: 150_000 },
      )
      .toEqual({ untold: 0, behind: 0, running: 0, plan: 'proposed' });
    const ids = entries.map(({ inspection }) => inspection.id);
    expect(
      await row(
        `select (select count(*)::int from inspection where id = any($1::uuid[])) kept,
          (select count(*)::int from reading where typed = '7.7' and measured_on = '2026-11-20') readings,
          (select count(*)::int from reading r join inspection i on i.id = r.inspection_id where i.id = any($1::uuid[])) own,
          (select count(*)::int from audit where action = 'entered an inspection' and detail->>'inspection' = any($1::text[])) audited,
          (select count(*)::int from (select vehicle_id, axle from plan_visit p, jsonb_array_elements(p.axles) a(axle)
            where plan_id = '${planId}' group by 1, 2 having count(*) > 1) d) double`,
        [ids],
      ),
    ).toEqual({
      kept: entries.length,
      readings: 2 * entries.length,
      own: 2 * entries.length,
      audited: entries.length,
      double: 0,
    });
    await database.end();
    await site.end();
  });
});
