import type { z } from 'zod';
import type { EntityManager } from './db/orm.ts';
import { setsOf } from './db/sets.ts';
import { togetherOn } from './together.ts';

interface Kind {
  row: z.ZodObject<{ key: z.ZodString }>;
  sql: string;
}

const kinds = new Map<string, Kind>();
const kindOf = (name: string): Kind => {
  const kind = kinds.get(name);
  if (!kind) throw new Error(`there is no question ${name}`);
  return kind;
};

/** What is asked of one kind, by the keys: rows that name their key. */
async function ask(em: EntityManager, keysOf: ReadonlyMap<string, readonly string[]>): Promise<Map<string, unknown>> {
  // The same kinds are the same text, however they came together.
  const names = [...keysOf.keys()].sort();
  const sets = names.map((name) => {
    const { row, sql } = kindOf(name);
    return [name, { row, sql, params: [JSON.stringify(keysOf.get(name))] }] as const;
  });
  const found = await setsOf(em, Object.fromEntries(sets));
  return new Map(names.flatMap((name) => (found[name] ?? []).map((row) => [whole(name, row.key), row] as const)));
}

const whole = (name: string, key: string) => `${name} ${key}`;

/** Asks what was asked of all kinds as one. */
async function askAll(em: EntityManager, wholes: Iterable<string>): Promise<Map<string, unknown>> {
  const keysOf = new Map<string, string[]>();
  for (const one of wholes) {
    const at = one.indexOf(' ');
    const name = one.slice(0, at);
    keysOf.set(name, [...(keysOf.get(name) ?? []), one.slice(at + 1)]);
  }
  return ask(em, keysOf);
}

const askedTogether = togetherOn(askAll);

/** What is asked within a transaction before anything else of it goes on, and the answer of all of it. */
const askedWithin = new WeakMap<object, { wholes: Set<string>; answer: Promise<ReadonlyMap<string, unknown>> }>();

/** Within a transaction those that are asked at once are one statement of it: nothing of it is written in between. */
async function askWithin(em: EntityManager, wholes: readonly string[]): Promise<ReadonlyMap<string, unknown>> {
  const transaction = em.getTransactionContext<object>();
  if (!transaction) throw new Error('there is no transaction');
  let waiting = askedWithin.get(transaction);
  if (!waiting) {
    const asked = new Set<string>();
    const answer = Promise.resolve().then(async () => {
      askedWithin.delete(transaction);
      return askAll(em, asked);
    });
    waiting = { wholes: asked, answer };
    askedWithin.set(transaction, waiting);
  }
  for (const one of wholes) waiting.wholes.add(one);
  return waiting.answer;
}

/**
 * A question that every request asks. Those of all kinds that are asked at the same time are one statement (`together`);
 * so are those of one transaction, within it.
 *
 * @param name a word, its own
 * @param sql gives a row for each key of a list, its parameter: `jsonb_array_elements_text(?::jsonb)`. One key that the
 *   database refuses fails all that are asked with it: keys are checked before
 * @returns asks for the keys; where there is no row of one, there is none of it
 */
export function question<Row extends z.ZodObject<{ key: z.ZodString }>>(
  name: string,
  row: Row,
  sql: string,
): (em: EntityManager, keys: readonly string[]) => Promise<Map<string, z.output<Row>>> {
  if (kinds.has(name)) throw new Error(`there are two questions ${name}`);
  kinds.set(name, { row, sql });
  return async (em, keys) => {
    const found = em.isInTransaction()
      ? await askWithin(
          em,
          keys.map((key) => whole(name, key)),
        )
      : new Map(
          await Promise.all(
            keys.map(async (key) => [whole(name, key), await askedTogether(em, whole(name, key))] as const),
          ),
        );
    return new Map(
      keys.flatMap((key) => {
        const row = found.get(whole(name, key));
        return row === undefined ? [] : [[key, row as z.output<Row>] as const];
      }),
    );
  };
}
