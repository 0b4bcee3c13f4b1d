import { AuditEntity } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';

/** Writes down who did what, in the same transaction as the deed. */
export async function recordDeed(
  em: EntityManager,
  personId: string | null,
  action: string,
  subject: string,
  detail: Record<string, unknown> = {},
): Promise<void> {
  await em.insert(AuditEntity, { at: new Date(), personId, action, subject, detail });
}
