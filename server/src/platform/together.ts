import type { EntityManager } from './db/orm.ts';
import { lanes } from './lanes.ts';

/** So many questions are under way at a time: one that hangs does not hold up all. */
const LANES = 2;

/**
 * Asks together what many ask for at the same time. A question is asked at once where nothing is under way; those that
 * come meanwhile wait, and are then asked as one. So whoever asks is told what stands at that moment or later, never
 * what stood before.
 *
 * @param ask asks for many; a key it gives nothing for has none
 * @returns asks for one; fails where its question failed
 */
export function together<Key, Value>(
  ask: (keys: Key[]) => Promise<ReadonlyMap<Key, Value>>,
): (key: Key) => Promise<Value | undefined> {
  let waiting: { keys: Set<Key>; answer: Promise<ReadonlyMap<Key, Value>> } | undefined;
  const inLane = lanes(LANES);
  const askInTurn = async (keys: ReadonlySet<Key>) =>
    inLane(async () => {
      // From here on whoever asks is not of this question any more.
      if (waiting?.keys === keys) waiting = undefined;
      return ask([...keys]);
    });
  return async (key) => {
    if (!waiting) {
      const keys = new Set<Key>();
      waiting = { keys, answer: askInTurn(keys) };
    }
    waiting.keys.add(key);
    return (await waiting.answer).get(key);
  };
}

/** The same of a database: each has its questions of its own, which are asked outside every transaction. */
export function togetherOn<Key, Value>(
  ask: (em: EntityManager, keys: Key[]) => Promise<ReadonlyMap<Key, Value>>,
): (em: EntityManager, key: Key) => Promise<Value | undefined> {
  const byDatabase = new WeakMap<object, (key: Key) => Promise<Value | undefined>>();
  return (em, key) => {
    const database = em.getDriver();
    const known = byDatabase.get(database);
    if (known) return known(key);
    // An empty one is held, not that of whoever asks first: it may have loaded a whole fleet.
    const empty = em.fork();
    const own = together((keys: Key[]) => ask(empty.fork(), keys));
    byDatabase.set(database, own);
    return own(key);
  };
}
