import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { callersOf, type Endpoint, ENDPOINTS } from '@mile-mark/contract';
import { createTestApp, fillSmallFleet, type TestApp } from './app.ts';
import { type Known, plausible, schemaOf, spoilt } from './hostile.ts';

/** No request of any form is a fault of the server, and one that is refused for what it says names the field. */

let test: TestApp;
let agent: Awaited<ReturnType<TestApp['as']>>;
let known: Known;
beforeAll(async () => {
  test = await createTestApp();
  const { gaugeId } = await fillSmallFleet(test);
  agent = await test.as('coordinator');
  known = {
    unit: 'P1',
    model: 'Fenby Hauler',
    depot: 'Hill depot',
    duty: 'herd rounds',
    technicianId: test.idOf('technician'),
    personId: test.idOf('technician'),
    gaugeId,
    axle: 1,
    date: '2026-05-05',
    odometer: '60,000',
    odometerUnit: 'mi',
  };
});
afterAll(async () => test.close());

/** Those that end the session with which the others are tried, or are tried by attempts to sign in. */
const APART = ['signIn', 'signOut', 'firstAccount', 'resetPassword', 'changePassword', 'takeInArchive'];
const routes = Object.entries<Endpoint>(ENDPOINTS).filter(([name]) => !APART.includes(name));
const EACH = 4;
const seedOf = (name: string) => [...name].reduce((sum, letter) => sum * 31 + letter.charCodeAt(0), 7) % 2 ** 31;

const addressOf = ({ path, params }: Endpoint, values: Record<string, string> = {}) => {
  const own = (params ? plausible(schemaOf(params), known) : {}) as Record<string, string>;
  return path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(values[name] ?? own[name] ?? '1'));
};

interface Answer {
  status: number;
  body: { errors?: { field: string }[]; title?: string };
}
const shown = (value: unknown) => JSON.stringify(value)?.slice(0, 60) ?? 'undefined';
/** What is wrong with an answer, if anything is. */
function wrongWith({ status, body }: Answer): string | undefined {
  if (status >= 500) return `${status}`;
  if (status === 422 && !(body.errors?.length && body.errors.every(({ field }) => field !== ''))) return 'no field';
  return undefined;
}

/** What is made gets an id of its own each time: the same one again is answered as before. */
const withOwnId = (body: unknown): unknown =>
  typeof body === 'object' && body !== null && 'id' in body ? { ...body, id: randomUUID() } : body;

describe('a body with one value that is not what it should be', () => {
  it.each(routes.filter(([, { body }]) => body))('of %s is taken or refused at its field', async (name, endpoint) => {
    const right = plausible(schemaOf(endpoint.body as never), known);
    const wrong: string[] = [];
    for (const { path, put, body } of spoilt(right, EACH, seedOf(name))) {
      const sent = JSON.stringify(path[0] === 'id' ? body : withOwnId(body));
      const request = agent[endpoint.method](addressOf(endpoint)).set('content-type', 'application/json');
      const answer: Answer = await request.send(sent);
      const fault = wrongWith(answer);
      if (fault) wrong.push(`${path.join('.')} = ${shown(put)}: ${fault}`);
    }
    expect(wrong).toEqual([]);
  });
});

describe('an address with a part that is not what it should be', () => {
  const PARTS = [
    'a\u0000b',
    '\u0007',
    '%00',
    '../..',
    'x'.repeat(3000),
    "' or 1=1 --",
    '-1',
    '1e9',
    '99999999999',
    '\u200b',
  ];
  it.each(routes.filter(([, { path, query }]) => path.includes('{') || query))(
    'of %s is found, or refused at its field',
    async (name, endpoint) => {
      const wrong: string[] = [];
      const query = endpoint.query ? (plausible(schemaOf(endpoint.query), known) as Record<string, unknown>) : {};
      const names = [...endpoint.path.matchAll(/\{(\w+)\}/g)].map(([, one]) => one as string);
      for (const put of PARTS) {
        for (const one of [...names, ...Object.keys(query)]) {
          const request = agent[endpoint.method](addressOf(endpoint, { [one]: put })).query(
            one in query ? { ...query, [one]: put } : query,
          );
          const answer: Answer = await (endpoint.body ? request.send({}) : request);
          const fault = wrongWith(answer);
          if (fault) wrong.push(`${one} = ${shown(put)}: ${fault}`);
        }
      }
      expect([name, wrong]).toEqual([name, []]);
    },
  );
  it('covers every route that somebody may call', () => {
    expect(routes.filter(([, endpoint]) => callersOf(endpoint)).length).toBeGreaterThan(100);
  });
});
