import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { createTestApp, fillSmallFleet, type TestApp } from '../testing/app.ts';
import { question } from './questions.ts';

/** What every request asks, asked as one. */

let test: TestApp;
const asked: string[] = [];
beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  test.orm.em.getKnex().on('query', ({ sql }: { sql: string }) => asked.push(sql));
});
afterAll(async () => test.close());
const fork = () => test.orm.em.fork();

const LISTED = 'from jsonb_array_elements_text(?::jsonb) as asked(key)';
const depots = question(
  'tested-depots',
  z.object({ key: z.string(), revision: z.number() }),
  `select d.name as key, d.revision ${LISTED} join depot d on d.name = asked.key`,
);
const lengths = question(
  'tested-lengths',
  z.object({ key: z.string(), long: z.number() }),
  `select key, length(key) as long ${LISTED} order by key`,
);
const faults = question(
  'tested-faults',
  z.object({ key: z.string(), n: z.number() }),
  `select key, key::int as n ${LISTED}`,
);

describe('questions of several kinds', () => {
  it('that come at once are one statement, and each is told its own by its keys', async () => {
    const [{ name } = { name: '' }] = await fork().execute<{ name: string }[]>('select name from depot limit 1');
    asked.length = 0;
    const [places, words, more] = await Promise.all([
      depots(fork(), [name, 'nowhere']),
      lengths(fork(), ['a “word” of 2', '']),
      lengths(fork(), ['', 'another']),
    ]);
    expect(asked).toHaveLength(1);
    expect([...places]).toEqual([[name, { key: name, revision: expect.any(Number) }]]);
    expect([...words]).toEqual([
      ['a “word” of 2', { key: 'a “word” of 2', long: 13 }],
      ['', { key: '', long: 0 }],
    ]);
    expect(more.get('another')).toEqual({ key: 'another', long: 7 });
  });

  it('are asked within a transaction where they belong to one: it sees what it wrote, others do not', async () => {
    const [{ name } = { name: '' }] = await fork().execute<{ name: string }[]>('select name from depot limit 1');
    const before = (await depots(fork(), [name])).get(name)?.revision ?? 0;
    await fork().transactional(async (em) => {
      await em.execute('update depot set revision = revision + 1 where name = ?', [name]);
      asked.length = 0;
      const [within, words] = await Promise.all([depots(em, [name]), lengths(em, [name])]);
      expect(asked).toHaveLength(1);
      expect(words.get(name)?.long).toBe(name.length);
      const outside = await depots(fork(), [name]);
      expect([within.get(name)?.revision, outside.get(name)?.revision]).toEqual([before + 1, before]);
      await em.execute('update depot set revision = revision + 1 where name = ?', [name]);
      expect((await depots(em, [name])).get(name)?.revision).toBe(before + 2);
    });
    expect((await depots(fork(), [name])).get(name)?.revision).toBe(before + 2);
  });

  it('fail where one of them can’t be asked, and are answered when they are asked again', async () => {
    const together = await Promise.allSettled([faults(fork(), ['no number']), lengths(fork(), ['abc'])]);
    expect(together.map(({ status }) => status)).toEqual(['rejected', 'rejected']);
    expect((await faults(fork(), ['12'])).get('12')?.n).toBe(12);
    expect((await lengths(fork(), ['abc'])).get('abc')?.long).toBe(3);
    expect(() => question('tested-faults', z.object({ key: z.string() }), 'select 1')).toThrow('two questions');
  });
});
