import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import supertest from 'supertest';
import { createTestApp, PASSWORD, type TestApp } from '../../testing/app.ts';

/** A password is guessed slowly, by whomever and from wherever; its owner is kept out by nobody. */

type Agent = ReturnType<typeof supertest.agent>;
let test: TestApp;
let coordinator: Agent;
beforeAll(async () => {
  test = await createTestApp({ trustProxy: 1, secure: false });
  coordinator = supertest.agent(test.app);
  await coordinator
    .post('/api/session')
    .set('x-forwarded-proto', 'https')
    .send({ email: 'coordinator@dairy.example', password: PASSWORD })
    .expect(200);
}, 120_000);
afterAll(async () => test.close());

const sql = (text: string, values: unknown[] = []) =>
  test.orm.em.fork().execute<Record<string, unknown>[]>(text, values);
let address = 0;
/** An attempt from an address of its own, so that only the account tells them together. */
const attempt = async (email: string, password: string, agent: Agent = supertest.agent(test.app)) => {
  address += 1;
  return agent
    .post('/api/session')
    .set('x-forwarded-for', `198.51.100.${address % 250}`)
    .set('x-forwarded-proto', 'https')
    .send({ email, password });
};

async function newcomer(): Promise<string> {
  const email = `${randomUUID()}@dairy.example`;
  const id = randomUUID();
  await sql(
    `insert into person (id, name, role, email, password_hash, distance_unit, thickness_unit, created_at)
     select ?, ?, 'technician', ?, password_hash, 'mi', 'mm', now() from person where email = 'coordinator@dairy.example'`,
    [id, `Somebody ${id.slice(0, 8)}`, email],
  );
  return email;
}

describe('signing in', () => {
  it('is slowed by account after a few failures, longer after each, whatever the address it comes from', async () => {
    const email = await newcomer();
    const statuses: number[] = [];
    for (let i = 0; i < 5; i += 1) statuses.push((await attempt(email, 'wrong word')).status);
    expect(statuses).toEqual([401, 401, 401, 401, 401]);
    const refused = await attempt(email, PASSWORD);
    expect(refused.status).toBe(429);
    expect(refused.body.detail).toMatch(/tried again in \d+ s/);
    expect(Number(refused.headers['retry-after'])).toBeGreaterThan(0);
    // The same account by other letters is the same; another account is not touched.
    expect((await attempt(email.toUpperCase(), PASSWORD)).status).toBe(429);
    expect((await attempt(await newcomer(), PASSWORD)).status).toBe(200);
    const waitAfter = async (failures: number) => {
      await sql('delete from failed_sign_in');
      for (let i = 0; i < 5; i += 1) await attempt(email, 'wrong word');
      await sql(
        `insert into failed_sign_in (account_hash, at) select account_hash, at from failed_sign_in f, generate_series(1, ?)
         where f.id = (select max(id) from failed_sign_in)`,
        [failures - 5],
      );
      return Number((await attempt(email, PASSWORD)).headers['retry-after']);
    };
    const [five, eight, many] = [await waitAfter(5), await waitAfter(8), await waitAfter(40)];
    expect(eight).toBeGreaterThan(five * 4);
    expect(many).toBeLessThanOrEqual(300);
    expect(many).toBeGreaterThan(eight);
  });

  it('is slowed as much when many are tried at once', async () => {
    const email = await newcomer();
    const statuses = await Promise.all(
      Array.from({ length: 24 }, async () => (await attempt(email, 'wrong word')).status),
    );
    expect(statuses.filter((status) => status === 401).length).toBeLessThanOrEqual(5);
    expect(statuses.filter((status) => status === 429).length).toBeGreaterThanOrEqual(19);
    // Those that were not let through cost nothing more.
    expect(
      await sql(
        'select 1 from failed_sign_in f, person p where p.email = ? and f.account_hash = encode(sha256(p.email::bytea), ?)',
        [email, 'hex'],
      ),
    ).toHaveLength(statuses.filter((status) => status === 401).length);
  });

  it('goes on when the time is over, and begins anew after the right password', async () => {
    const email = await newcomer();
    for (let i = 0; i < 6; i += 1) await attempt(email, 'wrong word');
    await sql(`update failed_sign_in set at = at - interval '3 seconds'`);
    expect((await attempt(email, PASSWORD)).status).toBe(200);
    expect((await attempt(email, 'wrong word')).status).toBe(401);
    expect((await attempt(email, PASSWORD)).status).toBe(200);
  });

  it('never keeps the owner out on a device on which they signed in before', async () => {
    const email = await newcomer();
    const own = supertest.agent(test.app);
    expect((await attempt(email, PASSWORD, own)).status).toBe(200);
    for (let i = 0; i < 9; i += 1) await attempt(email, 'wrong word');
    expect((await attempt(email, PASSWORD)).status).toBe(429);
    expect((await attempt(email, PASSWORD, own)).status).toBe(200);
    // A device of somebody else is none of theirs.
    const other = supertest.agent(test.app);
    expect((await attempt(await newcomer(), PASSWORD, other)).status).toBe(200);
    for (let i = 0; i < 9; i += 1) await attempt(email, 'wrong word');
    expect((await attempt(email, PASSWORD, other)).status).toBe(429);
  });

  it('tells of an address that is no account’s nothing else than of one that is', async () => {
    const nobody = `${randomUUID()}@dairy.example`;
    for (let i = 0; i < 5; i += 1) expect((await attempt(nobody, 'wrong word')).status).toBe(401);
    expect((await attempt(nobody, 'wrong word')).status).toBe(429);
    const kept = JSON.stringify(await sql('select * from failed_sign_in'));
    expect(kept).not.toContain(nobody);
  });

  it('on the same device replaces the session there was, and leaves those of other devices', async () => {
    const email = await newcomer();
    const [desk, tablet] = [supertest.agent(test.app), supertest.agent(test.app)];
    for (const agent of [desk, tablet, desk]) expect((await attempt(email, PASSWORD, agent)).status).toBe(200);
    const open = await sql('select s.id from session s join person p on p.id = s.person_id where p.email = ?', [email]);
    expect(open).toHaveLength(2);
  });
});
