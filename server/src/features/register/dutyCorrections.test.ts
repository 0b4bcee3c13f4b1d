import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import { type FleetStories, fleetStories } from '../../testing/fleetStories.ts';

/** A stretch of duty is corrected or withdrawn wherever it lies; what it said stays on record. */

let stories: FleetStories;
let unit: string;
const HERD = 'herd rounds';
const STREET = 'street delivery';

beforeAll(async () => {
  stories = await fleetStories();
});
afterAll(async () => stories.test.close());
beforeEach(async () => {
  unit = await stories.newVehicle();
});

const detail = async () => (await stories.coordinator.get(`/api/vehicles/${unit}`).expect(200)).body as VehicleDetail;
const periods = async () => (await detail()).dutyPeriods.map(({ duty, from, to }) => [duty.name, from, to]);
const begin = (duty: string, from: string) =>
  stories.coordinator.post(`/api/vehicles/${unit}/duty-periods`).send({ id: randomUUID(), duty, from }).expect(201);
const correct = async (
  at: number,
  instead: { duty: string; from: string } | null,
  { id = randomUUID(), reason = 'the wrong vehicle', who = stories.coordinator } = {},
) => {
  const period = (await detail()).dutyPeriods[at];
  return who.post(`/api/duty-periods/${period?.id}/corrections`).send({ id, instead, reason });
};

describe('a stretch of duty', () => {
  beforeEach(async () => {
    await begin(STREET, '2026-08-01');
    await begin(HERD, '2026-10-01');
  });

  it('in the middle is withdrawn: the one before goes on to its end, and the marks move', async () => {
    await stories.look(unit, '2026-11-10', '31,000').expect(201);
    const markOf = async () =>
      (await stories.marks()).items.find((one) => one.unit === unit && one.axle === 1)?.markOdometerMi;
    const before = await markOf();
    const id = randomUUID();
    expect((await correct(1, null, { id })).status).toBe(201);
    expect(await periods()).toEqual([
      [HERD, '2026-06-01', '2026-10-01'],
      [HERD, '2026-10-01', null],
    ]);
    // Street delivery brakes harder: without it the same wear says less of what is ahead.
    expect(await markOf()).not.toBe(before);
    const kept = await stories.test.orm.em
      .fork()
      .execute(
        'select d.name, c.from_date::text, c.to_date::text, c.reason from duty_correction c join duty d on d.id = c.duty_id where c.id = ?',
        [id],
      );
    expect(kept).toEqual([
      { name: STREET, from_date: '2026-08-01', to_date: '2026-10-01', reason: 'the wrong vehicle' },
    ]);
  });

  it('at the beginning is withdrawn: the one after it holds from the first day', async () => {
    expect((await correct(0, null)).status).toBe(201);
    expect(await periods()).toEqual([
      [STREET, '2026-06-01', '2026-10-01'],
      [HERD, '2026-10-01', null],
    ]);
  });

  it.each([
    ['later', '2026-09-15'],
    ['sooner', '2026-07-10'],
  ])('begins %s than was said: the one before reaches to that day', async (_, from) => {
    expect((await correct(1, { duty: HERD, from })).status).toBe(201);
    expect(await periods()).toEqual([
      [HERD, '2026-06-01', from],
      [HERD, from, '2026-10-01'],
      [HERD, '2026-10-01', null],
    ]);
  });

  it('never passes its neighbours, and keeps its own days where it is refused', async () => {
    for (const from of ['2026-06-01', '2026-05-01', '2026-10-01', '2026-12-01']) {
      const { body } = await correct(1, { duty: HERD, from });
      expect(body).toMatchObject({ status: 422, errors: [{ field: 'instead.from' }] });
    }
    expect((await correct(1, { duty: 'no such duty', from: '2026-08-02' })).body.errors[0].field).toBe('duty');
    expect((await correct(1, null, { reason: ' ' })).body.errors[0].field).toBe('reason');
    expect((await correct(1, null, { who: await stories.test.as('technician') })).status).toBe(403);
    expect((await periods())[1]).toEqual([STREET, '2026-08-01', '2026-10-01']);
  });

  it('is withdrawn once by two at once, and sent twice under one id it is one correction', async () => {
    const all = (await detail()).dutyPeriods;
    const send = (id: string) =>
      stories.coordinator
        .post(`/api/duty-periods/${all[1]?.id}/corrections`)
        .send({ id, instead: null, reason: 'the wrong vehicle' });
    const id = randomUUID();
    const answers = await Promise.all([send(id), send(id), send(randomUUID())]);
    const statuses = answers.map(({ status }) => status).sort();
    expect([
      [201, 201, 404],
      [201, 404, 404],
    ]).toContainEqual(statuses);
    expect(await periods()).toHaveLength(2);
  });
});

it('the only duty of a vehicle is said to be another, and is not withdrawn', async () => {
  expect((await correct(0, null)).status).toBe(409);
  expect((await correct(0, { duty: STREET, from: '2026-06-05' })).status).toBe(201);
  expect(await periods()).toEqual([[STREET, '2026-06-05', null]]);
});
