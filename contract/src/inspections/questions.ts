import { z } from 'zod';
import { DistanceUnit, Id, Pad, Side, Suspicion, ThicknessUnit } from '../common.ts';
import { Answer, Typed } from './schemas.ts';

/** A reading or an odometer that waits for the coordinator's word. */
export const Question = z.object({
  id: Id,
  about: z.enum(['reading', 'odometer']),
  unit: z.string(),
  depot: z.string(),
  date: z.string(),
  odometerMi: z.number(),
  technician: z.string(),
  gauge: z.string(),
  /** What the technician said at the field, where asked. */
  answer: Answer.nullable(),
  place: z.object({ axle: z.int(), side: Side, pad: Pad }).nullable(),
  mm: z.number().nullable(),
  typed: z.string(),
  suspicion: Suspicion.nullable(),
  /** Of pads that were replaced since: it matters less. */
  past: z.boolean(),
  pace: z.object({ usualPerDay: z.number(), expectedMi: z.number() }).nullable(),
});
export type Question = z.infer<typeof Question>;

/** A question with the answer that settles it. */
export const SettledQuestion = z.object({
  answerId: Id,
  unit: z.string(),
  place: Question.shape.place,
  typed: z.string(),
  answer: z.enum(['it_is_so', 'correct', 'withdraw', 'measure_again']),
  note: z.string().nullable(),
  by: z.string(),
  at: z.string(),
  /** An odometer that was corrected is corrected again, not undone. */
  undoable: z.boolean(),
});
export type SettledQuestion = z.infer<typeof SettledQuestion>;

export const QuestionAnswer = z.object({
  id: Id,
  answer: z.enum(['it_is_so', 'correct', 'withdraw', 'measure_again']),
  /** The value as it should have been, for `correct`. */
  value: Typed.optional(),
  unit: z.union([ThicknessUnit, DistanceUnit]).optional(),
  note: z.string().trim().max(500).optional(),
});
export type QuestionAnswer = z.input<typeof QuestionAnswer>;
