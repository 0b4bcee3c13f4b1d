import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import supertest from 'supertest';
import { callersOf, type Endpoint, ENDPOINTS, type Role } from '@mile-mark/contract';
import { createTestApp, PASSWORD, type TestApp } from './app.ts';

const ROLES: Role[] = ['coordinator', 'technician', 'parts keeper', 'viewer'];
const endpoints = Object.entries<Endpoint>(ENDPOINTS);
let test: TestApp;
const agents = new Map<Role, ReturnType<typeof supertest.agent>>();

beforeAll(async () => {
  test = await createTestApp();
  for (const role of ROLES) agents.set(role, await test.as(role));
});
afterAll(async () => test.close());

const pathOf = ({ path }: Endpoint) =>
  path.replace('{id}', randomUUID()).replace('{unit}', 'X1').replace('{line}', '1');
const send = (client: ReturnType<typeof supertest.agent>, endpoint: Endpoint) => {
  const request = client[endpoint.method](pathOf(endpoint));
  return endpoint.body ? request.send({}) : request;
};

describe('every route says who may call it', () => {
  it.each(endpoints.filter(([, endpoint]) => callersOf(endpoint)))(
    '%s refuses whoever is not signed in',
    async (_name, endpoint) => {
      const answer = await send(supertest.agent(test.app), endpoint);
      expect(answer.status).toBe(401);
      expect(answer.type).toBe('application/problem+json');
    },
  );

  const pairs = endpoints.flatMap(([name, endpoint]) =>
    ROLES.map((role) => ({ name, endpoint, role, allowed: callersOf(endpoint)?.includes(role) ?? true })),
  );

  it.each(pairs.filter(({ allowed }) => !allowed))('$name refuses a $role', async ({ endpoint, role }) => {
    const answer = await send(agents.get(role) as ReturnType<typeof supertest.agent>, endpoint);
    expect(answer.status).toBe(403);
    expect(answer.body).toMatchObject({ type: 'urn:mile-mark:problem:forbidden' });
  });

  it.each(pairs.filter(({ allowed, name }) => allowed && name !== 'signOut'))(
    '$name lets a $role through to what it asks',
    async ({ endpoint, role }) => {
      const answer = await send(agents.get(role) as ReturnType<typeof supertest.agent>, endpoint);
      expect([401, 403, 500]).not.toContain(answer.status);
    },
  );

  const written = endpoints.filter(([, endpoint]) => endpoint.body && callersOf(endpoint));
  const broken = (client: ReturnType<typeof supertest.agent>, endpoint: Endpoint) =>
    client[endpoint.method](pathOf(endpoint)).set('content-type', 'application/json').send('{"name":');

  it.each(written)('%s reads the body of nobody who may not call it', async (_name, endpoint) => {
    expect((await broken(supertest.agent(test.app), endpoint)).status).toBe(401);
    for (const role of ROLES)
      expect([role, (await broken(agents.get(role) as ReturnType<typeof supertest.agent>, endpoint)).status]).toEqual([
        role,
        callersOf(endpoint)?.includes(role) ? 400 : 403,
      ]);
  });

  const ROOM = { form: [0.25, 'body'], list: [4, 'body'], photo: [2.5, 'jpegBase64'], file: [16, 'file'] } as const;
  it.each(written)('%s takes a body of its size, and one larger at the field that says so', async (_name, endpoint) => {
    const [megabytes, field] = ROOM[endpoint.room ?? 'form'];
    const agent = agents.get('coordinator') as ReturnType<typeof supertest.agent>;
    const sized = (bytes: number) => agent[endpoint.method](pathOf(endpoint)).send({ a: 'x'.repeat(bytes - 8) });
    const bytes = megabytes * 1024 * 1024;
    expect((await sized(bytes)).status).not.toBe(413);
    const { body } = await sized(bytes + 1);
    expect(body).toMatchObject({ status: 413, errors: [{ field, message: expect.stringMatching(/ is accepted/) }] });
  });

  it('has no route besides those of the contract', async () => {
    expect((await supertest(test.app).get('/api/everything')).status).toBe(404);
  });
});

describe('sessions', () => {
  it('set a cookie no script reads and no other site sends, and end', async () => {
    const agent = supertest.agent(test.app);
    const answer = await agent
      .post('/api/session')
      .send({ email: 'Coordinator@Dairy.example', password: PASSWORD })
      .expect(200);
    const cookie = String(answer.headers['set-cookie']);
    expect(cookie).toContain('HttpOnly');
    expect(cookie).toContain('SameSite=Strict');
    await agent.get('/api/vehicles').expect(200);
    await agent.delete('/api/session').expect(204);
    await agent.get('/api/vehicles').expect(401);
  });

  it('are over at their time', async () => {
    const agent = await test.as('viewer');
    await agent.get('/api/vehicles').expect(200);
    const over = `update session set expires_at = now() - interval '1 second' where person_id = ?`;
    await test.orm.em.fork().execute(over, [test.idOf('viewer')]);
    await agent.get('/api/vehicles').expect(401);
    expect((await agent.get('/api/session').expect(200)).body.me).toBeNull();
  });

  it('keep only the hash of their token', async () => {
    const agent = supertest.agent(test.app);
    const answer = await agent.post('/api/session').send({ email: 'viewer@dairy.example', password: PASSWORD });
    const token = /milemark_session=([^;]+)/.exec(String(answer.headers['set-cookie']))?.[1] ?? '';
    const rows = await test.orm.em.fork().execute<{ token_hash: string }[]>('select token_hash from session');
    expect(token.length).toBeGreaterThan(30);
    expect(rows.map(({ token_hash }) => token_hash)).not.toContain(token);
  });

  it('store passwords as argon2id', async () => {
    const [row] = await test.orm.em
      .fork()
      .execute<{ password_hash: string }[]>('select password_hash from person limit 1');
    expect(row?.password_hash).toMatch(/^\$argon2id\$/);
  });

  it('refuse a wrong password and an unknown address in the same words', async () => {
    const wrong = await supertest(test.app)
      .post('/api/session')
      .send({ email: 'viewer@dairy.example', password: 'wrong' });
    const unknown = await supertest(test.app)
      .post('/api/session')
      .send({ email: 'nobody@dairy.example', password: 'wrong' });
    expect(wrong.status).toBe(401);
    expect(unknown.body).toEqual(wrong.body);
  });

  it('refuse the first account once anyone has one', async () => {
    const answer = await supertest(test.app)
      .post('/api/first-account')
      .send({ name: 'Late', email: 'late@dairy.example', password: PASSWORD });
    expect(answer.status).toBe(409);
  });
});

describe('requests from elsewhere', () => {
  it.each([
    [{ 'sec-fetch-site': 'cross-site' }, 403],
    [{ origin: 'https://elsewhere.example' }, 403],
    [{ 'content-type': 'text/plain' }, 415],
  ] as const)('are refused: %j', async (headers, status) => {
    const answer = await supertest(test.app)
      .post('/api/session')
      .set(headers)
      .send('{"email":"a@b.example","password":"x"}');
    expect(answer.status).toBe(status);
  });

  it('limit attempts to sign in', async () => {
    let status = 0;
    for (let i = 0; i < 25 && status !== 429; i += 1) {
      status = (
        await supertest(test.app).post('/api/session').send({ email: 'viewer@dairy.example', password: 'wrong' })
      ).status;
    }
    expect(status).toBe(429);
  });
});

describe('the description', () => {
  it('is OpenAPI 3.1 and tells every route and who may call it', async () => {
    const { body } = await supertest(test.app).get('/api/openapi.json').expect(200);
    expect(body.openapi).toBe('3.1.0');
    for (const [, { path, method }] of endpoints)
      expect(body.paths[path]?.[method]?.description).toMatch(/may call|called by/);
  });

  it('health answers for server and database', async () => {
    expect((await supertest(test.app).get('/api/health')).body).toEqual({
      status: 'ok',
      database: 'ok',
      queue: 'ok',
    });
  });
});
