import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
import type { EntityManager } from '../db/orm.ts';
import { rowsOf } from '../db/rows.ts';
import { keptRecords } from './records.ts';

/** Records are read anew when they changed, and only then. */

let test: TestApp;
let [first, second] = ['', ''];
beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  const rows = await rowsOf(fork(), z.object({ id: z.string() }), 'select id from vehicle order by unit');
  [first, second] = rows.map(({ id }) => id) as [string, string];
});
afterAll(async () => test.close());
const fork = () => test.orm.em.fork();

const Revision = z.object({ id: z.string(), rev: z.number() });
const read: string[][] = [];
beforeEach(() => {
  read.length = 0;
});
/** What is on record of vehicles: here their revision. */
const revisions = async (em: EntityManager, ids = [first, second]) =>
  keptRecords(em, ids, async (changed) => {
    read.push(changed);
    const rows = await rowsOf(
      em,
      Revision,
      `select id, input_rev as rev from vehicle where id in (${changed.map(() => '?').join()})`,
      changed,
    );
    return new Map(rows.map(({ id, rev }) => [id, rev]));
  });
const touch = (em: EntityManager, id: string) =>
  em.execute('update vehicle set input_rev = input_rev + 1 where id = ?', [id]);

describe('records that are kept', () => {
  it('are read once while they stand, and only those that changed, or all where what they share did', async () => {
    await touch(fork(), first);
    await revisions(fork());
    read.length = 0;
    const before = await revisions(fork());
    expect(read).toEqual([]);
    await touch(fork(), second);
    const after = await revisions(fork());
    expect(read).toEqual([[second]]);
    expect([after.get(first), after.get(second)]).toEqual([before.get(first), (before.get(second) ?? 0) + 1]);
    await fork().execute('update depot set revision = revision + 1');
    await revisions(fork());
    expect(read).toEqual([[second], [first, second]]);
  });

  it('stand while only what is worked out from them changes', async () => {
    await revisions(fork());
    read.length = 0;
    const derived = ['vehicle_forecast', 'forecast', 'reading_doubt', 'wear_change'];
    for (const table of derived)
      await fork().execute(`update ${table} set vehicle_id = vehicle_id where vehicle_id = ?`, [first]);
    await revisions(fork());
    expect(read).toEqual([]);
    const counted = z.object({ n: z.number() });
    const [{ n } = { n: 0 }] = await rowsOf(
      fork(),
      counted,
      'select count(*)::int as n from record_change where about = ? and derived',
      [first],
    );
    expect(n).toBeGreaterThan(0);
    for (const table of ['reading', 'service', 'duty_period', 'measured_duty'])
      await fork().execute(`delete from ${table} where vehicle_id = ? and false`, [first]);
    await revisions(fork());
    expect(read).toEqual([]);
    await fork().execute('update duty_period set from_date = from_date where vehicle_id = ?', [first]);
    await revisions(fork());
    expect(read).toEqual([[first]]);
  });

  it('are read within a transaction that changed them, and what it saw is kept for nobody', async () => {
    const before = await revisions(fork());
    read.length = 0;
    await expect(
      fork().transactional(async (em) => {
        // Nothing of its own yet: what is kept is good for it too.
        expect(await revisions(em)).toEqual(before);
        expect(read).toEqual([]);
        await touch(em, first);
        const own = await revisions(em);
        expect(read).toEqual([[first, second]]);
        expect(own.get(first)).toBe((before.get(first) ?? 0) + 1);
        expect(await revisions(fork())).toEqual(before);
        throw new Error('given up');
      }),
    ).rejects.toThrow('given up');
    // As many changes as the one that was rolled back saw, of other content.
    await fork().transactional(async (em) => {
      await em.execute('update vehicle set input_rev = input_rev + 10 where id = ?', [first]);
    });
    expect((await revisions(fork())).get(first)).toBe((before.get(first) ?? 0) + 10);
  });
});
