import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { dateOfDay, dayNumber, type VehicleInput } from '@mile-mark/core';
import type { ForecastInput, VehicleDetail } from '@mile-mark/contract/forecasts';
import { createTestApp, fillSmallFleet, localComputer, type TestApp, TODAY } from '../../testing/app.ts';
import { DutyProcessEntity } from './entities.ts';
import { refreshFleet } from './index.ts';

let test: TestApp;
let coordinator: Awaited<ReturnType<TestApp['as']>>;

const HERD = { mphBeforeStop: 35, payloadShare: 0.35, descentMPerMile: 12, retarderShare: 0.15, towedKg: 900 };
/** Measured blocks of a vehicle, 28 days each, the last of them ending the day before today. */
async function measure(unit: string, stops: readonly number[]): Promise<void> {
  const em = test.orm.em.fork();
  const [vehicle] = await em.execute<{ id: string }[]>('select id from vehicle where unit = ?', [unit]);
  for (const [index, stopsPerMile] of stops.entries()) {
    const from = dayNumber(TODAY) - 28 * (stops.length - index);
    await em.execute(
      `insert into measured_duty (vehicle_id, from_date, to_date, days, miles, duty) values (?, ?, ?, 28, 1700, ?::jsonb)`,
      [vehicle?.id, dateOfDay(from), dateOfDay(from + 28), JSON.stringify({ ...HERD, stopsPerMile })],
    );
  }
}
const detailOf = async (unit: string) =>
  (await coordinator.get(`/api/vehicles/${unit}`).expect(200)).body as VehicleDetail;
const inputOf = async (unit: string) =>
  ((await coordinator.get(`/api/vehicles/${unit}/forecast-input`).expect(200)).body as ForecastInput)
    .input as VehicleInput;

const rowOf = async (what: 'measured duty' | 'stated duty' | 'miles a day') =>
  test.orm.em.fork().findOne(DutyProcessEntity, { class: 'pickup', what });

beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  coordinator = await test.as('coordinator');
});
afterAll(async () => test.close());

describe('duty ahead', () => {
  it('is what is stated, which may become another, and says nothing of a level, where nothing is measured', async () => {
    const { dutyAhead, statedChangesAYear } = await detailOf('P1');
    expect(dutyAhead).toBeNull();
    const { ahead } = await inputOf('P1');
    expect(ahead).toMatchObject({ levelSd: 0, perPeriod: 0 });
    expect(statedChangesAYear).toBeCloseTo((ahead?.hazardPerDay ?? 0) * 365.25, 9);
    const row = await rowOf('stated duty');
    expect(ahead?.hazardPerDay).toBeCloseTo(1 - (1 - (row?.hazard ?? 0)) ** (1 / 28), 12);
    expect(statedChangesAYear).toBeGreaterThan(0);
  });

  it('is the level of the present route, not the last block, where it is measured', async () => {
    await measure('P1', [0.8, 0.8, 0.8, 0.8, 3.2, 3.2, 3.2, 3.2, 2.4]);
    const { dutyAhead, statedChangesAYear } = await detailOf('P1');
    expect(statedChangesAYear).toBeNull();
    const { duty, ahead } = await inputOf('P1');
    const last = duty.at(-1);
    const blocks = duty.filter(({ measured }) => measured);
    expect(blocks).toHaveLength(9);
    expect(last?.severity).toBe(dutyAhead?.severity);
    expect(last?.severity).toBeGreaterThan(1.05 * (blocks.at(-1)?.severity ?? Infinity));
    expect(last?.severity).toBeLessThan(blocks.at(-2)?.severity ?? 0);
    expect(dutyAhead).toMatchObject({ blocks: 9 });
    expect(dutyAhead?.from).toBeLessThan(dutyAhead?.severity ?? 0);
    expect(dutyAhead?.to).toBeGreaterThan(dutyAhead?.severity ?? Infinity);
    expect(ahead?.levelSd).toBeGreaterThan(0);
  });

  it('is learnt by class with the fleet, and then each forecast rests on it; once more changes nothing', async () => {
    // Fifty blocks are needed; P2's hardly scatter, so that what is learnt is calmer than what was assumed.
    await measure(
      'P2',
      Array.from({ length: 60 }, (_, i) => 0.8 + 0.01 * (i % 3)),
    );
    const before = (await inputOf('P2')).ahead;
    await refreshFleet(test.orm.em.fork(), localComputer(), TODAY);
    const measured = await rowOf('measured duty');
    expect(measured?.vehicles).toBe(2);
    const after = (await inputOf('P2')).ahead;
    expect(after?.perPeriod).toBeLessThan(before?.perPeriod ?? 0);
    expect(after?.perPeriod).toBe(measured?.blockSd);
    const hashes = () =>
      test.orm.em.fork().execute<object[]>('select vehicle_id, axle, mark from forecast order by vehicle_id, axle');
    const once = await hashes();
    await refreshFleet(test.orm.em.fork(), localComputer(), TODAY);
    expect(await hashes()).toEqual(once);
  });

  it('is learnt of miles a day too, and each forecast rests on them', async () => {
    const assumed = (await inputOf('P1')).pace;
    // Two vehicles that were driven 20 miles a day long ago, four weeks after four weeks.
    const em = test.orm.em.fork();
    for (const unit of ['P1', 'P2'])
      await em.execute(
        `insert into odometer_record (id, vehicle_id, read_on, odometer_m, source, entered_by)
         select gen_random_uuid(), v.id, ?::date - 900 - 28 * (30 - k), round(20 * 28 * k * 1609.344), 'test', p.id
         from vehicle v, generate_series(0, 29) k, (select id from person order by id limit 1) p where v.unit = ?`,
        [TODAY, unit],
      );
    await refreshFleet(test.orm.em.fork(), localComputer(), TODAY);
    const row = await rowOf('miles a day');
    expect(row?.blockSd).toBeLessThan(assumed?.blockSd ?? 0);
    expect(Math.abs(Math.exp(row?.routeMean ?? 0) / 20 - 1)).toBeLessThan(0.15);
    const { pace } = await inputOf('P1');
    expect(pace).toEqual({
      blockSd: row?.blockSd,
      hazard: row?.hazard,
      routeMean: row?.routeMean,
      routeSd: row?.routeSd,
    });
    const { milesPerDay } = await detailOf('P1');
    expect(milesPerDay).toMatchObject({ scatter: pace?.blockSd });
    expect(milesPerDay?.changesAYear).toBeCloseTo((1 - (1 - (pace?.hazard ?? 0)) ** (1 / 28)) * 365.25, 9);
  });

  it('stays the measured level until the day from which another duty is planned', async () => {
    const present = await detailOf('P2');
    const planned = dateOfDay(dayNumber(TODAY) + 20);
    await coordinator
      .post('/api/vehicles/P2/duty-periods')
      .send({ id: crypto.randomUUID(), duty: 'street delivery', from: planned })
      .expect(201);
    expect(present.dutyAhead?.changesAYear).toBeGreaterThan(0);
    // No other change is drawn before it, and none is told.
    const later = await detailOf('P2');
    expect(later.dutyAhead).toEqual({ ...present.dutyAhead, changesAYear: null });
    // Work and heat are those of the duty it drives, not of the one that is to come.
    const driven = ({ axleDetails }: VehicleDetail) =>
      axleDetails.map(({ workPerMileKj, temperature }) => ({ workPerMileKj, temperature }));
    expect(driven(later)).toEqual(driven(present));
    expect(driven(present)[0]?.workPerMileKj).toBeGreaterThan(0);
    const { duty, ahead } = await inputOf('P2');
    expect(ahead).toBeDefined();
    expect(duty.at(-1)).toMatchObject({ from: planned });
    expect(duty.at(-2)?.severity).toBe(present.dutyAhead?.severity);
  });

  it('is believed as stated from the day on which somebody states another', async () => {
    await coordinator
      .post('/api/vehicles/P1/duty-periods')
      .send({ id: crypto.randomUUID(), duty: 'street delivery', from: TODAY })
      .expect(201);
    expect((await detailOf('P1')).dutyAhead).toBeNull();
    expect((await detailOf('P1')).statedChangesAYear).toBeGreaterThan(0);
  });

  it('is not said to become another where the next stated one is dated', async () => {
    await coordinator
      .post('/api/vehicles/P1/duty-periods')
      .send({ id: crypto.randomUUID(), duty: 'street delivery', from: dateOfDay(dayNumber(TODAY) + 60) })
      .expect(201);
    expect((await detailOf('P1')).statedChangesAYear).toBeNull();
  });
});
