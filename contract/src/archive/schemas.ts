import { z } from 'zod';
import { Id } from '../common.ts';

/** What an archive held that was taken in. */
export const ArchiveTaken = z.object({
  tables: z.int(),
  rows: z.int(),
  photos: z.int(),
  /** People who had an account; each sets a new password, by a link that the coordinator makes. */
  accounts: z.int(),
});
export type ArchiveTaken = z.infer<typeof ArchiveTaken>;

/** One deed on record: who did what to what, and when. */
export const Deed = z.object({
  id: z.string(),
  at: z.string(),
  by: z.string(),
  action: z.string(),
  /** What it was done to, as people call it; null where that is gone or was never one thing. */
  subject: z.string().nullable(),
  /** The unit number, where it was done to a vehicle. */
  unit: z.string().nullable(),
  detail: z.record(z.string(), z.unknown()).nullable(),
});
export type Deed = z.infer<typeof Deed>;

export const TrailQuery = z.object({
  /** Of one vehicle, by its unit number. */
  unit: z.string().max(60).optional(),
  /** By one person. */
  by: Id.optional(),
  /** With sign-ins too, which else are left out. */
  signIns: z.literal('yes').optional(),
  /** Older than this deed, for what comes next in the list. */
  before: z
    .string()
    .regex(/^\d{1,18}$/, 'The id of a deed is accepted.')
    .optional(),
});
export type TrailQuery = z.infer<typeof TrailQuery>;

export const Trail = z.object({ items: z.array(Deed), more: z.boolean() });
export type Trail = z.infer<typeof Trail>;
