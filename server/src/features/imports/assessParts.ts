import type { Understanding } from '@mile-mark/contract/imports';
import { CONSUMABLES, isConsumable, KIT_PARTS, partFaults, type KitPart } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import {
  catalogueIndex,
  type CatalogueIndex,
  type PartRecord,
  type StockRecord,
  unitsOnRecord,
} from '../parts/index.ts';
import { DepotEntity, ModelAxleEntity, ModelEntity } from '../register/index.ts';
import { type Draft, RowReader } from './assess.ts';
import { complete, refused, sameName, start } from './draft.ts';

const LONGEST = 60;

/** A parts list, a row a place that a part fits or an offer: what differs from the record is refused, never changed. */
export async function assessParts(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
): Promise<Draft<PartRecord>[]> {
  const known = await catalogueIndex(em);
  const models = await em.find(ModelEntity, {});
  const axles = await em.find(ModelAxleEntity, {});
  const inFile = new Map<string, PartRecord>();
  return rows.map((row) => {
    const draft = start<PartRecord>(row);
    if (draft.reasons.length > 0) return draft;
    const reader = new RowReader(row, understanding, draft);
    const fit = readFit(reader, models, axles);
    const offer = readOffer(reader, known);
    const record = complete<PartRecord>({
      number: readNumber(reader, 'part'),
      name: reader.needed('name', 'The name'),
      kind: readKind(reader),
      maker: reader.needed('maker', 'The maker'),
      makerNumber: reader.text('maker_number') || null,
      pieces: reader.text('pieces') === '' ? 1 : reader.whole('pieces', 'Pieces a unit holds', 1, 100),
      content: reader.text('content') === '' ? null : reader.number('content', 'What a unit holds', 0.1, 250_000),
      shelfDays: reader.text('shelf_days') === '' ? null : reader.whole('shelf_days', 'Days it keeps', 1, 7300),
      fit,
      offer,
    });
    if (!record) return draft;
    const [fault] = partFaults(
      {
        id: '',
        number: record.number,
        kind: record.kind as KitPart,
        pieces: record.pieces,
        content: record.content ?? undefined,
        rank: 1,
        supersededBy: undefined,
        fits: record.fit
          ? [
              {
                model: record.fit.modelId,
                axle: record.fit.axle ?? undefined,
                side: record.fit.side,
                rotorMm: undefined,
              },
            ]
          : [],
      },
      [],
    );
    if (fault?.code === 'pieces')
      return refused(
        draft,
        reader,
        'pieces',
        `A ${record.kind} comes by ${fault.accepted.join(', ')}; that is accepted.`,
      );
    if (fault?.code === 'content')
      return refused(
        draft,
        reader,
        'content',
        `A content is said of ${KIT_PARTS.filter(isConsumable).join(', ')}; a ${record.kind} is counted.`,
      );
    if (fault?.code === 'fits nothing')
      return refused(
        draft,
        reader,
        'model',
        `The model that it fits is needed; only ${CONSUMABLES.join(', ')} fit all.`,
      );
    const there = known.parts.get(record.number) ?? inFile.get(record.number);
    if (there && (there.kind !== record.kind || there.pieces !== record.pieces || !sameName(there.name, record.name)))
      return refused(
        draft,
        reader,
        'part',
        `${record.number} is on record as ${there.kind}, ${there.name}, ${there.pieces} a unit; the same is accepted.`,
      );
    const asked = record.offer && known.offerOf(record.number, record.offer.supplierId);
    if (asked && record.offer && (asked.priceMinor !== record.offer.priceMinor || asked.pack !== record.offer.pack))
      return refused(
        draft,
        reader,
        'price',
        `On record at ${(asked.priceMinor / 100).toFixed(2)}, in packs of ${asked.pack}; the same is accepted. A new price is entered under Parts.`,
      );
    if (known.has(record)) draft.already = 1;
    else draft.records.push(record);
    inFile.set(record.number, record);
    return draft;
  });
}

export function readNumber(reader: RowReader, field: string): string | undefined {
  const text = reader.needed(field, 'The part number')?.toUpperCase();
  if (text !== undefined && text.length > LONGEST)
    return reader.refuse(field, `At most ${LONGEST} characters are accepted.`);
  return text;
}

function readKind(reader: RowReader): KitPart | undefined {
  const text = reader.text('kind').toLowerCase();
  const kind = KIT_PARTS.find((one) => one === text || `${one}s` === text);
  return kind ?? reader.refuse('kind', `“${text}” is not a kind; ${KIT_PARTS.join(', ')} are accepted.`);
}

function readFit(
  reader: RowReader,
  models: readonly { id: string; name: string }[],
  axles: readonly { modelId: string; axle: number }[],
): PartRecord['fit'] | undefined {
  const name = reader.text('model');
  const typed = reader.text('axle');
  if (name === '') {
    if (typed !== '') return reader.refuse('model', 'An axle without its model fits nothing; the model is needed.');
    return null;
  }
  const model = models.find((one) => sameName(one.name, name));
  if (!model) return reader.refuse('model', `There is no model “${name}” on record; import the models first.`);
  const axle = typed === '' ? null : reader.whole('axle', 'The axle', 1, 6);
  if (axle === undefined) return undefined;
  if (axle !== null && !axles.some((one) => one.modelId === model.id && one.axle === axle))
    return reader.refuse('axle', `${model.name} has no axle ${axle}; one of its axles is accepted.`);
  const side = reader.text('side').toLowerCase();
  if (!['', 'both', 'left', 'right'].includes(side))
    return reader.refuse('side', `“${side}” is not a side; left, right or both are accepted.`);
  return { modelId: model.id, axle, side: side === 'left' || side === 'right' ? side : 'both' };
}

function readOffer(reader: RowReader, known: CatalogueIndex): PartRecord['offer'] | undefined {
  const name = reader.text('supplier');
  if (name === '') {
    if (reader.text('price') !== '')
      return reader.refuse('supplier', 'A price without who asks it says nothing; the supplier is needed.');
    return null;
  }
  const supplier = known.suppliers.find((one) => sameName(one.name, name));
  if (!supplier)
    return reader.refuse('supplier', `There is no supplier “${name}” on record; put them on record under Parts first.`);
  const price = reader.number('price', 'The price', 0.01, 1_000_000);
  const currency = reader.text('currency').toUpperCase();
  if (currency === '') return reader.refuse('currency', 'A price has a currency, as USD or EUR.');
  if (currency !== supplier.currency)
    return reader.refuse('currency', `${supplier.name} sells in ${supplier.currency}; a price in that is accepted.`);
  const pack = reader.text('pack') === '' ? 1 : reader.whole('pack', 'The pack', 1, 10_000);
  const least = reader.text('least') === '' ? 1 : reader.whole('least', 'The least order', 1, 10_000);
  const leadDays =
    reader.text('lead_days') === '' ? null : reader.whole('lead_days', 'Days from order to shelf', 0, 365);
  if (price === undefined || pack === undefined || least === undefined || leadDays === undefined) return undefined;
  return {
    supplierId: supplier.id,
    supplierNumber: reader.text('supplier_number') || null,
    priceMinor: Math.round(price * 100),
    currency,
    pack,
    least,
    leadDays,
  };
}

/** A stock list: what lies in each bin. A figure that differs from the record is a count, and waits for a word. */
export async function assessStock(
  em: EntityManager,
  rows: readonly CsvRecord[],
  understanding: Understanding,
  today: string,
): Promise<Draft<StockRecord>[]> {
  const known = await catalogueIndex(em);
  const depots = await em.find(DepotEntity, {});
  const seen = new Map<string, number>();
  const drafts: Draft<StockRecord>[] = [];
  for (const row of rows) {
    const draft = start<StockRecord>(row);
    drafts.push(draft);
    if (draft.reasons.length > 0) continue;
    const reader = new RowReader(row, understanding, draft);
    const number = readNumber(reader, 'part');
    const part = number === undefined ? undefined : known.parts.get(number);
    if (number !== undefined && !part)
      reader.refuse('part', `There is no part ${number} in the catalogue; import the parts first.`);
    const name = reader.needed('depot', 'The depot');
    const depot = depots.find((one) => name !== undefined && sameName(one.name, name));
    if (name !== undefined && !depot)
      reader.refuse('depot', `There is no depot “${name}” on record; one of the list is accepted.`);
    const bin = reader.needed('bin', 'The bin')?.toUpperCase();
    const counted = reader.whole('units', 'Units', 0, 100_000);
    const expiresOn = reader.text('expires') === '' ? null : reader.day('expires');
    if (!part || !depot || bin === undefined || counted === undefined || expiresOn === undefined) continue;
    if (part.shelfDays !== null && expiresOn === null) {
      reader.refuse('expires', `${part.number} expires: the last day on which it may be used is needed.`);
      continue;
    }
    if (expiresOn !== null && expiresOn < today)
      draft.notes.push(`It expired on ${expiresOn}; it counts as lying there, and is not picked.`);
    const record = { partId: part.id, depotId: depot.id, bin, lot: reader.text('lot') || null, expiresOn, counted };
    const key = `${part.id}/${depot.id}/${bin}/${record.lot ?? ''}`;
    const twin = seen.get(key);
    if (twin !== undefined) {
      reader.refuse('bin', `This part, bin and lot stand in line ${twin} already.`);
      continue;
    }
    seen.set(key, row.line);
    const before = await unitsOnRecord(em, record);
    if (before === counted) draft.already = 1;
    else draft.records.push(record);
    if (before !== undefined && before !== counted)
      draft.reasons.push({
        column: reader.column('units'),
        outcome: 'questioned',
        message: `By the record ${before} lie there; taken, this counts ${counted}.`,
        holds: true,
      });
  }
  return drafts;
}
