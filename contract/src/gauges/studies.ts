import { z } from 'zod';
import { Id, IsoDate, Name } from '../common.ts';

export const Bias = z.object({ biasMm: z.number(), biasSdMm: z.number() });

export const Repeat = z.object({
  repeatabilityMm: z.number(),
  /** 90 % interval. */
  repeatabilityFromMm: z.number(),
  repeatabilityToMm: z.number(),
  readings: z.int(),
});

const Label = z.string().trim().min(1, 'A name is needed.').max(60, 'At most 60 characters are accepted.');
const distinct = (labels: readonly string[]) => new Set(labels).size === labels.length;

/** A crossed gauge study to be measured: parts × technicians × repeats in random order. */
export const NewStudy = z.object({
  id: Id,
  name: Name,
  gaugeId: Id,
  parts: z
    .array(Label)
    .min(2, 'At least 2 parts are needed.')
    .max(30, 'At most 30 parts are accepted.')
    .refine(distinct, 'Each part needs a name of its own.'),
  technicianIds: z
    .array(Id)
    .min(2, 'At least 2 technicians are needed.')
    .max(12, 'At most 12 technicians are accepted.')
    .refine(distinct, 'Each technician once is accepted.'),
  repeats: z.int().min(2, 'At least 2 repeats are needed.').max(10, 'At most 10 repeats are accepted.'),
  seed: z.int().min(0).max(2_147_483_647),
  newMm: z.number().gt(0).max(40).optional(),
  limitMm: z.number().gt(0).max(30).optional(),
});
export type NewStudy = z.infer<typeof NewStudy>;

/** A study measured elsewhere: part, technician, trial and value (mm, of either sign) as CSV. */
export const StudyImport = z.object({
  id: Id,
  name: Name,
  gaugeId: Id.optional(),
  csv: z.string().min(1, 'A file with a header line is needed.').max(400_000, 'At most 400 kB is accepted.'),
  /** Whether values are deviations from a known reference. */
  referenced: z.boolean(),
  newMm: z.number().gt(0).max(40).optional(),
  limitMm: z.number().gt(0).max(30).optional(),
});
export type StudyImport = z.infer<typeof StudyImport>;

export const NewStudyValue = z.object({
  id: Id,
  run: z.int().min(1),
  /** As typed, in the gauge's unit. */
  value: z.string().trim().min(1, 'A thickness is needed.').max(40),
});
export type NewStudyValue = z.infer<typeof NewStudyValue>;

const VariationView = z.object({
  ev: z.number(),
  av: z.number(),
  interaction: z.number(),
  grr: z.number(),
  pv: z.number(),
  tv: z.number(),
  percentOfTotal: z.number(),
  percentOfTolerance: z.number().nullable(),
  /** Null where nothing scatters. */
  ndc: z.number().nullable(),
});
export type VariationView = z.infer<typeof VariationView>;

export const StudyFigures = z.object({
  pooled: z.boolean(),
  anova: VariationView,
  averageAndRange: VariationView,
  table: z.array(
    z.object({
      source: z.string(),
      df: z.number(),
      ss: z.number(),
      ms: z.number().nullable(),
      f: z.number().nullable(),
      p: z.number().nullable(),
    }),
  ),
  /** One's own; the coordinator sees everybody's. */
  byTechnician: z.array(
    z.object({
      technician: z.string(),
      mean: z.number(),
      ev: z.number(),
      byPart: z.array(z.object({ part: z.string(), mean: z.number(), range: z.number() })),
    }),
  ),
  /** Its values are the coordinator's to see. */
  byPart: z.array(z.object({ part: z.string(), mean: z.number(), values: z.array(z.number()) })),
  verdict: z.object({
    fitness: z.enum(['fit', 'conditional', 'unfit']),
    mainly: z.enum(['repeatability', 'technicians']),
    safeReadingMm: z.number(),
    limitMm: z.number(),
  }),
});
export type StudyFigures = z.infer<typeof StudyFigures>;

export const StudySummary = z.object({
  id: Id,
  name: z.string(),
  gauge: z.string().nullable(),
  parts: z.int(),
  technicians: z.int(),
  repeats: z.int(),
  measured: z.int(),
  runs: z.int(),
  createdAt: IsoDate,
});
export type StudySummary = z.infer<typeof StudySummary>;

export const StudyDetail = StudySummary.extend({
  seed: z.int().nullable(),
  unit: z.string(),
  newMm: z.number().nullable(),
  limitMm: z.number(),
  referenced: z.boolean(),
  plan: z.array(
    z.object({
      run: z.int(),
      part: z.string(),
      technician: z.string(),
      trial: z.int(),
      measured: z.boolean(),
      /** What was measured, by oneself; the coordinator sees everybody's. */
      valueMm: z.number().nullable(),
      typed: z.string().nullable(),
    }),
  ),
  /** By whether the interaction is pooled by test, always or never; null while measurements are missing. */
  figures: z.object({ test: StudyFigures, pool: StudyFigures, keep: StudyFigures }).nullable(),
});
export type StudyDetail = z.infer<typeof StudyDetail>;
