import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import supertest from 'supertest';
import type { MileMarks, VehicleDetail } from '@mile-mark/contract/forecasts';
import { createTestApp, fillSmallFleet, PASSWORD, type TestApp } from '../../testing/app.ts';

let test: TestApp;
let coordinator: Awaited<ReturnType<TestApp['as']>>;

beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  coordinator = await test.as('coordinator');
});
afterAll(async () => test.close());

const deeds = async (action: string) =>
  (await test.orm.em.fork().execute<{ subject: string }[]>('select subject from audit where action = ?', [action])).map(
    ({ subject }) => subject,
  );

describe('people', () => {
  it('are put on record with an account, and can sign in', async () => {
    const id = randomUUID();
    await coordinator
      .post('/api/people')
      .send({ id, name: 'Nell Farrow', role: 'technician', email: 'nell@dairy.example', password: PASSWORD })
      .expect(201);
    const agent = supertest.agent(test.app);
    const { body } = await agent
      .post('/api/session')
      .send({ email: 'NELL@dairy.example', password: PASSWORD })
      .expect(200);
    expect(body.me).toMatchObject({ id, name: 'Nell Farrow', role: 'technician' });
    expect(await deeds('put a person on record')).toContain(`person/${id}`);
  });

  it('without an account cannot sign in, and a name or address is taken once', async () => {
    await coordinator.post('/api/people').send({ id: randomUUID(), name: 'Odo Marl', role: 'technician' }).expect(201);
    const twice = await coordinator.post('/api/people').send({ id: randomUUID(), name: 'ODO MARL', role: 'viewer' });
    expect(twice.body).toMatchObject({ status: 409, errors: [{ field: 'name' }] });
    const address = await coordinator
      .post('/api/people')
      .send({ id: randomUUID(), name: 'Other', role: 'viewer', email: 'Nell@dairy.example', password: PASSWORD });
    expect(address.body).toMatchObject({ status: 409, errors: [{ field: 'email' }] });
  });

  it('are seen by all, their addresses by the coordinator', async () => {
    const viewer = await test.as('viewer');
    const seen = (await viewer.get('/api/people').expect(200)).body.items as { name: string; email: string | null }[];
    expect(seen.map(({ name }) => name)).toContain('Odo Marl');
    expect(seen.every(({ email }) => email === null)).toBe(true);
    const all = (await coordinator.get('/api/people')).body.items as { email: string | null }[];
    expect(all.some(({ email }) => email === 'nell@dairy.example')).toBe(true);
  });

  it('read in units of their own', async () => {
    const viewer = await test.as('viewer');
    const { body } = await viewer
      .put('/api/me/preferences')
      .send({ distanceUnit: 'km', thicknessUnit: '1/32 in' })
      .expect(200);
    expect(body.me).toMatchObject({ distanceUnit: 'km', thicknessUnit: '1/32 in' });
    expect((await viewer.get('/api/session')).body.me.distanceUnit).toBe('km');
    // One of them alone leaves the others as they are.
    await viewer.put('/api/me/preferences').send({ torqueShown: 'lbf·ft', singleKeys: false }).expect(200);
    expect((await viewer.get('/api/session')).body.me).toMatchObject({
      distanceUnit: 'km',
      thicknessUnit: '1/32 in',
      torqueShown: 'lbf·ft',
      singleKeys: false,
      walked: false,
    });
    await viewer.put('/api/me/preferences').send({ torqueShown: 'kp·m' }).expect(422);
    const [row] = await test.orm.em
      .fork()
      .execute<{ detail: unknown }[]>(`select detail from audit where action = 'set units' and person_id = ?`, [
        test.idOf('viewer'),
      ]);
    expect(row?.detail).toMatchObject({ distanceUnit: 'km', thicknessUnit: '1/32 in' });
  });
});

describe('the first account', () => {
  it('is made once, however many try at the same moment', async () => {
    const empty = await createTestApp();
    try {
      await empty.orm.em.fork().execute('delete from person');
      const attempts = ['a', 'b', 'c'].map((name) =>
        supertest(empty.app)
          .post('/api/first-account')
          .send({ name, email: `${name}@dairy.example`, password: PASSWORD }),
      );
      const statuses = (await Promise.all(attempts)).map(({ status }) => status).sort();
      expect(statuses).toEqual([201, 409, 409]);
    } finally {
      await empty.close();
    }
  });
});

describe('limits', () => {
  it('ship with source and revision', async () => {
    const { items } = (await coordinator.get('/api/limits').expect(200)).body as {
      items: { source: string; leastMm: number }[];
    };
    expect(items.map(({ leastMm }) => leastMm).sort()).toEqual([1.6, 1.6, 3.2, 3.2]);
  });

  it('of the coordinator’s own rule, and every mark follows', async () => {
    const marks = async () =>
      ((await coordinator.get('/api/mile-marks')).body as MileMarks).items.find(
        ({ unit, axle }) => unit === 'P1' && axle === 1,
      );
    await coordinator
      .post('/api/services')
      .send({ id: randomUUID(), unit: 'P1', axle: 1, date: '2026-10-01', odometer: '55,000 mi', fitted: 'pads' })
      .expect(201);
    const before = await marks();
    await coordinator
      .post('/api/limits')
      .send({
        id: randomUUID(),
        jurisdiction: 'Northfold county',
        authority: 'law',
        brake: 'hydraulic',
        leastMm: 4,
        equalityPasses: true,
        source: 'inspection order 12',
        revision: '2026',
      })
      .expect(201);
    const after = await marks();
    expect(before?.serviceLimitMm).toBe(2.75);
    expect(after?.serviceLimitMm).toBe(4);
    expect(after?.markOdometerMi).toBeLessThan(before?.markOdometerMi ?? 0);
    const detail = (await coordinator.get('/api/vehicles/P1')).body as VehicleDetail;
    expect(detail.axleDetails[0]?.limit.ruling.source).toBe('Northfold county: inspection order 12');
    const [rule] = await test.orm.em
      .fork()
      .execute<{ checked_by: string }[]>(`select checked_by from limit_rule where jurisdiction = 'Northfold county'`);
    expect(rule?.checked_by).toBe('The coordinator');
  });
});

describe('vehicles', () => {
  const vehicle = (more: object = {}) => ({
    id: randomUUID(),
    unit: ' p9 ',
    model: 'fenby hauler',
    depot: 'Hill depot',
    duty: 'herd rounds',
    dutyFrom: '2026-01-01',
    odometer: '65 000 km',
    ...more,
  });

  it('are entered with their first duty, and have a mark at once', async () => {
    await coordinator.post('/api/vehicles').send(vehicle()).expect(201);
    const list = (await coordinator.get('/api/vehicles')).body.items as {
      unit: string;
      odometerMi: number;
      axles: number[];
    }[];
    expect(list.find(({ unit }) => unit === 'P9')).toMatchObject({
      odometerMi: 40_389,
      axles: [1, 2],
      duty: 'herd rounds',
    });
    const { items } = (await coordinator.get('/api/mile-marks')).body as MileMarks;
    expect(items.filter(({ unit }) => unit === 'P9')).toHaveLength(2);
  });

  it.each([
    ['unit', {}, 409],
    ['model', { unit: 'P10', model: 'Nothing Such' }, 422],
    ['depot', { unit: 'P10', depot: 'Nowhere' }, 422],
    ['duty', { unit: 'P10', duty: 'nothing' }, 422],
    ['odometer', { unit: 'P10', odometer: 'far' }, 422],
    ['dutyFrom', { unit: 'P10', dutyFrom: '2027-01-01' }, 422],
  ])('are refused at %s', async (field, more, status) => {
    const answer = await coordinator.post('/api/vehicles').send(vehicle(more));
    expect(answer.status).toBe(status);
    expect(answer.body.errors[0].field).toBe(field);
  });
});

describe('mile marks', () => {
  it('are told once to a caller who has them', async () => {
    const first = await coordinator.get('/api/mile-marks').expect(200);
    await coordinator.get('/api/mile-marks').set('If-None-Match', String(first.headers.etag)).expect(304);
    await test.orm.em.fork().execute('update vehicle set input_rev = input_rev + 1');
    const later = await coordinator.get('/api/mile-marks').set('If-None-Match', String(first.headers.etag)).expect(200);
    expect((later.body as MileMarks).refresh.pending).toBeGreaterThan(0);
  });

  it('have the shape that other tools rely on', async () => {
    const { items } = (await coordinator.get('/api/mile-marks')).body as MileMarks;
    const dates = items.map(({ markDate }) => markDate);
    expect(dates).toEqual([...dates].sort());
    expect(Object.keys(items[0] ?? {})).toEqual(
      expect.arrayContaining([
        'unit',
        'axle',
        'thinnestMm',
        'serviceLimitMm',
        'markOdometerMi',
        'markDate',
        'medianOdometerMi',
        'interval80',
        'probabilityBelowNow',
        'evidence',
      ]),
    );
    expect(Object.keys(items[0]?.interval80 ?? {})).toEqual(expect.arrayContaining(['fromMi', 'toMi']));
  });

  it('follow the shop’s risk target', async () => {
    await test.orm.em.fork().execute(`insert into setting (key, value) values ('riskTarget', '0.2'::jsonb)`);
    const { riskTarget } = (await coordinator.get('/api/mile-marks')).body as MileMarks;
    expect(riskTarget).toBe(0.2);
  });
});
