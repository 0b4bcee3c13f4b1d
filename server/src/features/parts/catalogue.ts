import type { Part as PartDto } from '@mile-mark/contract/parts';
import { PartKind } from '@mile-mark/contract/parts';
import { bestOffer, type Measures, type Part } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../platform/db/rows.ts';
import { invalidField } from '../../platform/errors.ts';
import type { PartRecord } from './fromSheets.ts';

const PartSql = z.object({
  id: z.string(),
  number: z.string(),
  maker_number: z.string().nullable(),
  maker: z.string(),
  name: z.string(),
  kind: PartKind,
  pieces: z.number(),
  content: z.number().nullable(),
  rank: z.number(),
  superseded_by: z.string().nullable(),
  shelf_days: z.number().nullable(),
  exchange_minor: z.number().nullable(),
  diameter_mm: z.number().nullable(),
  height_mm: z.number().nullable(),
  thickness_mm: z.number().nullable(),
  holes: z.number().nullable(),
  retired: z.boolean(),
  revision: z.number(),
});
export type CataloguePart = z.output<typeof PartSql>;

const FitSql = z.object({
  part_id: z.string(),
  model_id: z.string().nullable(),
  model: z.string().nullable(),
  axle: z.number().nullable(),
  side: z.enum(['both', 'left', 'right']),
  rotor_mm: z.number().nullable(),
});

const OfferSql = z.object({
  part_id: z.string(),
  supplier_id: z.string(),
  supplier: z.string(),
  supplier_number: z.string().nullable(),
  price_minor: z.number(),
  currency: z.string(),
  pack: z.number(),
  least: z.number(),
  lead_days: z.number(),
});
export type CatalogueOffer = z.output<typeof OfferSql>;

/** The catalogue, as kits, demand and orders read it. */
export interface Catalogue {
  /** Parts that are not retired, as the core takes them. */
  parts: Part[];
  byId: Map<string, CataloguePart>;
  fits: Map<string, z.output<typeof FitSql>[]>;
  offers: Map<string, CatalogueOffer[]>;
}

/** Whom to buy a part from, where so many days are left: the cheapest of those in time, or else the soonest. */
export function offerInTime(
  { offers }: Pick<Catalogue, 'offers'>,
  part: string,
  daysLeft: number,
): CatalogueOffer | undefined {
  const own = offers.get(part) ?? [];
  const best = bestOffer(
    own.map((one) => ({
      part: one.part_id,
      supplier: one.supplier_id,
      price: one.price_minor,
      currency: one.currency,
      leadDays: one.lead_days,
    })),
    daysLeft,
  );
  return own.find(({ supplier_id }) => supplier_id === best?.supplier);
}

const listed = <T extends { part_id: string }>(rows: readonly T[]): Map<string, T[]> => {
  const by = new Map<string, T[]>();
  for (const row of rows) {
    const own = by.get(row.part_id);
    if (own) own.push(row);
    else by.set(row.part_id, [row]);
  }
  return by;
};

export async function loadCatalogue(em: EntityManager): Promise<Catalogue> {
  const rows = await rowsOf(
    em,
    PartSql,
    `select id, number, maker_number, maker, name, kind, pieces, content, rank, superseded_by, shelf_days, exchange_minor,
       diameter_mm, height_mm, thickness_mm, holes, retired, revision from part order by number`,
  );
  const fits = listed(
    await rowsOf(
      em,
      FitSql,
      `select f.part_id, f.model_id, m.name as model, f.axle, f.side, f.rotor_mm
       from part_fit f left join model m on m.id = f.model_id order by m.name, f.axle, f.side`,
    ),
  );
  const offers = listed(
    await rowsOf(
      em,
      OfferSql,
      `select o.part_id, o.supplier_id, s.name as supplier, o.supplier_number, o.price_minor, o.currency, o.pack, o.least,
         coalesce(o.lead_days, s.lead_days) as lead_days
       from part_offer o join supplier s on s.id = o.supplier_id order by o.price_minor`,
    ),
  );
  return {
    byId: new Map(rows.map((row) => [row.id, row])),
    fits,
    offers,
    parts: rows.filter(({ retired }) => !retired).map((row) => corePart(row, fits.get(row.id) ?? [])),
  };
}

function corePart(row: CataloguePart, fits: readonly z.output<typeof FitSql>[]): Part {
  return {
    id: row.id,
    number: row.number,
    kind: row.kind,
    pieces: row.pieces,
    content: row.content ?? undefined,
    rank: row.rank,
    supersededBy: row.superseded_by ?? undefined,
    fits: fits.map(({ model_id, axle, side, rotor_mm }) => ({
      model: model_id ?? undefined,
      axle: axle ?? undefined,
      side,
      rotorMm: rotor_mm ?? undefined,
    })),
  };
}

/** What of a part can be measured. */
export function measuresOf(
  part: Pick<CataloguePart, 'diameter_mm' | 'height_mm' | 'thickness_mm' | 'holes'>,
): Measures {
  const { diameter_mm: diameterMm, height_mm: heightMm, thickness_mm: thicknessMm, holes } = part;
  return {
    ...(diameterMm === null ? {} : { diameterMm }),
    ...(heightMm === null ? {} : { heightMm }),
    ...(thicknessMm === null ? {} : { thicknessMm }),
    ...(holes === null ? {} : { holes }),
  };
}

export async function listParts(em: EntityManager): Promise<PartDto[]> {
  const [{ byId, fits, offers }, levels] = [
    await loadCatalogue(em),
    await rowsOf(
      em,
      z.object({ part_id: z.string(), units: z.number() }),
      'select part_id, sum(units)::int as units from stock_level group by part_id',
    ),
  ];
  const onHand = new Map(levels.map(({ part_id, units }) => [part_id, units]));
  return [...byId.values()].map((row) => ({
    id: row.id,
    number: row.number,
    makerNumber: row.maker_number,
    maker: row.maker,
    name: row.name,
    kind: row.kind,
    pieces: row.pieces,
    content: row.content,
    rank: row.rank,
    supersededBy: row.superseded_by === null ? null : (byId.get(row.superseded_by)?.number ?? null),
    shelfDays: row.shelf_days,
    exchangeMinor: row.exchange_minor,
    measures: measuresOf(row),
    retired: row.retired,
    revision: row.revision,
    fits: (fits.get(row.id) ?? []).map(({ model, axle, side, rotor_mm }) => ({ model, axle, side, rotorMm: rotor_mm })),
    offers: (offers.get(row.id) ?? []).map((offer) => ({
      supplier: offer.supplier,
      supplierNumber: offer.supplier_number,
      priceMinor: offer.price_minor,
      currency: offer.currency,
      pack: offer.pack,
      least: offer.least,
      leadDays: offer.lead_days,
    })),
    onHand: onHand.get(row.id) ?? 0,
  }));
}

const Found = z.object({ id: z.string(), number: z.string(), shelf_days: z.number().nullable(), kind: PartKind });

/** The part of a number, own, maker's or supplier's, however it is written; refuses the field where there is none. */
export async function partOfNumber(em: EntityManager, typed: string, field: string): Promise<z.output<typeof Found>> {
  const found = await firstRow(
    em,
    Found,
    `select p.id, p.number, p.shelf_days, p.kind from part p where upper(p.number) = upper(?)
     union all select p.id, p.number, p.shelf_days, p.kind from part p where upper(p.maker_number) = upper(?)
     union all select p.id, p.number, p.shelf_days, p.kind from part p join part_offer o on o.part_id = p.id where upper(o.supplier_number) = upper(?)
     limit 1`,
    [typed.trim(), typed.trim(), typed.trim()],
  );
  if (!found)
    throw invalidField(
      field,
      `There is no part ${typed.trim() || '(blank)'} in the catalogue; one of its numbers is accepted.`,
    );
  return found;
}

/** A part as a list is held against it. */
interface IndexedPart {
  id: string;
  number: string;
  name: string;
  kind: string;
  pieces: number;
  shelfDays: number | null;
}

/** The catalogue by number, for lists to be held against it. */
export interface CatalogueIndex {
  parts: Map<string, IndexedPart>;
  suppliers: { id: string; name: string; currency: string }[];
  /** The price that a supplier asks for a part by the record, and in what packs. */
  offerOf: (number: string, supplierId: string) => { priceMinor: number; pack: number } | undefined;
  /** Whether the part, the place and an offer of the supplier of a line are all on record. */
  has: (record: PartRecord) => boolean;
}

export async function catalogueIndex(em: EntityManager): Promise<CatalogueIndex> {
  const { byId, fits, offers } = await loadCatalogue(em);
  const suppliers = await rowsOf(
    em,
    z.object({ id: z.string(), name: z.string(), currency: z.string() }),
    'select id, name, currency from supplier',
  );
  const parts = new Map(
    [...byId.values()].map(({ id, number, name, kind, pieces, shelf_days }) => [
      number.toUpperCase(),
      { id, number, name, kind, pieces, shelfDays: shelf_days },
    ]),
  );
  return {
    parts,
    suppliers,
    offerOf: (number, supplierId) => {
      const own = offers.get(parts.get(number)?.id ?? '')?.find((one) => one.supplier_id === supplierId);
      return own && { priceMinor: own.price_minor, pack: own.pack };
    },
    has: ({ number, fit, offer }) => {
      const part = parts.get(number);
      if (!part) return false;
      const placed = fits
        .get(part.id)
        ?.some((one) => one.model_id === fit?.modelId && one.axle === fit.axle && one.side === fit.side);
      const offered = offers.get(part.id)?.some((one) => one.supplier_id === offer?.supplierId);
      return (fit === null || placed === true) && (offer === null || offered === true);
    },
  };
}
