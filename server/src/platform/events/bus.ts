import { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { rowsOf } from '../db/rows.ts';
import { together } from '../together.ts';
import { OutboxEntity } from './entities.ts';

/** Something that happened, by name, in the past tense. */
export interface DomainEvent {
  name: string;
  payload: unknown;
}

/** A kind of event: call it with what happened. */
export interface EventKind<Name extends string, Payload> {
  (payload: Payload): DomainEvent;
  readonly eventName: Name;
  /** @throws ZodError where a row of the outbox is of another version */
  parse(payload: unknown): Payload;
}

export function eventKind<Name extends string, Schema extends z.ZodType>(
  name: Name,
  schema: Schema,
): EventKind<Name, z.output<Schema>> {
  const kind = (payload: z.output<Schema>): DomainEvent => ({ name, payload });
  return Object.assign(kind, { eventName: name, parse: (payload: unknown) => schema.parse(payload) });
}

/** Somebody who wants to know what happened. */
export interface Subscriber {
  name: string;
  /** In the writing transaction: what must be true as soon as the event is. */
  within?(em: EntityManager, event: DomainEvent): Promise<void>;
  /** After the commit, in order; at least once, and again where a process died in between. */
  after?(events: readonly DomainEvent[]): Promise<void>;
}

export interface EventBus {
  /** Writes an event down in the transaction of `em`. */
  emit(em: EntityManager, event: DomainEvent): Promise<void>;
  /** Tells the subscribers what has been committed and not told yet, by whichever process. */
  deliver(): Promise<void>;
}

const Waiting = z.object({ id: z.string(), name: z.string(), payload: z.unknown() });

/** How many events are told at once. */
const BATCH = 200;
/** After this many failures an event is left alone; its row says why. */
const MOST_ATTEMPTS = 20;

/** What has been told is kept so long, for whoever looks into what happened, days. */
const KEPT_DAYS = 30;
/** So many of the oldest are looked at in one go: a sweep is short however long the table has grown. */
const OLDEST = 500;

/** Forgets events that everybody heard of long ago; one that was given up stays, with the reason. */
export async function forgetTold(em: EntityManager): Promise<void> {
  await em.execute(
    `delete from outbox where delivered_at < now() - make_interval(days => ?)
       and id in (select id from outbox order by id limit ?)`,
    [KEPT_DAYS, OLDEST],
  );
}

/**
 * Events by way of a table: what is committed is told, what is rolled back never happened, and what a killed process
 * left untold is told by the next call of `deliver`, wherever it is made.
 *
 * @param fork gives an entity manager of its own for telling
 */
export function createBus(fork: () => EntityManager, subscribers: readonly Subscriber[]): EventBus {
  const tellSome = async (): Promise<number> => {
    const em = fork();
    const failure = await em.transactional(async (inner) => {
      const waiting = await rowsOf(
        inner,
        Waiting,
        `select id, name, payload from outbox where delivered_at is null and attempts < ? order by id limit ?
         for update skip locked`,
        [MOST_ATTEMPTS, BATCH],
      );
      if (waiting.length === 0) return 0;
      const ids = waiting.map(({ id }) => id);
      try {
        for (const subscriber of subscribers) await subscriber.after?.(waiting);
      } catch (error) {
        await inner.nativeUpdate(OutboxEntity, { id: { $in: ids } }, { failure: String(error).slice(0, 500) });
        await inner.execute('update outbox set attempts = attempts + 1 where id = any(?::bigint[])', [
          `{${ids.join(',')}}`,
        ]);
        return error instanceof Error ? error : new Error(String(error));
      }
      await inner.nativeUpdate(OutboxEntity, { id: { $in: ids } }, { deliveredAt: new Date() });
      return ids.length;
    });
    if (failure instanceof Error) throw failure;
    return failure;
  };
  // Whoever asks while others are told waits for the next telling: what it wrote is told by then.
  const tellAll = together<'all', true>(async () => {
    for (let told = BATCH; told === BATCH;) told = await tellSome();
    return new Map([['all', true]]);
  });
  return {
    emit: async (em, event) => {
      await em.insert(OutboxEntity, { at: new Date(), name: event.name, payload: event.payload, attempts: 0 });
      for (const subscriber of subscribers) await subscriber.within?.(em, event);
    },
    deliver: async () => {
      await tellAll('all');
    },
  };
}
