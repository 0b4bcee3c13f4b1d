import { KIT_PARTS } from '@mile-mark/core';
import { z } from 'zod';
import { Id, IsoDate, Name, SeenRevision } from '../common.ts';

/** What can happen to stock. */
export const MOVEMENT_KINDS = ['receive', 'pick', 'return', 'transfer', 'count', 'scrap', 'exchange'] as const;
/** States of an order, in the order in which it goes through them. */
export const ORDER_STATES = [
  'proposed',
  'approved',
  'sent',
  'acknowledged',
  'received',
  'rejected',
  'called off',
] as const;
export type OrderState = (typeof ORDER_STATES)[number];

export const PartKind = z.enum(KIT_PARTS);
const KitSide = z.enum(['both', 'left', 'right']);
const Number_ = z.string().trim().min(1, 'A part number is needed.').max(60, 'At most 60 characters are accepted.');
const Units = z.int('A whole number of units is accepted.').min(1, 'One unit or more is accepted.').max(100_000);
const Currency = z
  .string()
  .trim()
  .regex(/^[A-Z]{3}$/, 'A price has a currency, as USD or EUR.');
/** A price in whole cents of its currency. */
const Minor = z.int('A price in whole cents is accepted.').min(1, 'A price over nought is accepted.').max(100_000_000);
const Lot = z.string().trim().min(1).max(60);
const Note = z.string().trim().min(1).max(500);

const Measures = z.object({
  diameterMm: z.number().min(10).max(800).optional(),
  heightMm: z.number().min(1).max(500).optional(),
  thicknessMm: z.number().min(1).max(200).optional(),
  holes: z.int().min(1).max(24).optional(),
});

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
  number: Number_,
  makerNumber: Number_.optional(),
  maker: Name,
  name: Name,
  kind: PartKind,
  pieces: z.int().min(1, 'A unit holds one piece or more.').max(100),
  rank: z.int().min(1).max(99).default(1),
  /** The number of the part that took its place. */
  supersededBy: Number_.optional(),
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
        supplierNumber: Number_.optional(),
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

export const StockAsked = z.object({ depot: z.string().optional() });

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

/** What lies in a bin. */
export const StockRow = z.object({
  part: z.string(),
  name: z.string(),
  kind: PartKind,
  depot: z.string(),
  bin: z.string(),
  lot: z.string().nullable(),
  expiresOn: IsoDate.nullable(),
  units: z.int(),
  /** Why it is to be counted; null where nobody asked. */
  count: z.string().nullable(),
});
export type StockRow = z.infer<typeof StockRow>;

const Place = { depot: Name, bin: z.string().trim().min(1, 'A bin is needed.').max(40) };
const movement = <K extends string, S extends z.ZodRawShape>(kind: K, shape: S) =>
  z.object({
    id: Id,
    kind: z.literal(kind),
    part: Number_,
    ...Place,
    lot: Lot.optional(),
    ...shape,
  });

/** One movement of stock; its id is made by whoever sends it, so that a retry moves nothing twice. */
export const NewMovement = z.discriminatedUnion('kind', [
  movement('receive', { note: Note.optional(), units: Units, expiresOn: IsoDate.optional() }),
  movement('return', { note: Note.optional(), units: Units, jobId: Id }),
  movement('transfer', {
    note: Note.optional(),
    units: Units,
    toDepot: Name,
    toBin: z.string().trim().min(1, 'A bin is needed.').max(40),
  }),
  movement('count', {
    note: Note.optional(),
    counted: z.int('A whole number is accepted.').min(0, 'Nought or more is accepted.').max(100_000),
  }),
  movement('scrap', { units: Units, note: Note.min(3, 'A reason of at least 3 characters is needed.') }),
  movement('exchange', { note: Note.optional(), units: Units }),
]);
export type NewMovement = z.input<typeof NewMovement>;

export const Moved = z.object({
  id: Id,
  /** Units of the part at that depot afterwards. */
  onHand: z.int(),
  /** Of a count: what was found less what was on record. */
  difference: z.int().nullable(),
});
export type Moved = z.infer<typeof Moved>;

export const NewPick = z.object({
  id: Id,
  jobId: Id,
  lines: z
    .array(
      z.object({
        part: Number_,
        units: Units,
        /** It lies there though the record says otherwise: it is taken, and the bin is to be counted. */
        seen: z.boolean().default(false),
      }),
    )
    .min(1, 'At least one line is needed.')
    .max(60),
});
export type NewPick = z.input<typeof NewPick>;
export const Picked = z.object({
  id: Id,
  takes: z.array(z.object({ part: z.string(), bin: z.string(), lot: z.string().nullable(), units: z.int() })),
});
export type Picked = z.infer<typeof Picked>;

const NeedNow = z.discriminatedUnion('state', [
  z.object({ state: z.literal('there'), part: z.string(), units: z.int(), instead: z.boolean() }),
  z.object({ state: z.literal('comes'), part: z.string(), units: z.int(), day: IsoDate, inTime: z.boolean() }),
  z.object({ state: z.literal('short'), missing: z.int() }),
]);

/** A line of a job's kit, and where it stands. */
export const JobKitNeed = z.object({
  kind: PartKind,
  axle: z.int().nullable(),
  side: KitSide,
  pieces: z.int(),
  /** Numbers that would do, the one to take first before the others. */
  options: z.array(z.object({ part: z.string(), name: z.string(), units: z.int() })),
  picked: z.int(),
  now: NeedNow,
});
export type JobKitNeed = z.infer<typeof JobKitNeed>;

export const JobKit = z.object({
  jobId: Id,
  unit: z.string(),
  model: z.string(),
  depot: z.string(),
  jobState: z.string(),
  /** The day on which the parts are wanted, and whether it is booked. */
  day: IsoDate,
  booked: z.boolean(),
  /** How it stands; of a job that is over, what was picked is all there is to it. */
  state: z.enum(['complete', 'substitutable', 'short', 'over']),
  until: IsoDate.nullable(),
  needs: z.array(JobKitNeed),
  /** Why it can't be complete as the catalogue stands. */
  faults: z.array(z.string()),
  notices: z.array(z.object({ text: z.string(), at: z.string() })),
  /** What was picked for it and not put back, with the bin it came from. */
  picks: z.array(
    z.object({ part: z.string(), name: z.string(), bin: z.string(), lot: z.string().nullable(), units: z.int() }),
  ),
});
export type JobKit = z.infer<typeof JobKit>;

export const DemandAsked = z.object({ part: z.string().min(1), depot: z.string().min(1) });
const Quantiles = z.object({ '0.05': z.int(), '0.5': z.int(), '0.95': z.int() });
export const Demand = z.object({
  part: z.string(),
  depot: z.string(),
  computedOn: IsoDate,
  /** Each of the coming 26 weeks by its first day, from the day it was computed. */
  items: z.array(z.object({ week: IsoDate, mean: z.number(), quantiles: Quantiles })),
  lead: z.object({ days: z.int(), mean: z.number(), quantiles: Quantiles }),
  onHand: z.int(),
  onOrder: z.int(),
  reorderPoint: z.int(),
  orderQuantity: z.int(),
  /** Each figure, how it came about. */
  why: z.array(z.string()),
});
export type Demand = z.infer<typeof Demand>;

const OrderLine = z.object({
  id: Id,
  part: z.string(),
  name: z.string(),
  kind: PartKind,
  units: z.int(),
  received: z.int(),
  priceMinor: z.int(),
  currency: z.string(),
  why: z.array(z.string()),
  /** By when it has to be ordered. */
  latest: IsoDate.nullable(),
  promisedOn: IsoDate.nullable(),
  instead: z.string().nullable(),
  ended: z.enum(['rejected', 'short']).nullable(),
  /** What is odd about it, beside the jobs that need parts. */
  doubts: z.array(z.string()),
  measures: Measures,
  expires: z.boolean(),
});
export const Order = z.object({
  id: Id,
  number: z.string(),
  supplier: z.string(),
  depot: z.string(),
  state: z.enum(ORDER_STATES),
  revision: z.int(),
  madeOn: IsoDate,
  approvedBy: z.string().nullable(),
  reference: z.string().nullable(),
  totalMinor: z.int(),
  freightMinor: z.int(),
  /** From this value on there is no freight. */
  freightFreeMinor: z.int().nullable(),
  currency: z.string(),
  lines: z.array(OrderLine),
  said: z.array(z.object({ text: z.string(), at: z.string() })),
});
export type Order = z.infer<typeof Order>;
export type OrderLine = z.infer<typeof OrderLine>;
export const OrdersAsked = z.object({
  depot: z.string().optional(),
  state: z.enum([...ORDER_STATES, 'open']).optional(),
});

/** The lines as they are to be; what is left out is taken off. */
export const OrderChange = z.object({
  revision: SeenRevision,
  lines: z.array(z.object({ part: Number_, units: Units })).max(300),
});
export type OrderChange = z.input<typeof OrderChange>;
export const OrderApproval = z.object({
  id: Id,
  revision: SeenRevision,
  /** Why it is right though a line is doubted. */
  reason: Note.min(3, 'A reason of at least 3 characters is needed.').optional(),
});
export type OrderApproval = z.input<typeof OrderApproval>;
export const OrderCalledOff = z.object({ id: Id, reason: Note.min(3, 'A reason of at least 3 characters is needed.') });

export const NewReceipt = z.object({
  id: Id,
  lines: z
    .array(
      z.object({
        lineId: Id,
        units: Units,
        bin: z.string().trim().min(1, 'A bin is needed.').max(40),
        lot: Lot.optional(),
        expiresOn: IsoDate.optional(),
        measures: Measures.default({}),
        /** Why it goes on the shelf though it differs. */
        reason: Note.min(3, 'A reason of at least 3 characters is needed.').optional(),
      }),
    )
    .min(1, 'At least one line is needed.')
    .max(200),
});
export type NewReceipt = z.input<typeof NewReceipt>;

/** The parts keeper's day. */
export const PartsDay = z.object({
  today: IsoDate,
  toPick: z.array(JobKit),
  short: z.array(JobKit),
  toReceive: z.array(
    z.object({
      orderId: Id,
      number: z.string(),
      supplier: z.string(),
      depot: z.string(),
      units: z.int(),
      day: IsoDate.nullable(),
    }),
  ),
  expiring: z.array(StockRow),
  toCount: z.array(StockRow),
  proposals: z.array(
    z.object({
      orderId: Id,
      supplier: z.string(),
      depot: z.string(),
      lines: z.int(),
      totalMinor: z.int(),
      currency: z.string(),
      latest: IsoDate.nullable(),
    }),
  ),
  transfers: z.array(
    z.object({ part: z.string(), name: z.string(), from: z.string(), to: z.string(), units: z.int() }),
  ),
});
export type PartsDay = z.infer<typeof PartsDay>;

/** Weeks in which kits will be short, by depot; and what to order for them. */
export const KitWeeks = z.object({
  depot: z.string(),
  week: IsoDate,
  short: z.int(),
  units: z.array(z.string()),
  /** Parts that would run out even if they were ordered today. */
  parts: z.array(z.string()),
});
export type KitWeeks = z.infer<typeof KitWeeks>;

/** What a part number did on the road. */
export const PartRecord = z.object({
  part: z.string(),
  name: z.string(),
  maker: z.string(),
  model: z.string(),
  axle: z.int(),
  sets: z.int(),
  rate: z.object({ value: z.number(), low: z.number(), high: z.number() }).nullable(),
  failures: z.int(),
  miles: z.number(),
  costPerMileMinor: z.number().nullable(),
  currency: z.string().nullable(),
});
export type PartRecord = z.infer<typeof PartRecord>;
