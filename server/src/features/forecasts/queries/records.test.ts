import { afterAll, beforeAll, expect, it } from '@jest/globals';
import { createDemoDatabase } from '../../../testing/app.ts';
import { readInPortions, readVehicleRecords } from './records.ts';

let fleet: Awaited<ReturnType<typeof createDemoDatabase>>;
beforeAll(async () => {
  fleet = await createDemoDatabase(12);
}, 120_000);
afterAll(async () => fleet.close());

it('records read in portions are those read at once, in the order of their units', async () => {
  const em = () => fleet.orm.em.fork();
  const ids = (await em().execute<{ id: string }[]>('select id from vehicle order by unit')).map(({ id }) => id);
  const whole = await readVehicleRecords(em(), ids);
  expect(whole.map(({ id }) => id)).toEqual(ids);
  expect(whole.flatMap(({ readings }) => readings).length).toBeGreaterThan(100);
  for (const portion of [1, 5, 12, 100]) expect(await readInPortions(em(), 'all', portion)).toEqual(whole);
  const some = ids.slice(3, 9);
  expect(await readInPortions(em(), [...some].reverse(), 4)).toEqual(whole.slice(3, 9));
});
