import { z } from 'zod';
import { Id } from '../common.ts';

/** How the telematics feed stands, and what of it could not be believed. */
export const FeedView = z.object({
  /** Whether a feed is configured at all. */
  connected: z.boolean(),
  polledAt: z.string().nullable(),
  failedAt: z.string().nullable(),
  failure: z.string().nullable(),
  vehicles: z.array(z.object({ unit: z.string(), lastDay: z.string(), days: z.int() })),
  faults: z.array(
    z.object({
      id: Id,
      unit: z.string(),
      day: z.string(),
      fault: z.enum(['falls', 'leaps', 'twice', 'gap', 'unknown', 'unreadable']),
      note: z.string().nullable(),
    }),
  ),
});
export type FeedView = z.infer<typeof FeedView>;
