import { z } from 'zod';
import { DistanceUnit, Id, Pad, Side, ThicknessUnit } from '../common.ts';

export const ImportKind = z.enum(['models', 'duties', 'vehicles', 'services', 'readings', 'parts', 'stock', 'orders']);
export type ImportKind = z.infer<typeof ImportKind>;

/** A file over this is refused before it is read. */
export const MOST_IMPORT_BYTES = 30 * 1024 * 1024;

/** An axle by number from the front, or the rear one of a vehicle that has two. */
export const NamedAxle = z.union([z.int().min(1).max(6), z.literal('rear')]);
export type NamedAxle = z.infer<typeof NamedAxle>;

/** What a sheet's name of a place stands for; `pad` where the name tells the pad as well. */
export const WheelName = z.object({ axle: NamedAxle, side: Side, pad: Pad.nullable().optional() });

/** How a file is read: found by looking at it, changed by a person where wrong, remembered per technician. */
export const Understanding = z.object({
  kind: ImportKind,
  encoding: z.enum(['utf-8', 'windows-1252', 'utf-16le', 'utf-16be']),
  /** Which sheet of a workbook; null in a text file. */
  sheet: z.string().nullable(),
  /** The line of the file at which its header begins; 0 where it has none. */
  headerLine: z.int().min(0),
  /** Over how many lines the header goes. */
  headerLines: z.int().min(1).max(2),
  delimiter: z.enum([',', ';', '\t', '|']),
  /** Null where no figure tells it: one that depends on it is then refused. */
  decimalMark: z.enum(['.', ',']).nullable(),
  dateOrder: z.enum(['YMD', 'DMY', 'MDY']),
  distanceUnit: DistanceUnit,
  thicknessUnit: ThicknessUnit,
  /** Unit of a models file's figures where their headers tell none. */
  lengthUnit: z.enum(['mm', 'in']),
  massUnit: z.enum(['kg', 'lb']),
  /** Which pad a figure is of where neither its column nor its row tells. */
  pad: Pad.nullable(),
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
  /** The people that the sheet's own names stand for. */
  personNames: z.record(z.string(), Id),
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
    z.object({
      column: z.int().nullable(),
      /** Other columns that it is about as well. */
      alsoColumns: z.array(z.int()),
      outcome: Outcome,
      message: z.string(),
      suggestion: z.string().nullable(),
    }),
  ),
  /** Cells whose figure seems to include the backing plate, and each without it. */
  withoutPlate: z.array(z.object({ column: z.int(), cell: z.string() })),
  /** Things understood otherwise than typed, in words ("v11 read as V11"). */
  notes: z.array(z.string()),
  /** What each cell was understood as, in words with units; null where it was not used or could not be read. */
  understood: z.array(z.string().nullable()),
});
export type ImportRow = z.infer<typeof ImportRow>;

/** What the file does not tell and a person must say before it can be taken in. */
export const ImportNeed = z.object({
  kind: z.enum([
    'technician',
    'person',
    'gauge',
    'column',
    'wheel',
    'dateOrder',
    'distanceUnit',
    'thicknessUnit',
    'lengthUnit',
    'massUnit',
    'pad',
  ]),
  /** The sheet's own name of a gauge, a person or a wheel, or the field no column fills. */
  name: z.string().nullable(),
  message: z.string(),
  /** The answers there are, where they are few, and what each would make of a row of the file. */
  options: z.array(z.object({ value: z.string(), label: z.string(), example: z.string().nullable() })),
});

const Counts = z.object({ accepted: z.int(), questioned: z.int(), refused: z.int(), already: z.int() });

export type ImportNeed = z.infer<typeof ImportNeed>;
export const ImportPreview = z.object({
  understanding: Understanding,
  /** Fields a column may fill, for this kind of file. */
  fields: z.array(z.object({ field: z.string(), label: z.string(), needed: z.boolean() })),
  needs: z.array(ImportNeed),
  notes: z.array(z.string()),
  /** Why units, orders and names were understood so, in words, where the header does not say it. */
  evidence: z.array(z.string()),
  /** Lines that are no rows of the record (titles, totals, headers again), and why each was left out. */
  leftOut: z.array(z.object({ line: z.int(), text: z.string(), why: z.string() })),
  /** The sheets of a workbook. */
  sheets: z.array(z.string()),
  remembered: z.boolean(),
  header: z.array(z.string()),
  rows: z.array(ImportRow),
  /** How many figures seem to include the backing plate, at each wheel and in how many rows of the file. */
  plates: z.object({ rows: z.int(), wheels: z.array(z.object({ wheel: z.string(), figures: z.int() })) }),
  counts: Counts,
  /** Single records (readings, periods, …) that would go in. */
  records: z.int(),
});
export type ImportPreview = z.infer<typeof ImportPreview>;

/** A file that was dropped and waits to be taken in: kept, with what was said about it, until then. */
export const ImportDraft = z.object({
  id: Id,
  fileName: z.string(),
  kind: ImportKind,
  /** Who dropped it. */
  by: z.string(),
  at: z.string(),
});
export const ImportDrafts = z.object({ items: z.array(ImportDraft) });
export type ImportDraft = z.infer<typeof ImportDraft>;
export const DraftDropped = z.object({ id: Id, fileName: z.string().min(1).max(255) });

/** A look at such a file: as any preview, with the first rows only. */
export const DraftPreview = ImportPreview.extend({
  fileName: z.string(),
  revision: z.int(),
  /** Of which look the rows are; asked for with the rows that follow. */
  look: z.string(),
  /** Of how many vehicles the figures are held against the record so far; null when all are: no doubt follows. */
  judging: z.object({ done: z.int(), of: z.int() }).nullable(),
  /** Lines that a person mended. */
  mended: z.array(z.int()),
});
export type DraftPreview = z.infer<typeof DraftPreview>;

export const RowsShown = z.union([Outcome, z.literal('all')]);
export type RowsShown = z.infer<typeof RowsShown>;
export const DraftRowsQuery = z.object({ look: z.string(), shown: RowsShown, from: z.coerce.number().int().min(0) });
/** A page of rows, those that need a look first; `next`: where the following page begins, null after the last. */
export const DraftRows = z.object({ rows: z.array(ImportRow), next: z.int().nullable() });
export type DraftRows = z.infer<typeof DraftRows>;

/** What is said of a file: each part is added to what was said before. */
export const DraftAnswers = z.object({
  /** The revision seen: somebody else may have answered meanwhile. */
  revision: z.int(),
  understanding: Understanding.partial().optional(),
  edits: z.record(z.string(), z.array(z.string())).optional(),
  choices: z.record(z.string(), RowChoice).optional(),
  /** Figures of the look that seem to include the backing plate are meant without it: those of a wheel, or all. */
  withoutPlate: z.object({ look: z.string(), wheel: z.string().nullable() }).optional(),
});
export const DraftRevision = z.object({ revision: z.int() });
/** A file taken in as it was seen; the import gets the id. */
export const DraftTaken = z.object({ id: Id, revision: z.int() });

/** How far the work on a file is; null where none is going on. */
export const DraftProgress = z
  .object({ step: z.enum(['reading', 'judging', 'writing']), done: z.int(), of: z.int() })
  .nullable();
export type DraftProgress = z.infer<typeof DraftProgress>;
export const DraftStopped = z.object({ stopped: z.boolean() });

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

export const ImportSummary = ImportResult.extend({
  at: z.string(),
  by: z.string(),
  technician: z.string().nullable(),
  /** Who took it back, when and why; null while it stands. */
  withdrawn: z.object({ at: z.string(), by: z.string(), reason: z.string() }).nullable(),
});
export const ImportSummaries = z.object({ items: z.array(ImportSummary) });
export type ImportSummary = z.infer<typeof ImportSummary>;

export const ImportDetail = ImportSummary.extend({ header: z.array(z.string()), rows: z.array(ImportRow) });
export type ImportDetail = z.infer<typeof ImportDetail>;

export const RowMended = z.object({ action: z.enum(['take', 'dismiss']), cells: z.array(z.string()).optional() });
export const RowResult = z.object({ row: ImportRow, done: z.boolean() });

/** An import taken back whole: what it put in no longer counts, and stays to be seen. */
export const ImportWithdrawal = z.object({
  id: Id,
  reason: z.string().trim().min(3, 'A reason of at least 3 characters is needed.').max(500),
});
export const ImportWithdrawn = z.object({ id: Id, records: z.int(), vehicles: z.int() });
