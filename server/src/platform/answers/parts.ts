import { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { question } from '../questions.ts';
import { sharedNow } from './shared.ts';

interface Part {
  stands: string;
  value: unknown;
}

const Counted = z.object({ key: z.string(), counts: z.record(z.string(), z.string()) });
const KEY = 'all';
const askCounts = question(
  'counts',
  Counted,
  `select '${KEY}' as key, coalesce(json_object_agg(about, stands), '{}') as counts
   from (select about, sum(n)::text as stands from record_change where about is not null group by about) as counted
   having ?::jsonb is not null`,
);

/** Parts of each database by what they are, with how what all share stood when they were made. */
const made = new WeakMap<object, Map<string, { shared: string; parts: Map<string, Part> }>>();

/**
 * One part a thing (a vehicle), each made anew only where what it is about changed, or what all share: nobody may change
 * what is given.
 *
 * @param name of what the parts are
 * @param ids of the things wanted
 * @param make makes the parts of those that changed, by id; a thing it gives none of has none. What it takes of what all
 *   share it asks for itself: what was asked for before may be older than the parts are known to be
 * @returns in the order of the ids
 */
export async function partsOf<T>(
  em: EntityManager,
  name: string,
  ids: readonly string[],
  make: (changed: string[]) => Promise<Map<string, T>>,
): Promise<Map<string, T>> {
  // Both are asked before anything is made: what is made is as new as they tell, or newer.
  const [now, asked] = await Promise.all([sharedNow(em), askCounts(em, [KEY])]);
  if (now.changed) {
    const own = await make([...ids]);
    return inOrder(ids, (id) => own.get(id));
  }
  const driver = em.getDriver();
  const known = made.get(driver) ?? new Map<string, { shared: string; parts: Map<string, Part> }>();
  made.set(driver, known);
  const before = known.get(name);
  const parts = before?.shared === now.stands ? before.parts : new Map<string, Part>();
  const standsOf = (id: string) => asked.get(KEY)?.counts[id] ?? '0';
  const changed = new Set(ids.filter((id) => parts.get(id)?.stands !== standsOf(id)));
  const anew = changed.size > 0 ? await make([...changed]) : new Map<string, T>();
  const next = new Map(
    ids.map((id): [string, Part] => [
      id,
      changed.has(id) ? { stands: standsOf(id), value: anew.get(id) } : (parts.get(id) as Part),
    ]),
  );
  known.set(name, { shared: now.stands, parts: next });
  return inOrder(ids, (id) => next.get(id)?.value as T | undefined);
}

function inOrder<T>(ids: readonly string[], of: (id: string) => T | undefined): Map<string, T> {
  const found = new Map<string, T>();
  for (const id of ids) {
    const part = of(id);
    if (part !== undefined) found.set(id, part);
  }
  return found;
}
