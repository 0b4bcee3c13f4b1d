import { afterAll, beforeAll, expect } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type supertest from 'supertest';
import type { BenchOfVehicle, LibraryModel, Specification } from '@mile-mark/contract/specifications';
import { createTestApp, fillSmallFleet, type TestApp } from './app.ts';
import { jointKindId } from '../features/specifications/shippedJoints.ts';

export type Client = ReturnType<typeof supertest.agent>;

export const SOURCE = { document: 'Hauler workshop manual', page: '12', revision: 'A', date: '2025-01-10' };
const BRACKET = jointKindId('Bracket bolt');
export const NUT = jointKindId('Wheel nut');

/** The small fleet with nothing in its library, and who enters and releases; made before a file's tests. */
export const here = {} as { test: TestApp; coordinator: Client; technician: Client; model: LibraryModel };

/** Makes `here` before the tests of a file, and takes it down after them. */
export function useEmptyLibrary(): void {
  beforeAll(async () => {
    here.test = await createTestApp();
    await fillSmallFleet(here.test);
    here.coordinator = await here.test.as('coordinator');
    here.technician = await here.test.as('technician');
    const { body } = await here.coordinator.get('/api/library').expect(200);
    here.model = (body as { items: LibraryModel[] }).items[0] as LibraryModel;
  });
  afterAll(async () => here.test.close());
}

export const torque = (rest: object = {}) => ({ unit: 'lbf·ft', nominal: 130, ...rest });
export const joint = (rest: object = {}, values: object = {}) => ({
  id: randomUUID(),
  modelId: here.model.id,
  axle: 1,
  jointKindId: BRACKET,
  position: '',
  source: SOURCE,
  values: {
    about: 'joint',
    fastener: { thread: 'M14x1.5', headKind: 'hex', headSize: '21 mm', count: 2 },
    torque: torque(),
    preparation: 'medium thread locker',
    oneTimeUse: false,
    ...values,
  },
  ...rest,
});
export const enter = (client: Client, body: object) => client.post('/api/specifications').send(body);
export const release = (client: Client, id: string, typed: object | null, rest: object = {}) =>
  client
    .post(`/api/specification-revisions/${id}/releases`)
    .send({ id: randomUUID(), typed: { about: 'joint', torque: typed }, ...rest });
export const fieldOf = (answer: { body: unknown }) =>
  ((answer.body as { errors?: { field: string }[] }).errors ?? []).map(({ field }) => field);
export const bench = async (unit = 'P1') =>
  (await here.technician.get(`/api/vehicles/${unit}/bench`).expect(200)).body as BenchOfVehicle;
export const open = async (client: Client) =>
  ((await client.get('/api/specifications/open').expect(200)).body as { items: Specification[] }).items;
/** Enters and releases, and gives the revision's id. */
export async function released(body: ReturnType<typeof joint>, typed: object | null): Promise<string> {
  await enter(here.coordinator, body).expect(201);
  const answer = await release(here.technician, body.id, typed).expect(200);
  expect(answer.body).toMatchObject({ released: true });
  return body.id;
}
