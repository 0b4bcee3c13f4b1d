import type { Understanding } from '@mile-mark/contract/imports';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { catalogueIndex, orderedOnRecord, type OrderRecord } from '../parts/index.ts';
import { DepotEntity } from '../register/index.ts';
import { type Draft, RowReader } from './assess.ts';
import { readNumber } from './assessParts.ts';
import { complete, refused, sameName, start } from './draft.ts';

const LONGEST = 60;

/** Orders that were placed elsewhere, a row a line: they are on their way from now on. What is on record otherwise is refused. */
export async function assessOrders(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
  today: string,
): Promise<Draft<OrderRecord>[]> {
  const known = await catalogueIndex(em);
  const depots = await em.find(DepotEntity, {});
  const seen = new Map<string, number>();
  const drafts: Draft<OrderRecord>[] = [];
  for (const row of rows) {
    const draft = start<OrderRecord>(row);
    drafts.push(draft);
    if (draft.reasons.length > 0) continue;
    const reader = new RowReader(row, understanding, draft);
    const order = reader.needed('order', 'The order number');
    if (order !== undefined && order.length > LONGEST)
      reader.refuse('order', `At most ${LONGEST} characters are accepted.`);
    const supplier = named(reader, 'supplier', 'The supplier', known.suppliers);
    const depot = named(reader, 'depot', 'The depot', depots);
    const number = readNumber(reader, 'part');
    const part = number === undefined ? undefined : known.parts.get(number);
    if (number !== undefined && !part)
      reader.refuse('part', `There is no part ${number} in the catalogue; import the parts first.`);
    const units = reader.whole('units', 'Units', 1, 100_000);
    const price = reader.number('price', 'The price', 0.01, 1_000_000);
    const currency = reader.text('currency').toUpperCase();
    if (supplier && currency !== supplier.currency)
      reader.refuse('currency', `${supplier.name} sells in ${supplier.currency}; a price in that is accepted.`);
    const orderedOn = reader.date('ordered_on', today);
    const promisedOn = reader.text('promised_on') === '' ? null : reader.day('promised_on');
    if (orderedOn !== undefined && typeof promisedOn === 'string' && promisedOn < orderedOn)
      reader.refuse('promised_on', `${promisedOn} is before it was ordered; ${orderedOn} or later is accepted.`);
    const record = complete<OrderRecord>({
      order,
      supplierId: supplier?.id,
      depotId: depot?.id,
      partId: part?.id,
      units,
      priceMinor: price === undefined ? undefined : Math.round(price * 100),
      currency,
      orderedOn,
      promisedOn,
    });
    if (!record || draft.reasons.length > 0) continue;
    const key = [record.supplierId, record.depotId, record.order.toUpperCase(), record.partId].join('/');
    const twin = seen.get(key);
    if (twin !== undefined) {
      refused(draft, reader, 'part', `This part stands on the order in line ${twin} already.`);
      continue;
    }
    seen.set(key, row.line);
    const there = await orderedOnRecord(em, record);
    if (there === undefined) draft.records.push(record);
    else if (there.units === record.units) draft.already = 1;
    else if (there.units > 0)
      refused(
        draft,
        reader,
        'units',
        `On record with ${there.units}; the same is accepted. What is over is another order.`,
      );
    else if (there.state !== 'sent')
      refused(draft, reader, 'order', `Order ${record.order} is ${there.state}; a line of an open order is accepted.`);
    else draft.records.push(record);
  }
  return drafts;
}

function named<T extends { name: string }>(
  reader: RowReader,
  field: 'supplier' | 'depot',
  label: string,
  all: readonly T[],
): T | undefined {
  const name = reader.needed(field, label);
  if (name === undefined) return undefined;
  return (
    all.find((one) => sameName(one.name, name)) ??
    reader.refuse(field, `There is no ${field} “${name}” on record; one of the list is accepted.`)
  );
}
