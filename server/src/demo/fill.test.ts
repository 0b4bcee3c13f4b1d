import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { runHistory } from '@mile-mark/core';
import { createTestDatabase } from '../testing/app.ts';
import { vehicleInputOf } from '../db/mappers.ts';
import { loadForecastGround, loadVehicleRecords } from '../services/vehicleRecords.ts';
import { connect, migrate, type Orm } from '../db/orm.ts';
import { createComputer } from '../jobs/compute.ts';
import { refreshFleet } from '../jobs/refresh.ts';
import { ensureShippedLimits } from '../services/limitsShipped.ts';
import { mileMarks } from '../services/fleet.ts';
import { DEMO_TODAY, DEPOTS, HANDS } from './cast.ts';
import { fillDemo } from './fill.ts';

let orm: Orm;
let drop: () => Promise<void>;

beforeAll(async () => {
  const database = await createTestDatabase();
  drop = database.drop;
  orm = await connect(database.url);
  await migrate(orm);
  await ensureShippedLimits(orm.em.fork());
  await fillDemo(orm.em.fork(), 60);
  await refreshFleet(orm.em.fork(), createComputer(0), DEMO_TODAY);
});
afterAll(async () => {
  await orm.close(true);
  await drop();
});

const one = async <T>(sql: string) => (await orm.em.fork().execute<T[]>(sql))[0] as T;

describe('the demo fleet', () => {
  it('has sixty vehicles at three depots, measured by six people for eighteen months', async () => {
    const counts = await one<{ vehicles: number; depots: number; hands: number; first: string; last: string }>(
      `select (select count(*)::int from vehicle) vehicles, (select count(distinct depot_id)::int from vehicle) depots,
         count(distinct technician_id)::int hands, min(measured_on)::text first, max(measured_on)::text last from inspection`,
    );
    expect(counts).toMatchObject({ vehicles: 60, depots: DEPOTS.length, hands: HANDS.length });
    expect(counts.first < '2025-07-15' && counts.last > '2026-10-20').toBe(true);
  });

  it('has a mark for every axle, some passed, some near, most ahead, the nearest first', async () => {
    const { prepared } = await mileMarks(orm.em.fork(), DEMO_TODAY, {});
    const { items } = JSON.parse(prepared) as { items: { markDate: string }[] };
    const axles = await one<{ count: number }>(
      `select count(*)::int as count from vehicle v join model_axle a on a.model_id = v.model_id`,
    );
    expect(items).toHaveLength(axles.count);
    const passed = items.filter(({ markDate }) => markDate < DEMO_TODAY).length;
    expect(passed).toBeGreaterThan(0);
    expect(passed).toBeLessThan(items.length / 4);
    expect(items.map(({ markDate }) => markDate)).toEqual(items.map(({ markDate }) => markDate).sort());
  });

  it('has a technician who reads high: highest of all in what the vehicles say of their hands', async () => {
    const em = orm.em.fork();
    const ground = await loadForecastGround(em);
    const names = new Map(
      (await em.execute<{ id: string; name: string }[]>('select id, name from person')).map(({ id, name }) => [
        id,
        name,
      ]),
    );
    const biases = new Map<string, number[]>();
    for (const record of await loadVehicleRecords(em, 'all')) {
      const { state } = runHistory(
        vehicleInputOf(record, ground.rules, ground.settings.marginShare, ground.priors, DEMO_TODAY),
      );
      state.technicians.forEach((id, j) => {
        const name = names.get(id) ?? '';
        biases.set(name, [...(biases.get(name) ?? []), state.mean[2 * state.places.length + j] ?? 0]);
      });
    }
    const means = [...biases].map(([name, values]) => ({
      name,
      mean: values.reduce((sum, value) => sum + value, 0) / values.length,
    }));
    means.sort((a, b) => b.mean - a.mean);
    expect(means).toHaveLength(HANDS.length);
    expect(means[0]?.name).toBe('Dag Pellworth');
    expect(means[0]?.mean).toBeGreaterThan((means[1]?.mean ?? 0) + 0.05);
  });
});
