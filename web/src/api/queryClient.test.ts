import { afterEach, describe, expect, it } from '@jest/globals';
import { QueryObserver } from '@tanstack/react-query';
import { HearingClient } from './queryClient.ts';

/** A record on a server that answers when it is told to, with what stood when it was asked. */
function slowServer() {
  let record = 'booked';
  const asked: (() => void)[] = [];
  return {
    write: (value: string) => {
      record = value;
    },
    read: () => {
      const stood = record;
      return new Promise<string>((resolve) => asked.push(() => resolve(stood)));
    },
    asked: () => asked.length,
    answer: async (nth: number) => {
      asked[nth]?.();
      for (let turn = 0; turn < 20; turn += 1) await Promise.resolve();
      await new Promise((resolve) => setTimeout(resolve, 0));
    },
  };
}

describe('a write while something is fetched for the first time', () => {
  const queries = new HearingClient({ defaultOptions: { queries: { retry: false } } });
  afterEach(() => queries.clear());

  it('is shown: what was asked before it is asked for again', async () => {
    const server = slowServer();
    const card = new QueryObserver(queries, { queryKey: ['card'], queryFn: server.read });
    const leave = card.subscribe(() => undefined);
    expect(server.asked()).toBe(1);
    server.write('in work');
    let heard = false;
    const hearing = queries.invalidateQueries({ queryKey: ['card'] }).then(() => {
      heard = true;
    });
    await server.answer(0);
    expect(server.asked()).toBe(2);
    // Whoever waits for it waits for what stands now.
    expect(heard).toBe(false);
    await server.answer(1);
    await hearing;
    expect(card.getCurrentResult().data).toBe('in work');
    leave();
  });

  it('leaves others alone, and asks once for what had come already', async () => {
    const server = slowServer();
    const other = new QueryObserver(queries, { queryKey: ['other'], queryFn: server.read });
    const leaveOther = other.subscribe(() => undefined);
    const there = new QueryObserver(queries, { queryKey: ['card'], queryFn: server.read });
    const leave = there.subscribe(() => undefined);
    await server.answer(1);
    const hearing = queries.invalidateQueries({ queryKey: ['card'] });
    await server.answer(0);
    await server.answer(2);
    await hearing;
    expect(server.asked()).toBe(3);
    leave();
    leaveOther();
  });

  it('does not ask again where the first one failed: nothing old was told', async () => {
    let asked = 0;
    let fail: (error: Error) => void = () => undefined;
    const card = new QueryObserver(queries, {
      queryKey: ['card'],
      queryFn: () => {
        asked += 1;
        return new Promise<string>((_, reject) => {
          fail = reject;
        });
      },
    });
    const leave = card.subscribe(() => undefined);
    const hearing = queries.invalidateQueries({ queryKey: ['card'] });
    fail(new Error('away'));
    await hearing;
    expect(asked).toBe(1);
    leave();
  });
});
