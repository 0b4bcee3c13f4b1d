import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { hoursByScope } from '../features/plan/hours.ts';
import { createTestApp } from './app.ts';

let test: Awaited<ReturnType<typeof createTestApp>>;
/** Past the order of a job's states: what is asked here is what closed ones teach, however they came to be. */
const sql = async (text: string, values: unknown[] = []) =>
  test.orm.em.fork().transactional(async (em) => {
    await em.execute(`set local session_replication_role = 'replica'`);
    await em.execute(text, values);
  });
const hours = () => hoursByScope(test.orm.em.fork());

beforeAll(async () => {
  test = await createTestApp({ demo: { vehicles: 60 } });
  await sql(`update job set worked_min = null`);
}, 120_000);
afterAll(async () => test.close());

/** So many closed jobs of one axle, all of the same minutes, on a vehicle of a class. */
async function closed(count: number, name: string, actions: readonly string[], minutes: number): Promise<void> {
  await sql(
    `with made as (
       insert into job (id, vehicle_id, depot_id, state, why, created_by, created_on, closed_on, odometer_m, worked_min, usual_min)
       select gen_random_uuid(), v.id, v.depot_id, 'closed', '[]', (select id from person limit 1), '2026-10-01', '2026-10-02', 1, ?, 100
       from generate_series(1, ?), (select v.id, v.depot_id from vehicle v join model m on m.id = v.model_id where m.class = ? limit 1) v
       returning id)
     insert into job_axle (job_id, axle, scope, declined) select id, 1, ?::jsonb, '[]' from made`,
    [minutes, count, name, JSON.stringify(actions.map((action) => ({ action })))],
  );
}

describe('hours of an axle', () => {
  it('are the usual ones of a class and a work while no card has taught them, rotors longer than pads alone', async () => {
    const of = await hours();
    expect(of('heavy', ['pads'])).toBeCloseTo(150 / 60, 9);
    expect(of('heavy')).toBeCloseTo(150 / 60, 9);
    expect(of('pickup', ['pads'])).toBeLessThan(of('heavy', ['pads']));
    expect(of('pickup', ['pads', 'rotors new'])).toBeGreaterThan(of('pickup', ['pads', 'rotors scuffed']));
    expect(of('pickup', ['pads', 'rotors scuffed'])).toBeGreaterThan(of('pickup', ['pads']));
    expect(of('a class of its own', ['pads'])).toBeGreaterThan(0);
  });

  it('go to what cards took, the more of them there are; other work of the class goes along, another class does not', async () => {
    const before = await hours();
    await closed(6, 'heavy', ['pads', 'rotors new'], 300);
    const few = await hours();
    await closed(600, 'heavy', ['pads', 'rotors new'], 300);
    const many = await hours();
    const work = ['pads', 'rotors new'] as const;
    expect(few('heavy', work)).toBeGreaterThan(before('heavy', work));
    expect(few('heavy', work)).toBeLessThan(5);
    expect(many('heavy', work)).toBeCloseTo(5, 1);
    // At half as long again as usual on rotors, pads alone take longer than usual too, but less than with rotors.
    expect(many('heavy', ['pads'])).toBeGreaterThan(before('heavy', ['pads']));
    expect(many('heavy', ['pads'])).toBeLessThan(many('heavy', work));
    expect(many('pickup', work)).toBe(before('pickup', work));
    // What is not told is as the class's jobs were in the mean.
    expect(many('heavy')).toBeCloseTo(5, 1);
  });

  it('of several axles at one job count by the axle', async () => {
    await closed(800, 'van', ['pads'], 120);
    const one = (await hours())('van', ['pads']);
    await sql(
      `insert into job_axle (job_id, axle, scope, declined) select a.job_id, 2, a.scope, '[]' from job_axle a
       join job j on j.id = a.job_id join vehicle v on v.id = j.vehicle_id join model m on m.id = v.model_id
       where m.class = 'van' and j.worked_min = 120`,
    );
    expect((await hours())('van', ['pads'])).toBeCloseTo(one / 2, 1);
  });
});
