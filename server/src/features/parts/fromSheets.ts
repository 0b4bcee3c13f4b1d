import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../platform/db/rows.ts';
import {
  OrderLineEntity,
  PartEntity,
  PartFitEntity,
  PartOfferEntity,
  PurchaseOrderEntity,
  StockMovementEntity,
} from './entities.ts';
import { binOf } from './stock.ts';

/** A line of a parts list: a part, with one place that it fits and one supplier's offer, where the line names them. */
export interface PartRecord {
  number: string;
  name: string;
  kind: string;
  maker: string;
  makerNumber: string | null;
  pieces: number;
  /** What a unit holds of a consumable, mL or g. */
  content: number | null;
  shelfDays: number | null;
  fit: { modelId: string; axle: number | null; side: 'both' | 'left' | 'right' } | null;
  offer: {
    supplierId: string;
    supplierNumber: string | null;
    priceMinor: number;
    currency: string;
    pack: number;
    least: number;
    leadDays: number | null;
  } | null;
}

/** Writes a parts list: parts that are new, and of all of them the places and offers that are. */
export async function writeParts(em: EntityManager, records: readonly PartRecord[]): Promise<void> {
  for (const { fit, offer, ...part } of records) {
    const known = await firstRow(
      em,
      z.object({ id: z.string() }),
      'select id from part where upper(number) = upper(?)',
      [part.number],
    );
    const partId = known?.id ?? crypto.randomUUID();
    if (!known) await em.insert(PartEntity, { id: partId, ...part, number: part.number.toUpperCase() });
    if (fit && (await em.count(PartFitEntity, { partId, ...fit })) === 0)
      await em.insert(PartFitEntity, { id: crypto.randomUUID(), partId, ...fit });
    if (offer && (await em.count(PartOfferEntity, { partId, supplierId: offer.supplierId })) === 0)
      await em.insert(PartOfferEntity, { partId, ...offer });
  }
}

/** What lies in a bin by a stock list. */
export interface StockRecord {
  partId: string;
  depotId: string;
  bin: string;
  lot: string | null;
  expiresOn: string | null;
  counted: number;
}

/** Units of a part in a bin and lot by the record; undefined where none ever lay there. */
export async function unitsOnRecord(
  em: EntityManager,
  { partId, depotId, bin, lot }: Pick<StockRecord, 'partId' | 'depotId' | 'bin' | 'lot'>,
): Promise<number | undefined> {
  const row = await firstRow(
    em,
    z.object({ units: z.number() }),
    `select l.units from stock_level l join bin b on b.id = l.bin_id
     where l.part_id = ? and b.depot_id = ? and b.code = ? and l.lot = ?`,
    [partId, depotId, bin, lot ?? ''],
  );
  return row?.units;
}

/** Writes a stock list as counts: what is on record before stays to be seen, and what was found stands. */
export async function writeCounts(
  em: EntityManager,
  records: readonly StockRecord[],
  by: { personId: string; today: string; importId: string },
): Promise<void> {
  for (const record of records) {
    const before = (await unitsOnRecord(em, record)) ?? 0;
    await em.insert(StockMovementEntity, {
      id: crypto.randomUUID(),
      kind: 'count',
      partId: record.partId,
      binId: await binOf(em, record.depotId, record.bin),
      lot: record.lot,
      expiresOn: record.expiresOn,
      units: record.counted - before,
      counted: record.counted,
      requestId: by.importId,
      note: 'From a stock list',
      personId: by.personId,
      movedOn: by.today,
      at: new Date(),
    });
  }
}

const CountMade = z.object({
  partId: z.string(),
  binId: z.string(),
  number: z.string(),
  date: z.string(),
  lot: z.string().nullable(),
  expiresOn: z.string().nullable(),
  /** What it changed the record by, and whether it was the last movement there. */
  units: z.number(),
  level: z.number(),
  last: z.boolean(),
});

/** What the counts of one list did to each part in a bin and lot. */
const COUNTS_MADE = `
  select m.part_id as "partId", m.bin_id as "binId", p.number, max(m.moved_on)::text as date, m.lot,
    max(m.expires_on)::text as "expiresOn", sum(m.units)::int as units, max(l.units) as level,
    not exists (select 1 from stock_movement later where later.part_id = m.part_id and later.bin_id = m.bin_id
      and later.lot is not distinct from m.lot and later.serial > max(m.serial)) as last
  from stock_movement m join part p on p.id = m.part_id
    join stock_level l on l.part_id = m.part_id and l.bin_id = m.bin_id and l.lot = coalesce(m.lot, '')
  where m.request_id = ? and m.kind = 'count'
  group by m.part_id, m.bin_id, p.number, m.lot order by max(m.serial)`;

/**
 * Takes the counts of a stock list back: each is followed by a count of what stood there before. Those that another
 * movement followed are told instead, and then nothing may be written.
 */
export async function withdrawCounts(
  em: EntityManager,
  importId: string,
  by: { personId: string; today: string },
): Promise<{ counts: number; resting: { unit: string; date: string }[] }> {
  await em.execute(
    `select 1 from stock_level l where exists (select 1 from stock_movement m where m.request_id = ?
       and m.part_id = l.part_id and m.bin_id = l.bin_id and coalesce(m.lot, '') = l.lot) for update`,
    [importId],
  );
  const made = await rowsOf(em, CountMade, COUNTS_MADE, [importId]);
  const resting = made.filter(({ last }) => !last).map(({ number, date }) => ({ unit: `Part ${number}`, date }));
  if (resting.length > 0) return { counts: 0, resting };
  const at = new Date();
  for (const { partId, binId, lot, expiresOn, units, level } of made)
    await em.insert(StockMovementEntity, {
      id: crypto.randomUUID(),
      kind: 'count',
      ...{ partId, binId, lot, expiresOn },
      units: -units,
      counted: level - units,
      requestId: crypto.randomUUID(),
      note: 'The stock list was taken back',
      personId: by.personId,
      movedOn: by.today,
      at,
    });
  return { counts: made.length, resting };
}

/** A line of an order that was placed elsewhere. */
export interface OrderRecord {
  order: string;
  supplierId: string;
  depotId: string;
  partId: string;
  units: number;
  priceMinor: number;
  currency: string;
  orderedOn: string;
  promisedOn: string | null;
}

/** Units of a part on an order from a list, by the record; undefined where the line is not on record. */
export async function orderedOnRecord(
  em: EntityManager,
  { order, supplierId, depotId, partId }: Pick<OrderRecord, 'order' | 'supplierId' | 'depotId' | 'partId'>,
): Promise<{ units: number; state: string } | undefined> {
  const row = await firstRow(
    em,
    z.object({ units: z.number().nullable(), state: z.string() }),
    `select l.units, o.state from purchase_order o left join order_line l on l.order_id = o.id and l.part_id = ?
     where o.outside and o.supplier_id = ? and o.depot_id = ? and upper(o.supplier_reference) = upper(?)`,
    [partId, supplierId, depotId, order],
  );
  return row && { units: row.units ?? 0, state: row.state };
}

/** Writes orders that were placed elsewhere: they are on their way, and are received as any other. */
export async function writeOrders(em: EntityManager, records: readonly OrderRecord[], personId: string): Promise<void> {
  for (const { order, supplierId, depotId, orderedOn, ...line } of records) {
    const known = await firstRow(
      em,
      z.object({ id: z.string() }),
      `select id from purchase_order where outside and supplier_id = ? and depot_id = ? and upper(supplier_reference) = upper(?) for update`,
      [supplierId, depotId, order],
    );
    const orderId = known?.id ?? crypto.randomUUID();
    if (!known)
      await em.insert(PurchaseOrderEntity, {
        id: orderId,
        supplierId,
        depotId,
        state: 'sent',
        madeOn: orderedOn,
        approvedBy: personId,
        approvedAt: new Date(),
        sentAt: new Date(),
        supplierReference: order,
        outside: true,
      });
    await em.insert(OrderLineEntity, {
      id: crypto.randomUUID(),
      orderId,
      ...line,
      why: ['From a list of orders placed elsewhere.'],
      latest: null,
      insteadId: null,
      ended: null,
    });
  }
}
