import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
import { rowsOf } from '../db/rows.ts';
import { addUpChanges, changedSince, changesSoFar, createAnswers, EVERYTHING, restsOnOne } from './answers.ts';
import { partsOf } from './parts.ts';
import { shared } from './shared.ts';

/** Answers that are kept while what they rest on stands: never older than the record, made no oftener than it changes. */

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
const touch = (id: string, em = fork()) =>
  em.execute('update vehicle set input_rev = input_rev + 1 where id = ?', [id]);
const touchAll = (em = fork()) => em.execute('update depot set revision = revision + 1');
const one = restsOnOne('tested', 'select key, key::uuid as id from asked');

/** What is visible now, as a device is told it. */
const snapshot = async () => {
  const [{ told } = { told: '' }] = await rowsOf(
    fork(),
    z.object({ told: z.string() }),
    `select '1.1.' || pg_current_snapshot() as told`,
  );
  return told;
};

/** Something that is asked for, and how often it was made. */
function counted(key: string, rests: Parameters<ReturnType<typeof createAnswers>['of']>[1]['rests']) {
  let made = 0;
  const make = async () => {
    made += 1;
    return { made };
  };
  return { key, rests, make, times: () => made };
}

describe('an answer', () => {
  it('is made once while what it rests on stands, and anew when that changed or what all share', async () => {
    const answers = createAnswers();
    const asked = counted('P1', one(first));
    const all = counted('fleet', EVERYTHING);
    const times = async () => {
      await answers.of(fork(), asked);
      await answers.of(fork(), all);
      return [asked.times(), all.times()];
    };
    expect(await times()).toEqual([1, 1]);
    expect(await times()).toEqual([1, 1]);
    await touch(second);
    expect(await times()).toEqual([1, 2]);
    await touch(first);
    expect(await times()).toEqual([2, 3]);
    await touchAll();
    expect(await times()).toEqual([3, 4]);
    // What nobody asks for in an answer leaves them all.
    await fork().execute('update session set used_at = now()');
    expect(await times()).toEqual([3, 4]);
  });

  it('stands, with what all share, while only parts are planned, ordered and moved', async () => {
    await fork().execute(
      `insert into supplier (id, name, currency, lead_days) values (gen_random_uuid(), 'Supplier of a test', 'USD', 3)`,
    );
    const answers = createAnswers();
    const [asked, everything] = [counted('P1', one(first)), counted('all', EVERYTHING)];
    let loads = 0;
    const load = async (em = fork()) => shared(em, 'beside parts', async () => Promise.resolve((loads += 1)));
    const times = async () => {
      for (const each of [asked, everything]) await answers.of(fork(), each);
      await load();
      return [asked.times(), everything.times(), loads];
    };
    expect(await times()).toEqual([1, 1, 1]);
    const since = await snapshot();
    const before = await changesSoFar(fork());
    await fork().transactional(async (em) => {
      await em.execute(
        `insert into purchase_order (id, supplier_id, depot_id, state, made_on)
         select gen_random_uuid(), s.id, d.id, 'proposed', '2026-11-20' from supplier s, depot d limit 1`,
      );
      await load(em);
    });
    expect(await times()).toEqual([1, 1, 1]);
    expect(await changedSince(fork(), since, await snapshot())).toEqual(new Set());
    // It is a change all the same: whoever looks whether anything has changed is told.
    expect(await changesSoFar(fork())).not.toBe(before);
    await touchAll();
    expect(await times()).toEqual([2, 2, 2]);
    expect(await changedSince(fork(), since, await snapshot())).toBe('all');
  });

  it('is made anew for each row that comes or goes, and for none where a statement found nothing', async () => {
    const answers = createAnswers();
    const asked = counted('P1', one(first));
    const after = async (sql: string) => {
      await fork().execute(sql);
      await answers.of(fork(), asked);
      return asked.times();
    };
    await answers.of(fork(), asked);
    expect(await after(`update vehicle set input_rev = 0 where unit = 'nowhere'`)).toBe(1);
    expect(await after(`delete from measured_duty where vehicle_id = '${first}'`)).toBe(1);
    expect(await after(`update vehicle set input_rev = input_rev where id = '${second}'`)).toBe(1);
    expect(await after(`delete from reading_doubt`)).toBe(1);
    await fork().execute(`insert into setting (key, value) values ('a test', '1')`);
    await answers.of(fork(), asked);
    expect(asked.times()).toBe(2);
    expect(await after(`delete from setting where key = 'a test'`)).toBe(3);
  });

  it('is not told by what was rolled back; and what ends later counts although it began first', async () => {
    const answers = createAnswers();
    const asked = counted('P1', one(first));
    await answers.of(fork(), asked);
    await expect(
      fork().transactional(async (em) => {
        await touch(first, em);
        throw new Error('given up');
      }),
    ).rejects.toThrow('given up');
    await answers.of(fork(), asked);
    expect(asked.times()).toBe(1);
    // The first to begin ends last: a greatest number would not tell.
    await fork().transactional(async (slow) => {
      await slow.execute(`insert into record_change (about) values (?)`, [first]);
      await touch(first);
      await answers.of(fork(), asked);
      expect(asked.times()).toBe(2);
    });
    await answers.of(fork(), asked);
    expect(asked.times()).toBe(3);
  });

  it('is made one after the other, once for all who asked meanwhile, and for each as new as when it asked', async () => {
    const answers = createAnswers();
    const begun: (() => void)[] = [];
    const revision = async () => {
      const [row] = await fork().execute<{ n: number }[]>('select input_rev as n from vehicle where id = ?', [first]);
      return row?.n ?? 0;
    };
    const asked = {
      key: 'P1',
      rests: one(first),
      make: async () => {
        const now = await revision();
        await new Promise<void>((resolve) => begun.push(resolve));
        return now;
      },
    };
    const under = async (many: number) => {
      while (begun.length < many) await new Promise((resolve) => setTimeout(resolve, 5));
    };
    const was = await revision();
    const early = answers.of(fork(), asked);
    await under(1);
    const late: Promise<number>[] = [];
    for (let i = 1; i <= 3; i += 1) {
      await touch(first);
      late.push(answers.of(fork(), asked).then(({ prepared }) => Number(prepared) - was - i));
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
    expect(begun).toHaveLength(1);
    begun[0]?.();
    await under(2);
    begun[1]?.();
    expect((await early).prepared).toBe(String(was));
    // None is older than what stood when it was asked for.
    expect((await Promise.all(late)).every((newer) => newer >= 0)).toBe(true);
    expect(begun).toHaveLength(2);
    await answers.of(fork(), asked);
    expect(begun).toHaveLength(2);
  });

  it('is the same for all who ask while it is made, and one that failed is made again', async () => {
    const answers = createAnswers();
    const asked = counted('P1', one(first));
    const given = await Promise.all([1, 2, 3].map(async () => answers.of(fork(), asked)));
    expect(asked.times()).toBe(1);
    expect(new Set(given.map(({ tag }) => tag)).size).toBe(1);
    let fails = true;
    const failing = {
      key: 'failing',
      rests: one(first),
      make: async () => {
        if (fails) throw new Error('no');
        return 'well';
      },
    };
    await expect(answers.of(fork(), failing)).rejects.toThrow('no');
    fails = false;
    expect((await answers.of(fork(), failing)).prepared).toBe('"well"');
  });

  it('has the same tag where it says the same, and goes when others need the room', async () => {
    const answers = createAnswers(2500);
    const large = (key: string) => {
      let made = 0;
      return {
        key,
        rests: one(first),
        times: () => made,
        make: async () => {
          made += 1;
          return key.repeat(500);
        },
      };
    };
    const [a, b, c] = [large('a'), large('b'), large('c')];
    const before = await answers.of(fork(), a);
    await touch(first);
    expect((await answers.of(fork(), a)).tag).toBe(before.tag);
    for (const each of [b, a, c, a]) await answers.of(fork(), each);
    await answers.of(fork(), { ...large('z'), make: async () => 'z'.repeat(1600) });
    expect([a.times(), b.times()]).toEqual([2, 1]);
    await answers.of(fork(), b);
    expect(b.times()).toBe(2);
  });
});

describe('what changed', () => {
  it('is noted of every table but those that no answer rests on', async () => {
    const rows = await rowsOf(
      fork(),
      z.object({ name: z.string(), triggers: z.number() }),
      `select c.relname as name, (select count(*)::int from pg_trigger t where t.tgrelid = c.oid and t.tgname like 'record\\_%') as triggers
       from pg_class c join pg_namespace n on n.oid = c.relnamespace where n.nspname = 'public' and c.relkind = 'r'`,
    );
    expect(rows.length).toBeGreaterThan(60);
    const unwatched = rows.filter(({ triggers }) => triggers < 3).map(({ name }) => name);
    expect(unwatched.sort()).toEqual(
      [
        ['audit', 'calendar_link', 'failed_sign_in', 'feed_state', 'idempotent_reply', 'import_change', 'import_draft'],
        [
          'job_run',
          'kept_answer',
          'known_device',
          'mail',
          'migration',
          'outbox',
          'password_reset',
          'person_depot',
          'record_change',
          'session',
        ],
      ].flat(),
    );
  });

  it('is added up, and tells each answer the same as before', async () => {
    const answers = createAnswers();
    const [asked, other] = [counted('P1', one(first)), counted('P2', one(second))];
    const ask = async () => {
      await answers.of(fork(), asked);
      await answers.of(fork(), other);
    };
    await fork().execute(`insert into record_change (about) select ?::uuid from generate_series(1, 600)`, [first]);
    await ask();
    await Promise.all([addUpChanges(fork()), addUpChanges(fork())]);
    const [{ n } = { n: 0 }] = await rowsOf(
      fork(),
      z.object({ n: z.number() }),
      'select count(*)::int as n from record_change',
    );
    // The last ones stay: when they came is still asked for.
    expect(n).toBeLessThan(300);
    await ask();
    expect([asked.times(), other.times()]).toEqual([1, 1]);
    await touch(first);
    await ask();
    expect([asked.times(), other.times()]).toEqual([2, 1]);
  });
});

describe('parts', () => {
  it('are made anew one by one, all of them where what they share changed, and told in the order asked for', async () => {
    const made: string[][] = [];
    const ask = (em = fork(), ids = [second, first]) =>
      partsOf(em, 'parts of a test', ids, async (changed) => {
        made.push([...changed].sort());
        return new Map([...changed].sort().map((id) => [id, `part ${made.length} of ${id}`]));
      });
    expect([...(await ask()).keys()]).toEqual([second, first]);
    const before = await ask();
    await touch(first);
    const after = await ask();
    expect(after.get(second)).toBe(before.get(second));
    expect(after.get(first)).not.toBe(before.get(first));
    await touchAll();
    await ask();
    const both = [first, second].sort();
    expect(made).toEqual([both, [first], both]);
    // One that is asked for no more, and one that has none.
    expect([...(await ask(fork(), [first])).keys()]).toEqual([first]);
    const none = await partsOf(fork(), 'no parts', [first], async () => new Map<string, string>());
    expect(none.size).toBe(0);
    // A transaction that changed what they share makes its own, in order, and leaves the others theirs.
    await fork().transactional(async (em) => {
      await touchAll(em);
      expect([...(await ask(em)).keys()]).toEqual([second, first]);
    });
  });
});
