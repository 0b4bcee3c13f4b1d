import { z } from 'zod';
import { Id, Pad, Side, VehicleClass } from './common.ts';
import { Duty } from './register.ts';

const Answer = z.enum(['look', 'cause_found', 'nothing_found', 'duty_changed']);

/** A change of wear that readings showed, with its evidence and what was decided. */
export const WearChange = z.object({
  id: Id,
  unit: z.string(),
  depot: z.string(),
  model: z.string(),
  kind: z.enum(['apart', 'wheel', 'axle', 'route']),
  axle: z.int().nullable(),
  side: Side.nullable(),
  more: Pad.nullable(),
  since: z.string(),
  /** New pads ended it on this day. */
  until: z.string().nullable(),
  probability: z.number(),
  factor: z.object({ p05: z.number(), p50: z.number(), p95: z.number() }),
  looks: z.int(),
  wear: z.array(z.object({ side: Side.nullable(), pad: Pad, mm: z.number(), usualMm: z.number() })),
  firstTold: z.string(),
  /** Later readings no longer show it. */
  goneOn: z.string().nullable(),
  open: z.boolean(),
  answers: z.array(z.object({ answer: Answer, note: z.string().nullable(), by: z.string(), at: z.string() })),
});
export type WearChange = z.infer<typeof WearChange>;

export const ChangeAnswer = z
  .object({
    id: Id,
    answer: Answer,
    note: z.string().trim().max(500, 'At most 500 characters are accepted.').optional(),
  })
  .refine(({ answer, note }) => answer === 'look' || answer === 'duty_changed' || (note ?? '').length >= 3, {
    path: ['note'],
    error: 'What was found is needed, in a few words.',
  });
export type ChangeAnswer = z.infer<typeof ChangeAnswer>;

const Mark = z.object({ date: z.string(), odometerMi: z.number() });

/** What moved each mark since about a month ago, one cause after another. */
export const WhyMark = z.object({
  unit: z.string(),
  /** Null where nothing is kept of a month ago. */
  since: z.string().nullable(),
  /** Learnt afterwards from the record of that day, not kept then. */
  afterwards: z.boolean(),
  axles: z.array(
    z.object({
      axle: z.int(),
      from: Mark,
      steps: z.array(z.object({ cause: z.enum(['fleet', 'policy', 'miles', 'duty', 'readings', 'pads']), to: Mark })),
    }),
  ),
});
export type WhyMark = z.infer<typeof WhyMark>;

/** All that one vehicle's forecast rests on, for the same computation in the browser; shapes are the core's. */
export const ForecastInput = z.object({
  unit: z.string(),
  class: VehicleClass,
  tareKg: z.number(),
  gvwrKg: z.number(),
  shares: z.array(z.object({ axle: z.int(), brakeShare: z.number() })),
  input: z.unknown(),
  policy: z.unknown(),
  currency: z.string().nullable(),
  reference: Duty.nullable(),
  present: Duty.nullable(),
});
export type ForecastInput = z.infer<typeof ForecastInput>;

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
