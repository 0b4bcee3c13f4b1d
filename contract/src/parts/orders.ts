import { z } from 'zod';
import { Id, IsoDate, SeenRevision } from '../common.ts';
import { Lot, Measures, PartKind, PartNumber, Reason, Units } from './fields.ts';

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
  /** Placed elsewhere, and taken from a list: nobody asks its supplier. */
  outside: z.boolean(),
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
  lines: z.array(z.object({ part: PartNumber, units: Units })).max(300),
});
export type OrderChange = z.input<typeof OrderChange>;
export const OrderApproval = z.object({
  id: Id,
  revision: SeenRevision,
  /** Why it is right though a line is doubted. */
  reason: Reason.optional(),
});
export type OrderApproval = z.input<typeof OrderApproval>;
export const OrderCalledOff = z.object({ id: Id, reason: Reason });

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
        reason: Reason.optional(),
      }),
    )
    .min(1, 'At least one line is needed.')
    .max(200),
});
export type NewReceipt = z.input<typeof NewReceipt>;
