import { z } from 'zod';
import { Id, Name, SeenRevision } from '../common.ts';
import { Currency, KitSide, Measures, Minor, PartKind, PartNumber } from './fields.ts';

const Fit = z.object({
  model: z.string().nullable(),
  axle: z.int().min(1).max(6).nullable(),
  side: KitSide,
  rotorMm: z.number().min(100).max(800).nullable(),
});

const Offer = z.object({
  supplier: z.string(),
  supplierNumber: z.string().nullable(),
  priceMinor: Minor,
  currency: Currency,
  /** Units come in multiples of this. */
  pack: z.int().min(1, 'A pack holds one unit or more.'),
  least: z.int().min(1, 'The least order is one unit or more.'),
  leadDays: z.int().min(0).max(365),
});

/** A part of the catalogue, with what lies on the shelves of all depots. */
export const Part = z.object({
  id: Id,
  number: z.string(),
  makerNumber: z.string().nullable(),
  maker: z.string(),
  name: z.string(),
  kind: PartKind,
  pieces: z.int(),
  /** What a unit holds of a consumable, mL or g. */
  content: z.number().nullable(),
  rank: z.int(),
  supersededBy: z.string().nullable(),
  shelfDays: z.int().nullable(),
  exchangeMinor: z.int().nullable(),
  measures: Measures,
  retired: z.boolean(),
  revision: z.int(),
  fits: z.array(Fit),
  offers: z.array(Offer),
  onHand: z.int(),
});
export type Part = z.infer<typeof Part>;

const Entered = z.object({
  number: PartNumber,
  makerNumber: PartNumber.optional(),
  maker: Name,
  name: Name,
  kind: PartKind,
  pieces: z.int().min(1, 'A unit holds one piece or more.').max(100),
  /** What a unit holds of a consumable, mL or g. */
  content: z.number().min(0.1, 'From 0.1 on is accepted.').max(250_000).optional(),
  rank: z.int().min(1).max(99).default(1),
  /** The number of the part that took its place. */
  supersededBy: PartNumber.optional(),
  shelfDays: z.int().min(1).max(7300).optional(),
  exchangeMinor: Minor.optional(),
  measures: Measures.default({}),
  retired: z.boolean().default(false),
  fits: z
    .array(
      z.object({
        model: Name.optional(),
        axle: z.int().min(1).max(6).optional(),
        side: KitSide.default('both'),
        rotorMm: z.number().min(100).max(800).optional(),
      }),
    )
    .max(200),
  offers: z
    .array(
      z.object({
        supplier: Name,
        supplierNumber: PartNumber.optional(),
        priceMinor: Minor,
        currency: Currency,
        pack: z.int().min(1, 'A pack holds one unit or more.').default(1),
        least: z.int().min(1, 'The least order is one unit or more.').default(1),
        leadDays: z.int().min(0).max(365).optional(),
      }),
    )
    .max(20),
});
export const NewPart = Entered.extend({ id: Id });
export type NewPart = z.input<typeof NewPart>;
export const PartChange = Entered.extend({ revision: SeenRevision });
export type PartChange = z.input<typeof PartChange>;

export const Supplier = z.object({
  id: Id,
  name: z.string(),
  currency: z.string(),
  leadDays: z.int(),
  orderCostMinor: z.int(),
  freightMinor: z.int(),
  freightFreeMinor: z.int().nullable(),
});
export type Supplier = z.infer<typeof Supplier>;

const SupplierEntered = z.object({
  name: Name,
  currency: Currency,
  leadDays: z.int('Whole days are accepted.').min(0).max(365, 'Up to 365 days are accepted.'),
  /** What an order costs the shop, whatever is in it. */
  orderCostMinor: z.int().min(0, 'Nought or more is accepted.').max(10_000_000).default(0),
  freightMinor: z.int().min(0, 'Nought or more is accepted.').max(10_000_000).default(0),
  /** From this value on freight costs nothing. */
  freightFreeMinor: Minor.optional(),
});
export const NewSupplier = SupplierEntered.extend({ id: Id });
export type NewSupplier = z.input<typeof NewSupplier>;
export const SupplierChange = SupplierEntered;
export type SupplierChange = z.input<typeof SupplierChange>;
