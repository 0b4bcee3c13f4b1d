import { randomUUID } from 'node:crypto';
import type { MileMarks } from '@mile-mark/contract/forecasts';
import type { Depot, FleetVehicle } from '@mile-mark/contract/register';
import { createTestApp, fillSmallFleet, type TestApp } from './app.ts';

/** A small fleet with a second depot, as its coordinator sees and keeps it. */
export interface FleetStories {
  test: TestApp;
  coordinator: Awaited<ReturnType<TestApp['as']>>;
  fleet: () => Promise<FleetVehicle[]>;
  vehicle: (unit: string) => Promise<FleetVehicle>;
  marks: () => Promise<MileMarks>;
  depots: () => Promise<Depot[]>;
  /** The details of every deed of this name, in order. */
  trail: (action: string) => Promise<{ detail: Record<string, unknown> }[]>;
  /** Puts a vehicle on record for one story; its unit number. */
  newVehicle: () => Promise<string>;
  /** Measures the four pads of a vehicle's front axle. */
  look: (unit: string, date: string, odometer: string) => ReturnType<FleetStories['coordinator']['post']>;
}

export async function fleetStories(): Promise<FleetStories> {
  const test = await createTestApp();
  const { gaugeId } = await fillSmallFleet(test);
  const coordinator = await test.as('coordinator');
  const near = { id: randomUUID(), name: 'Near depot', timeZone: 'Europe/Oslo' };
  await coordinator.post('/api/depots').send(near).expect(201);
  const fleet = async () => (await coordinator.get('/api/fleet').expect(200)).body.items as FleetVehicle[];
  let count = 0;
  return {
    test,
    coordinator,
    fleet,
    vehicle: async (unit) => (await fleet()).find((one) => one.unit === unit) as FleetVehicle,
    marks: async () => (await coordinator.get('/api/mile-marks').expect(200)).body as MileMarks,
    depots: async () => (await coordinator.get('/api/depots').expect(200)).body.items as Depot[],
    trail: (action) => test.orm.em.fork().execute('select detail from audit where action = ? order by at', [action]),
    newVehicle: async () => {
      count += 1;
      const unit = `F${count}`;
      const what = { model: 'Fenby Hauler', depot: 'Hill depot', duty: 'herd rounds' };
      await coordinator
        .post('/api/vehicles')
        .send({ id: randomUUID(), unit, ...what, dutyFrom: '2026-06-01', odometer: '20,000 mi' })
        .expect(201);
      return unit;
    },
    look: (unit, date, odometer) =>
      coordinator.post('/api/readings').send({
        inspection: { id: randomUUID(), unit, gaugeId, date, odometer: `${odometer} mi` },
        readings: (['left', 'right'] as const).flatMap((side) =>
          (['inner', 'outer'] as const).map((pad) => ({ id: randomUUID(), axle: 1, side, pad, thickness: '7.2' })),
        ),
      }),
  };
}
