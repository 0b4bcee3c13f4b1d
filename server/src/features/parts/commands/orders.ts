import type { NewReceipt, OrderApproval, OrderCalledOff, OrderChange } from '@mile-mark/contract/parts';
import { receiptFaults, type Difference, type ReceiptFault } from '@mile-mark/core';
import { z } from 'zod';
import { orderMoved, stockMoved } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow } from '../../../platform/db/rows.ts';
import { ApiError, invalidField, type FieldError } from '../../../platform/errors.ts';
import { measuresOf, partOfNumber } from '../catalogue.ts';
import { OrderLineEntity, PartOfferEntity, PurchaseOrderEntity, type PurchaseOrderRow } from '../entities.ts';
import { closeWhereDone } from '../jobs/orders.ts';
import { orderDoubts } from '../queries/orders.ts';
import { binOf, lockStock } from '../stock.ts';
import { writeMovements, type MovementRow } from './movements.ts';

async function lockedOrder(em: EntityManager, id: string): Promise<PurchaseOrderRow> {
  await em.execute('select 1 from purchase_order where id = ? for update', [id]);
  const order = await em.findOne(PurchaseOrderEntity, { id }, { refresh: true });
  if (!order)
    throw new ApiError(
      'not_found',
      'There is no such order on record. A proposal is made anew when needs change; look at the list again.',
    );
  return order;
}

function mustBe(order: PurchaseOrderRow, ...states: string[]): void {
  if (!states.includes(order.state))
    throw new ApiError('conflict', `This order is ${order.state}; that is done while it is ${states.join(' or ')}.`);
}

const revisionOf = async (
  em: EntityManager,
  { orderId, revision }: { orderId: string; revision?: number | undefined },
) => ({
  seen: revision,
  onRecord: (await lockedOrder(em, orderId)).revision,
});

type Change = z.output<typeof OrderChange> & { orderId: string };

/** Changes the lines of a proposal; it then stays as it is until it is approved or called off. */
export const changeOrder = command({
  name: 'changeOrder',
  action: 'supply',
  revisionOf,
  run: async ({ em, audit }, { orderId, lines }: Change) => {
    const order = await lockedOrder(em, orderId);
    mustBe(order, 'proposed');
    const kept = await em.find(OrderLineEntity, { orderId });
    const wanted: {
      partId: string;
      units: number;
      priceMinor: number;
      currency: string;
      why: string[];
      latest: string | null;
    }[] = [];
    for (const [i, { part, units }] of lines.entries()) {
      const { id: partId, number } = await partOfNumber(em, part, `lines.${i}.part`);
      if (wanted.some((one) => one.partId === partId))
        throw invalidField(`lines.${i}.part`, `${number} stands twice; once is accepted.`);
      const offer = await em.findOne(PartOfferEntity, { partId, supplierId: order.supplierId });
      if (!offer)
        throw invalidField(`lines.${i}.part`, `This supplier does not sell ${number}; a part of its own is accepted.`);
      if (units % offer.pack !== 0 || units < offer.least)
        throw invalidField(
          `lines.${i}.units`,
          `${number} comes in packs of ${offer.pack}, ${offer.least} at least; a multiple of ${offer.pack} from ${Math.ceil(offer.least / offer.pack) * offer.pack} on is accepted.`,
        );
      const before = kept.find((one) => one.partId === partId);
      wanted.push({
        partId,
        units,
        priceMinor: offer.priceMinor,
        currency: offer.currency,
        why: (before?.why as string[] | undefined) ?? ['Added by hand.'],
        latest: before?.latest ?? null,
      });
    }
    await em.nativeDelete(OrderLineEntity, { orderId });
    await em.insertMany(
      OrderLineEntity,
      wanted.map((line) => ({
        id: crypto.randomUUID(),
        orderId,
        promisedOn: null,
        insteadId: null,
        ended: null,
        ...line,
      })),
    );
    await em.nativeUpdate(PurchaseOrderEntity, { id: orderId }, { edited: true, revision: order.revision + 1 });
    await audit('changed an order', `order/${orderId}`, {
      lines: lines.map(({ part, units }) => `${units} × ${part}`),
    });
    return { id: orderId };
  },
});

type Approval = z.output<typeof OrderApproval> & { orderId: string };

/** Approves a proposal: it goes out. A line that fits no open need, while another axle or side has one, needs a reason. */
export const approveOrder = command({
  name: 'approveOrder',
  action: 'supply',
  clientId: 'id',
  revisionOf,
  run: async ({ em, actor, today, audit, emit }, { orderId, reason }: Approval) => {
    const order = await lockedOrder(em, orderId);
    mustBe(order, 'proposed');
    const doubts = await orderDoubts(em, order, today);
    if ((await em.count(OrderLineEntity, { orderId })) === 0)
      throw new ApiError('conflict', 'Nothing stands on this order.');
    if (doubts.size > 0 && reason === undefined)
      throw new ApiError('invalid', [...doubts.values()][0]?.[0], [
        {
          field: 'reason',
          message: `${[...doubts.values()].flat().join(' ')} Why it is right is needed, or other lines.`,
        },
      ]);
    await em.nativeUpdate(
      PurchaseOrderEntity,
      { id: orderId },
      {
        state: 'approved',
        approvedBy: actor.id,
        approvedAt: new Date(),
        note: reason ?? null,
        revision: order.revision + 1,
      },
    );
    await audit('approved an order', `order/${orderId}`, { reason });
    await emit(orderMoved({}));
    return { id: orderId };
  },
});

/**
 * Calls off a proposal, which is then left alone for a week, or an order before it went out. Of one that went out it says
 * that nothing more comes: what came stays, the rest is no longer waited for.
 */
export const callOffOrder = command({
  name: 'callOffOrder',
  action: 'supply',
  clientId: 'id',
  run: async (
    { em, today, audit, emit },
    { orderId, reason }: z.output<typeof OrderCalledOff> & { orderId: string },
  ) => {
    const order = await lockedOrder(em, orderId);
    mustBe(order, 'proposed', 'approved', 'sent', 'acknowledged');
    const revision = order.revision + 1;
    const came = await em.execute<{ n: number }[]>(
      `select count(*)::int as n from stock_movement m join order_line l on l.id = m.order_line_id where l.order_id = ?`,
      [orderId],
    );
    if (order.state === 'sent' || order.state === 'acknowledged')
      await em.execute(
        `update order_line l set ended = 'short' where l.order_id = ? and l.ended is null
           and l.units > (select coalesce(sum(m.units), 0) from stock_movement m where m.order_line_id = l.id)`,
        [orderId],
      );
    const received = (came[0]?.n ?? 0) > 0;
    await em.nativeUpdate(
      PurchaseOrderEntity,
      { id: orderId },
      received
        ? { state: 'received', note: reason, revision }
        : { state: 'called off', calledOffOn: today, note: reason, revision },
    );
    await audit('called off an order', `order/${orderId}`, { reason, before: order.state });
    await emit(orderMoved({}));
    return { id: orderId };
  },
});

type Receipt = z.output<typeof NewReceipt> & { orderId: string };

/** Puts on the shelf what came of an order, each line held against what was ordered and against the old part. */
export const addReceipt = command({
  name: 'addReceipt',
  action: 'supply',
  clientId: 'id',
  run: async (tx, { id, orderId, lines }: Receipt) => {
    const { em, today, audit, emit } = tx;
    const order = await lockedOrder(em, orderId);
    mustBe(order, 'sent', 'acknowledged', 'approved');
    const rows: MovementRow[] = [];
    const errors: FieldError[] = [];
    for (const [i, line] of lines.entries()) {
      const ordered = await lineOf(em, orderId, line.lineId);
      if (!ordered) throw invalidField(`lines.${i}.lineId`, 'There is no such line on this order.');
      const faults = receiptFaults(
        {
          ordered: ordered.units,
          before: ordered.received + before(rows, line.lineId),
          expires: ordered.shelf_days !== null,
          measures: measuresOf(ordered),
        },
        { units: line.units, expiresOn: line.expiresOn, measures: line.measures },
        today,
      ).filter(({ code }) => !(code === 'differs' && line.reason !== undefined));
      errors.push(...faults.map((fault) => wrong(fault, `lines.${i}`)));
      rows.push({
        kind: 'receive',
        partId: ordered.part_id,
        binId: await binOf(em, order.depotId, line.bin),
        units: line.units,
        lot: line.lot ?? null,
        expiresOn: line.expiresOn ?? null,
        orderLineId: line.lineId,
        requestId: id,
        note: line.reason ?? null,
      });
    }
    if (errors.length > 0) throw new ApiError('invalid', errors[0]?.message, errors);
    await lockStock(
      em,
      order.depotId,
      rows.map(({ partId }) => partId),
    );
    await writeMovements(tx, rows);
    if (order.state === 'approved') await em.nativeUpdate(PurchaseOrderEntity, { id: orderId }, { state: 'sent' });
    await closeWhereDone(em, orderId);
    await audit('received parts', `order/${orderId}`, {
      lines: lines.map(({ lineId, units }) => `${units} of ${lineId}`),
    });
    await emit(stockMoved({}));
    return { id };
  },
});

const before = (rows: readonly MovementRow[], lineId: string) =>
  rows.filter(({ orderLineId }) => orderLineId === lineId).reduce((sum, { units }) => sum + units, 0);

const LineSql = z.object({
  units: z.number(),
  part_id: z.string(),
  received: z.number(),
  shelf_days: z.number().nullable(),
  diameter_mm: z.number().nullable(),
  height_mm: z.number().nullable(),
  thickness_mm: z.number().nullable(),
  holes: z.number().nullable(),
});

/** A line as it stands; what the supplier sends instead takes the part's place. */
const lineOf = (em: EntityManager, orderId: string, lineId: string) =>
  firstRow(
    em,
    LineSql,
    `select l.units, p.id as part_id, p.shelf_days, p.diameter_mm, p.height_mm, p.thickness_mm, p.holes,
       (select coalesce(sum(m.units), 0)::int from stock_movement m where m.order_line_id = l.id and m.kind = 'receive') as received
     from order_line l join part p on p.id = coalesce(l.instead_id, l.part_id) where l.id = ? and l.order_id = ?`,
    [lineId, orderId],
  );

const MEASURE_WORDS: Record<Difference['measure'], string> = {
  diameterMm: 'Diameter',
  heightMm: 'Height',
  thicknessMm: 'Thickness',
  holes: 'Holes',
};

function wrong(fault: ReceiptFault, at: string): FieldError {
  switch (fault.code) {
    case 'over':
      return {
        field: `${at}.units`,
        message: `${fault.ordered} were ordered and ${fault.before} came before; up to ${fault.ordered - fault.before} is accepted. What is over goes back, or on an order of its own.`,
      };
    case 'expired':
      return {
        field: `${at}.expiresOn`,
        message: `It expired on ${fault.expiresOn}; a lot that may still be used is accepted.`,
      };
    case 'no expiry':
      return {
        field: `${at}.expiresOn`,
        message: 'This part expires: the last day on which it may be used is needed.',
      };
    case 'differs': {
      const [{ measure, expected, found }] = fault.differences as [Difference];
      const unit = measure === 'holes' ? '' : ' mm';
      return {
        field: `${at}.measures.${measure}`,
        message: `${MEASURE_WORDS[measure]} ${found}${unit} where ${expected}${unit} belongs: the wrong part, or another axle’s? It goes on the shelf with a reason only.`,
      };
    }
  }
}
