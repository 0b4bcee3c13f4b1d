import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { callersOf, type Endpoint, ENDPOINTS } from '@mile-mark/contract';
import type { MileMark } from '@mile-mark/contract/forecasts';
import type { Person, SessionState } from '@mile-mark/contract/people';
import type { Plan } from '@mile-mark/contract/plan';
import { TODAY } from './app.ts';
import { createDepotsApp, DEPOT, type DepotsApp } from './depotsApp.ts';

/**
 * A technician or a parts keeper may be limited to depots: every route that reads is called by both, and its answer
 * searched for what is at other depots.
 */

let app: DepotsApp;
beforeAll(async () => {
  app = await createDepotsApp();
}, 240_000);
afterAll(async () => app.test.close());

const READING = Object.entries<Endpoint>(ENDPOINTS).filter(
  ([, endpoint]) =>
    endpoint.method === 'get' &&
    (['technician', 'parts keeper'] as const).some((role) => callersOf(endpoint)?.includes(role)),
);
/** An id of something, where it can be at another depot, for a path. */
const ID_OF: Record<string, string> = {
  jobs: 'select id from job where vehicle_id = ?',
  depots: `select id from depot where name <> '${DEPOT}' and ?::uuid is not null limit 1`,
  models: 'select model_id as id from vehicle where id = ?',
  plans: `select id from plan where state = 'published' and ?::uuid is not null`,
};
const ASKED: Record<string, Record<string, string>> = {
  modelKits: { model: 'Ostrey Carrier 35' },
  demand: { part: 'PD-OC3-1', depot: DEPOT },
  dayBoard: { depot: DEPOT },
  axleKits: { unit: 'own' },
  thisWeekPdf: { depot: DEPOT },
  dutyPreview: { duty: 'herd rounds', from: TODAY },
};
const unitsIn = (text: string | undefined): string[] => [...new Set(text?.match(/\b[PVT]\d\d\b/g) ?? [])];

describe('who is limited', () => {
  it('is a technician or a parts keeper, to depots that are on record', async () => {
    expect((await app.person('technician')).depots).toEqual([DEPOT]);
    const { me } = (await app.technician.get('/api/session').expect(200)).body as SessionState;
    expect(me?.depots).toEqual([DEPOT]);
    const viewer = await app.limit('viewer', [DEPOT]);
    expect([viewer.status, viewer.body.errors]).toEqual([
      422,
      [{ field: 'depots', message: expect.stringContaining('technician or a parts keeper') }],
    ]);
    const nowhere = await app.limit('technician', ['The moon']);
    expect([nowhere.status, nowhere.body.errors]).toEqual([
      422,
      [{ field: 'depots', message: expect.stringContaining(DEPOT) }],
    ]);
    expect((await app.person('technician')).depots).toEqual([DEPOT]);
  });

  it('may come with limits; a change is told who changed them meanwhile, and another role ends them', async () => {
    const id = randomUUID();
    const made = { id, name: 'Una Fallow', role: 'technician', depots: ['northfold'] };
    await app.coordinator.post('/api/people').send(made).expect(201);
    const { items } = (await app.coordinator.get('/api/people').expect(200)).body as { items: Person[] };
    expect(items.find((one) => one.id === id)?.depots).toEqual(['Northfold']);
    const stands = { name: 'Una Fallow', role: 'technician', email: null };
    const change = (to: object, seen: string[]) =>
      app.coordinator.put(`/api/people/${id}`).send({ ...stands, ...to, seen: { ...stands, depots: seen } });
    await change({ depots: [DEPOT] }, []).expect(409);
    await change({ depots: [DEPOT] }, ['Northfold']).expect(200);
    const viewer = await change({ role: 'viewer' }, [DEPOT]);
    expect([viewer.status, viewer.body.depots]).toEqual([200, []]);
  });
});

describe('what is at other depots', () => {
  it.each(READING)('is not in what %s answers', async (name, endpoint) => {
    const { id, unit } = app.other;
    const table = /\/(\w+)\/\{id\}/.exec(endpoint.path)?.[1] ?? '';
    const [row] = ID_OF[table] ? await app.sql<{ id: string }>(ID_OF[table], [id]) : [];
    const foreign = new Set(app.others.map((one) => one.unit));
    for (const role of callersOf(endpoint) ?? []) {
      if (role !== 'technician' && role !== 'parts keeper') continue;
      for (const at of [unit, app.own[0] ?? '']) {
        const path = endpoint.path.replace('{unit}', at).replace('{id}', row?.id ?? randomUUID());
        const { unit: asked, ...query } = ASKED[name] ?? {};
        const answer = await app
          .agentOf(role)
          .get(path)
          .query(asked ? { unit: app.own[0], ...query } : query);
        if (path.includes(`/${unit}`)) expect([answer.status, answer.body.errors?.[0]?.field]).toEqual([403, 'unit']);
        expect(unitsIn(answer.status === 403 ? '' : answer.text).filter((one) => foreign.has(one))).toEqual([]);
        // What is left is still what the contract says.
        if (answer.status === 200 && answer.type === 'application/json')
          expect(endpoint.response.safeParse(answer.body).error).toBeUndefined();
      }
    }
  });

  it('is there for who is not limited, so that it would be found', async () => {
    for (const path of ['/api/mile-marks', '/api/vehicles', '/api/bay', '/api/readings.csv', '/api/jobs'])
      expect([path, unitsIn((await app.coordinator.get(path).expect(200)).text).length > app.own.length]).toEqual([
        path,
        true,
      ]);
  });

  it('leaves all that is theirs, and what another depot does of it', async () => {
    const { items } = (await app.technician.get('/api/mile-marks').expect(200)).body as { items: MileMark[] };
    expect([...new Set(items.map(({ unit }) => unit))].sort()).toEqual([...app.own].sort());
    const lent = app.published.items.find(({ lentFrom }) => lentFrom === DEPOT);
    const guest = app.published.items.find(({ depot, lentFrom }) => depot === DEPOT && lentFrom !== null);
    if (!guest) throw new Error('nobody is done here who is not from here');
    for (const item of [guest, ...(lent ? [lent] : [])])
      await app.technician.get(`/api/vehicles/${item.unit}`).expect(200);
    const plan = (await app.technician.get(`/api/plans/${app.published.id}`).expect(200)).body as Plan;
    expect(plan.items.map(({ unit }) => unit)).toContain(guest.unit);
    expect(plan.items.every(({ unit }) => app.own.includes(unit))).toBe(true);
  });

  it('is told apart by its tag: what a browser has of it is known again, and is nobody else’s', async () => {
    const [whole, cut] = [
      await app.coordinator.get('/api/mile-marks').expect(200),
      await app.technician.get('/api/mile-marks').expect(200),
    ];
    expect(cut.headers.etag).not.toBe(whole.headers.etag);
    await app.technician
      .get('/api/mile-marks')
      .set('if-none-match', cut.headers.etag ?? '')
      .expect(304);
    await app.technician
      .get('/api/mile-marks')
      .set('if-none-match', whole.headers.etag ?? '')
      .expect(200);
  });

  it('asks for one of theirs where a paper is of all, and refuses another’s', async () => {
    const of = (depot?: string) => app.technician.get('/api/this-week.pdf').query(depot ? { depot } : {});
    expect([(await of()).status, (await of('Northfold')).status, (await of(DEPOT)).status]).toEqual([403, 403, 200]);
  });
});
