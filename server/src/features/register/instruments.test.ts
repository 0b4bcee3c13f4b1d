import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ImportPreview } from '@mile-mark/contract/imports';
import { OdometerEntity } from './entities.ts';
import { refreshFleet } from '../forecasts/index.ts';
import { localComputer, TODAY } from '../../testing/app.ts';
import { milesToMetres } from '@mile-mark/core';
import { type FleetStories, fleetStories } from '../../testing/fleetStories.ts';

/**
 * An odometer begins anew with its instrument; what the vehicle drove does not. Held against a twin whose instrument was
 * never replaced: the same looks at the same wear give the same marks, told by what each instrument shows.
 */

let stories: FleetStories;
let unit: string;
let twin: string;

beforeAll(async () => {
  stories = await fleetStories();
});
afterAll(async () => stories.test.close());
beforeEach(async () => {
  [unit, twin] = [await stories.newVehicle(), await stories.newVehicle()];
});

const replace = (change: Partial<Record<'id' | 'on' | 'oldShowed' | 'newShows', string>> = {}, of = unit) =>
  stories.coordinator.post(`/api/vehicles/${of}/instruments`).send({
    ...{ id: randomUUID(), on: '2026-09-01', oldShowed: '26,400', newShows: '150', odometerUnit: 'mi' },
    ...change,
  });
/** The old instrument was this much ahead of the new one, mi. */
const STEP = 26_400 - 150;
const markOf = async (of: string) =>
  (await stories.marks()).items.find((one) => one.unit === of && one.axle === 1) as unknown as Record<string, unknown>;

describe('after its instrument was replaced', () => {
  beforeEach(async () => {
    for (const one of [unit, twin]) await stories.look(one, '2026-08-10', '24,800').expect(201);
    await replace().expect(201);
  });

  it('a vehicle has the marks of its twin, told by the new instrument', async () => {
    // What the old instrument showed last is known of both.
    await stories.test.orm.em.fork().insert(OdometerEntity, {
      ...{ id: randomUUID(), vehicleId: (await stories.vehicle(twin)).id, readOn: '2026-08-31', source: 'test' },
      odometerM: Math.round(milesToMetres(26_400)),
      enteredBy: stories.test.idOf('coordinator'),
      enteredAt: new Date(),
    });
    await stories.look(twin, '2026-11-10', '31,000').expect(201);
    await stories.look(unit, '2026-11-10', String(31_000 - STEP)).expect(201);
    // Both as of one learning of the fleet.
    await refreshFleet(stories.test.orm.em.fork(), localComputer(), TODAY);
    const [own, other] = [await markOf(unit), await markOf(twin)];
    // Each vehicle has draws of its own: days apart, where the wrong instrument would be months (core holds it exactly).
    const days = (key: string) => (Date.parse(String(own[key])) - Date.parse(String(other[key]))) / 86_400_000;
    for (const key of ['markDate', 'medianDate', 'nextInspectionDue'])
      expect(Math.abs(days(key))).toBeLessThanOrEqual(14);
    expect(own['ruledBy']).toBe(other['ruledBy']);
    const off = (key: string) => Math.abs(Number(own[key]) - (Number(other[key]) - STEP));
    expect(off('odometerNowMi')).toBeLessThanOrEqual(1);
    for (const key of ['markOdometerMi', 'medianOdometerMi']) expect(off(key)).toBeLessThan(1000);
    expect(await stories.vehicle(unit)).toMatchObject({
      odometerMi: 31_000 - STEP,
      start: { odometerMi: 20_000 },
      instruments: [{ on: '2026-09-01', oldMi: 26_400, newMi: 150 }],
    });
  });

  it('still refuses an odometer that falls or leaps, on either instrument, and what the old one would show', async () => {
    // The day from which the new one is read is its own.
    await stories.look(unit, '2026-09-01', '160').expect(201);
    await stories.look(unit, '2026-09-20', '1,400').expect(201);
    for (const [date, odometer] of [
      ['2026-10-10', '1,000'],
      ['2026-10-10', '29,000'],
      ['2026-08-20', '24,000'],
      ['2026-08-20', '900'],
    ] as const) {
      const { body } = await stories.look(unit, date, odometer);
      expect([date, odometer, body.errors?.[0]?.field]).toEqual([date, odometer, 'inspection.odometer']);
    }
    await stories.look(unit, '2026-08-20', '25,500').expect(201);
    await stories.look(unit, '2026-10-10', '2,900').expect(201);
  });

  it('a sheet of days before and after goes in, each day as its own instrument showed it', async () => {
    const rows = [
      ['2026-08-20', 25_500, 7.0],
      ['2026-09-20', 1_400, 6.6],
      ['2026-10-20', 3_300, 6.0],
    ].map(([date, odometer, mm]) => `${date},${unit},${odometer},LF,${mm},${mm}`);
    const text = ['date,unit,odometer mi,wheel,inner mm,outer mm', ...rows].join('\n');
    const gaugeId = (await stories.coordinator.get('/api/gauges').expect(200)).body.items[0].id as string;
    const said = { technicianId: stories.test.idOf('technician'), gaugeId };
    const send = (dryRun: boolean) =>
      stories.coordinator
        .post('/api/imports')
        .send({ fileName: 's.csv', text, understanding: said, dryRun })
        .expect(200);
    const seen = (await send(true)).body as ImportPreview;
    expect(seen.rows.flatMap(({ reasons }) => reasons)).toEqual([]);
    expect((await send(false)).body).toMatchObject({ records: 6, open: 0 });
    const wrong = text.replace('1400', '27900');
    const asked = await stories.coordinator
      .post('/api/imports')
      .send({ fileName: 'w.csv', text: wrong, understanding: said, dryRun: true });
    expect((asked.body as ImportPreview).rows.find(({ cells }) => cells[2] === '27900')?.takeable).toBe(false);
  });

  it('is taken back while nothing was read on the new one, and not after', async () => {
    const [{ id } = { id: '' }] = (await stories.vehicle(unit)).instruments;
    const undo = () => stories.coordinator.delete(`/api/instruments/${id}`);
    await stories.look(unit, '2026-09-20', '1,400').expect(201);
    expect((await undo()).status).toBe(409);
    await replace({ on: '2026-10-05', oldShowed: '2,500', newShows: '0' }).expect(201);
    const second = (await stories.vehicle(unit)).instruments[1]?.id;
    expect((await stories.vehicle(unit)).odometerMi).toBe(0);
    const two = [1, 2].map(() => stories.coordinator.delete(`/api/instruments/${second}`));
    expect((await Promise.all(two)).map(({ status }) => status).sort()).toEqual([200, 404]);
    expect((await stories.vehicle(unit)).odometerMi).toBe(1400);
    expect((await stories.coordinator.delete(`/api/instruments/${second}`)).status).toBe(404);
    expect((await stories.vehicle(unit)).instruments).toHaveLength(1);
  });
});

describe('a replaced instrument', () => {
  it('is refused at its field where it can’t be so', async () => {
    await stories.look(unit, '2026-08-10', '24,800').expect(201);
    for (const [change, field] of [
      [{ on: '2026-08-10' }, 'on'],
      [{ on: '2027-01-01' }, 'on'],
      [{ oldShowed: '23,000' }, 'oldShowed'],
      [{ on: '2026-08-11', oldShowed: '24,799' }, 'oldShowed'],
      [{ oldShowed: '260,000' }, 'oldShowed'],
      [{ newShows: 'none' }, 'newShows'],
    ] as const)
      expect([field, (await replace(change)).body.errors?.[0]?.field]).toEqual([field, field]);
    const technician = await stories.test.as('technician');
    expect((await technician.post(`/api/vehicles/${unit}/instruments`).send({})).status).toBe(403);
    expect((await stories.vehicle(unit)).instruments).toEqual([]);
  });

  it('is on record once, sent twice or by two people at once', async () => {
    const id = randomUUID();
    const all = await Promise.all([replace({ id }), replace({ id }), replace()]);
    expect(all.filter(({ status }) => status === 201).length).toBeGreaterThanOrEqual(1);
    expect((await stories.vehicle(unit)).instruments).toHaveLength(1);
  });
});
