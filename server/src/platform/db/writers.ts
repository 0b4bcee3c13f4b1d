import { lanes, type Lanes } from '../lanes.ts';
import type { EntityManager } from './orm.ts';

/** So many connections are left to who only reads, however many write and wait for each other. */
const LEFT = 2;

const byDatabase = new WeakMap<object, Lanes>();

/**
 * Who writes in a transaction of their own, on the connections of `em`: they wait for their turn before they hold a
 * connection, not while. Twenty who write about one vehicle wait for its row one after the other; without this, they would
 * hold every connection meanwhile, and nobody else could so much as read.
 */
export function writersOf(em: EntityManager): Lanes {
  const driver = em.getDriver();
  const known = byDatabase.get(driver);
  if (known) return known;
  const own = lanes((em.config.get('pool')?.max ?? LEFT) - LEFT);
  byDatabase.set(driver, own);
  return own;
}
