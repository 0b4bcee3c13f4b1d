import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { dateOfDay, dayNumber } from '@mile-mark/core';
import type { Orm } from '../../platform/db/orm.ts';
import { createDemoDatabase, localComputer, TODAY } from '../../testing/app.ts';
import type { Computer } from './computer.ts';
import { refreshFleet } from './index.ts';

const VEHICLES = 10;
/** Two fleets alike: one keeps what its vehicles answered, the other forgets it before every night. */
let keeping: Awaited<ReturnType<typeof createDemoDatabase>>;
let forgetful: Awaited<ReturnType<typeof createDemoDatabase>>;
beforeAll(async () => {
  [keeping, forgetful] = await Promise.all([createDemoDatabase(VEHICLES), createDemoDatabase(VEHICLES)]);
}, 120_000);
afterAll(async () => {
  await keeping.close();
  await forgetful.close();
});

const sql = async <T>({ orm }: { orm: Orm }, text: string, values: unknown[] = []) =>
  orm.em.fork().execute<T[]>(text, values);
const both = async (text: string, values: unknown[] = []) => {
  await sql(keeping, text, values);
  await sql(forgetful, text, values);
};

/** A computer that counts the vehicles it is asked, question by question. */
function counting(): { computer: Computer; asked: Record<string, number> } {
  const own = localComputer();
  const asked: Record<string, number> = { lessons: 0, appraisers: 0, foresee: 0, backtest: 0, forecasts: 0 };
  const counted = Object.fromEntries(
    Object.entries(own).map(([name, ask]) => [
      name,
      async (items: unknown[], ...rest: unknown[]) => {
        asked[name] = (asked[name] ?? 0) + items.length;
        return (ask as (...all: unknown[]) => Promise<unknown>)(items, ...rest);
      },
    ]),
  );
  return { computer: counted as unknown as Computer, asked };
}

async function night(today: string): Promise<Record<string, number>> {
  const { computer, asked } = counting();
  await refreshFleet(keeping.orm.em.fork(), computer, today);
  await sql(forgetful, 'delete from kept_answer');
  await refreshFleet(forgetful.orm.em.fork(), localComputer(), today);
  return asked;
}

/** All that a night brings forth, but for when it did. */
async function outcome(fleet: { orm: Orm }): Promise<unknown> {
  const tables = {
    forecast: 'select vehicle_id, axle, input_hash, mark, pads, detail from forecast order by vehicle_id, axle',
    group: 'select model_id, axle, mean, sd_vehicle, sd_axle, sd_pad from wear_group order by model_id, axle',
    appraiser: 'select technician_id, gauge_id, bias_mm, bias_sd_mm, repeatability_mm from appraiser order by 1, 2',
    drift: 'select technician_id, gauge_id, quarter, bias_mm from appraiser_drift order by 1, 2, 3',
    calibration: 'select class, distance, looks, spread, factor from calibration order by 1, 2',
    validation: 'select detail from validation',
  };
  const rows = await Promise.all(Object.values(tables).map((text) => sql(fleet, text)));
  return Object.fromEntries(Object.keys(tables).map((name, k) => [name, rows[k]]));
}
const alike = async () => expect(await outcome(keeping)).toEqual(await outcome(forgetful));

/** Nights until one asks no lesson: what is learnt has come to rest. */
async function settle(today: string): Promise<void> {
  for (let k = 0; k < 4; k += 1) if ((await night(today)).lessons === 0) return;
  throw new Error('it does not come to rest');
}

const back = (days: number) => dateOfDay(dayNumber(TODAY) - days);
const MEASURED = { mphBeforeStop: 35, payloadShare: 0.35, descentMPerMile: 12, retarderShare: 0.15, towedKg: 900 };
const tomorrow = dateOfDay(dayNumber(TODAY) + 1);

describe('what vehicles answered is kept', () => {
  it('and comes to what asking all of them would: at first, and when nothing happened', async () => {
    await night(TODAY);
    await alike();
    await settle(TODAY);
    await alike();
    expect(await night(TODAY)).toMatchObject({ lessons: 0, appraisers: 0, foresee: 0, backtest: 0, forecasts: 0 });
  }, 240_000);

  it('over midnight: only forecasts are made again', async () => {
    expect(await night(tomorrow)).toMatchObject({
      lessons: 0,
      appraisers: 0,
      foresee: 0,
      backtest: 0,
      forecasts: VEHICLES,
    });
    await alike();
  }, 60_000);

  it('until something of a vehicle changes: then that one is asked', async () => {
    const [one] = await sql<{ id: string }>(
      keeping,
      `select r.id from reading r where r.thickness_um > 6000 and not exists (select 1 from reading l where l.supersedes_id = r.id)
       order by r.measured_on desc, r.id limit 1`,
    );
    await both(
      `insert into reading select (jsonb_populate_record(r, jsonb_build_object('id', md5('corrected')::uuid, 'supersedes_id', r.id,
         'thickness_um', r.thickness_um - 400))).* from reading r where r.id = ?`,
      [one?.id],
    );
    // New pads went on in the middle of a record, on the day of a look.
    await both(
      `insert into service (id, vehicle_id, axle, fitted_on, odometer_m, fitted, recorded_by, recorded_at)
       select md5('kept')::uuid, i.vehicle_id, 1, i.measured_on, i.odometer_m, 'pads', i.technician_id, now() from inspection i
       where i.vehicle_id = (select id from vehicle order by unit limit 1)
       order by i.measured_on offset (select count(*) / 2 from inspection h where h.vehicle_id = (select id from vehicle order by unit limit 1)) limit 1`,
    );
    const asked = await night(tomorrow);
    expect(asked.lessons).toBeGreaterThan(0);
    expect(asked.forecasts).toBeGreaterThan(0);
    await alike();
  }, 240_000);

  it('and something dated ahead comes to count on its day', async () => {
    // Measured until the spring, and its looks since lie on the level of that; a duty is stated from the day after tomorrow.
    for (let k = 0; k < 8; k += 1)
      await both(
        `insert into measured_duty (vehicle_id, from_date, to_date, days, miles, duty) select v.id, ?::date, ?::date, 28, 1700, ?::jsonb
         from vehicle v order by v.unit desc limit 1`,
        [back(484 - 28 * k), back(456 - 28 * k), JSON.stringify({ ...MEASURED, stopsPerMile: 4 + (k % 2) })],
      );
    await settle(tomorrow);
    const day = dateOfDay(dayNumber(tomorrow) + 2);
    await both(
      `update duty_period set to_date = ?::date where vehicle_id = (select id from vehicle order by unit desc limit 1) and to_date is null`,
      [day],
    );
    await both(
      `insert into duty_period (id, vehicle_id, duty_id, from_date)
       select md5('ahead')::uuid, v.id, (select d.id from duty d where d.id not in (select p.duty_id from duty_period p where p.vehicle_id = v.id) order by d.name limit 1), ?::date
       from vehicle v order by v.unit desc limit 1`,
      [day],
    );
    await night(tomorrow);
    await alike();
    await settle(tomorrow);
    // Its record is the same as yesterday, and yet it is asked again.
    expect((await night(day)).backtest).toBe(1);
    await alike();
    await night(dateOfDay(dayNumber(day) + 5));
    await alike();
  }, 240_000);

  it('and a limit, or another version of the model, asks for all again', async () => {
    const day = dateOfDay(dayNumber(tomorrow) + 7);
    await settle(day);
    await both(`update limit_rule set least_um = least_um + 500`);
    expect((await night(day)).lessons).toBeGreaterThanOrEqual(VEHICLES);
    await alike();
    await settle(day);
    // A key made under another version fits no vehicle.
    await sql(keeping, `update kept_answer set key = 'of an earlier version' where kind = 'lesson'`);
    expect((await night(day)).lessons).toBe(VEHICLES);
    await alike();
  }, 240_000);
});
