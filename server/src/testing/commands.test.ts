import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { ENDPOINTS, type Endpoint } from '@mile-mark/contract';
import { command, type Command } from '../platform/command/command.ts';
import { createTestApp, fillSmallFleet, type TestApp } from './app.ts';

const FEATURES = path.join(import.meta.dirname, '../features');
const files = readdirSync(FEATURES, { recursive: true, encoding: 'utf8' })
  .filter((file) => /(commands|settings|libraryFile)/.test(file) && file.endsWith('.ts') && !file.endsWith('.test.ts'))
  .filter((file) => readFileSync(path.join(FEATURES, file), 'utf8').includes('= command({'));
const isCommand = (value: unknown): value is Command<unknown, unknown> =>
  typeof value === 'object' && value !== null && 'run' in value && 'action' in value;

let test: TestApp;
let gaugeId: string;
let coordinator: Awaited<ReturnType<TestApp['as']>>;
beforeAll(async () => {
  test = await createTestApp();
  ({ gaugeId } = await fillSmallFleet(test));
  coordinator = await test.as('coordinator');
});
afterAll(async () => test.close());

describe('every command', () => {
  it.each(files)('of %s is what its route says it is', async (file) => {
    const module = (await import(path.join(FEATURES, file))) as Record<string, unknown>;
    const commands = Object.values(module).filter(isCommand);
    expect(commands.length).toBeGreaterThan(0);
    for (const { name, action } of commands) {
      const endpoint: Endpoint | undefined = (ENDPOINTS as Record<string, Endpoint>)[name];
      expect([name, action]).toEqual([name, endpoint?.action]);
    }
  });
});

/** A valid body of every route that makes something under the client's id, and the same with another content. */
const vehicle = { unit: 'Z1', model: 'Fenby Hauler', depot: 'Hill depot', duty: 'herd rounds', dutyFrom: '2026-01-05' };
const study = () => ({
  name: `a study ${randomUUID()}`,
  gaugeId,
  parts: ['Pad 1', 'Pad 2'],
  technicianIds: [test.idOf('technician'), test.idOf('coordinator')],
  repeats: 2,
  seed: 7,
  newMm: 12,
  limitMm: 3,
});
const duty = {
  name: 'a duty',
  stopsPerMile: 1,
  mphBeforeStop: 30,
  payloadShare: 0.5,
  descentMPerMile: 1,
  retarderShare: 0,
  towedKg: 0,
  milesPerDay: 50,
  slowdownsPerMile: 0,
  slowdownFromMph: 0,
  slowdownToMph: 0,
  longestDescentM: 0,
  source: 'stated',
};
const limit = {
  jurisdiction: 'Nowhere',
  authority: 'policy',
  brake: 'hydraulic',
  leastMm: 2,
  equalityPasses: true,
  source: 'the shop',
  revision: '1',
};
const wrench = {
  name: 'a wrench',
  kind: 'wrench',
  type: 'setting',
  depot: 'Hill depot',
  unit: 'N·m',
  least: 20,
  most: 200,
  graduation: 1,
  lengthMm: 400,
  drive: '1/2 in',
  calibrationDue: null,
};
const CREATING: [string, () => object, object][] = [
  ['/api/gauges', () => ({ name: 'a gauge', kind: 'gauge', resolutionMm: 0.1, unit: 'mm' }), { kind: 'other' }],
  ['/api/people', () => ({ name: 'Somebody', role: 'technician' }), { name: 'Somebody else' }],
  ['/api/duties', () => duty, { stopsPerMile: 2 }],
  ['/api/limits', () => limit, { leastMm: 2.5 }],
  ['/api/vehicles', () => ({ ...vehicle, odometer: '1000' }), { odometer: '2000' }],
  ['/api/vehicles/P1/duty-periods', () => ({ duty: 'street delivery', from: '2026-03-02' }), { from: '2026-03-03' }],
  [
    '/api/services',
    () => ({ unit: 'P2', axle: 1, date: '2026-01-05', odometer: '60,000', fitted: 'pads' }),
    { fitted: 'rotors' },
  ],
  ['/api/studies', study, { repeats: 3 }],
  ['/api/joint-kinds', () => ({ name: 'a joint', brake: null, expected: false, hollow: false }), { hollow: true }],
  ['/api/torque-tools', () => wrench, { most: 300 }],
  ['/api/defects', () => ({ unit: 'P1', kind: 'squeal' }), { kind: 'drag' }],
  ['/api/jobs', () => ({ unit: 'P1', axles: [{ axle: 1 }] }), { axles: [{ axle: 2 }] }],
];

describe('what is edited', () => {
  it('is refused where somebody changed it after it was seen, and taken where it was seen as it is', async () => {
    const seen = (await coordinator.get('/api/settings').expect(200)).body as { revision: number };
    const change = { riskTarget: 0.05, riskTargetHeavy: 0.05, marginShare: 0.25, revision: seen.revision };
    const first = await coordinator.put('/api/settings').send(change).expect(200);
    expect(first.body).toMatchObject({ revision: seen.revision + 1 });
    const late = await coordinator.put('/api/settings').send({ ...change, marginShare: 0.3 });
    expect(late.body).toMatchObject({ status: 409, errors: [{ field: 'revision' }] });
    expect((await coordinator.get('/api/settings')).body).toMatchObject({ marginShare: 0.25 });
    await coordinator
      .put('/api/settings')
      .send({ ...change, revision: seen.revision + 1 })
      .expect(200);
  });

  it('by two at once is changed by one of them', async () => {
    const [model] = (await coordinator.get('/api/library').expect(200)).body.items as {
      id: string;
      revision: number;
    }[];
    const fitment = { drive: null, wheelbaseMm: null, builtFrom: null, builtTo: null, axleOption: null };
    const send = (wheelbaseMm: number) =>
      coordinator.put(`/api/models/${model?.id}/fitment`).send({ ...fitment, wheelbaseMm, revision: model?.revision });
    const answers = await Promise.all([send(3000), send(4000)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 409]);
  });
});

describe('every route that makes something', () => {
  it.each(CREATING)('%s answers a repeat as the first, once, and refuses other content', async (route, body, other) => {
    const entry = { id: randomUUID(), ...body() };
    const send = (content: object) => coordinator.post(route).send(content);
    const first = await send(entry);
    expect([route, first.status, first.body]).toEqual([route, 201, { id: entry.id }]);
    const audits = async () => (await test.orm.em.fork().execute('select 1 from audit')).length;
    const before = await audits();
    const again = await send(entry);
    expect([again.status, again.body]).toEqual([201, first.body]);
    expect(await audits()).toBe(before);
    expect((await send({ ...entry, ...other })).body).toMatchObject({ status: 409, errors: [{ field: 'id' }] });
  });

  it('keeps no password in what tells requests apart', async () => {
    const id = randomUUID();
    const person = { id, name: 'Secret', role: 'viewer', email: 'secret@dairy.example' };
    const send = (password: string) => coordinator.post('/api/people').send({ ...person, password });
    await send('a first long password').expect(201);
    await send('a second long password').expect(201);
  });
});

describe('two who wait for each other', () => {
  const person = () => test.idOf('coordinator');
  /** As PostgreSQL gives a transaction up, after it wrote something. */
  const crossing = (times: number) => {
    let attempts = 0;
    const one = command({
      name: 'crosses',
      action: 'read',
      clientId: 'id',
      run: async ({ em, audit }, { id }: { id: string }) => {
        attempts += 1;
        await audit('crossed', `test/${id}`);
        if (attempts <= times)
          await em.execute(`do $$ begin raise exception 'deadlock detected' using errcode = '40P01'; end $$`);
        return attempts;
      },
    });
    const id = randomUUID();
    const em = test.orm.em.fork();
    const call = () =>
      one.run(
        {
          ...{ em: em.fork(), today: '2026-11-20', events: test.events },
          actor: { id: person(), name: 'C', role: 'coordinator' as const },
        },
        { id },
      );
    const written = async () =>
      (await em.fork().execute<unknown[]>('select 1 from audit where subject = ?', [`test/${id}`])).length;
    return { call, written };
  };

  it('are not told of it: the one that was given up is done anew, and is done once', async () => {
    const { call, written } = crossing(3);
    expect(await call()).toBe(4);
    expect(await written()).toBe(1);
    expect(await call()).toBe(4);
    expect(await written()).toBe(1);
  });

  it('are told to come again where it does not end, and nothing is written', async () => {
    const { call, written } = crossing(100);
    await expect(call()).rejects.toMatchObject({ code: '40P01' });
    expect(await written()).toBe(0);
  });
});
