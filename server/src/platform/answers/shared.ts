import { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { question } from '../questions.ts';

interface Loaded {
  stands: string;
  value: Promise<unknown>;
  /** It is there, and need not be waited for. */
  settled: boolean;
}

const Shared = z.object({ key: z.string(), stands: z.string(), changed: z.boolean() });
const KEY = 'now';
const askShared = question(
  'shared',
  Shared,
  `select '${KEY}' as key, coalesce(sum(n), 0)::text as stands, coalesce(current_setting('mile_mark.shared', true), '') = 'changed' as changed
   from record_change where about is null and not derived having ?::jsonb is not null`,
);

/** How often what all share has changed, and whether this transaction is one that changed it. */
export async function sharedNow(em: EntityManager): Promise<{ stands: string; changed: boolean }> {
  return (await askShared(em, [KEY])).get(KEY) ?? { stands: '', changed: true };
}

/** What was loaded of each database, by what it is. */
const loaded = new WeakMap<object, Map<string, Loaded>>();

/**
 * Loads what all vehicles share, once for each state of it: nobody may change what is given. A transaction that changed
 * some of it itself loads it as it sees it, and nothing of that is kept.
 *
 * A transaction waits for nobody's loading: it holds a connection and maybe a vehicle, and who loads may wait for just
 * these. Nor does anybody wait for its loading, which ends with it.
 *
 * @param name of what is loaded
 */
export async function shared<T>(em: EntityManager, name: string, load: () => Promise<T>): Promise<T> {
  const { stands, changed } = await sharedNow(em);
  if (changed) return load();
  const driver = em.getDriver();
  const known = loaded.get(driver) ?? new Map<string, Loaded>();
  loaded.set(driver, known);
  const before = known.get(name);
  const isWithin = em.isInTransaction();
  if (before?.stands === stands && (before.settled || !isWithin)) return before.value as Promise<T>;
  const value = load();
  const own: Loaded = { stands, value, settled: false };
  if (!isWithin) known.set(name, own);
  try {
    const given = await value;
    own.settled = true;
    const now = known.get(name);
    if (isWithin && (now === before || !now?.settled)) known.set(name, own);
    return given;
  } catch (error) {
    if (known.get(name) === own) known.delete(name);
    throw error;
  }
}
