import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import supertest from 'supertest';
import { createTestApp, PASSWORD, type TestApp } from './app.ts';

/** Attempts to sign in are counted by whom they come from: behind a proxy by what it says, elsewhere never by what anybody says. */

let direct: TestApp;
let behind: TestApp;
beforeAll(async () => {
  [direct, behind] = [await createTestApp(), await createTestApp({ trustProxy: 1 })];
});
afterAll(async () => Promise.all([direct.close(), behind.close()]));

let guessed = 0;
/** A guess at an account of its own, so that only the address tells it from others; with a password, the technician. */
const attempt = (test: TestApp, from: string, password?: string) => {
  guessed += 1;
  return supertest(test.app)
    .post('/api/session')
    .set('x-forwarded-for', from)
    .send(
      password === undefined
        ? { email: `guess-${guessed}@dairy.example`, password: 'a guess at it' }
        : { email: 'technician@dairy.example', password },
    );
};
/** The answers to more attempts than are let through, each said to come from another address. */
const manyFrom = async (test: TestApp, addressOf: (attempt: number) => string) => {
  const statuses: number[] = [];
  for (let i = 0; i < 25; i += 1) statuses.push((await attempt(test, addressOf(i))).status);
  return statuses;
};

describe('attempts to sign in', () => {
  it('are not made new ones by naming another address', async () => {
    expect(await manyFrom(direct, (i) => `10.0.0.${i}`)).toContain(429);
  });

  it('behind a proxy slow down whoever makes them, not everybody who comes through it', async () => {
    expect(await manyFrom(behind, () => '192.0.2.7')).toContain(429);
    expect((await attempt(behind, '192.0.2.8')).status).toBe(401);
    // What a client writes before the proxy's own word counts for nothing.
    expect((await attempt(behind, '203.0.113.5, 192.0.2.7')).status).toBe(429);
  });

  it('behind a proxy get a cookie that goes over TLS only', async () => {
    const answer = await attempt(behind, '192.0.2.9', PASSWORD);
    const cookies = String(answer.headers['set-cookie'] ?? '');
    expect([answer.status, cookies.includes('Secure'), cookies.includes('HttpOnly')]).toEqual([200, true, true]);
  });
});
