import { StockRow } from '@mile-mark/contract/parts';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../platform/db/rows.ts';
import { invalidField } from '../../platform/errors.ts';
import { idByName } from '../register/index.ts';
import { BinEntity } from './entities.ts';

/**
 * A bin is to be counted until somebody counted it: where it was asked for, and where it stands under nought.
 */
const ROWS = `
  select p.number as part, p.name, p.kind, d.name as depot, b.code as bin, nullif(l.lot, '') as lot, l.expires_on::text as "expiresOn", l.units,
    coalesce((select r.reason from count_request r where r.part_id = l.part_id and r.bin_id = l.bin_id
        and not exists (select 1 from stock_movement m where m.kind = 'count' and m.part_id = r.part_id and m.bin_id = r.bin_id and m.at > r.at)
      order by r.at desc limit 1),
      case when l.units < 0 then 'the record says less than nothing' end) as count
  from stock_level l join part p on p.id = l.part_id join bin b on b.id = l.bin_id join depot d on d.id = b.depot_id`;

/** What lies in which bin; empty bins only where they are to be counted. */
export async function listStock(em: EntityManager, depot: string | undefined): Promise<StockRow[]> {
  return rowsOf(
    em,
    StockRow,
    `select * from (${ROWS} ${depot === undefined ? '' : 'where d.name = ?'}) s where units <> 0 or count is not null order by depot, bin, part, "expiresOn"`,
    depot === undefined ? [] : [depot],
  );
}

/** Holds all movements of a part at a depot until the transaction ends: two pickers wait for each other. */
export async function lockStock(em: EntityManager, depotId: string, partIds: readonly string[]): Promise<void> {
  for (const partId of [...new Set(partIds)].sort())
    await em.execute('select pg_advisory_xact_lock(hashtextextended(?, 1))', [`${depotId}/${partId}`]);
}

/** Units of a part at a depot, expired ones too. */
export async function onHandOf(em: EntityManager, depotId: string, partId: string): Promise<number> {
  const row = await firstRow(
    em,
    z.object({ units: z.number() }),
    `select coalesce(sum(l.units), 0)::int as units from stock_level l join bin b on b.id = l.bin_id
     where l.part_id = ? and b.depot_id = ?`,
    [partId, depotId],
  );
  return row?.units ?? 0;
}

export async function depotOfName(em: EntityManager, name: string, field = 'depot'): Promise<string> {
  const id = await idByName(em, 'depot', name);
  if (!id) throw invalidField(field, `There is no depot “${name}” on record; one of the list is accepted.`);
  return id;
}

/** The bin of a depot, made where it is not there yet: a shelf is labelled before anybody types it in. */
export async function binOf(em: EntityManager, depotId: string, code: string): Promise<string> {
  const tidy = code.trim().toUpperCase();
  const there = await em.findOne(BinEntity, { depotId, code: tidy });
  if (there) return there.id;
  const id = crypto.randomUUID();
  await em.execute('insert into bin (id, depot_id, code) values (?, ?, ?) on conflict do nothing', [id, depotId, tidy]);
  return (await em.findOneOrFail(BinEntity, { depotId, code: tidy })).id;
}
