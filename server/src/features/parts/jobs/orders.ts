import { standsIn } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { loadCatalogue } from '../catalogue.ts';
import { OrderLineEntity, OrderMessageEntity, PurchaseOrderEntity } from '../entities.ts';
import { messagesOf, sendOrder, type StrangeMessage, type SupplierMessage } from '../supplierClient.ts';

const OpenSql = z.object({ id: z.string(), state: z.enum(['approved', 'sent', 'acknowledged']) });
const LineSql = z.object({ line: z.string(), number: z.string(), units: z.number() });

/**
 * Sends what is approved, and asks after what is on its way. An order goes out under its own id, so that one that was
 * taken in but not answered is not ordered twice; each message counts once. One order's failure stops no other.
 *
 * @returns how many orders a supplier did not answer
 */
export async function followOrders(fork: () => EntityManager, url: string): Promise<{ failed: number; said: number }> {
  const orders = await rowsOf(
    fork(),
    OpenSql,
    `select id, state from purchase_order where state in ('approved', 'sent', 'acknowledged') and not outside order by serial`,
  );
  const result = { failed: 0, said: 0 };
  for (const { id, state } of orders) {
    try {
      if (state === 'approved') await send(fork(), url, id);
      result.said += await hear(fork(), id, await messagesOf(url, id));
    } catch {
      result.failed += 1;
    }
  }
  return result;
}

async function send(em: EntityManager, url: string, id: string): Promise<void> {
  const lines = await rowsOf(
    em,
    LineSql,
    `select l.id as line, coalesce(f.supplier_number, p.number) as number, l.units from order_line l join part p on p.id = l.part_id
       join purchase_order o on o.id = l.order_id left join part_offer f on f.part_id = l.part_id and f.supplier_id = o.supplier_id
     where l.order_id = ? order by p.number`,
    [id],
  );
  const supplierReference = await sendOrder(url, { reference: id, lines });
  await em.nativeUpdate(
    PurchaseOrderEntity,
    { id, state: 'approved' },
    { state: 'sent', sentAt: new Date(), supplierReference },
  );
}

/** Takes in what is new; nothing that was heard before counts again. */
async function hear(
  em: EntityManager,
  orderId: string,
  messages: readonly (SupplierMessage | StrangeMessage)[],
): Promise<number> {
  let said = 0;
  for (const message of messages) {
    const isNew = await em.transactional(async (inner) => {
      await inner.execute('select 1 from purchase_order where id = ? for update', [orderId]);
      if (await inner.findOne(OrderMessageEntity, { orderId, messageId: message.id })) return false;
      await inner.insert(OrderMessageEntity, {
        orderId,
        messageId: message.id,
        kind: message.kind,
        detail: message,
        at: new Date(),
      });
      if (message.kind !== 'not understood') await follow(inner, orderId, message);
      return true;
    });
    if (isNew) said += 1;
  }
  return said;
}

async function follow(em: EntityManager, orderId: string, { kind, line, day, number }: SupplierMessage): Promise<void> {
  if (kind === 'acknowledged') {
    await em.nativeUpdate(PurchaseOrderEntity, { id: orderId, state: 'sent' }, { state: 'acknowledged' });
    return;
  }
  const own = line === undefined ? null : await em.findOne(OrderLineEntity, { id: line, orderId });
  if (!own) return;
  if (kind === 'rejected') {
    await em.nativeUpdate(OrderLineEntity, { id: own.id }, { ended: 'rejected' });
    await closeWhereDone(em, orderId);
  } else if (kind === 'instead' && number !== undefined) {
    const [part] = await rowsOf(
      em,
      z.object({ id: z.string() }),
      'select id from part where upper(number) = upper(?) or upper(maker_number) = upper(?) limit 1',
      [number, number],
    );
    const { parts } = await loadCatalogue(em);
    const [ordered, substitute] = [own.partId, part?.id].map((id) => parts.find((one) => one.id === id));
    // One that does not fit wherever the ordered one does is not waited for: the line stands as it was, and says so.
    if (ordered && substitute && standsIn(ordered, substitute))
      await em.nativeUpdate(OrderLineEntity, { id: own.id }, { insteadId: substitute.id });
  } else if (day !== undefined && kind !== 'part sent')
    await em.nativeUpdate(OrderLineEntity, { id: own.id }, { promisedOn: day });
}

/** An order of which nothing more comes is done: received, or rejected where nothing came at all. */
export async function closeWhereDone(em: EntityManager, orderId: string): Promise<void> {
  const [done] = await rowsOf(
    em,
    z.object({ open: z.number(), came: z.number() }),
    `select count(*) filter (where l.ended is null and l.units > coalesce(r.units, 0))::int as open, coalesce(sum(r.units), 0)::int as came
     from order_line l left join (select order_line_id, sum(units) as units from stock_movement where kind = 'receive' group by order_line_id) r
       on r.order_line_id = l.id where l.order_id = ?`,
    [orderId],
  );
  if (done?.open === 0)
    await em.nativeUpdate(
      PurchaseOrderEntity,
      { id: orderId, state: { $in: ['sent', 'acknowledged'] } },
      { state: done.came > 0 ? 'received' : 'rejected' },
    );
}
