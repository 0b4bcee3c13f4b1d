import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { createTestApp, TODAY, type TestApp } from '../../testing/app.ts';
import { saveInspection } from '../inspections/commands/saveInspection.ts';
import { vehicleDetail } from './queries/vehicle.ts';

/** A vehicle's page between a look and the forecast it moves: what is thought of the look is told at once. */

let test: TestApp;
let vehicle: { id: string; unit: string; metres: number };
beforeAll(async () => {
  test = await createTestApp({ demo: { vehicles: 12, marks: 'learnt' } });
  const [row] = await sql<typeof vehicle>(
    `select v.id, v.unit, (select max(odometer_m) from live_inspection i where i.vehicle_id = v.id) as metres
     from vehicle v join forecast f on f.vehicle_id = v.id and f.axle = 1
     where (f.pads->0->>'readings')::int > 3 order by v.unit limit 1`,
  );
  if (!row) throw new Error('the demo has no vehicle that was measured often');
  vehicle = row;
}, 120_000);
afterAll(async () => test.close());

const sql = async <T>(text: string, values: unknown[] = []) => test.orm.em.fork().execute<T[]>(text, values);
const page = () => vehicleDetail(test.orm.em.fork(), vehicle.unit, TODAY);
const keptFor = async () =>
  (
    await sql<{ whole: boolean }>(
      'select f.judged_rev = v.input_rev as whole from vehicle_forecast f join vehicle v on v.id = f.vehicle_id where v.id = ?',
      [vehicle.id],
    )
  )[0]?.whole;

/** A look at the four pads of axle 1, entered without its forecast being made: nobody is told of it. */
async function look(thickness: (expected: number) => number): Promise<string[]> {
  const [gauge] = await sql<{ id: string }>('select id from gauge order by name limit 1');
  const { axleDetails } = await page();
  const pads = axleDetails.find(({ axle }) => axle === 1)?.pads ?? [];
  const readings = pads.map(({ side, pad, meanMm }) => ({
    id: randomUUID(),
    axle: 1,
    side,
    pad,
    thickness: thickness(meanMm).toFixed(1),
    thicknessUnit: 'mm' as const,
    answer: 'measured_twice' as const,
  }));
  const actor = { id: test.idOf('technician'), name: 'The technician', role: 'technician' as const };
  await saveInspection.run(
    { em: test.orm.em.fork(), actor, today: TODAY, events: test.events },
    {
      inspection: {
        id: randomUUID(),
        unit: vehicle.unit,
        gaugeId: gauge?.id ?? '',
        date: TODAY,
        odometer: String(Math.round(vehicle.metres / 1609.344) + 900),
        odometerUnit: 'mi',
        acknowledged: true,
      },
      readings,
    },
  );
  return readings.map(({ id }) => id);
}

/** What the page tells of readings: what was expected, and the kind of doubt. */
async function told(ids: readonly string[]) {
  const { readings, refresh } = await page();
  expect(refresh.pending).toBe(1);
  return ids.map((id) => {
    const own = readings.find((reading) => reading.id === id);
    return { expectedMm: own?.expectedMm ?? NaN, suspicion: own?.suspicion?.kind };
  });
}

describe('while a forecast is being made', () => {
  it('what was thought of new readings when they were entered stands on the page, as if all were judged anew', async () => {
    const likely = await look((mm) => mm - 0.1);
    expect(await keptFor()).toBe(true);
    const strange = await look((mm) => mm + 4);
    expect(await keptFor()).toBe(true);
    const ids = [...likely, ...strange];
    const kept = await told(ids);
    expect(kept.slice(0, 4).map(({ suspicion }) => suspicion)).toEqual(Array(4).fill(undefined));
    expect(kept.slice(4).some(({ suspicion }) => suspicion !== undefined)).toBe(true);
    await sql('update vehicle_forecast set judged_rev = null where vehicle_id = ?', [vehicle.id]);
    const anew = await told(ids);
    // What is told of a look may be told a little otherwise once a later one is known.
    for (const [k, one] of anew.slice(4).entries()) {
      expect(kept[4 + k]?.expectedMm).toBeCloseTo(one.expectedMm, 0);
      expect(kept[4 + k]?.suspicion).toBe(one.suspicion);
    }
  });

  it('what changed otherwise makes all be judged anew, and a look after it adds to nothing', async () => {
    await sql('update vehicle_forecast f set judged_rev = v.input_rev from vehicle v where v.id = f.vehicle_id');
    await sql('update vehicle set input_rev = input_rev + 1 where id = ?', [vehicle.id]);
    const ids = await look((mm) => mm);
    expect(await keptFor()).toBe(false);
    for (const { expectedMm } of await told(ids)) expect(expectedMm).toBeGreaterThan(0);
  });
});
