import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Orm } from '../../platform/db/orm.ts';
import { createTestDatabase, localComputer, TODAY } from '../../testing/databases.ts';
import { connect } from '../../schema.ts';
import { createBus } from '../../platform/events/bus.ts';
import { holdVehicles, lockVehicle } from '../register/index.ts';
import { answerChange } from './commands/answerChange.ts';
import { refreshVehicles } from './index.ts';

/** What a refresh saves, of all its tables in one statement: nothing older over what is newer, nothing of others. */

let orm: Orm;
let drop: () => Promise<void>;
let own: string;
let other: string;
beforeAll(async () => {
  const database = await createTestDatabase({ vehicles: 12, marks: 'learnt' });
  orm = await connect(database.url);
  drop = database.drop;
  const doubted = await sql<{ id: string }>(
    'select vehicle_id as id from reading_doubt group by vehicle_id order by count(*) desc, vehicle_id limit 2',
  );
  [own, other] = doubted.map(({ id }) => id) as [string, string];
}, 120_000);
afterAll(async () => {
  await orm.close(true);
  await drop();
});
const sql = async <T>(text: string, values: unknown[] = []) => orm.em.fork().execute<T[]>(text, values);
const refresh = () => refreshVehicles(orm.em.fork(), localComputer(), [own], TODAY);
const doubtsOf = (id: string) =>
  sql<{ reading_id: string; suspicion: unknown }>(
    'select reading_id, suspicion from reading_doubt where vehicle_id = ? order by reading_id',
    [id],
  );
/** Until somebody waits for what another holds. */
const somebodyWaits = async () => {
  for (let waits = 0; waits === 0;) {
    const [row] = await sql<{ waits: number }>(
      `select count(*)::int as waits from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock'`,
    );
    waits = row?.waits ?? 0;
  }
};
beforeEach(async () => {
  // What is saved next is of another input: it is computed and saved, whatever stands there.
  await sql(`update forecast set input_hash = 'another'`);
});

describe('saving a forecast', () => {
  it('takes doubts that are gone, brings those that stand up to date, and leaves those of others', async () => {
    const [before, others] = [await doubtsOf(own), await doubtsOf(other)];
    expect(Math.min(before.length, others.length)).toBeGreaterThan(0);
    const [clear] = await sql<{ id: string }>(
      `select r.id from reading r where r.vehicle_id = ? and not exists (select 1 from reading_doubt d where d.reading_id = r.id)
       order by r.id limit 1`,
      [own],
    );
    await sql(`update reading_doubt set suspicion = '{"kind": "stale"}' where vehicle_id = ?`, [own]);
    await sql(`insert into reading_doubt (reading_id, vehicle_id, suspicion) values (?, ?, '{"kind": "stale"}')`, [
      clear?.id,
      own,
    ]);
    await refresh();
    expect(await doubtsOf(own)).toEqual(before);
    expect(await doubtsOf(other)).toEqual(others);
  });

  it('and a look that is entered meanwhile wait for one another in the same order', async () => {
    // As a look does: the vehicle first, then what is kept of its readings; with a doubt that is new to the save.
    await sql('delete from reading_doubt where vehicle_id = ?', [own]);
    const em = orm.em.fork();
    await em.begin();
    await lockVehicle(em, own);
    const saved = refresh();
    await somebodyWaits();
    await em.execute(`update vehicle_forecast set judged = judged || '[]' where vehicle_id = ?`, [own]);
    await em.commit();
    await saved;
    expect((await doubtsOf(own)).length).toBeGreaterThan(0);
  });

  it('and an answer to a change of wear do, too', async () => {
    const [change] = await sql<{ id: string; vehicle: string }>(
      `insert into wear_change (vehicle_id, kind, axle, side, since, until, probability, detail, first_told, last_told)
       values (?, 'wheel', 1, 'left', ?::date, ?::date, 0.9, '{}', ?::date, ?::date) returning id, vehicle_id as vehicle`,
      [own, TODAY, TODAY, TODAY, TODAY],
    );
    const [person] = await sql<{ id: string }>(`select id from person where role = 'coordinator' limit 1`);
    const em = orm.em.fork();
    await em.begin();
    await holdVehicles(em, [own]);
    const answered = answerChange.run(
      {
        ...{ em: orm.em.fork(), today: TODAY, events: createBus(() => orm.em.fork(), []) },
        actor: { id: person?.id ?? '', name: 'C', role: 'coordinator' },
      },
      { id: randomUUID(), changeId: change?.id ?? '', answer: 'cause_found', note: 'the slide was dry' },
    );
    await somebodyWaits();
    await em.execute('select 1 from wear_change where vehicle_id = ? for update', [own]);
    await em.commit();
    await answered;
    const [row] = await sql<{ answer: string }>('select answer from wear_change_answer where change_id = ?', [
      change?.id,
    ]);
    expect(row?.answer).toBe('cause_found');
  });

  it('writes nothing over what rests on a later state of the vehicle', async () => {
    const stands = () =>
      sql<{ rev: number; judged_rev: number; detail: unknown; marks: unknown }>(
        `select f.input_rev as rev, f.judged_rev, f.detail, (select jsonb_agg(x.mark order by x.axle) from forecast x where x.vehicle_id = f.vehicle_id) as marks
         from vehicle_forecast f where f.vehicle_id = ?`,
        [own],
      );
    await sql(`update vehicle_forecast set input_rev = 1000, detail = '{"later": true}' where vehicle_id = ?`, [own]);
    await sql(`update forecast set input_rev = 1000, mark = '{"later": true}' where vehicle_id = ?`, [own]);
    const later = await stands();
    await refresh();
    expect(await stands()).toEqual(later);
    await sql('update vehicle_forecast set input_rev = 0 where vehicle_id = ?', [own]);
    await sql(`update forecast set input_rev = 0, input_hash = 'another' where vehicle_id = ?`, [own]);
    await refresh();
    const [now] = await stands();
    const [vehicle] = await sql<{ input_rev: number }>('select input_rev from vehicle where id = ?', [own]);
    expect(now).toMatchObject({ rev: vehicle?.input_rev, judged_rev: vehicle?.input_rev });
    expect(JSON.stringify(now)).not.toContain('"later":true');
  });

  it('brings one that rests on the same as before up to the vehicle’s record, and computes nothing', async () => {
    await refresh();
    const marks = () =>
      sql<{ computed_at: string }>('select computed_at::text from forecast where vehicle_id = ? order by axle', [own]);
    const before = await marks();
    await sql('update vehicle set input_rev = input_rev + 1 where id = ?', [own]);
    await refresh();
    const [row] = await sql<{ behind: number }>(
      'select v.input_rev - f.input_rev as behind from vehicle v join vehicle_forecast f on f.vehicle_id = v.id where v.id = ?',
      [own],
    );
    expect(row?.behind).toBe(0);
    expect(await marks()).toEqual(before);
  });

  it('takes the marks of one that left, and keeps what was last known of it', async () => {
    await sql(`update vehicle set left_on = ?, left_how = 'sold', input_rev = input_rev + 1 where id = ?`, [
      TODAY,
      own,
    ]);
    await refresh();
    const [row] = await sql<{ marks: number; others: number; behind: number }>(
      `select (select count(*)::int from forecast where vehicle_id = v.id) as marks,
         (select count(*)::int from forecast where vehicle_id <> v.id) as others, v.input_rev - f.input_rev as behind
       from vehicle v join vehicle_forecast f on f.vehicle_id = v.id where v.id = ?`,
      [own],
    );
    expect(row).toMatchObject({ marks: 0, behind: 0 });
    expect(row?.others).toBeGreaterThan(0);
  });
});
