/** Three processes on one database solve plans; one is killed in the middle: every depot's plan arrives, once. */
import { randomUUID } from 'node:crypto';
import pg from 'pg';
import { expect, startServer, stop, test } from '../support/app.ts';
import { withDatabase } from '../support/databases.ts';

const OPTIONS = { demo: true, today: '2026-11-20' };
const PLANS = 4;

test('a process that dies over a plan leaves nothing undone and nothing double', async () => {
  test.setTimeout(600_000);
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
    // The same question, about the same answer, whoever solved it. Who is lent to which depot is searched for seconds only, so
    // depots may share the work otherwise; a plan that was half kept would have fewer visits, or a cost without them.
    const plans = await rows<{ cost: number; visits: number }>(
      `select sum(d.cost) as cost, (select count(*)::int from plan_visit v where v.plan_id = d.plan_id) as visits
       from plan_depot d group by d.plan_id having count(*) = 3`,
    );
    expect(plans).toHaveLength(PLANS);
    const [costs, visits] = [plans.map(({ cost }) => cost), plans.map((one) => one.visits)];
    expect(Math.max(...costs) / Math.min(...costs)).toBeLessThan(1.05);
    expect(Math.min(...visits)).toBeGreaterThan(0);
    expect(Math.min(...visits) / Math.max(...visits)).toBeGreaterThan(0.9);
    await database.end();
    for (const server of [first, ...others]) if (!victims.includes(server)) await stop(server);
  });
});
