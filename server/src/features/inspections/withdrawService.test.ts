import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';

/** Pads that were not fitted after all: the axle goes on with the life it had, and the record keeps that it was said. */

let test: TestApp;
let coordinator: Awaited<ReturnType<TestApp['as']>>;

beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  coordinator = await test.as('coordinator');
});
afterAll(async () => test.close());

const record = (date: string, odometer: string, by = coordinator, axle = 1) => {
  const id = randomUUID();
  return { id, sent: by.post('/api/services').send({ id, unit: 'P1', axle, date, odometer, fitted: 'pads' }) };
};
const withdraw = (serviceId: string, by = coordinator, id = randomUUID()) =>
  by.post(`/api/services/${serviceId}/withdrawals`).send({ id, reason: 'another vehicle' });
const fitted = async () =>
  ((await coordinator.get('/api/vehicles/P1')).body as VehicleDetail).services.map(
    ({ date, axle }) => `${date} ${axle}`,
  );

describe('what was recorded as fitted', () => {
  it('is withdrawn with a reason, is seen no more, and may be recorded again', async () => {
    const first = record('2026-02-02', '36000');
    await first.sent.expect(201);
    expect((await record('2026-02-02', '36000').sent).status).toBe(409);
    expect(await fitted()).toEqual(['2026-02-02 1']);
    await withdraw(first.id).expect(201);
    expect(await fitted()).toEqual([]);
    const again = record('2026-02-02', '36000');
    await again.sent.expect(201);
    expect(await fitted()).toEqual(['2026-02-02 1']);
    await withdraw(again.id).expect(201);
    const kept = await test.orm.em.fork().execute('select 1 from service_record');
    expect(kept).toHaveLength(2);
  });

  it('frees its odometer', async () => {
    const wrong = record('2026-03-02', '99000');
    await wrong.sent.expect(201);
    expect((await record('2026-04-02', '39000').sent).body.errors[0].field).toBe('odometer');
    await withdraw(wrong.id).expect(201);
    await record('2026-04-02', '39000').sent.expect(201);
  });

  it('answers a second time as the first did, and another that it is withdrawn', async () => {
    const { id, sent } = record('2026-05-02', '40500');
    await sent.expect(201);
    const key = randomUUID();
    await withdraw(id, coordinator, key).expect(201);
    await withdraw(id, coordinator, key).expect(201);
    expect((await withdraw(id)).status).toBe(409);
    expect((await withdraw(randomUUID())).status).toBe(404);
    const short = await coordinator.post(`/api/services/${id}/withdrawals`).send({ id: randomUUID(), reason: 'x' });
    expect(short.body.errors[0].field).toBe('reason');
  });

  it('is its own author’s within a day, the coordinator’s always', async () => {
    const technician = await test.as('technician');
    const theirs = record('2026-06-02', '41500');
    await theirs.sent.expect(201);
    expect((await withdraw(theirs.id, technician)).status).toBe(403);
    const own = record('2026-06-12', '42000', technician, 2);
    await own.sent.expect(201);
    await withdraw(own.id, technician).expect(201);
  });

  it('is taken in again from a list after it was withdrawn', async () => {
    const text = 'date,unit,odometer_mi,axle,fitted\n2026-07-02,P2,61000,1,pads\n';
    const take = async () =>
      (await coordinator.post('/api/imports').send({ fileName: 'services.csv', text }).expect(200)).body as {
        records: number;
      };
    expect(await take()).toMatchObject({ records: 1 });
    expect(await take()).toMatchObject({ records: 0 });
    const [service] = ((await coordinator.get('/api/vehicles/P2')).body as VehicleDetail).services;
    await withdraw(service?.id ?? '').expect(201);
    expect(await take()).toMatchObject({ records: 1 });
  });

  it('of two at once is withdrawn once, and recorded once', async () => {
    const { id, sent } = record('2026-08-02', '43800');
    await sent.expect(201);
    const answers = await Promise.all([withdraw(id), withdraw(id)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    const both = await Promise.all([record('2026-08-02', '43800').sent, record('2026-08-02', '43800').sent]);
    expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
  });
});
