import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { createTestApp, type TestApp } from '../../testing/app.ts';
import { plannedRows } from './planned.ts';

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
});
afterAll(async () => test.close());

const SQL = 'select count(*)::int as n from person where role = ?::text';
/** What the database keeps of the statement on this connection. */
const KEPT = `select statement, generic_plans::int as generic, custom_plans::int as custom from pg_prepared_statements
  where statement like 'select count(*)::int as n from person where role%'`;

describe('a statement asked again and again', () => {
  it('is planned once a connection, whatever it is asked with', async () => {
    await test.orm.em.fork().transactional(async (em) => {
      for (let k = 0; k < 7; k += 1)
        expect(await plannedRows(em, SQL, [k === 3 ? 'nobody' : 'technician'])).toEqual([{ n: k === 3 ? 0 : 1 }]);
      // Left to itself the database would have planned five of them anew.
      expect(await em.execute(KEPT)).toEqual([{ statement: SQL.replace('?', '$1'), generic: 7, custom: 0 }]);
    });
  });

  it('sees what is written between in its own transaction', async () => {
    await test.orm.em
      .fork()
      .transactional(async (em) => {
        await plannedRows(em, SQL, ['technician']);
        await em.execute(`update person set role = 'technician' where role = 'viewer'`);
        expect(await plannedRows(em, SQL, ['technician'])).toEqual([{ n: 2 }]);
        throw new Error('taken back');
      })
      .catch((error: unknown) => expect(String(error)).toContain('taken back'));
    expect(await plannedRows(test.orm.em.fork(), SQL, ['technician'])).toEqual([{ n: 1 }]);
  });
});
