import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { rowsOf } from '../../platform/db/rows.ts';
import { type FleetStories, fleetStories } from '../../testing/fleetStories.ts';
import { odometersKnown, odometersOfMany } from './lookups.ts';

/** What a new odometer is held against: asked of one vehicle and of many, it is the same. */

let stories: FleetStories;
beforeAll(async () => {
  stories = await fleetStories();
  const [one, another] = [await stories.newVehicle(), await stories.newVehicle()];
  for (const [day, odometer] of [
    ['2026-07-10', '23,100'],
    ['2026-08-10', '24,800'],
    ['2026-09-10', '26,100'],
  ] as const)
    await stories.look(one, day, odometer).expect(201);
  await stories.look(another, '2026-08-10', '24,800').expect(201);
});
afterAll(async () => stories.test.close());
const fork = () => stories.test.orm.em.fork();

const Look = z.object({ id: z.string(), vehicle: z.string(), day: z.string() });
const looks = async () =>
  rowsOf(
    fork(),
    Look,
    `select i.id, i.vehicle_id as vehicle, i.measured_on::text as day from live_inspection i
     where exists (select from reading r where r.inspection_id = i.id) order by i.vehicle_id, i.measured_on, i.id`,
  );
/** Takes back readings of a look, by entries that stand in their place and say nothing. */
const takeBack = async (look: string, most: number) =>
  fork().execute(
    `insert into reading (id, inspection_id, vehicle_id, technician_id, measured_on, odometer_m, axle, side, pad, thickness_um,
       typed, unit, supersedes_id, reason, entered_by, entered_at)
     select gen_random_uuid(), inspection_id, vehicle_id, technician_id, measured_on, odometer_m, axle, side, pad, null,
       typed, unit, id, 'of another vehicle', entered_by, now()
     from reading where inspection_id = ? order by id limit ?`,
    [look, most],
  );

describe('odometers on record', () => {
  it('are those of looks of which something stands, however many vehicles are asked of', async () => {
    const all = await looks();
    const [whole, part, none] = all.filter(({ vehicle }) => all.filter((one) => one.vehicle === vehicle).length === 3);
    if (!whole || !part || !none) throw new Error('one vehicle was looked at three times');
    await takeBack(whole.id, 100);
    await takeBack(part.id, 1);
    await fork().execute(
      `insert into inspection (id, vehicle_id, technician_id, gauge_id, measured_on, odometer_m, odometer_typed, entered_by, entered_at)
       select gen_random_uuid(), vehicle_id, technician_id, gauge_id, measured_on + 400, odometer_m + 900000, 'typed', entered_by, now()
       from inspection where id = ?`,
      [none.id],
    );
    const ids = [...new Set(all.map(({ vehicle }) => vehicle))];
    const many = await odometersOfMany(fork(), ids);
    for (const id of ids) expect((await odometersKnown(fork(), id)).known).toEqual(many.get(id) ?? []);
    const days = (id: string) => (many.get(id) ?? []).map(({ date }) => date);
    const later = (day: string) => new Date(Date.parse(day) + 400 * 86_400_000).toISOString().slice(0, 10);
    expect(days(whole.vehicle)).not.toContain(whole.day);
    expect(days(part.vehicle)).toContain(part.day);
    expect(days(none.vehicle)).toContain(later(none.day));
  });
});
