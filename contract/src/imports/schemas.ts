import { z } from 'zod';
import { DistanceUnit, Id, Side, ThicknessUnit } from '../common.ts';

export const ImportKind = z.enum(['models', 'duties', 'vehicles', 'services', 'readings', 'parts', 'stock', 'orders']);
export type ImportKind = z.infer<typeof ImportKind>;

/** A file over this is refused before it is read. */
export const MOST_IMPORT_BYTES = 10 * 1024 * 1024;

export const WheelName = z.object({ axle: z.int().min(1).max(6), side: Side });

/** How a file is read: found by looking at it, changed by a person where wrong, remembered per technician. */
export const Understanding = z.object({
  kind: ImportKind,
  encoding: z.enum(['utf-8', 'windows-1252']),
  delimiter: z.enum([',', ';', '\t', '|']),
  decimalMark: z.enum(['.', ',']),
  dateOrder: z.enum(['YMD', 'DMY', 'MDY']),
  distanceUnit: DistanceUnit,
  thicknessUnit: ThicknessUnit,
  /** For each column of the file, the field it fills, or `ignore`. */
  columns: z.array(z.object({ header: z.string(), field: z.string() })),
  /** What the sheet's wheel names stand for. */
  wheelNames: z.record(z.string(), WheelName),
  /** Who measured, where the sheet does not say. */
  technicianId: Id.nullable(),
  /** With which gauge, where the sheet does not say. */
  gaugeId: Id.nullable(),
  /** The gauges that the sheet's own gauge names stand for. */
  gaugeNames: z.record(z.string(), Id),
});
export type Understanding = z.infer<typeof Understanding>;

export const RowChoice = z.enum(['take', 'leave']);
export type RowChoice = z.infer<typeof RowChoice>;

export const ImportRequest = z.object({
  id: Id.optional(),
  dryRun: z.boolean().default(false),
  fileName: z.string().min(1).max(255),
  /** The file's bytes in base64; or `text`. */
  contentBase64: z.string().optional(),
  text: z.string().optional(),
  understanding: Understanding.partial().optional(),
  /** Cells of rows as mended by a person, by line number. */
  edits: z.record(z.string(), z.array(z.string())).optional(),
  /** What to do with questioned rows, by line number. */
  choices: z.record(z.string(), RowChoice).optional(),
});
export type ImportRequest = z.input<typeof ImportRequest>;

export const Outcome = z.enum(['accepted', 'questioned', 'refused', 'already']);
export type Outcome = z.infer<typeof Outcome>;

export const ImportRow = z.object({
  line: z.int(),
  cells: z.array(z.string()),
  outcome: Outcome,
  /** Whether the row (its parts that are not refused) goes in if the import is committed as it stands. */
  taken: z.boolean(),
  /** Whether the row may go in as it is typed; where not, it must be mended or left. */
  takeable: z.boolean(),
  /** Each reason in words, with the column it is about where there is one, and what would mend it. */
  reasons: z.array(
    z.object({ column: z.int().nullable(), outcome: Outcome, message: z.string(), suggestion: z.string().nullable() }),
  ),
  /** Things understood otherwise than typed, in words ("v11 read as V11"). */
  notes: z.array(z.string()),
});
export type ImportRow = z.infer<typeof ImportRow>;

export const ImportNeed = z.object({
  kind: z.enum(['technician', 'gauge', 'column']),
  /** The sheet's own name of a gauge, or the field no column fills. */
  name: z.string().nullable(),
  message: z.string(),
});

const Counts = z.object({ accepted: z.int(), questioned: z.int(), refused: z.int(), already: z.int() });

export const ImportPreview = z.object({
  understanding: Understanding,
  /** Fields a column may fill, for this kind of file. */
  fields: z.array(z.object({ field: z.string(), label: z.string(), needed: z.boolean() })),
  needs: z.array(ImportNeed),
  notes: z.array(z.string()),
  remembered: z.boolean(),
  header: z.array(z.string()),
  rows: z.array(ImportRow),
  counts: Counts,
  /** Single records (readings, periods, …) that would go in. */
  records: z.int(),
});
export type ImportPreview = z.infer<typeof ImportPreview>;

export const ImportResult = z.object({
  id: Id,
  kind: ImportKind,
  fileName: z.string(),
  counts: Counts,
  records: z.int(),
  /** Rows not taken, kept with the import until mended or dismissed. */
  open: z.int(),
});
export type ImportResult = z.infer<typeof ImportResult>;

export const ImportSummary = ImportResult.extend({ at: z.string(), by: z.string(), technician: z.string().nullable() });
export const ImportSummaries = z.object({ items: z.array(ImportSummary) });
export type ImportSummary = z.infer<typeof ImportSummary>;

export const ImportDetail = ImportSummary.extend({ header: z.array(z.string()), rows: z.array(ImportRow) });
export type ImportDetail = z.infer<typeof ImportDetail>;

export const RowMended = z.object({ action: z.enum(['take', 'dismiss']), cells: z.array(z.string()).optional() });
export const RowResult = z.object({ row: ImportRow, done: z.boolean() });
