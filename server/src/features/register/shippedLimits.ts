import { createHash } from 'node:crypto';
import { SHIPPED_LIMITS } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';

/** Enters the limits that ship with the product where they are not on record; a coordinator's own are never touched. */
export async function ensureShippedLimits(em: EntityManager): Promise<void> {
  for (const rule of SHIPPED_LIMITS) {
    const hex = createHash('sha256').update(`limit/${rule.id}`).digest('hex');
    const id = `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
    await em.execute(
      `insert into limit_rule (id, jurisdiction, authority, brake, above_gvwr_kg, up_to_gvwr_kg, least_um, equality_passes, source, revision, checked_by)
       values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) on conflict (id) do nothing`,
      [
        id,
        rule.jurisdiction,
        rule.authority,
        rule.brake,
        rule.aboveGvwrKg ?? null,
        rule.upToGvwrKg ?? null,
        Math.round(rule.leastMm * 1000),
        rule.equalityPasses,
        rule.source,
        rule.revision,
        rule.checkedBy,
      ],
    );
  }
}
