import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { MileMarks } from '@mile-mark/contract/forecasts';
import { TODAY } from '../../testing/app.ts';
import { type FleetStories, fleetStories } from '../../testing/fleetStories.ts';
import { makeMovesDue } from './commands/moveVehicle.ts';

let test: FleetStories['test'];
let coordinator: FleetStories['coordinator'];
let vehicle: FleetStories['vehicle'];
let marks: FleetStories['marks'];
let trail: FleetStories['trail'];
let stories: FleetStories;
let unit = '';

beforeAll(async () => {
  stories = await fleetStories();
  ({ test, coordinator, vehicle, marks, trail } = stories);
});
afterAll(async () => stories.test.close());
/** A vehicle of its own for each story. */
beforeEach(async () => {
  unit = await stories.newVehicle();
});
const look = (date: string, odometer: string) => stories.look(unit, date, odometer);

describe('a vehicle moves', () => {
  const move = (body: object) => coordinator.post(`/api/vehicles/${unit}/moves`).send({ id: randomUUID(), ...body });

  it('at once, and back again when that is taken back', async () => {
    const id = randomUUID();
    const tag = (await coordinator.get('/api/mile-marks')).headers.etag;
    await move({ id, depot: 'near DEPOT', on: '2026-11-02' }).expect(201);
    expect(await vehicle(unit)).toMatchObject({ depot: 'Near depot', move: null });
    const after = await coordinator.get('/api/mile-marks');
    expect(after.headers.etag).not.toBe(tag);
    expect((after.body as MileMarks).items.find((one) => one.unit === unit)?.depot).toBe('Near depot');
    await coordinator.delete(`/api/vehicle-moves/${id}`).expect(200);
    expect((await vehicle(unit)).depot).toBe('Hill depot');
    await coordinator.delete(`/api/vehicle-moves/${id}`).expect(404);
  });

  it('on a day ahead and for a time: it goes on its day, and comes back on another', async () => {
    await move({ depot: 'Near depot', on: '2026-12-01', backOn: '2026-12-08' }).expect(201);
    const states: (string | boolean | undefined)[][] = [];
    for (const today of ['2026-11-30', '2026-12-01', '2026-12-07', '2026-12-08', '2026-12-09']) {
      await makeMovesDue(test.orm.em.fork(), today);
      const { depot, move: open } = await vehicle(unit);
      states.push([today, depot, open?.begun]);
    }
    expect(states).toEqual([
      ['2026-11-30', 'Hill depot', false],
      ['2026-12-01', 'Near depot', true],
      ['2026-12-07', 'Near depot', true],
      ['2026-12-08', 'Hill depot', undefined],
      ['2026-12-09', 'Hill depot', undefined],
    ]);
  });

  it('is home at once where nobody looked before the whole time was over', async () => {
    await move({ depot: 'Near depot', on: '2026-12-01', backOn: '2026-12-08' }).expect(201);
    await makeMovesDue(test.orm.em.fork(), '2026-12-20');
    expect(await vehicle(unit)).toMatchObject({ depot: 'Hill depot', move: null });
  });

  it('once, whichever process makes it: it is not brought back from where it was moved on to', async () => {
    const id = randomUUID();
    await move({ id, depot: 'Near depot', on: '2026-12-01' }).expect(201);
    let late: Promise<void> | undefined;
    await test.orm.em.fork().transactional(async (quicker) => {
      await quicker.execute('select 1 from vehicle where unit = ? for update', [unit]);
      // It has read that the move is due, and waits for the vehicle.
      late = makeMovesDue(test.orm.em.fork(), '2026-12-01');
      await new Promise((resolve) => setTimeout(resolve, 400));
      await quicker.execute('update vehicle_move set begun = true where id = ?', [id]);
      await quicker.execute(
        `update vehicle set depot_id = (select id from depot where name = 'Hill depot') where unit = ?`,
        [unit],
      );
    });
    await late;
    expect((await vehicle(unit)).depot).toBe('Hill depot');
  });

  it('by one open move at a time, also of two asked for at once', async () => {
    const both = await Promise.all([
      move({ depot: 'Near depot', on: '2026-12-01' }),
      move({ depot: 'Near depot', on: '2026-12-02' }),
    ]);
    expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
  });

  it.each([
    ['the depot where it stands', { depot: 'Hill depot', on: TODAY }, 'depot'],
    ['a depot nobody opened', { depot: 'Moon depot', on: TODAY }, 'depot'],
    ['back before it goes', { depot: 'Near depot', on: '2026-12-02', backOn: '2026-12-02' }, 'backOn'],
    ['back on a day that is over', { depot: 'Near depot', on: '2026-10-02', backOn: '2026-11-01' }, 'backOn'],
  ])('but not to %s', async (_what, body, field) => {
    const { body: problem } = await move(body).expect(422);
    expect(problem.errors[0].field).toBe(field);
  });

  it('not away from a job that is booked meanwhile, but after it', async () => {
    await look('2026-11-10', '31,000').expect(201);
    await coordinator
      .post('/api/jobs')
      .send({ id: randomUUID(), unit, axles: [{ axle: 1 }], day: '2026-12-03', bay: '1' })
      .expect(201);
    const { body } = await move({ depot: 'Near depot', on: '2026-12-01' }).expect(409);
    expect(body.detail).toMatch(/2026-12-03/);
    await move({ depot: 'Near depot', on: '2026-11-24', backOn: '2026-12-01' }).expect(201);
  });
});

describe('a vehicle leaves', () => {
  const leave = (body: object) => coordinator.post(`/api/vehicles/${unit}/departure`).send(body);

  it('Ahead and every list of the fleet, and stays on its page; taken back, its mark is there again', async () => {
    await look('2026-11-10', '31,000').expect(201);
    const own = async () => (await marks()).items.filter((one) => one.unit === unit).sort((a, b) => a.axle - b.axle);
    const before = await own();
    expect(before.map(({ axle }) => axle)).toEqual([1, 2]);
    await leave({ on: '2026-11-18', how: 'sold' }).expect(201);
    expect((await marks()).items.filter((one) => one.unit === unit)).toEqual([]);
    expect((await marks()).refresh.pending).toBe(0);
    const listed = (await coordinator.get('/api/vehicles')).body.items as { unit: string }[];
    expect(listed.map((one) => one.unit)).not.toContain(unit);
    expect((await vehicle(unit)).left).toEqual({ on: '2026-11-18', how: 'sold' });
    const page = (await coordinator.get(`/api/vehicles/${unit}`).expect(200)).body;
    expect(page.readings).toHaveLength(4);
    expect(page.left).toEqual({ on: '2026-11-18', how: 'sold' });
    await coordinator.delete(`/api/vehicles/${unit}/departure`).expect(200);
    expect((await own()).map(({ axle, markDate }) => [axle, markDate])).toEqual(
      before.map(({ axle, markDate }) => [axle, markDate]),
    );
  });

  it('and nothing is recorded of it after that day, what was before still is', async () => {
    await leave({ on: '2026-11-10', how: 'retired' }).expect(201);
    const { body } = await look('2026-11-12', '31,000').expect(422);
    expect(body.errors[0]).toMatchObject({ field: 'inspection.date' });
    expect(body.errors[0].message).toMatch(/retired on 2026-11-10/);
    await look('2026-11-09', '30,900').expect(201);
    const service = { id: randomUUID(), unit, axle: 1, date: '2026-11-12', odometer: '31000', fitted: 'pads' };
    expect((await coordinator.post('/api/services').send(service).expect(422)).body.errors[0].field).toBe('date');
    const job = { id: randomUUID(), unit, axles: [{ axle: 1 }] };
    expect((await coordinator.post('/api/jobs').send(job).expect(422)).body.errors[0].field).toBe('unit');
    const sheet = `date,technician,gauge,unit,odometer,axle,side,pad,thickness mm\n2026-11-12,Coordinator,Depth gauge,${unit},31000,1,left,inner,7.1\n`;
    const preview = await coordinator.post('/api/imports').send({ dryRun: true, fileName: 'late.csv', text: sheet });
    expect(JSON.stringify(preview.body.rows)).toContain('retired on 2026-11-10');
  });

  it('not before it was last looked at, not in the future, not with a job open', async () => {
    await look('2026-11-10', '31,000').expect(201);
    expect((await leave({ on: '2026-11-09', how: 'sold' }).expect(422)).body.errors[0].field).toBe('on');
    expect((await leave({ on: '2026-12-09', how: 'sold' }).expect(422)).body.errors[0].field).toBe('on');
    const job = { id: randomUUID(), unit, axles: [{ axle: 1 }], day: '2026-12-03', bay: '2' };
    await coordinator.post('/api/jobs').send(job).expect(201);
    expect((await leave({ on: TODAY, how: 'sold' }).expect(409)).body.detail).toMatch(/2026-12-03/);
  });

  it('its number can be given to another vehicle once it has another itself', async () => {
    await leave({ on: TODAY, how: 'sold' }).expect(201);
    const other = { unit, reason: 'the number is on the new truck' };
    const taken = await coordinator.put('/api/vehicles/P2/unit').send(other).expect(422);
    expect(taken.body.errors[0]).toMatchObject({ field: 'unit' });
    await coordinator
      .put(`/api/vehicles/${unit}/unit`)
      .send({ unit: `${unit} old`, reason: 'sold' })
      .expect(200);
    await coordinator.put('/api/vehicles/P2/unit').send(other).expect(200);
    expect(await vehicle(unit)).toMatchObject({ left: null });
    await coordinator.put(`/api/vehicles/${unit}/unit`).send({ unit: 'P2', reason: 'back again' }).expect(200);
  });
});

describe('what was entered wrong of a vehicle', () => {
  it('its unit number: all that is on record goes with it, the trail says what it was', async () => {
    await look('2026-11-10', '31,000').expect(201);
    await coordinator
      .put(`/api/vehicles/${unit}/unit`)
      .send({ unit: ` ${unit}b `, reason: 'misread plate' })
      .expect(200);
    expect((await coordinator.get(`/api/vehicles/${unit}B`).expect(200)).body.readings).toHaveLength(4);
    await coordinator.get(`/api/vehicles/${unit}`).expect(404);
    expect((await marks()).items.some((one) => one.unit === `${unit}B`)).toBe(true);
    const deeds = await trail('gave a vehicle another unit number');
    expect(deeds.at(-1)?.detail).toEqual({ was: unit, unit: `${unit}B`, reason: 'misread plate' });
  });

  it('its start odometer: held against what was read since, the first figure kept', async () => {
    await look('2026-11-10', '31,000').expect(201);
    const correct = (odometer: string) =>
      coordinator.put(`/api/vehicles/${unit}/start-odometer`).send({ odometer, reason: 'a digit was lost' });
    expect((await correct('32,000 mi').expect(422)).body.errors[0].field).toBe('odometer');
    await correct('22,000 mi').expect(200);
    expect((await vehicle(unit)).start).toEqual({ date: '2026-06-01', odometerMi: 22_000 });
    await correct('19,000 mi').expect(200);
    expect((await vehicle(unit)).start?.odometerMi).toBe(19_000);
    const kept = await test.orm.em
      .fork()
      .execute<{ metres: number }[]>(
        'select odometer_m as metres from odometer_record o join vehicle v on v.id = o.vehicle_id where v.unit = ? order by entered_at',
        [unit],
      );
    expect(kept.map(({ metres }) => Math.round(metres / 1609.344))).toEqual([20_000, 22_000, 19_000]);
  });

  it('is not changed by who saw it as it was before somebody else changed it', async () => {
    const { revision } = await vehicle(unit);
    await coordinator
      .put(`/api/vehicles/${unit}/unit`)
      .send({ unit: `${unit}C`, reason: 'first', revision })
      .expect(200);
    const late = { on: TODAY, how: 'sold', revision };
    await coordinator.post(`/api/vehicles/${unit}C/departure`).send(late).expect(409);
  });
});

it('the fleet is kept by the coordinator alone', async () => {
  const technician = await test.as('technician');
  await technician.get('/api/fleet').expect(200);
  for (const send of [
    technician.post('/api/depots').send({ id: randomUUID(), name: 'Own depot' }),
    technician.post(`/api/vehicles/${unit}/departure`).send({ on: TODAY, how: 'sold' }),
    technician.post(`/api/vehicles/${unit}/moves`).send({ id: randomUUID(), depot: 'Near depot', on: TODAY }),
    technician.put(`/api/vehicles/${unit}/unit`).send({ unit: 'X', reason: 'because' }),
  ])
    expect((await send).status).toBe(403);
  expect((await vehicle(unit)).left).toBeNull();
});
