import { z } from 'zod';
import { Id, Pad, Side } from '../common.ts';

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
  /** New pads were fitted on this day, since it began. */
  until: z.string().nullable(),
  /** Chance that it goes on under them; null where none were fitted, or new pads end it by themselves. */
  outlived: z.number().nullable(),
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

export const Mark = z.object({ date: z.string(), odometerMi: z.number() });
