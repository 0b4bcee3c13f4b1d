import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import supertest from 'supertest';
import type { Role } from '@mile-mark/contract';
import type { Person } from '@mile-mark/contract/people';
import { createTestApp, PASSWORD, type TestApp } from '../../testing/app.ts';
import { authenticate } from './commands.ts';
import { openSession } from './sessions.ts';

type Agent = ReturnType<typeof supertest.agent>;
let test: TestApp;
let coordinator: Agent;
let technician: Agent;
beforeAll(async () => {
  test = await createTestApp();
  coordinator = await test.as('coordinator');
  technician = await test.as('technician');
}, 120_000);
afterAll(async () => test.close());

const ANOTHER = 'quite another word';
const sql = <T>(text: string, values: unknown[] = []) => test.orm.em.fork().execute<T[]>(text, values);
const signIn = (email: string | null, password: string, agent = supertest.agent(test.app)) =>
  agent.post('/api/session').send({ email, password });
const whoIs = async (agent: Agent) => ((await agent.get('/api/session').expect(200)).body.me as Person | null)?.name;
const refusalOf = ({ status, body }: supertest.Response) => [
  status,
  (body as { errors?: { field: string }[] }).errors?.[0]?.field,
];

async function newcomer(name: string, role: Role = 'technician', account = true) {
  const id: string = randomUUID();
  const email = account ? `${name.toLowerCase().replaceAll(' ', '.')}@dairy.example` : null;
  const secret = account ? { email, password: PASSWORD } : {};
  await coordinator
    .post('/api/people')
    .send({ id, name, role, ...secret })
    .expect(201);
  const agent = supertest.agent(test.app);
  if (account) await signIn(email, PASSWORD, agent).expect(200);
  return { id, email, agent, seen: { name, role, email } };
}
type Newcomer = Awaited<ReturnType<typeof newcomer>>;
/** The person as they stand, with what is changed. */
const change = ({ id, seen }: Newcomer, what: object, agent = coordinator) =>
  agent.put(`/api/people/${id}`).send({ ...seen, ...what, seen });

describe('a person corrected', () => {
  it('keeps sessions at another name or address, and signs in by the new one alone', async () => {
    const one = await newcomer('Isa Marlow');
    const { body } = await change(one, { name: 'Isa Marloe', email: 'isa@dairy.example' }).expect(200);
    expect(body).toMatchObject({ name: 'Isa Marloe', email: 'isa@dairy.example', signsIn: true, leftOn: null });
    expect(await whoIs(one.agent)).toBe('Isa Marloe');
    await signIn(one.email, PASSWORD).expect(401);
    await signIn('isa@dairy.example', PASSWORD).expect(200);
  });

  it.each([
    ['another role', { role: 'viewer' }],
    ['a new password', { password: ANOTHER }],
  ])('is signed out everywhere by %s', async (what, changed) => {
    const one = await newcomer(`Pell ${what}`);
    await change(one, changed).expect(200);
    expect(await whoIs(one.agent)).toBeUndefined();
    const fits = 'password' in changed ? ANOTHER : PASSWORD;
    await signIn(one.email, fits === PASSWORD ? ANOTHER : PASSWORD).expect(401);
    await signIn(one.email, fits).expect(200);
  });

  it('is given an account who had none, with address and password together', async () => {
    const one = await newcomer('Runa Teal', 'technician', false);
    expect(refusalOf(await change(one, { email: 'runa@dairy.example' }))).toEqual([422, 'password']);
    expect(refusalOf(await change(one, { password: ANOTHER }))).toEqual([422, 'email']);
    await change(one, { email: 'runa@dairy.example', password: ANOTHER }).expect(200);
    await signIn('runa@dairy.example', ANOTHER).expect(200);
  });

  it('keeps what it needs to sign in, and takes no address or name that is another’s', async () => {
    const one = await newcomer('Odo Farrier');
    expect(refusalOf(await change(one, { email: null }))).toEqual([422, 'email']);
    expect(refusalOf(await change(one, { password: 'short' }))).toEqual([422, 'password']);
    const other = await newcomer('Nan Farrier');
    expect(refusalOf(await change(one, { email: other.email }))[1]).toBe('email');
    expect(refusalOf(await change(one, { name: 'Nan Farrier' }))[1]).toBe('name');
    expect(await whoIs(one.agent)).toBe('Odo Farrier');
  });

  it('is told where somebody changed them meanwhile, and nothing is overwritten', async () => {
    const one = await newcomer('Vesna Holt');
    await change(one, { role: 'parts keeper' }).expect(200);
    const late = await change(one, { name: 'Vesna Hold' });
    expect([late.status, (late.body as { type: string }).type]).toEqual([
      409,
      'urn:mile-mark:problem:changed_meanwhile',
    ]);
    const { items } = (await coordinator.get('/api/people').expect(200)).body as { items: Person[] };
    expect(items.find(({ id }) => id === one.id)).toMatchObject({ name: 'Vesna Holt', role: 'parts keeper' });
  });

  it('leaves a trace of what changed, no secret in it, and none where nothing did', async () => {
    const one = await newcomer('Ines Quill');
    await change(one, {}).expect(200);
    // Pressed again because the answer was lost, it is the same change.
    for (let press = 0; press < 2; press += 1) await change(one, { name: 'Ines Quilt', password: ANOTHER }).expect(200);
    const kept = await sql<{ detail: unknown }>(
      `select detail from audit where action = 'corrected a person' and subject = ?`,
      [`person/${one.id}`],
    );
    expect(kept.map(({ detail }) => detail)).toEqual([
      { was: { name: 'Ines Quill' }, now: { name: 'Ines Quilt' }, newPassword: true },
    ]);
  });

  it('is somebody else where role or password are meant, is there, and has not left', async () => {
    const { body } = await coordinator.get('/api/session').expect(200);
    const { id, name, role, email } = body.me as Person;
    const me = { id, email, agent: coordinator, seen: { name, role, email } };
    expect(refusalOf(await change(me, { role: 'viewer' }))).toEqual([422, 'role']);
    expect(refusalOf(await change(me, { password: ANOTHER }))).toEqual([422, 'password']);
    expect((await change({ ...me, id: randomUUID() }, {})).status).toBe(404);
    expect((await change(me, {}, technician)).status).toBe(403);
    const gone = await newcomer('Ulla Reed');
    await coordinator.post(`/api/people/${gone.id}/leaving`).expect(200);
    expect((await change(gone, { password: ANOTHER })).status).toBe(409);
    await signIn(gone.email, PASSWORD).expect(401);
  });

  it('keeps the password they give themselves at that moment', async () => {
    const one = await newcomer('Gerd Maple');
    let corrected: Promise<supertest.Response> | undefined;
    await test.orm.em.fork().transactional(async (own) => {
      await own.execute(`update person set password_hash = 'their own, new' where id = ?`, [one.id]);
      corrected = change(one, { name: 'Gerd Maples' }).then((answer) => answer);
      // Long enough for the correction to have read the person as they stood before.
      await new Promise((passed) => setTimeout(passed, 300));
    });
    expect((await corrected)?.status).toBe(200);
    const [kept] = await sql<{ name: string; hash: string }>(
      'select name, password_hash as hash from person where id = ?',
      [one.id],
    );
    expect(kept).toEqual({ name: 'Gerd Maples', hash: 'their own, new' });
  });

  it('is one of two coordinators who demote each other at once: one stays', async () => {
    const pair = await Promise.all(['Hild Sander', 'Bram Sander'].map((name) => newcomer(name, 'coordinator')));
    const [first, second] = pair;
    if (!first || !second) throw new Error('two are needed');
    const answers = await Promise.all([
      change(second, { role: 'viewer' }, first.agent),
      change(first, { role: 'viewer' }, second.agent),
    ]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 401]);
  });
});

describe('one’s own password', () => {
  const own = (agent: Agent, current: string, next: string) => agent.put('/api/me/password').send({ current, next });

  it('is changed by who knows it; every other device is signed out, this one is not', async () => {
    const one = await newcomer('Alma Finch');
    const tablet = supertest.agent(test.app);
    await signIn(one.email, PASSWORD, tablet).expect(200);
    for (let press = 0; press < 2; press += 1) await own(one.agent, PASSWORD, ANOTHER).expect(204);
    expect([await whoIs(one.agent), await whoIs(tablet)]).toEqual(['Alma Finch', undefined]);
    await signIn(one.email, PASSWORD).expect(401);
    await signIn(one.email, ANOTHER).expect(200);
  });

  it('stays where the present one is wrong, or the new one too short or no other', async () => {
    const one = await newcomer('Tove Lund');
    expect(refusalOf(await own(one.agent, ANOTHER, 'yet another word'))).toEqual([422, 'current']);
    expect(refusalOf(await own(one.agent, PASSWORD, 'short'))).toEqual([422, 'next']);
    expect(refusalOf(await own(one.agent, PASSWORD, PASSWORD))).toEqual([422, 'next']);
    expect((await own(supertest.agent(test.app), PASSWORD, ANOTHER)).status).toBe(401);
    await signIn(one.email, PASSWORD).expect(200);
  });

  it('changed twice at once is one of the two, and no session of the other stays', async () => {
    const one = await newcomer('Kaja Brand');
    const tablet = supertest.agent(test.app);
    await signIn(one.email, PASSWORD, tablet).expect(200);
    const words = ['the first of two', 'the second of two'] as const;
    const answers = await Promise.all([own(one.agent, PASSWORD, words[0]), own(tablet, PASSWORD, words[1])]);
    expect(answers.filter(({ status }) => status === 204)).toHaveLength(1);
    const opened = await Promise.all(words.map(async (word) => (await signIn(one.email, word)).status));
    expect(opened.sort()).toEqual([200, 401]);
    await signIn(one.email, PASSWORD).expect(401);
  });

  it('opens nothing for who was signing in with the old one while it changed', async () => {
    const { id, email } = await newcomer('Siv Arden');
    const person = await authenticate(test.orm.em.fork(), email ?? '', PASSWORD);
    let opening: Promise<unknown> | undefined;
    await test.orm.em.fork().transactional(async (changing) => {
      await changing.execute(`update person set password_hash = 'of another word' where id = ?`, [id]);
      opening = openSession(test.orm.em.fork(), person, { name: '' }).then(
        () => 'a session',
        (error: unknown) => error,
      );
      // Long enough for it to look at the person, were it not to wait for what is on its way.
      await new Promise((passed) => setTimeout(passed, 300));
    });
    expect(await opening).toMatchObject({ code: 'wrong_credentials' });
    expect(await sql('select 1 from session where person_id = ?', [id])).toHaveLength(1);
  });
});
