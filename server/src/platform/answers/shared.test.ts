import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
import type { EntityManager } from '../db/orm.ts';
import { rowsOf } from '../db/rows.ts';
import { shared } from './shared.ts';

/** What all vehicles share is loaded once for each state of it, and by no transaction for another. */

let test: TestApp;
let first = '';
beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  const [row] = await rowsOf(fork(), z.object({ id: z.string() }), 'select id from vehicle order by unit limit 1');
  first = row?.id ?? '';
});
afterAll(async () => test.close());

const fork = () => test.orm.em.fork();
const touch = (id: string, em = fork()) =>
  em.execute('update vehicle set input_rev = input_rev + 1 where id = ?', [id]);

/** What is waited for until somebody opens it. */
function gate() {
  let open: () => void = () => undefined;
  const opened = new Promise<void>((resolve) => (open = resolve));
  return { open: () => open(), opened };
}

describe('what all share', () => {
  const settings = async (em = fork()) =>
    shared(em, 'settings of a test', async () =>
      rowsOf(em, z.object({ value: z.unknown() }), `select value from setting where key = 'shared test'`),
    );
  const set = (value: number, em = fork()) =>
    em.execute(
      `insert into setting (key, value) values ('shared test', ?::jsonb) on conflict (key) do update set value = excluded.value`,
      [String(value)],
    );

  it('is loaded once for each state of it', async () => {
    await set(1);
    const before = await settings();
    expect(await settings()).toBe(before);
    await touch(first);
    expect(await settings()).toBe(before);
    await set(2);
    expect(await settings()).toEqual([{ value: 2 }]);
    await set(1);
    const within = await fork().transactional(settings);
    expect(within).toEqual([{ value: 1 }]);
    expect(await fork().transactional(settings)).toBe(within);
    expect(await settings()).toBe(within);
  });

  it('is seen by a transaction as it changed it, and by nobody else before it ends', async () => {
    await set(3);
    await settings();
    await fork().transactional(async (em) => {
      expect(await settings(em)).toEqual([{ value: 3 }]);
      await set(4, em);
      expect(await settings(em)).toEqual([{ value: 4 }]);
      await touch(first, em);
      // A second change of the same transaction is seen as well.
      await set(5, em);
      expect(await settings(em)).toEqual([{ value: 5 }]);
      expect(await settings()).toEqual([{ value: 3 }]);
    });
    expect(await settings()).toEqual([{ value: 5 }]);
    await expect(
      fork().transactional(async (em) => {
        await set(6, em);
        await settings(em);
        throw new Error('given up');
      }),
    ).rejects.toThrow('given up');
    expect(await settings()).toEqual([{ value: 5 }]);
  });

  it('is loaded by a transaction itself while others load it, who may wait for what the transaction holds', async () => {
    const [begun, over] = [gate(), gate()];
    const loads: string[] = [];
    const load = async (em: EntityManager, who: string) =>
      shared(em, 'what is waited for', async () => {
        loads.push(who);
        begun.open();
        if (who === 'outside') await over.opened;
        return who;
      });
    const outside = load(fork(), 'outside');
    await begun.opened;
    const another = load(fork(), 'another');
    // It ends before what the others wait for: here that is its own end.
    await fork().transactional(async (em) => {
      expect(await load(em, 'within')).toBe('within');
    });
    // What came is given, also while the others are still loading.
    expect(await load(fork(), 'later')).toBe('within');
    over.open();
    expect(await outside).toBe('outside');
    expect(await another).not.toBe('another');
    expect(loads).toEqual(['outside', 'within']);
  });

  it('is not spoilt for others by a transaction that ends while it loads', async () => {
    await set(7);
    const begun = gate();
    const failing = fork().transactional(async (em) =>
      shared(em, 'what failed', async () => {
        begun.open();
        await em.execute('select pg_sleep(.05)');
        throw new Error('ended');
      }),
    );
    await begun.opened;
    expect(await shared(fork(), 'what failed', () => Promise.resolve('sound'))).toBe('sound');
    await expect(failing).rejects.toThrow('ended');
    expect(await shared(fork(), 'what failed', () => Promise.resolve('again'))).toBe('sound');
  });
});
