import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type supertest from 'supertest';
import type { Depot } from '@mile-mark/contract/register';
import type {
  BenchOfDepot,
  BenchOfVehicle,
  ChangedSince,
  Coverage,
  JointKindRow,
  LibraryModel,
  TorqueTool,
} from '@mile-mark/contract/specifications';
import { createTestApp, fillSmallFleet, type TestApp, TODAY } from '../../testing/app.ts';
import { jointKindId } from './shippedJoints.ts';

type Client = ReturnType<typeof supertest.agent>;
let test: TestApp;
let coordinator: Client;
let technician: Client;

beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  coordinator = await test.as('coordinator');
  technician = await test.as('technician');
});
afterAll(async () => test.close());

const items = async <T>(path: string, client = coordinator) =>
  ((await client.get(`/api/${path}`).expect(200)).body as { items: T[] }).items;
const fieldOf = (answer: { body: unknown }) =>
  ((answer.body as { errors?: { field: string }[] }).errors ?? []).map(({ field }) => field);
const theModel = async () => (await items<LibraryModel>('library'))[0] as LibraryModel;
const torque = { unit: 'N·m', nominal: 110 };

async function entered(values: object, rest: object = {}): Promise<string> {
  const id = randomUUID();
  await coordinator
    .post('/api/specifications')
    .send({
      id,
      modelId: (await theModel()).id,
      axle: 1,
      jointKindId: jointKindId('Wheel nut'),
      values: { about: 'joint', torque, ...values },
      source: { document: 'Manual', page: '1', revision: 'A', date: '2025-01-01' },
      ...rest,
    })
    .expect(201);
  return id;
}
async function released(values: object = {}, typed: object = torque, rest: object = {}): Promise<string> {
  const id = await entered(values, rest);
  const answer = await technician
    .post(`/api/specification-revisions/${id}/releases`)
    .send({ id: randomUUID(), typed: { about: 'joint', torque: typed } })
    .expect(200);
  expect(answer.body).toMatchObject({ released: true });
  return id;
}
const serve = (unit: string, odometer: string, fitted = 'pads') =>
  technician.post('/api/services').send({ id: randomUUID(), unit, axle: 1, date: TODAY, odometer, fitted }).expect(201);

describe('how far the library is', () => {
  it('counts, axle by axle, what is released, what waits and what every such axle has besides', async () => {
    const kinds = (await items<JointKindRow>('joint-kinds')).filter(
      ({ expected, brake }) => expected && brake !== 'air',
    );
    const before = (await theModel()).axles.map(({ axle, released: counts, lacking, open }) => [
      axle,
      counts,
      lacking,
      open,
    ]);
    expect(before).toEqual([
      [1, 0, kinds.length, 0],
      [2, 0, kinds.length, 0],
    ]);
    await entered({}, { axle: 2 });
    await released();
    const after = (await theModel()).axles.map(({ axle, released: counts, lacking, open }) => [
      axle,
      counts,
      lacking,
      open,
    ]);
    expect(after).toEqual([
      [1, 1, kinds.length - 1, 0],
      [2, 0, kinds.length, 1],
    ]);
  });

  it('takes a kind of joint of the shop’s own, once, and then misses it where it is expected', async () => {
    const kind = { id: randomUUID(), name: 'Dust shield bolt', brake: 'hydraulic', expected: true, hollow: false };
    await coordinator.post('/api/joint-kinds').send(kind).expect(201);
    await coordinator.post('/api/joint-kinds').send(kind).expect(201);
    expect(
      fieldOf(await coordinator.post('/api/joint-kinds').send({ ...kind, id: randomUUID(), name: 'dust shield BOLT' })),
    ).toEqual(['name']);
    expect((await technician.post('/api/joint-kinds').send({ ...kind, id: randomUUID(), name: 'X' })).status).toBe(403);
    const { body } = await coordinator.get('/api/specification-coverage').expect(200);
    expect((body as Coverage).lacking.map(({ joint }) => joint)).toContain('Dust shield bolt');
  });
});

describe('bench sheets', () => {
  it('of a depot hold every vehicle with its next mark, and of an unknown one are refused', async () => {
    const [depot] = await items<Depot>('depots');
    const bundle = (await technician.get(`/api/depots/${depot?.id}/bench`).expect(200)).body as BenchOfDepot;
    expect(bundle.vehicles.map(({ unit }) => unit)).toEqual(['P1', 'P2']);
    expect(bundle.models).toHaveLength(1);
    for (const { next, modelId } of bundle.vehicles) {
      expect(modelId).toBe(bundle.models[0]?.id);
      expect(next === null || /^\d{4}-/.test(next.markDate)).toBe(true);
    }
    expect((await technician.get(`/api/depots/${randomUUID()}/bench`)).status).toBe(404);
    expect((await technician.get('/api/vehicles/X9/bench')).status).toBe(422);
    const one = (await technician.get('/api/vehicles/p1/bench').expect(200)).body as BenchOfVehicle;
    expect(one.model).toEqual(bundle.models[0]);
    expect(one.tools).toEqual(bundle.tools);
  });
});

describe('torque tools', () => {
  const wrench = {
    id: randomUUID(),
    kind: 'wrench',
    name: 'Half-inch',
    depot: 'Hill depot',
    unit: 'N·m',
    least: 40,
    most: 200,
    graduation: 1,
    calibrationDue: '2027-03-01',
  };
  const own = async () => (await items<TorqueTool>('torque-tools')).find(({ id }) => id === wrench.id);

  it('are put on record once, by the coordinator', async () => {
    await coordinator.post('/api/torque-tools').send(wrench).expect(201);
    await coordinator.post('/api/torque-tools').send(wrench).expect(201);
    expect(await own()).toMatchObject({
      type: 'setting',
      least: 40,
      most: 200,
      graduation: 1,
      lengthMm: null,
      calibrationDue: '2027-03-01',
      retired: false,
    });
    expect(
      fieldOf(await coordinator.post('/api/torque-tools').send({ ...wrench, id: randomUUID(), name: 'HALF-INCH' })),
    ).toEqual(['name']);
    expect(
      (await technician.post('/api/torque-tools').send({ ...wrench, id: randomUUID(), name: 'Other' })).status,
    ).toBe(403);
  });

  it('are calibrated: the newest says when the next is due, and a repeat adds nothing', async () => {
    const calibration = { id: randomUUID(), doneOn: '2026-11-01', due: '2027-11-01' };
    const calibrate = (body: object) => coordinator.post(`/api/torque-tools/${wrench.id}/calibrations`).send(body);
    await calibrate(calibration).expect(201);
    await calibrate(calibration).expect(201);
    expect(await own()).toMatchObject({ calibrationDue: '2027-11-01' });
    expect(fieldOf(await calibrate({ id: randomUUID(), doneOn: '2026-11-21', due: '2027-11-21' }))).toEqual(['doneOn']);
    const rows = await test.orm.em
      .fork()
      .execute<object[]>('select 1 from tool_calibration where tool_id = ?', [wrench.id]);
    expect(rows).toHaveLength(2);
    const unknown = { ...calibration, id: randomUUID() };
    expect((await coordinator.post(`/api/torque-tools/${randomUUID()}/calibrations`).send(unknown)).status).toBe(404);
  });

  it('without a scale are not calibrated', async () => {
    const adapter = {
      id: randomUUID(),
      kind: 'adapter',
      name: 'Open end',
      depot: 'Hill depot',
      unit: 'N·m',
      most: 300,
      extensionMm: 90,
    };
    await coordinator.post('/api/torque-tools').send(adapter).expect(201);
    const answer = await coordinator
      .post(`/api/torque-tools/${adapter.id}/calibrations`)
      .send({ id: randomUUID(), doneOn: '2026-11-01', due: '2027-11-01' });
    expect(fieldOf(answer)).toEqual(['doneOn']);
  });

  it('retire and come back, and move only to a depot on record', async () => {
    const change = (body: object) => coordinator.put(`/api/torque-tools/${wrench.id}`).send(body);
    await change({ depot: 'Hill depot', retired: true }).expect(200);
    expect(await own()).toMatchObject({ retired: true });
    const bench = (await technician.get('/api/vehicles/P1/bench').expect(200)).body as BenchOfVehicle;
    expect(bench.tools.map(({ name }) => name)).toEqual(['Open end']);
    await change({ depot: 'Hill depot', retired: false }).expect(200);
    expect(fieldOf(await change({ depot: 'Nowhere', retired: false }))).toEqual(['depot']);
    expect(
      (await coordinator.put(`/api/torque-tools/${randomUUID()}`).send({ depot: 'Hill depot', retired: false })).status,
    ).toBe(404);
  });
});

describe('jobs done on what changed', () => {
  const flags = () => items<ChangedSince>('changed-specifications');

  it('of the same day go by the moment, and one that was done again since says so', async () => {
    await serve('P1', '41,000 mi');
    await released({ torque: { unit: 'N·m', nominal: 120 } }, { unit: 'N·m', nominal: 120 });
    await serve('P2', '61,000 mi');
    expect((await flags()).map(({ unit, doneAgainOn }) => [unit, doneAgainOn])).toEqual([['P1', null]]);
    await serve('P1', '41,000 mi', 'pads and rotors');
    expect((await flags()).map(({ unit, doneAgainOn }) => [unit, doneAgainOn])).toEqual([['P1', TODAY]]);
  });

  it('that is taken back are flagged too, with the reason', async () => {
    const id = await released({ torque: { unit: 'N·m', nominal: 125 } }, { unit: 'N·m', nominal: 125 });
    await coordinator
      .post(`/api/specification-revisions/${id}/withdrawal`)
      .send({ reason: 'The maker recalled it' })
      .expect(201);
    const back = (await flags()).filter(({ changes }) => changes.some(({ field }) => field === 'Withdrawn'));
    expect(back.length).toBeGreaterThan(0);
    expect(back[0]?.changes).toEqual([{ field: 'Withdrawn', from: 'released', to: 'The maker recalled it' }]);
    expect(
      (
        await coordinator
          .post('/api/changed-specifications/answers')
          .send({ revisionId: randomUUID(), serviceId: randomUUID(), answer: 'checked' })
      ).status,
    ).toBe(404);
  });
});

describe('variants', () => {
  it('are put on record once, and a vehicle is none with other brakes', async () => {
    const model = await theModel();
    const fitment = { drive: '4x2', wheelbaseMm: null, builtFrom: null, builtTo: null, axleOption: null };
    const id = randomUUID();
    const add = () =>
      coordinator.post(`/api/models/${model.id}/variants`).send({ id, name: 'Fenby Hauler 4x2', fitment });
    await add().expect(201);
    await add().expect(201);
    expect(
      (await coordinator.post(`/api/models/${randomUUID()}/variants`).send({ id: randomUUID(), name: 'None', fitment }))
        .status,
    ).toBe(404);
    expect((await items<LibraryModel>('library')).map(({ name, vehicles }) => [name, vehicles])).toEqual([
      ['Fenby Hauler', 2],
      ['Fenby Hauler 4x2', 0],
    ]);
    await test.orm.em.fork().execute(`update model_axle set brake = 'air' where model_id = ? and axle = 2`, [id]);
    const move = (unit: string) => coordinator.put(`/api/vehicles/${unit}/model`).send({ model: 'fenby hauler 4X2' });
    const fitted = { id: randomUUID(), unit: 'P1', axle: 2, date: '2025-09-01', odometer: '26,100 mi', fitted: 'pads' };
    await coordinator.post('/api/services').send(fitted).expect(201);
    expect(fieldOf(await move('P1'))).toEqual(['model']);
    await test.orm.em.fork().execute(`update model_axle set brake = 'hydraulic' where model_id = ? and axle = 2`, [id]);
    await move('P1').expect(200);
    await move('P1').expect(200);
    const [{ moves } = { moves: 0 }] = await test.orm.em
      .fork()
      .execute<{ moves: number }[]>('select count(*)::int as moves from vehicle_model_change');
    expect(moves).toBe(1);
    await coordinator
      .put(`/api/models/${id}/fitment`)
      .send({ ...fitment, wheelbaseMm: 3100 })
      .expect(200);
    expect((await items<LibraryModel>('library'))[1]?.fitment).toEqual({ ...fitment, wheelbaseMm: 3100 });
    expect((await technician.put(`/api/models/${id}/fitment`).send(fitment)).status).toBe(403);
  });
});
