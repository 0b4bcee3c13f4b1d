import { afterAll, beforeAll, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { OwnInspection } from '@mile-mark/contract/inspections';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
});
afterAll(async () => test.close());

it('the coordinator finds the sheets of either vehicle, whoever entered them; nobody else does', async () => {
  const { gaugeId } = await fillSmallFleet(test);
  const [technician, coordinator] = [await test.as('technician'), await test.as('coordinator')];
  const id = randomUUID();
  await technician
    .post('/api/readings')
    .send({
      inspection: { id, unit: 'P1', gaugeId, date: '2026-03-02', odometer: '84,000 km' },
      readings: [{ id: randomUUID(), axle: 1, side: 'left', pad: 'outer', thickness: '8.4' }],
    })
    .expect(201);
  await technician
    .post(`/api/inspections/${id}/withdrawals`)
    .send({ id: randomUUID(), reason: 'wrong vehicle', moveTo: 'P2' })
    .expect(201);
  const sheets = async (unit: string) =>
    (await coordinator.get(`/api/vehicles/${unit}/sheets`).expect(200)).body.items as OwnInspection[];
  expect((await sheets('P1')).find((one) => one.id === id)?.withdrawn?.movedTo).toBe('P2');
  expect(
    (await sheets('P2')).filter(({ date, withdrawn }) => date === '2026-03-02' && withdrawn === null),
  ).toHaveLength(1);
  await technician.get('/api/vehicles/P1/sheets').expect(403);
  await coordinator.get('/api/vehicles/P99/sheets').expect(422);
});
