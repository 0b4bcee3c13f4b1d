import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import { z } from 'zod';
import { createTestApp, type TestApp } from '../../testing/app.ts';
import { createBus, eventKind, forgetTold, type DomainEvent, type Subscriber } from './bus.ts';

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
});
afterAll(async () => test.close());
beforeEach(async () => {
  await fork().execute('delete from outbox');
});

const fork = () => test.orm.em.fork();
const counted = eventKind('counted', z.object({ count: z.int() }));
const countsOf = (events: readonly DomainEvent[]) => events.map(({ payload }) => counted.parse(payload).count);

/** A subscriber that remembers what it was told, and fails as often as it is bid. */
function listener(failures = 0): Subscriber & { told: number[] } {
  let left = failures;
  const told: number[] = [];
  return {
    name: 'listener',
    told,
    after: async (events) => {
      if (left > 0) {
        left -= 1;
        throw new Error('not now');
      }
      told.push(...countsOf(events));
    },
  };
}
const waiting = async () =>
  fork().execute<{ attempts: number; failure: string | null }[]>(
    'select attempts, failure from outbox where delivered_at is null order by id',
  );

describe('the bus', () => {
  it('tells what was committed, in order and once, and never what was rolled back', async () => {
    const heard = listener();
    const bus = createBus(fork, [heard]);
    for (const count of [1, 2]) await bus.emit(fork(), counted({ count }));
    await fork()
      .transactional(async (em) => {
        await bus.emit(em, counted({ count: 99 }));
        throw new Error('rolled back');
      })
      .catch(() => undefined);
    await bus.deliver();
    await bus.deliver();
    expect(heard.told).toEqual([1, 2]);
  });

  it('tells later what a process left untold when it was killed', async () => {
    await createBus(fork, []).emit(fork(), counted({ count: 7 }));
    const heard = listener();
    await createBus(fork, [heard]).deliver();
    expect(heard.told).toEqual([7]);
  });

  it('keeps what a subscriber failed at, with the reason, and tells it again', async () => {
    const heard = listener(1);
    const bus = createBus(fork, [heard]);
    await bus.emit(fork(), counted({ count: 5 }));
    await expect(bus.deliver()).rejects.toThrow('not now');
    expect(await waiting()).toEqual([{ attempts: 1, failure: 'Error: not now' }]);
    await bus.deliver();
    expect(heard.told).toEqual([5]);
    expect(await waiting()).toEqual([]);
  });

  it('gives an event up after twenty failures, and goes on with others', async () => {
    const bus = createBus(fork, [listener(20)]);
    await bus.emit(fork(), counted({ count: 1 }));
    for (let i = 0; i < 20; i += 1) await bus.deliver().catch(() => undefined);
    const heard = listener();
    const next = createBus(fork, [heard]);
    await next.emit(fork(), counted({ count: 2 }));
    await next.deliver();
    expect(heard.told).toEqual([2]);
  });

  it('tells each event to one of two processes that deliver at once', async () => {
    const heard = [listener(), listener()];
    const buses = heard.map((one) => createBus(fork, [one]));
    for (let count = 0; count < 500; count += 1) await buses[0]?.emit(fork(), counted({ count }));
    await Promise.all(buses.map((bus) => bus.deliver()));
    await buses[0]?.deliver();
    const told = heard.flatMap((one) => one.told).sort((a, b) => a - b);
    expect(told).toEqual(Array.from({ length: 500 }, (_, count) => count));
  });

  it('forgets what was told a month ago, and neither what was told since nor what was given up', async () => {
    const add = (count: number, told: string | null, attempts = 0) =>
      fork().execute(
        `insert into outbox (at, name, payload, attempts, delivered_at)
         values (now() - interval '60 days', 'counted', ?::jsonb, ?, ${told === null ? 'null' : `now() - interval '${told}'`})`,
        [JSON.stringify({ count }), attempts],
      );
    await add(1, '31 days');
    await add(2, null, 20);
    await add(3, '29 days');
    await add(4, '31 days');
    await forgetTold(fork());
    const left = await fork().execute<{ count: number }[]>(
      `select (payload->>'count')::int as count from outbox order by id`,
    );
    expect(left.map(({ count }) => count)).toEqual([2, 3]);
  });

  it('lets a subscriber write in the transaction of the event', async () => {
    const within: number[] = [];
    const bus = createBus(fork, [
      { name: 'within', within: async (_em, event) => void within.push(...countsOf([event])) },
    ]);
    await bus.emit(fork(), counted({ count: 3 }));
    expect(within).toEqual([3]);
  });
});
