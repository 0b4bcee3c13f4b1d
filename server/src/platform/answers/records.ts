import { z } from 'zod';
import type { EntityManager } from '../db/orm.ts';
import { question } from '../questions.ts';

const Stands = z.object({ key: z.string(), stands: z.string(), own: z.boolean() });

/** How often what is on record of a thing has changed, and what all share; what is worked out from it does not count. */
const askStands = question(
  'record',
  Stands,
  `select key, (select coalesce(sum(n), 0)::text from record_change
     where not derived and (about is null or about = key::uuid)) as stands,
     coalesce(current_setting('mile_mark.told', true), '') <> '' as own
   from jsonb_array_elements_text(?::jsonb) as asked(key)`,
);

interface Kept {
  stands: string;
  record: unknown;
}

/** So many records are kept: the one asked for least lately goes first. */
const MOST = 200;

/** Records of each database, by the thing's id. */
const known = new WeakMap<object, Map<string, Kept>>();

/**
 * What is on record of things (vehicles), each read anew only where that changed, or what all share: nobody may change what
 * is given. A transaction that changed something reads all of it as it sees it, and nothing of that is kept.
 *
 * @param read reads those of the ids; what it takes of what all share it asks for itself
 * @returns by id; a thing that is not there has none
 */
export async function keptRecords<T>(
  em: EntityManager,
  ids: readonly string[],
  read: (changed: string[]) => Promise<Map<string, T>>,
): Promise<Map<string, T>> {
  // Asked before anything is read: what is read is as new as it tells, or newer.
  const asked = await askStands(em, ids);
  if (em.isInTransaction() && [...asked.values()].some(({ own }) => own)) return read([...ids]);
  const driver = em.getDriver();
  const kept = known.get(driver) ?? new Map<string, Kept>();
  known.set(driver, kept);
  const records = new Map<string, T>();
  for (const id of ids) {
    const found = kept.get(id);
    if (found && found.stands === asked.get(id)?.stands) records.set(id, found.record as T);
  }
  const changed = ids.filter((id) => !records.has(id));
  if (changed.length > 0) for (const [id, record] of await read(changed)) records.set(id, record);
  for (const id of ids) {
    const record = records.get(id);
    kept.delete(id);
    if (record !== undefined) kept.set(id, { stands: asked.get(id)?.stands ?? '', record });
  }
  for (const id of kept.keys()) {
    if (kept.size <= MOST) break;
    kept.delete(id);
  }
  return records;
}
