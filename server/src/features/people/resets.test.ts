import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import supertest from 'supertest';
import type { OwnSession } from '@mile-mark/contract/people';
import { createTestApp, PASSWORD, type TestApp } from '../../testing/app.ts';

type Agent = ReturnType<typeof supertest.agent>;
let test: TestApp;
let coordinator: Agent;
beforeAll(async () => {
  test = await createTestApp();
  coordinator = await test.as('coordinator');
}, 120_000);
afterAll(async () => test.close());

const ANOTHER = 'quite another word';
const sql = (text: string, values: unknown[] = []) =>
  test.orm.em.fork().execute<Record<string, unknown>[]>(text, values);
const isIn = async (agent: Agent) => (await agent.get('/api/session').expect(200)).body.me !== null;

async function newcomer(name: string, account = true) {
  const id: string = randomUUID();
  const email = `${name.toLowerCase().replaceAll(' ', '.')}@dairy.example`;
  const secret = account ? { email, password: PASSWORD } : {};
  await coordinator
    .post('/api/people')
    .send({ id, name, role: 'technician', ...secret })
    .expect(201);
  const signIn = async (password: string) => {
    const agent = supertest.agent(test.app);
    const { status } = await agent
      .post('/api/session')
      .set('user-agent', `Tablet of ${name}`)
      .send({ email, password });
    return { agent, status };
  };
  return { id, email, signIn };
}

/** The token of a link for somebody. */
async function linkFor(id: string): Promise<string> {
  const { body } = await coordinator.post(`/api/people/${id}/reset-links`).send({}).expect(201);
  return (body as { path: string }).path.split('#')[1] ?? '';
}
const reset = (token: string, password = ANOTHER) =>
  supertest.agent(test.app).post('/api/password-resets').send({ token, password });

describe('a link to reset a password', () => {
  it('sets a new one once, signs in, and ends every other session of theirs', async () => {
    const one = await newcomer('Ida Fell');
    const { agent: tablet } = await one.signIn(PASSWORD);
    const token = await linkFor(one.id);
    // Nothing changes until it is used.
    expect(await isIn(tablet)).toBe(true);
    expect((await reset(token, 'short')).status).toBe(422);
    const { body } = await reset(token).expect(200);
    expect(body.me).toMatchObject({ id: one.id, email: one.email });
    expect(await isIn(tablet)).toBe(false);
    expect((await one.signIn(PASSWORD)).status).toBe(401);
    expect((await one.signIn(ANOTHER)).status).toBe(200);
    expect((await reset(token, 'yet another word')).status).toBe(409);
  });

  it('works for one of two who use it at the same moment', async () => {
    const one = await newcomer('Oda Fell');
    const token = await linkFor(one.id);
    const answers = await Promise.all([reset(token, 'first of two words'), reset(token, 'second of two words')]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
  });

  it('works no more once another was made, a day is over, or they left', async () => {
    const one = await newcomer('Una Fell');
    const first = await linkFor(one.id);
    const second = await linkFor(one.id);
    expect((await reset(first)).status).toBe(409);
    await sql(`update password_reset set expires_at = now() - interval '1 second' where person_id = ?`, [one.id]);
    expect((await reset(second)).status).toBe(409);
    const third = await linkFor(one.id);
    await coordinator.post(`/api/people/${one.id}/leaving`).send({}).expect(200);
    expect((await reset(third)).status).toBe(409);
    expect((await coordinator.post(`/api/people/${one.id}/reset-links`).send({})).status).toBe(409);
  });

  it('is made by a coordinator, not for oneself, not for who has no account; its token is kept nowhere', async () => {
    const one = await newcomer('Eda Fell');
    const technician = await test.as('technician');
    expect((await technician.post(`/api/people/${one.id}/reset-links`).send({})).status).toBe(403);
    expect((await coordinator.post(`/api/people/${test.idOf('coordinator')}/reset-links`).send({})).status).toBe(422);
    const other = await newcomer('Ada Fell', false);
    expect((await coordinator.post(`/api/people/${other.id}/reset-links`).send({})).status).toBe(409);
    const token = await linkFor(one.id);
    const kept = await sql(
      `select r.token_hash, a.detail::text from password_reset r, audit a where a.subject = ? and a.action like '%link%'`,
      [`person/${one.id}`],
    );
    expect(kept.length).toBeGreaterThan(0);
    expect(JSON.stringify(kept)).not.toContain(token);
  });
});

describe('a session that nobody uses', () => {
  const since = (hours: number, id: string) =>
    sql(`update session set used_at = now() - make_interval(hours => ?) where person_id = ?`, [hours, id]);

  it('is over after twelve hours, and lasts while it is used', async () => {
    const one = await newcomer('Femi Adair');
    const { agent } = await one.signIn(PASSWORD);
    await since(11, one.id);
    expect((await agent.get('/api/bay')).status).toBe(200);
    const [noted] = await sql(
      `select used_at > now() - interval '1 minute' as lately from session where person_id = ?`,
      [one.id],
    );
    expect(noted).toEqual({ lately: true });
    await since(13, one.id);
    expect((await agent.get('/api/bay')).status).toBe(401);
    expect(await isIn(agent)).toBe(false);
    // Whoever signs in next clears it away.
    await one.signIn(PASSWORD);
    expect(await sql('select 1 from session where person_id = ?', [one.id])).toHaveLength(1);
  });
});

describe('one’s own sign-ins', () => {
  const sessions = async (agent: Agent) => (await agent.get('/api/me/sessions').expect(200)).body.items as OwnSession[];

  it('are seen with what they were opened on, and ended one by one; nobody else’s', async () => {
    const one = await newcomer('Ola Brook');
    const [{ agent: desk }, { agent: tablet }] = [await one.signIn(PASSWORD), await one.signIn(PASSWORD)];
    const seen = await sessions(desk);
    expect(seen.map(({ device, current }) => [device, current])).toEqual([
      ['Tablet of Ola Brook', false],
      ['Tablet of Ola Brook', true],
    ]);
    const [other, own] = seen as [OwnSession, OwnSession];
    const stranger = await newcomer('Ulf Brook');
    const { agent: theirs } = await stranger.signIn(PASSWORD);
    await theirs.delete(`/api/me/sessions/${other.id}`).expect(204);
    expect(await isIn(tablet)).toBe(true);
    expect((await desk.delete(`/api/me/sessions/${own.id}`)).status).toBe(422);
    await desk.delete(`/api/me/sessions/${other.id}`).expect(204);
    expect(await isIn(tablet)).toBe(false);
    expect((await sessions(desk)).map(({ current }) => current)).toEqual([true]);
  });
});
