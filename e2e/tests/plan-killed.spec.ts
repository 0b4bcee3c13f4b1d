/** Three processes on one database solve plans; one is killed in the middle: every depot's plan arrives, once. */
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { expect, startServer, stop, test } from '../support/app.ts';
import { withDatabase } from '../support/databases.ts';

const OPTIONS = { demo: true, today: '2026-11-20' };
const PLANS = 4;

test('a process that dies over a plan leaves nothing undone and nothing double', async () => {
  test.setTimeout(300_000);
  await withDatabase(OPTIONS, async (databaseUrl) => {
    const first = await startServer(databaseUrl, OPTIONS);
    const others = [await startServer(databaseUrl, OPTIONS), await startServer(databaseUrl, OPTIONS)];
    const database = new pg.Client({ connectionString: databaseUrl });
    // Its end is the database's: what failed before is told, and not that.
    database.on('error', () => undefined);
    await database.connect();
    const rows = async <T extends object>(sql: string) => (await database.query<T>(sql)).rows;
    const json = { 'content-type': 'application/json' };
    const session = await fetch(`${first.url}/api/session`, {
      method: 'POST',
      headers: json,
      body: JSON.stringify({ email: 'coordinator@linden-vale.example', password: 'milk-before-dawn' }),
    });
    const cookie = session.headers.get('set-cookie')?.split(';')[0] ?? '';
    const ids = Array.from({ length: PLANS }, () => randomUUID());
    for (const id of ids) {
      const answer = await fetch(`${first.url}/api/plans`, {
        method: 'POST',
        headers: { ...json, cookie },
        body: JSON.stringify({ id, gap: 0, seconds: 5 }),
      });
      expect(answer.status).toBe(201);
    }
    // In the middle of one: whichever has it, two of three go on.
    await expect
      .poll(async () => (await rows(`select 1 from plan_depot where state = 'solving'`)).length, { intervals: [20] })
      .toBeGreaterThan(0);
    const victims = [first, ...others].slice(0, 2);
    for (const { process: server } of victims) {
      server.removeAllListeners('exit');
      server.kill('SIGKILL');
    }
    const states = async () =>
      (await rows<{ state: string }>('select distinct state from plan_depot')).map((one) => one.state);
    await expect.poll(states, { timeout: 150_000 }).toEqual(['done']);
    await expect.poll(async () => (await rows(`select 1 from plan where state = 'proposed'`)).length).toBe(PLANS);
    const double = await rows(
      `select p.plan_id, p.vehicle_id, a.axle from plan_visit p, jsonb_array_elements(p.axles) a(axle) group by 1, 2, 3 having count(*) > 1`,
    );
    expect(double).toEqual([]);
    // The same question, the same answer, whoever solved it: what was lost was not half kept.
    const costs = await rows<{ costs: number }>(
      `select count(distinct round(cost::numeric, 2))::int as costs from plan_depot group by depot_id`,
    );
    expect(costs.map((one) => one.costs)).toEqual([1, 1, 1]);
    await database.end();
    for (const server of [first, ...others]) if (!victims.includes(server)) await stop(server);
  });
});
