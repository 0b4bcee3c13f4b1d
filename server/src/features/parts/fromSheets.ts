import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow } from '../../platform/db/rows.ts';
import { PartEntity, PartFitEntity, PartOfferEntity, StockMovementEntity } from './entities.ts';
import { binOf } from './stock.ts';

/** A line of a parts list: a part, with one place that it fits and one supplier's offer, where the line names them. */
export interface PartRecord {
  number: string;
  name: string;
  kind: string;
  maker: string;
  makerNumber: string | null;
  pieces: number;
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
