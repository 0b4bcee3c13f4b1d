import { z } from 'zod';
import { Id, IsoDate, Name, SeenRevision } from '../common.ts';
import { FigureChange, maybe, Source, SpecificationValues, text } from './schemas.ts';

/** What tells a variant of a model from its sisters; null where it does not matter or is not known. */
export const Fitment = z.object({
  drive: maybe(40),
  wheelbaseMm: z.int().min(1000).max(12_000).nullable().default(null),
  builtFrom: IsoDate.nullable().default(null),
  builtTo: IsoDate.nullable().default(null),
  axleOption: maybe(60),
});
export type Fitment = z.infer<typeof Fitment>;

const inOrder = ({ builtFrom, builtTo }: Fitment) => builtFrom === null || builtTo === null || builtFrom <= builtTo;
const IN_ORDER = { path: ['builtTo'], error: 'The last day of building is not before the first.' };

export const FitmentChange = Fitment.refine(inOrder, IN_ORDER);

/** A variant's fitment as it is to be, with the revision that was seen. */
export const FitmentEdit = Fitment.extend({ revision: SeenRevision }).refine(inOrder, IN_ORDER);

export const NewVariant = z.object({
  id: Id,
  name: Name,
  fitment: FitmentChange,
});

export const LibraryModel = z.object({
  id: Id,
  name: z.string(),
  class: z.string(),
  gvwrKg: z.number(),
  revision: z.int(),
  fitment: Fitment,
  vehicles: z.int(),
  axles: z.array(
    z.object({
      axle: z.int(),
      brake: z.enum(['hydraulic', 'air']),
      detail: z.string(),
      released: z.int(),
      lacking: z.int(),
      open: z.int(),
    }),
  ),
});
export type LibraryModel = z.infer<typeof LibraryModel>;

const MOST_LIBRARY_BYTES = 12 * 1024 * 1024;
export const LibraryImport = z.object({
  fileName: Name,
  format: z.enum(['csv', 'json']),
  text: z
    .string()
    .min(1, 'The file is empty; one with at least one specification is accepted.')
    .max(MOST_LIBRARY_BYTES, 'Up to 12 MB is accepted.'),
  /** Look only; nothing is taken. */
  dryRun: z.boolean().default(true),
  /** Lines whose odd figures somebody has confirmed. */
  confirmed: z.array(z.int()).default([]),
});
export type LibraryImport = z.infer<typeof LibraryImport>;

export const LibraryRow = z.object({
  line: z.int(),
  model: z.string(),
  axle: z.string(),
  joint: z.string(),
  outcome: z.enum(['new', 'changed', 'same', 'waiting', 'questioned', 'refused']),
  /** `from` is here, `to` is in the file. */
  differences: z.array(FigureChange),
  problems: z.array(z.object({ field: z.string(), message: z.string() })),
});
export type LibraryRow = z.infer<typeof LibraryRow>;

export const LibraryImported = z.object({ rows: z.array(LibraryRow), taken: z.int() });
export type LibraryImported = z.infer<typeof LibraryImported>;

/** One specification as the library's file holds it. */
export const LibraryEntry = z.object({
  model: Name,
  axle: z.int().min(1).max(6),
  /** Name of the joint; null for the axle as a whole. */
  joint: Name.nullable(),
  position: text(40).default(''),
  values: SpecificationValues,
  source: Source,
});
export type LibraryEntry = z.infer<typeof LibraryEntry>;

/** The library as JSON, to be read by another shop. */
export const LibraryFile = z.object({
  format: z.literal('mile-mark-specifications', { error: 'A file of format “mile-mark-specifications” is accepted.' }),
  version: z.literal(1, { error: 'Version 1 is accepted.' }),
  specifications: z.array(LibraryEntry).max(50_000, 'At most 50,000 specifications are accepted.'),
});
export type LibraryFile = z.infer<typeof LibraryFile>;

/** The published JSON Schema of library files. */
export function librarySchema(): unknown {
  return z.toJSONSchema(LibraryFile, { io: 'input' });
}
