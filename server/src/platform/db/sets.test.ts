import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { createTestApp, type TestApp } from '../../testing/app.ts';
import { rowsOf } from './rows.ts';
import { setsOf } from './sets.ts';

/** Several statements in one give what each gives by itself. */

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
});
afterAll(async () => test.close());
const fork = () => test.orm.em.fork();

const Numbered = z.object({ n: z.int(), day: z.string(), share: z.number(), note: z.string().nullable() });
const NUMBERED = `select n, ('2026-01-01'::date + n)::text as day, n / 3.0::float8 as share, case when n % 2 = 0 then 'it''s “even”' end as note
  from generate_series(1, ?) as n where n <> ? order by n desc`;

describe('sets of rows', () => {
  it('hold the same rows in the same order as statements of their own, an empty one among them', async () => {
    const { some, none, others } = await setsOf(fork(), {
      some: { row: Numbered, sql: NUMBERED, params: [9, 4] },
      none: { row: Numbered, sql: NUMBERED, params: [0, 4] },
      others: { row: z.object({ word: z.string() }), sql: 'select ? as word', params: ['a ? in it'] },
    });
    expect(some).toEqual(await rowsOf(fork(), Numbered, NUMBERED, [9, 4]));
    expect(some.map(({ n }) => n)).toEqual([9, 8, 7, 6, 5, 3, 2, 1]);
    expect(none).toEqual([]);
    expect(others).toEqual([{ word: 'a ? in it' }]);
  });

  it('refuse a row that is not as its schema says', async () => {
    const wrong = { rows: { row: z.object({ n: z.string() }), sql: 'select 1 as n', params: [] } };
    await expect(setsOf(fork(), wrong)).rejects.toThrow('not as expected');
  });
});
