import { createHash } from 'node:crypto';
import { SHIPPED_JOINTS } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';

/** The id of a shipped joint, the same in every shop. */
export function jointKindId(name: string): string {
  const hex = createHash('sha256').update(`joint/${name}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/** Enters the joints that ship with the product where they are not on record; the shop's own are never touched. */
export async function ensureShippedJoints(em: EntityManager): Promise<void> {
  for (const { name, brake, expected, hollow } of SHIPPED_JOINTS)
    await em.execute(
      'insert into joint_kind (id, name, brake, expected, hollow) values (?, ?, ?, ?, ?) on conflict do nothing',
      [jointKindId(name), name, brake, expected, hollow],
    );
}
