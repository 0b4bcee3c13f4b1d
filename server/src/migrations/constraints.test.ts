import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { migrate } from '../platform/db/orm.ts';
import { connect } from '../schema.ts';
import { createTestApp, fillSmallFleet, type TestApp } from '../testing/app.ts';

let test: TestApp;
let gaugeId: string;
let vehicleId: string;
let personId: string;

beforeAll(async () => {
  test = await createTestApp();
  ({ gaugeId } = await fillSmallFleet(test));
  personId = test.idOf('technician');
  [{ id: vehicleId } = { id: '' }] = await run<{ id: string }>(`select id from vehicle where unit = 'P1'`);
});
afterAll(async () => test.close());

const run = <T>(sql: string, values: unknown[] = []) => test.orm.em.fork().execute<T[]>(sql, values);
const codeOf = async (attempt: Promise<unknown>) =>
  attempt.then(
    () => 'taken',
    (error: { code?: string }) => error.code,
  );
const insertInspection = (date: string, metres: number, id: string = randomUUID()) =>
  run(
    `insert into inspection (id, vehicle_id, technician_id, gauge_id, measured_on, odometer_m, odometer_typed, entered_by) values (?, ?, ?, ?, ?::date, ?, '', ?)`,
    [id, vehicleId, personId, gaugeId, date, metres, personId],
  );
const insertReading = (inspectionId: string, date: string, metres: number, um: number | null) =>
  run(
    `insert into reading (id, inspection_id, vehicle_id, technician_id, measured_on, odometer_m, axle, side, pad, thickness_um, typed, unit, entered_by) values (?, ?, ?, ?, ?::date, ?, 1, 'left', 'inner', ?, '', 'mm', ?)`,
    [randomUUID(), inspectionId, vehicleId, personId, date, metres, um, personId],
  );

// PostgreSQL's error codes: 23505 unique, 23514 check, 23503 foreign key, 23P01 exclusion, 23001 restrict.
describe('the database refuses what the code would let through', () => {
  const inspection = randomUUID();

  it('keeps readings and inspections as they were written', async () => {
    await insertInspection('2026-01-05', 60_000_000, inspection);
    await insertReading(inspection, '2026-01-05', 60_000_000, 8500);
    expect(await codeOf(run('update reading set thickness_um = 1'))).toBe('23001');
    expect(await codeOf(run('delete from reading'))).toBe('23001');
    expect(await codeOf(run('update inspection set odometer_m = 1'))).toBe('23001');
    expect(await codeOf(run('delete from audit'))).toBe('23001');
  });

  it.each([
    ['below zero', -1, '23514'],
    ['over 60 mm', 60_001, '23514'],
    ['none without a reading it withdraws', null, '23514'],
    ['the same reading twice', 8500, '23505'],
  ])('a thickness %s', async (_name, um, code) => {
    expect(await codeOf(insertReading(inspection, '2026-01-05', 60_000_000, um))).toBe(code);
  });

  it('a reading that disagrees with its inspection', async () => {
    expect(await codeOf(insertReading(inspection, '2026-01-06', 60_000_000, 8000))).toBe('23503');
  });

  it('an odometer that falls, or passes a later one', async () => {
    expect(await codeOf(insertInspection('2026-02-05', 50_000_000))).toBe('23514');
    expect(await codeOf(insertInspection('2025-12-05', 70_000_000))).toBe('23514');
    expect(await codeOf(insertInspection('2026-02-05', 61_000_000))).toBe('taken');
  });

  it('two duties at once, a unit in lower case, a person without a role', async () => {
    expect(
      await codeOf(
        run(
          `insert into duty_period (id, vehicle_id, duty_id, from_date) select gen_random_uuid(), ?, id, '2026-01-01' from duty limit 1`,
          [vehicleId],
        ),
      ),
    ).toBe('23P01');
    expect(
      await codeOf(
        run(
          `insert into vehicle (id, unit, model_id, depot_id) select gen_random_uuid(), 'p3', model_id, depot_id from vehicle limit 1`,
        ),
      ),
    ).toBe('23514');
    expect(await codeOf(run(`insert into person (id, name, role) values (gen_random_uuid(), 'X', 'owner')`))).toBe(
      '23514',
    );
  });

  it('an account without a password', async () => {
    expect(
      await codeOf(
        run(`insert into person (id, name, role, email) values (gen_random_uuid(), 'Y', 'viewer', 'y@dairy.example')`),
      ),
    ).toBe('23514');
  });
});

describe('specifications in the database', () => {
  const insertRevision = async (detail: object, specificationId: string, number = 1) => {
    const id = randomUUID();
    await run(
      `insert into specification_revision (id, specification_id, number, detail, document, page, revision, dated, entered_by, entered_on)
       values (?, ?, ?, ?::jsonb, 'Manual', '1', 'A', '2025-01-01', ?, '2025-01-02')`,
      [id, specificationId, number, JSON.stringify(detail), personId],
    );
    return id;
  };
  const place = async (position: string) => {
    const id = randomUUID();
    await run(
      `insert into specification (id, model_id, axle, position) select ?, model_id, 1, ? from vehicle where unit = 'P1'`,
      [id, position],
    );
    return id;
  };
  const joint = (torque: object | null) => ({ about: 'joint', torque });
  const nm = (rest: object) => joint({ unit: 'N·m', least: null, nominal: null, most: null, ...rest });

  it.each([
    ['below zero', nm({ nominal: -1 })],
    ['of nought', nm({ least: 0 })],
    ['least above most', nm({ least: 120, most: 100 })],
    ['least above nominal', nm({ least: 120, nominal: 100 })],
    ['nominal above most', nm({ nominal: 120, most: 100 })],
    ['without a unit', joint({ nominal: 100 })],
    ['in another unit', joint({ unit: 'kgf·m', nominal: 10 })],
    ['of nothing in particular', { about: 'wheel' }],
  ])('a torque %s', async (name, detail) => {
    expect(await codeOf(insertRevision(detail, await place(name)))).toBe('23514');
  });

  it('takes what is right, and one place only once', async () => {
    const id = await place('twice');
    expect(await codeOf(insertRevision(nm({ least: 90, nominal: 100, most: 110 }), id))).toBe('taken');
    expect(await codeOf(insertRevision(joint(null), id, 2))).toBe('taken');
    expect(await codeOf(insertRevision(joint(null), id, 2))).toBe('23505');
    expect(await codeOf(place('twice'))).toBe('23505');
  });

  it('keeps revisions as they were entered, and one of them cannot wait and count at once', async () => {
    const id = await place('kept');
    const revision = await insertRevision(joint(null), id);
    expect(await codeOf(run('update specification_revision set page = ? where id = ?', ['2', revision]))).toBe('23001');
    expect(await codeOf(run('delete from specification_revision where id = ?', [revision]))).toBe('23001');
    expect(
      await codeOf(
        run('update specification set open_revision_id = ?, released_revision_id = ? where id = ?', [
          revision,
          revision,
          id,
        ]),
      ),
    ).toBe('23514');
  });

  it.each([
    ['a wrench whose range is upside down', `'wrench', 'N·m', 200, 40, 1, null, null`],
    ['a wrench without a graduation', `'wrench', 'N·m', 40, 200, null, null, null`],
    ['an adapter without its length', `'adapter', 'N·m', null, 200, null, null, null`],
    ['a multiplier that multiplies by less than one', `'multiplier', 'N·m', null, 200, null, null, 0.5`],
    ['a tool in another unit', `'wrench', 'psi', 40, 200, 1, null, null`],
  ])('%s', async (name, values) => {
    const insert = run(
      `insert into torque_tool (id, name, kind, unit, least, most, graduation, extension_mm, ratio, depot_id)
       select gen_random_uuid(), ?, ${values}, depot_id from vehicle where unit = 'P1'`,
      [name],
    );
    expect(await codeOf(insert)).toBe('23514');
  });
});

describe('migrations', () => {
  it('go down and up again, and two processes at once do it once', async () => {
    const orm = await connect(test.databaseUrl);
    const other = await connect(test.databaseUrl);
    try {
      await orm.getMigrator().down({ to: 0 });
      const [before] = await orm.em
        .fork()
        .execute<{ count: number }[]>(
          `select count(*)::int as count from information_schema.tables where table_name = 'reading'`,
        );
      expect(before?.count).toBe(0);
      await Promise.all([migrate(orm), migrate(other)]);
      const [after] = await orm.em
        .fork()
        .execute<{ count: number }[]>(
          `select count(*)::int as count from information_schema.tables where table_name = 'reading'`,
        );
      expect(after?.count).toBe(1);
    } finally {
      await orm.close(true);
      await other.close(true);
    }
  });
});
