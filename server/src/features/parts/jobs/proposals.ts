import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { CatalogueOffer } from '../catalogue.ts';
import { OrderLineEntity, PurchaseOrderEntity } from '../entities.ts';
import type { Planned } from './planned.ts';

/**
 * Proposals by supplier and depot. One that says the same stays as it is; one that changes keeps its number and gets a new
 * revision; one that somebody edited is theirs.
 */
export async function saveProposals(em: EntityManager, buying: readonly Planned[], today: string): Promise<void> {
  const kept = await rowsOf(em, ProposalSql, PROPOSALS);
  const there = new Map(kept.map((one) => [`${one.supplier_id} ${one.depot_id}`, one]));
  const wanted = new Map<string, (Planned & { offer: CatalogueOffer })[]>();
  for (const one of buying) {
    const { offer, units, demand } = one;
    if (!offer || units === 0) continue;
    const key = `${offer.supplier_id} ${demand.depot}`;
    wanted.set(key, [...(wanted.get(key) ?? []), { ...one, offer }]);
  }
  for (const key of new Set([...there.keys(), ...wanted.keys()])) {
    const [old, lines = []] = [there.get(key), wanted.get(key)];
    if (old?.edited) continue;
    const content = lines.map(({ demand, units }) => `${demand.part} ${units}`).sort();
    if (old && content.join() === old.content.join()) continue;
    if (old) await em.nativeDelete(OrderLineEntity, { orderId: old.id });
    if (lines.length === 0) {
      if (old) await em.nativeDelete(PurchaseOrderEntity, { id: old.id });
      continue;
    }
    const [supplierId = '', depotId = ''] = key.split(' ');
    const orderId = old?.id ?? crypto.randomUUID();
    if (old) await em.nativeUpdate(PurchaseOrderEntity, { id: orderId }, { revision: old.revision + 1, madeOn: today });
    else await em.insert(PurchaseOrderEntity, { id: orderId, supplierId, depotId, state: 'proposed', madeOn: today });
    await em.insertMany(
      OrderLineEntity,
      lines.map(({ demand, units, why, latest, offer }) => ({
        id: crypto.randomUUID(),
        orderId,
        partId: demand.part,
        units,
        priceMinor: offer.price_minor,
        currency: offer.currency,
        why,
        latest: latest ?? null,
        promisedOn: null,
        insteadId: null,
        ended: null,
      })),
    );
  }
}

const ProposalSql = z.object({
  id: z.string(),
  supplier_id: z.string(),
  depot_id: z.string(),
  edited: z.boolean(),
  revision: z.number(),
  content: z.array(z.string()),
});
const PROPOSALS = `
  select o.id, o.supplier_id, o.depot_id, o.edited, o.revision,
    array(select l.part_id || ' ' || l.units from order_line l where l.order_id = o.id order by 1) as content
  from purchase_order o where o.state = 'proposed' for update`;
