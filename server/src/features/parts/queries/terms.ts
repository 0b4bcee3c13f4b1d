import type { PartsTerms } from '@mile-mark/contract/parts';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

/** Weeks ahead that demand is computed for. */
export const WEEKS = 26;

const TermsSql = z.object({
  service: z.number(),
  holding_share: z.number(),
  budget_minor: z.coerce.number().nullable(),
  budget_currency: z.string().nullable(),
  spent_minor: z.coerce.number(),
  revision: z.number(),
  by: z.string().nullable(),
  on: z.string().nullable(),
});

/** Orders of this calendar month, and proposals that somebody edited: what they bind counts against its budget. */
const TERMS = `
  select t.service, t.holding_share, t.budget_minor, t.budget_currency, t.revision, p.name as by, t.changed_on::text as on,
    (select coalesce(sum(l.units * l.price_minor::bigint), 0) from order_line l join purchase_order o on o.id = l.order_id
      where l.currency = t.budget_currency and l.ended is distinct from 'rejected'
        and date_trunc('month', o.made_on) = date_trunc('month', ?::date)
        and (o.state not in ('proposed', 'called off', 'rejected') or (o.state = 'proposed' and o.edited)))::text as spent_minor
  from parts_terms t left join person p on p.id = t.person_id`;

/** What orders rest on. */
export async function partsTerms(em: EntityManager, today: string): Promise<PartsTerms> {
  const [row] = await rowsOf(em, TermsSql, TERMS, [today]);
  if (!row) throw new Error('the terms of ordering are missing');
  const { service, holding_share, budget_minor: minor, budget_currency: currency, spent_minor, revision, by, on } = row;
  return {
    service,
    holdingShare: holding_share,
    budget: minor === null || currency === null ? null : { minor, currency, spentMinor: spent_minor },
    revision,
    by,
    on,
  };
}
