import { setTimeout } from 'node:timers/promises';
import type { Orm } from './orm.ts';

/** A database that takes longer than this to answer counts as gone, ms. */
const PATIENCE_MS = 800;

/**
 * Asks whether the database answers, at once or soon. While one asking waits others wait with it, so that asking often
 * takes no more than one connection.
 */
export function createProbe(orm: Orm): () => Promise<boolean> {
  let asking: Promise<boolean> | undefined;
  return () => {
    asking ??= orm.em
      .fork()
      .execute('select 1')
      .then(() => true)
      .catch(() => false)
      .finally(() => (asking = undefined));
    return Promise.race([asking, setTimeout(PATIENCE_MS, false, { ref: false })]);
  };
}
