import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ModelFigures } from '@mile-mark/contract/register';
import { TODAY } from '../../testing/app.ts';
import { type FleetStories, fleetStories } from '../../testing/fleetStories.ts';

let coordinator: FleetStories['coordinator'];
let vehicle: FleetStories['vehicle'];
let marks: FleetStories['marks'];
let depots: FleetStories['depots'];
let trail: FleetStories['trail'];
let stories: FleetStories;
let unit = '';

beforeAll(async () => {
  stories = await fleetStories();
  ({ coordinator, vehicle, marks, depots, trail } = stories);
});
afterAll(async () => stories.test.close());
/** A vehicle of its own for each story. */
beforeEach(async () => {
  unit = await stories.newVehicle();
});
const look = (date: string, odometer: string) => stories.look(unit, date, odometer);

describe('depots', () => {
  const open = async (name: string) => {
    const id = randomUUID();
    await coordinator.post('/api/depots').send({ id, name }).expect(201);
    return id;
  };

  it('are opened and renamed, once by each name', async () => {
    const id = await open('Lake depot');
    const twice = await coordinator.post('/api/depots').send({ id: randomUUID(), name: 'LAKE depot' }).expect(422);
    expect(twice.body.errors[0].field).toBe('name');
    const zone = await coordinator
      .put(`/api/depots/${id}`)
      .send({ name: 'Lake depot', timeZone: 'Mars/Base' })
      .expect(422);
    expect(zone.body.errors[0].field).toBe('timeZone');
    await coordinator.put(`/api/depots/${id}`).send({ name: 'Pond depot', timeZone: 'Europe/Oslo' }).expect(200);
    expect((await depots()).find((one) => one.id === id)).toMatchObject({
      name: 'Pond depot',
      timeZone: 'Europe/Oslo',
      closedOn: null,
      vehicles: 0,
    });
  });

  it('a renamed one stands by its new name in Ahead at once', async () => {
    const id = await open('Old name');
    await coordinator
      .post(`/api/vehicles/${unit}/moves`)
      .send({ id: randomUUID(), depot: 'Old name', on: TODAY })
      .expect(201);
    await marks();
    await coordinator.put(`/api/depots/${id}`).send({ name: 'New name', timeZone: 'UTC' }).expect(200);
    expect((await marks()).items.find((one) => one.unit === unit)?.depot).toBe('New name');
  });

  it('close with their vehicles moved; nothing goes there any more until that is taken back', async () => {
    const id = await open('Far depot');
    const there = { id: randomUUID(), depot: 'Far depot', on: TODAY };
    await coordinator.post(`/api/vehicles/${unit}/moves`).send(there).expect(201);
    expect((await coordinator.post(`/api/depots/${id}/closure`).send({}).expect(422)).body.errors[0].field).toBe(
      'vehiclesTo',
    );
    await coordinator.post(`/api/depots/${id}/closure`).send({ vehiclesTo: 'Near depot' }).expect(201);
    expect((await vehicle(unit)).depot).toBe('Near depot');
    expect((await depots()).find((one) => one.id === id)?.closedOn).toBe(TODAY);
    const back = { id: randomUUID(), depot: 'Far depot', on: TODAY };
    expect((await coordinator.post(`/api/vehicles/${unit}/moves`).send(back).expect(422)).body.errors[0].field).toBe(
      'depot',
    );
    const list = `unit,model,depot,duty,duty_from,odometer_mi_at_start\nZ9,Fenby Hauler,Far depot,herd rounds,2026-01-01,5\n`;
    const preview = await coordinator.post('/api/imports').send({ dryRun: true, fileName: 'vehicles.csv', text: list });
    expect(JSON.stringify(preview.body.rows)).toContain(`Far depot closed on ${TODAY}`);
    await coordinator.delete(`/api/depots/${id}/closure`).expect(200);
    await coordinator.post(`/api/vehicles/${unit}/moves`).send(back).expect(201);
  });

  it('do not close over a job booked there', async () => {
    const id = await open('Busy depot');
    const there = { id: randomUUID(), depot: 'Busy depot', on: TODAY };
    await coordinator.post(`/api/vehicles/${unit}/moves`).send(there).expect(201);
    const job = { id: randomUUID(), unit, axles: [{ axle: 1 }], day: '2026-12-03', bay: '1' };
    await coordinator.post('/api/jobs').send(job).expect(201);
    const { body } = await coordinator.post(`/api/depots/${id}/closure`).send({ vehiclesTo: 'Near depot' }).expect(409);
    expect(body.detail).toMatch(/1 open job/);
  });

  it('do not close over somebody who works nowhere else, and do where they work elsewhere too', async () => {
    const [one, other] = [await open('Small depot'), await open('Other depot')];
    const em = () => stories.test.orm.em.fork();
    const [who] = await em().execute<{ id: string; name: string }[]>(
      `select id, name from person where role = 'technician' order by name limit 1`,
    );
    const worksAt = async (...depots: string[]) => {
      await em().execute('delete from person_depot where person_id = ?', [who?.id]);
      for (const depot of depots)
        await em().execute('insert into person_depot (person_id, depot_id) values (?, ?)', [who?.id, depot]);
    };
    const close = async (id: string) => coordinator.post(`/api/depots/${id}/closure`).send({});
    await worksAt(one);
    const refused = await close(one);
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      expect.stringContaining(`${who?.name ?? 'nobody'} works nowhere else: say under People where they work`),
    ]);
    await worksAt(one, other);
    expect((await close(one)).status).toBe(201);
    // The other one is the last that is open.
    expect((await close(other)).status).toBe(409);
    await worksAt();
    expect((await close(other)).status).toBe(201);
  });
});

describe('models', () => {
  const figures = async (name: string): Promise<ModelFigures> => {
    const models = (await coordinator.get('/api/models')).body.items as { id: string; name: string }[];
    const id = models.find((one) => one.name === name)?.id ?? '';
    return (await coordinator.get(`/api/models/${id}/figures`).expect(200)).body as ModelFigures;
  };
  const correct = ({ id, vehicles: _v, released: _r, ...own }: ModelFigures, reason = 'the maker’s sheet') =>
    coordinator.put(`/api/models/${id}/figures`).send({ ...own, reason });

  it('are added with their axles, by the same rules as a list of models', async () => {
    const { id: _id, revision: _rev, vehicles: _v, released: _r, ...own } = await figures('Fenby Hauler');
    const id = randomUUID();
    const thick = { ...own, id, name: 'Fenby Long', axles: own.axles.map((axle) => ({ ...axle, padMakerMinMm: 12 })) };
    expect((await coordinator.post('/api/models').send(thick).expect(422)).body.errors[0].field).toBe(
      'axles.0.padMakerMinMm',
    );
    const air = own.axles.map((axle) => ({ ...axle, brakeDetail: 'air disc' }));
    expect(
      (
        await coordinator
          .post('/api/models')
          .send({ ...own, id, name: 'Fenby Long', axles: air })
          .expect(422)
      ).body.errors[0].field,
    ).toBe('axles.0.brakeDetail');
    await coordinator
      .post('/api/models')
      .send({ ...own, id, name: 'Fenby Long' })
      .expect(201);
    expect(await figures('Fenby Long')).toMatchObject({ axles: own.axles, vehicles: 0, revision: 1 });
  });

  it('are corrected: the marks that rest on a figure move, and the trail says from what to what', async () => {
    await look('2026-11-10', '31,000').expect(201);
    const markOf = async () => (await marks()).items.find((one) => one.unit === unit && one.axle === 1)?.markDate;
    const before = await markOf();
    const model = await figures('Fenby Hauler');
    const [front, rear] = model.axles as [ModelFigures['axles'][0], ModelFigures['axles'][0]];
    await correct({ ...model, axles: [{ ...front, padMakerMinMm: 4 }, rear] }).expect(200);
    // A thicker least thickness is reached earlier.
    expect(String(await markOf()) < String(before)).toBe(true);
    const [{ detail } = { detail: {} }] = (await trail('corrected a model')).slice(-1);
    expect(detail).toMatchObject({
      reason: 'the maker’s sheet',
      axles: [{ axle: 1, was: { padMakerMinMm: 2 }, now: { padMakerMinMm: 4 } }],
    });
    expect((await correct(model).expect(409)).body.detail).toBeTruthy();
    await correct({ ...(await figures('Fenby Hauler')), axles: model.axles }).expect(200);
    expect(await markOf()).toBe(before);
  });

  it('keep the axles that readings rest on, as they are braked', async () => {
    await look('2026-11-10', '31,000').expect(201);
    const model = await figures('Fenby Hauler');
    const [front, rear] = model.axles as [ModelFigures['axles'][0], ModelFigures['axles'][0]];
    const gone = await correct({ ...model, axles: [rear] }).expect(422);
    expect(gone.body.errors[0].field).toBe('axles');
    const air = { ...front, brake: 'air' as const, brakeDetail: 'air disc' };
    const other = await correct({ ...model, axles: [air, rear] }).expect(422);
    expect(other.body.errors[0].field).toBe('axles.0.brake');
    const third = { ...rear, axle: 3 };
    await correct({ ...model, axles: [front, rear, third] }).expect(200);
    // Nothing rests on the third: it may go again.
    await correct({ ...(await figures('Fenby Hauler')), axles: [front, rear] }).expect(200);
  });

  it('another one is said of a vehicle where its readings fit', async () => {
    await look('2026-11-10', '31,000').expect(201);
    const { revision: _rev, vehicles: _v, released: _r, ...own } = await figures('Fenby Hauler');
    const airs = own.axles.map((axle) => ({ ...axle, brake: 'air', brakeDetail: 'air disc' }));
    await coordinator
      .post('/api/models')
      .send({ ...own, id: randomUUID(), name: 'Fenby Air', axles: airs })
      .expect(201);
    const longer = [...own.axles, { ...own.axles[1], axle: 3 }];
    await coordinator
      .post('/api/models')
      .send({ ...own, id: randomUUID(), name: 'Fenby Six', axles: longer })
      .expect(201);
    const say = (model: string) => coordinator.put(`/api/vehicles/${unit}/model`).send({ model });
    expect((await say('Fenby Air').expect(422)).body.errors[0].field).toBe('model');
    await say('Fenby Six').expect(200);
    expect(await vehicle(unit)).toMatchObject({ model: 'Fenby Six', axles: [1, 2, 3] });
  });
});
