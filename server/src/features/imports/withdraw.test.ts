import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ImportPreview, ImportResult, ImportSummaries, Understanding } from '@mile-mark/contract/imports';
import type { z } from 'zod';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';

/** An import taken back whole: nothing of it counts, nothing is lost, and the file may come again. */

let test: TestApp;
let coordinator: Awaited<ReturnType<TestApp['as']>>;
let stated: Partial<Understanding>;

beforeAll(async () => {
  test = await createTestApp();
  const { gaugeId } = await fillSmallFleet(test);
  coordinator = await test.as('coordinator');
  stated = { technicianId: test.idOf('technician'), gaugeId, thicknessUnit: 'mm', distanceUnit: 'mi' };
});
afterAll(async () => test.close());

const sheet = (date: string, miles: number, mm: number, unit = 'P1') =>
  `date,unit,odometer,axle,left inner,left outer\n${date},${unit},${miles},1,${mm},${mm}\n${date},${unit},${miles},2,${mm},n/a\n`;

async function takeIn(text: string, by = coordinator): Promise<ImportResult> {
  const { body } = await by.post('/api/imports').send({ fileName: 's.csv', text, understanding: stated }).expect(200);
  return body as ImportResult;
}
const takeBack = (importId: string, by = coordinator, id = randomUUID()) =>
  by.post(`/api/imports/${importId}/withdrawals`).send({ id, reason: 'the wrong yard' });
const summaryOf = async (id: string) =>
  ((await coordinator.get('/api/imports')).body as z.output<typeof ImportSummaries>).items.find((one) => one.id === id);
const standing = async (date: string) =>
  (
    await test.orm.em.fork().execute<{ count: number }[]>(
      `select count(*)::int as count from reading r where measured_on = ?::date and thickness_um is not null
         and not exists (select 1 from reading later where later.supersedes_id = r.id)`,
      [date],
    )
  )[0]?.count;

describe('an import of readings', () => {
  it('is taken back whole, its open rows with it, and says by whom and why', async () => {
    const { id, open } = await takeIn(sheet('2026-01-05', 35_000, 9));
    expect(open).toBe(1);
    expect(await standing('2026-01-05')).toBe(3);
    const { body } = await takeBack(id).expect(201);
    expect(body).toMatchObject({ records: 3, vehicles: 1 });
    expect(await standing('2026-01-05')).toBe(0);
    expect(await summaryOf(id)).toMatchObject({ open: 0, withdrawn: { reason: 'the wrong yard' } });
    const csv = (await coordinator.get('/api/readings.csv')).text;
    expect(csv.split('\n').filter((line) => line.includes('P1,2026-01-05')).length).toBeGreaterThanOrEqual(3);
  });

  it('answers a second time as it did the first, and another that it is taken back', async () => {
    const { id } = await takeIn(sheet('2026-01-15', 35_600, 9));
    const key = randomUUID();
    const first = await takeBack(id, coordinator, key).expect(201);
    expect((await takeBack(id, coordinator, key).expect(201)).body).toEqual(first.body);
    expect((await takeBack(id)).status).toBe(409);
    expect((await coordinator.post(`/api/imports/${id}/rows/3`).send({ action: 'take' })).status).toBe(409);
  });

  it('comes in again from the same file afterwards', async () => {
    const text = sheet('2026-02-05', 36_500, 9);
    const { id } = await takeIn(text);
    await takeBack(id).expect(201);
    expect(await takeIn(text)).toMatchObject({ records: 3, counts: { already: 0 } });
    expect(await standing('2026-02-05')).toBe(3);
  });

  it('frees the odometers that it held: a lower one of that day goes in after it', async () => {
    const wrong = await takeIn(sheet('2026-02-20', 61_000, 8.9, 'P2'));
    const right = sheet('2026-02-21', 57_200, 8.9, 'P2');
    const refused = await takeIn(right);
    expect(refused.records).toBe(0);
    await takeBack(wrong.id).expect(201);
    expect((await takeIn(right)).records).toBe(3);
  });

  it('stays while something later rests on it, and says what', async () => {
    const { id } = await takeIn(sheet('2026-03-05', 38_000, 8.8));
    const [reading] = await test.orm.em
      .fork()
      .execute<{ id: string }[]>('select id from reading where measured_on = ?::date limit 1', ['2026-03-05']);
    const corrected = await coordinator
      .post(`/api/readings/${reading?.id}/corrections`)
      .send({ id: randomUUID(), thickness: '8.7', thicknessUnit: 'mm', reason: 'misread' });
    expect(corrected.status).toBe(201);
    const answer = await takeBack(id);
    expect(answer.status).toBe(409);
    expect(answer.body.detail).toContain('P1’s look of 2026-03-05 had a reading corrected');
    expect(await standing('2026-03-05')).toBe(3);
  });

  it('is its own importer’s within a day, the coordinator’s always', async () => {
    const technician = await test.as('technician');
    const own = await takeIn(sheet('2026-04-05', 39_900, 8.6), technician);
    const others = await takeIn(sheet('2026-04-15', 40_500, 8.6));
    expect((await takeBack(others.id, technician)).status).toBe(403);
    await test.orm.em.fork().execute(`update import_batch set at = now() - interval '25 hours' where id = ?`, [own.id]);
    expect((await takeBack(own.id, technician)).status).toBe(403);
    await takeBack(own.id).expect(201);
  });

  it('that forbids driving is taken back by the coordinator only, whoever took it in', async () => {
    const technician = await test.as('technician');
    const { id } = await takeIn(sheet('2026-04-25', 41_000, 8.6), technician);
    await test.orm.em.fork().execute(
      `insert into defect (id, vehicle_id, kind, axle, side, item, state, severity, said_by, found_on, source_id, person_id)
       select gen_random_uuid(), vehicle_id, 'limit', 1, 'left', 'pads', 'inner pad 1.0 mm', 'do not drive', 'x', measured_on, id, technician_id
       from reading where measured_on = ?::date limit 1`,
      ['2026-04-25'],
    );
    const answer = await takeBack(id, technician);
    expect(answer.status).toBe(403);
    expect(answer.body.detail).toContain('forbids driving');
    expect(await standing('2026-04-25')).toBe(3);
    await takeBack(id).expect(201);
  });

  it('of nobody is none', async () => {
    expect((await takeBack(randomUUID())).status).toBe(404);
  });

  it('taken back by two at once is taken back once', async () => {
    const { id } = await takeIn(sheet('2026-05-05', 41_500, 8.5));
    const answers = await Promise.all([takeBack(id), takeBack(id)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    const preview = (await coordinator
      .post('/api/imports')
      .send({ dryRun: true, fileName: 's.csv', text: sheet('2026-05-05', 41_500, 8.5), understanding: stated })
      .expect(200)) as { body: ImportPreview };
    expect(preview.body.records).toBe(3);
  });
});

describe('an import of services', () => {
  const services = (date: string, miles: number) =>
    `date,unit,odometer,axle,fitted\n${date},P2,${miles},1,pads\n${date},P2,${miles},2,pads\n`;
  const standingServices = async (date: string) =>
    (
      await test.orm.em
        .fork()
        .execute<{ count: number }[]>('select count(*)::int as count from service where fitted_on = ?::date', [date])
    )[0]?.count;

  it('is taken back whole: the pads of before go on, and the same file may come again', async () => {
    const text = services('2026-03-20', 63_000);
    const { id, records } = await takeIn(text);
    expect([records, await standingServices('2026-03-20')]).toEqual([2, 2]);
    expect((await takeBack(id).expect(201)).body).toMatchObject({ records: 2, vehicles: 1 });
    expect(await standingServices('2026-03-20')).toBe(0);
    expect(await takeIn(text)).toMatchObject({ records: 2, counts: { already: 0 } });
  });

  it('says what rests on it: a service that was withdrawn by itself', async () => {
    const { id } = await takeIn(services('2026-04-20', 65_000));
    const [one] = await test.orm.em
      .fork()
      .execute<{ id: string }[]>(`select id from service where fitted_on = '2026-04-20' and axle = 1`);
    await coordinator
      .post(`/api/services/${one?.id}/withdrawals`)
      .send({ id: randomUUID(), reason: 'another axle' })
      .expect(201);
    const answer = await takeBack(id);
    expect(answer.status).toBe(409);
    expect(answer.body.detail).toContain('P2’s service of 2026-04-20 was withdrawn by itself');
  });
});

describe('an import of a list', () => {
  /** All that the tables of the record hold, but for what is written down of the taking in and back itself. */
  const TABLES = ['depot', 'model', 'model_axle', 'duty', 'vehicle', 'vehicle_move', 'duty_period', 'odometer_record'];
  const record = async (tables = TABLES) => {
    const em = test.orm.em.fork();
    const rows = await Promise.all(
      tables.map((table) =>
        em.execute<{ row: string }[]>(
          `select (to_jsonb(t) - 'input_rev' - 'revision')::text as row from ${table} t order by 1`,
        ),
      ),
    );
    return Object.fromEntries(tables.map((table, index) => [table, rows[index]?.map(({ row }) => row)]));
  };
  const list = async (text: string) => {
    const choices = Object.fromEntries(text.split('\n').map((_, index) => [index + 1, 'take']));
    const { body } = await coordinator.post('/api/imports').send({ fileName: 'list.csv', text, choices }).expect(200);
    return body as ImportResult;
  };
  const HEAD = 'unit,model,depot,duty,duty_from,odometer_mi_at_start\n';

  it('leaves the record as it was before: vehicles, a depot and duties entered, one moved and put on another duty', async () => {
    const before = await record();
    const { id, records } = await list(
      `${HEAD}Q1,Fenby Hauler,Quarry depot,herd rounds,2025-09-01,1200\nQ1,Fenby Hauler,Quarry depot,street delivery,2026-02-01,9000\nP2,Fenby Hauler,Quarry depot,street delivery,2026-06-20,70000\n`,
    );
    expect(records).toBe(3);
    const taken = await record();
    expect(taken.vehicle).toHaveLength((before.vehicle?.length ?? 0) + 1);
    expect(taken.depot).toHaveLength((before.depot?.length ?? 0) + 1);
    expect(taken.vehicle_move).toHaveLength((before.vehicle_move?.length ?? 0) + 1);
    const answer = await takeBack(id);
    expect([answer.status, answer.body.detail]).toEqual([201, undefined]);
    expect(await record()).toEqual(before);
    // Whoever plans by depots is told that there is one less.
    const told = await test.orm.em
      .fork()
      .execute<{ name: string }[]>('select name from outbox order by id desc limit 2');
    expect(told.map(({ name }) => name)).toContain('depot changed');
    // What it had put in stays to be seen in its trace.
    const [trace] = await test.orm.em
      .fork()
      .execute<{ units: string }[]>(
        `select string_agg(distinct after->>'unit', ' ') as units from import_change where import_id = ? and table_name = 'vehicle'`,
        [id],
      );
    expect(trace?.units).toBe('P2 Q1');
  });

  it('takes corrected figures and new axles of models back, and the same file comes in again', async () => {
    const before = await record();
    const header =
      'model,class,tare_kg,gvwr_kg,axle,brake,pad_new_mm,backing_plate_mm,pad_maker_min_mm,rotor_new_mm,rotor_discard_mm,rotor_machine_to_mm,pistons_mm,brake_share\n';
    const text = `${header}Fenby Hauler,pickup,2400,3500,1,"hydraulic sliding",11.5,5.8,2,32,30,30.4,2x51,0.7\nQuarry Mule,van,1900,3000,1,"hydraulic sliding",10,5.5,2,28,26,26.4,1x54,0.6\nQuarry Mule,van,1900,3000,2,"hydraulic sliding",9,5.5,2,20,18,18.4,1x48,0.4\n`;
    const rows = Object.fromEntries([2, 3, 4].map((line) => [line, 'take']));
    const send = async () =>
      (
        await coordinator
          .post('/api/imports')
          .send({ fileName: 'models.csv', text, understanding: { lengthUnit: 'mm', massUnit: 'kg' }, choices: rows })
          .expect(200)
      ).body as ImportResult;
    const { id, records } = await send();
    expect(records).toBe(3);
    expect(await record()).not.toEqual(before);
    // The marks of the model's vehicles rested on its figures.
    expect((await takeBack(id).expect(201)).body).toMatchObject({ vehicles: 2 });
    expect(await record()).toEqual(before);
    const again = await send();
    expect(again.records).toBe(3);
    await takeBack(again.id).expect(201);
  });

  it('says what stands on it since, and changes nothing', async () => {
    const { id } = await list(`${HEAD}Q2,Fenby Hauler,Hill depot,herd rounds,2026-01-05,1000\n`);
    await takeIn('date,unit,odometer,axle,left inner,left outer\n2026-03-05,Q2,3000,1,9,9\n');
    const before = await record();
    const looked = await takeBack(id);
    expect(looked.status).toBe(409);
    expect(looked.body.detail).toMatch(/Q2 has looks on record/);
    expect(await record()).toEqual(before);
  });

  it('says what was changed since: a vehicle that was sold, a duty that began after it', async () => {
    const { id } = await list(`${HEAD}Q3,Fenby Hauler,Hill depot,herd rounds,2026-01-05,1000\n`);
    await coordinator
      .post('/api/vehicles/Q3/duty-periods')
      .send({ id: randomUUID(), duty: 'street delivery', from: '2026-05-05' })
      .expect(201);
    const answer = await takeBack(id);
    expect(answer.status).toBe(409);
    expect(answer.body.detail).toMatch(/a duty of Q3 was changed since/);
  });

  it('is another’s only by the trace of its own import: append-only holds for every other row', async () => {
    const { id } = await list(`${HEAD}Q4,Fenby Hauler,Hill depot,herd rounds,2026-01-05,1000\n`);
    const { id: other } = await list(`${HEAD}Q5,Fenby Hauler,Hill depot,herd rounds,2026-01-05,1000\n`);
    const em = test.orm.em.fork();
    const deleteOdometerOf = (unit: string, importId: string) =>
      em.transactional(async (inner) => {
        await inner.execute(`select set_config('mile_mark.taken_back', ?, true)`, [importId]);
        await inner.execute('delete from odometer_record where vehicle_id = (select id from vehicle where unit = ?)', [
          unit,
        ]);
        throw new Error('it could be deleted');
      });
    await expect(deleteOdometerOf('Q4', other)).rejects.toThrow(/append-only/);
    await expect(deleteOdometerOf('P1', id)).rejects.toThrow(/append-only/);
    await expect(deleteOdometerOf('Q4', id)).rejects.toThrow('it could be deleted');
  });
});
