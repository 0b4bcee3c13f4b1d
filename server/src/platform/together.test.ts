import { describe, expect, it } from '@jest/globals';
import { together } from './together.ts';

/** A record that answers only when it is let, and tells what it was asked. */
function slowRecord() {
  const asked: string[][] = [];
  const open: { answer: () => void; fail: (error: Error) => void }[] = [];
  let stands = 0;
  const ask = together<string, number>((keys) => {
    asked.push(keys);
    const seen = stands;
    return new Promise((resolve, reject) => {
      open.push({
        answer: () => resolve(new Map(keys.filter((key) => key !== 'unknown').map((key) => [key, seen]))),
        fail: reject,
      });
    });
  });
  const soon = () => new Promise((resolve) => setImmediate(resolve));
  return {
    ask,
    asked,
    change: () => (stands += 1),
    answer: async (at: number) => {
      open[at]?.answer();
      await soon();
    },
    fail: async (at: number) => {
      open[at]?.fail(new Error('the database is away'));
      await soon();
    },
    soon,
  };
}

describe('questions at the same time', () => {
  it('are asked as one while others are under way, each key once, and each is told its own', async () => {
    const { ask, asked, answer, soon } = slowRecord();
    const first = ask('a');
    await soon();
    const second = ask('b');
    await soon();
    const later = Promise.all([ask('c'), ask('d'), ask('c'), ask('unknown')]);
    await soon();
    expect(asked).toEqual([['a'], ['b']]);
    await answer(0);
    expect(await first).toBe(0);
    expect(asked).toEqual([['a'], ['b'], ['c', 'd', 'unknown']]);
    await answer(2);
    expect(await later).toEqual([0, 0, 0, undefined]);
    await answer(1);
    expect(await second).toBe(0);
  });

  it('that come after a change are never told what stood before it', async () => {
    const { ask, asked, change, answer, soon } = slowRecord();
    const early = [ask('a'), ask('a')];
    await soon();
    change();
    const late = ask('a');
    await soon();
    await answer(0);
    await answer(1);
    expect(asked).toEqual([['a'], ['a']]);
    expect(await Promise.all(early)).toEqual([0, 0]);
    expect(await late).toBe(1);
  });

  it('fail together where their question fails; those after it are asked all the same', async () => {
    const { ask, fail, answer, soon } = slowRecord();
    const failing = Promise.allSettled([ask('a'), ask('b')]);
    await soon();
    const other = ask('c');
    await soon();
    await fail(0);
    expect((await failing).map(({ status }) => status)).toEqual(['rejected', 'rejected']);
    await answer(1);
    expect(await other).toBe(0);
    const again = ask('a');
    await soon();
    await answer(2);
    expect(await again).toBe(0);
  });

  it('one that hangs does not hold up the others', async () => {
    const { ask, asked, answer, soon } = slowRecord();
    void ask('hangs');
    await soon();
    for (let k = 1; k <= 5; k += 1) {
      const own = ask(`${k}`);
      await soon();
      await answer(k);
      expect(await own).toBe(0);
    }
    expect(asked).toHaveLength(6);
  });
});
