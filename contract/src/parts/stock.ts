import { z } from 'zod';
import { Id, IsoDate, Name } from '../common.ts';
import { Lot, Note, PartKind, PartNumber, Reason, Units } from './fields.ts';

/** What can happen to stock. */
export const MOVEMENT_KINDS = ['receive', 'pick', 'return', 'transfer', 'count', 'scrap', 'exchange'] as const;

export const StockAsked = z.object({ depot: z.string().optional() });

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
    part: PartNumber,
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
  movement('scrap', { units: Units, note: Reason }),
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
        part: PartNumber,
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
