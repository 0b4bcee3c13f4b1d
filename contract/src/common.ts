import { z } from 'zod';

export const Id = z.uuid();
/** No day of a record, of a plan or of anything built lies outside these. */
const [EARLIEST, LATEST] = ['1950-01-01', '2149-12-31'];
export const IsoDate = z
  .string()
  .regex(/^\d{4}-\d{2}-\d{2}$/, 'A date as 2026-02-20 is accepted.')
  .refine(
    (text) => !Number.isNaN(Date.parse(text)) && new Date(text).toISOString().startsWith(text),
    'This day is not in the calendar.',
  )
  .refine((text) => text >= EARLIEST && text <= LATEST, `A day from ${EARLIEST} to ${LATEST} is accepted.`);
export const Side = z.enum(['left', 'right']);
export const Pad = z.enum(['inner', 'outer']);
export const ThicknessUnit = z.enum(['mm', 'in', '1/32 in']);
export const DistanceUnit = z.enum(['mi', 'km']);
export const VehicleClass = z.enum(['pickup', 'van', 'heavy']);
export const Role = z.enum(['coordinator', 'technician', 'parts keeper', 'viewer']);
export type Role = z.infer<typeof Role>;
export type VehicleClass = z.infer<typeof VehicleClass>;

/** The revision of what is edited, as it was seen; stated, an edit of something newer is refused. */
export const SeenRevision = z.int().min(1).optional();

/** A letter, a figure or a sign: something that shows. */
const VISIBLE = /[\p{L}\p{N}\p{P}\p{S}]/u;

/** A name a person types: trimmed, not blank, short enough for a label. */
export const Name = z
  .string()
  .trim()
  .min(1, 'A name is needed.')
  .max(120, 'At most 120 characters are accepted.')
  .refine((text) => VISIBLE.test(text), 'A name that can be seen is needed.');

/** Why something is done, in a person's words. */
export const Reason = z.string().trim().min(3, 'A reason of at least 3 characters is needed.').max(500);

/** RFC 9457 problem details, with the fields that are wrong and what each would accept. */
export const Problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string().optional(),
  errors: z.array(z.object({ field: z.string(), message: z.string() })).optional(),
  /** What is missing before it can be done, and the step where. */
  missing: z.array(z.object({ step: z.string().nullable(), text: z.string() })).optional(),
});
export type Problem = z.infer<typeof Problem>;

export const Suspicion = z.object({
  kind: z.enum([
    'plate',
    'sides',
    'inches',
    'digits',
    'thicker_than_new',
    'thicker_than_expected',
    'thinner_than_expected',
  ]),
  probability: z.number(),
  expectedMm: z.number(),
  differenceMm: z.number(),
  insteadMm: z.number().optional(),
});
