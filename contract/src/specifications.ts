import { parseHead } from '@mile-mark/core';
import { z } from 'zod';
import { Id, IsoDate, Name } from './common.ts';

const text = (most: number) => z.string().trim().max(most, `At most ${most} characters are accepted.`);
/** A text that may be unknown; a blank one is. */
const maybe = (most: number) =>
  text(most)
    .nullable()
    .default(null)
    .transform((value) => (value === '' ? null : value));

export const TorqueUnit = z.enum(['N·m', 'lbf·ft', 'lbf·in'], {
  error: 'N·m, lbf·ft or lbf·in is accepted; a torque without its unit is not.',
});
export type TorqueUnit = z.infer<typeof TorqueUnit>;

const TorqueFigure = z
  .number({ error: 'A torque such as 155 is accepted.' })
  .gt(0, 'More than 0 is accepted.')
  .max(20_000, 'At most 20,000 is accepted.');

/** What a document states of a joint's torque; null where it says nothing. */
export const JointTorque = z.object({
  unit: TorqueUnit,
  least: TorqueFigure.nullable().default(null),
  nominal: TorqueFigure.nullable().default(null),
  most: TorqueFigure.nullable().default(null),
  passes: z.array(TorqueFigure).max(4, 'At most 4 earlier passes are accepted.').default([]),
  angleDeg: z
    .number({ error: 'An angle such as 90 is accepted.' })
    .gt(0, 'More than 0° is accepted.')
    .max(720, 'At most 720° is accepted.')
    .nullable()
    .default(null),
  statedToo: z.object({ unit: TorqueUnit, value: TorqueFigure }).nullable().default(null),
});
export type JointTorque = z.infer<typeof JointTorque>;

export const Strength = z.enum(['8.8', '10.9', '12.9', 'grade 5', 'grade 8']);
export const HeadKind = z.enum(['hex', 'hex key', 'six-lobe', 'six-lobe outside']);
export type HeadKind = z.infer<typeof HeadKind>;

const Fastener = z.object({
  thread: maybe(20),
  strength: Strength.nullable().default(null),
  headKind: HeadKind.nullable().default(null),
  headSize: maybe(20),
  /** A wheel end. */
  count: z.int().min(1, 'At least 1 is accepted.').max(40, 'At most 40 are accepted.').nullable().default(null),
  /** What holds the other side, e.g. `17 mm`. */
  counterHold: maybe(20),
});

export const Preparation = z.enum([
  'clean and dry',
  'light thread locker',
  'medium thread locker',
  'strong thread locker',
  'oiled',
  'rubber-safe grease',
  'as supplied',
]);
export const Pattern = z.enum(['any order', 'star', 'crosswise', 'upper first', 'as the document draws it']);

/** What is known of one joint; null is unknown, never a class average. */
export const JointValues = z.object({
  about: z.literal('joint'),
  /** The document says that this axle has no such joint. */
  absent: z.boolean().default(false),
  fastener: Fastener.prefault({}),
  torque: JointTorque.nullable().default(null),
  preparation: Preparation.nullable().default(null),
  oneTimeUse: z.boolean().nullable().default(null),
  pattern: Pattern.nullable().default(null),
  recheckMiles: z
    .number()
    .gt(0, 'More than 0 miles is accepted.')
    .max(10_000, 'At most 10,000 miles is accepted.')
    .nullable()
    .default(null),
  note: maybe(400),
});
export type JointValues = z.infer<typeof JointValues>;

const limit = (least: number, most: number) =>
  z
    .number({ error: `A figure between ${least} and ${most} mm is accepted.` })
    .min(least, `At least ${least} mm is accepted.`)
    .max(most, `At most ${most} mm is accepted.`)
    .nullable()
    .default(null);

/** What is known of an axle as a whole: limits, fluid, bed-in, parking brake. */
export const AxleValues = z.object({
  about: z.literal('axle'),
  padMinMm: limit(0, 30),
  rotorDiscardMm: limit(3, 90),
  rotorMachineToMm: limit(3, 90),
  runoutMm: limit(0.005, 1),
  thicknessVariationMm: limit(0.001, 1),
  fluidGrade: maybe(60),
  bedIn: maybe(600),
  parkingBrake: maybe(600),
  note: maybe(400),
});
export type AxleValues = z.infer<typeof AxleValues>;

export const SpecificationValues = z.discriminatedUnion('about', [JointValues, AxleValues]);
export type SpecificationValues = z.infer<typeof SpecificationValues>;

/** Where a specification comes from. */
export const Source = z.object({
  document: Name,
  page: Name.max(40, 'At most 40 characters are accepted.'),
  revision: Name.max(40, 'At most 40 characters are accepted.'),
  date: IsoDate,
});
export type Source = z.infer<typeof Source>;

/** Something to say yes to before an odd figure is taken: that the document really states it. */
export const Confirmed = z.enum(['head_unusual', 'torque_unusual']);
export type Confirmed = z.infer<typeof Confirmed>;

export const NewRevision = z.object({
  /** Of the revision. */
  id: Id,
  modelId: Id,
  axle: z.int().min(1).max(6),
  /** Null for the axle as a whole. */
  jointKindId: Id.nullable(),
  /** Where an axle has several of a kind: `upper`, `lower`; blank else. */
  position: text(40).default(''),
  values: SpecificationValues,
  source: Source,
  confirmed: z.array(Confirmed).default([]),
});
export type NewRevision = z.infer<typeof NewRevision>;

export const JointKindRow = z.object({
  id: Id,
  name: z.string(),
  brake: z.enum(['hydraulic', 'air']).nullable(),
  expected: z.boolean(),
  hollow: z.boolean(),
});
export type JointKindRow = z.infer<typeof JointKindRow>;

export const NewJointKind = z.object({
  id: Id,
  name: Name.max(60, 'At most 60 characters are accepted.'),
  brake: z.enum(['hydraulic', 'air']).nullable().default(null),
  expected: z.boolean().default(false),
  hollow: z.boolean().default(false),
});

/** One change of a figure between revisions, in words. */
export const FigureChange = z.object({ field: z.string(), from: z.string(), to: z.string() });
export type FigureChange = z.infer<typeof FigureChange>;

const Attempt = z.object({
  by: z.string(),
  at: z.string(),
  /** Fields that differed; what was entered is null for whoever may still have to type it blind. */
  differing: z.array(z.object({ field: z.string(), entered: z.string().nullable(), typed: z.string() })),
});

/** One revision of a specification, as it may be seen by whoever asks. */
export const Revision = z.object({
  id: Id,
  number: z.int(),
  state: z.enum(['open', 'released', 'replaced', 'withdrawn']),
  /** What counts once released; what was entered before. */
  values: SpecificationValues,
  /** The figures are left out of `values`: whoever asks may have to type them blind. */
  blind: z.boolean(),
  source: Source,
  demo: z.boolean(),
  importedFrom: z.string().nullable(),
  enteredBy: z.string(),
  enteredOn: z.string(),
  mine: z.boolean(),
  releasedBy: z.string().nullable(),
  releasedOn: z.string().nullable(),
  settled: z.string().nullable(),
  withdrawn: z.object({ by: z.string(), on: z.string(), reason: z.string() }).nullable(),
  attempts: z.array(Attempt),
});
export type Revision = z.infer<typeof Revision>;

/** One specification of a model's axle, with the revision that counts and the one that waits. */
export const Specification = z.object({
  id: Id,
  modelId: Id,
  model: z.string(),
  axle: z.int(),
  /** Null for the axle as a whole. */
  joint: JointKindRow.nullable(),
  position: z.string(),
  released: Revision.nullable(),
  open: Revision.nullable(),
  revisions: z.int(),
});
export type Specification = z.infer<typeof Specification>;

/** What whoever releases typed from the document without seeing what was entered. */
export const ReleaseAttempt = z.object({
  id: Id,
  typed: z.discriminatedUnion('about', [
    z.object({ about: z.literal('joint'), torque: JointTorque.nullable() }),
    AxleValues.pick({
      about: true,
      padMinMm: true,
      rotorDiscardMm: true,
      rotorMachineToMm: true,
      runoutMm: true,
      thicknessVariationMm: true,
    }),
  ]),
  /** Where a stated pair contradicts itself: which figure holds, and how that is known. */
  settled: z
    .object({
      holds: z.enum(['first', 'statedToo']),
      why: text(300).min(3, 'How it is known must be said, in a few words.'),
    })
    .optional(),
});
export type ReleaseAttempt = z.infer<typeof ReleaseAttempt>;

export const ReleaseAnswer = z.object({
  released: z.boolean(),
  /** Fields that were typed differently; the other figure is not told, so that the next try is blind too. */
  differing: z.array(z.string()),
  /** A stated pair that must be settled first. */
  conflict: z.object({ first: z.string(), statedToo: z.string(), percent: z.number() }).nullable(),
});
export type ReleaseAnswer = z.infer<typeof ReleaseAnswer>;

export const Withdrawal = z.object({ reason: text(300).min(3, 'A reason of a few words is needed.') });

/** What tells a variant of a model from its sisters; null where it does not matter or is not known. */
export const Fitment = z.object({
  drive: maybe(40),
  wheelbaseMm: z.int().min(1000).max(12_000).nullable().default(null),
  builtFrom: IsoDate.nullable().default(null),
  builtTo: IsoDate.nullable().default(null),
  axleOption: maybe(60),
});
export type Fitment = z.infer<typeof Fitment>;

export const FitmentChange = Fitment.refine(
  ({ builtFrom, builtTo }) => builtFrom === null || builtTo === null || builtFrom <= builtTo,
  { path: ['builtTo'], error: 'The last day of building is not before the first.' },
);

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

/** A torque tool: a wrench, an adapter in line, or a multiplier. Figures in `unit`; what does not apply is null. */
export const TorqueTool = z.object({
  id: Id,
  name: z.string(),
  kind: z.enum(['wrench', 'adapter', 'multiplier']),
  type: z.enum(['setting', 'indicating']).nullable(),
  depot: z.string(),
  unit: TorqueUnit,
  least: z.number().nullable(),
  most: z.number(),
  graduation: z.number().nullable(),
  lengthMm: z.number().nullable(),
  extensionMm: z.number().nullable(),
  /** Of an adapter with an end of its own: the hexagon it fits; null where it takes any socket. */
  endSize: z.string().nullable(),
  ratio: z.number().nullable(),
  drive: z.string().nullable(),
  calibrationDue: z.string().nullable(),
  retired: z.boolean(),
});
export type TorqueTool = z.infer<typeof TorqueTool>;

const toolCommon = {
  id: Id,
  name: Name.max(60, 'At most 60 characters are accepted.'),
  depot: Name,
  unit: TorqueUnit,
  most: TorqueFigure,
  drive: maybe(20),
};
export const NewTorqueTool = z.discriminatedUnion('kind', [
  z
    .object({
      ...toolCommon,
      kind: z.literal('wrench'),
      type: z.enum(['setting', 'indicating']).default('setting'),
      least: TorqueFigure,
      graduation: TorqueFigure,
      lengthMm: z
        .number()
        .min(100, 'At least 100 mm is accepted.')
        .max(2500, 'At most 2,500 mm is accepted.')
        .nullable()
        .default(null),
      calibrationDue: IsoDate.nullable().default(null),
    })
    .refine(({ least, most }) => least < most, {
      path: ['least'],
      error: 'Where the range begins must be below where it ends.',
    })
    .refine(({ graduation, most }) => graduation <= most / 10, {
      path: ['graduation'],
      error: 'The graduation must be a small part of the range: at most a tenth of where it ends.',
    }),
  z.object({
    ...toolCommon,
    kind: z.literal('adapter'),
    extensionMm: z.number().min(5, 'At least 5 mm is accepted.').max(500, 'At most 500 mm is accepted.'),
    endSize: maybe(20).refine((size) => size === null || parseHead('hex', size) !== undefined, {
      error: 'A width across flats such as 21 mm is accepted, or nothing where it takes any socket.',
    }),
  }),
  z.object({
    ...toolCommon,
    kind: z.literal('multiplier'),
    ratio: z.number().gt(1, 'More than 1 is accepted.').max(125, 'At most 125 is accepted.'),
    calibrationDue: IsoDate.nullable().default(null),
  }),
]);
export type NewTorqueTool = z.infer<typeof NewTorqueTool>;

export const ToolChange = z.object({ depot: Name, retired: z.boolean() });
export const NewCalibration = z
  .object({ id: Id, doneOn: IsoDate, due: IsoDate })
  .refine(({ doneOn, due }) => due > doneOn, {
    path: ['due'],
    error: 'The next calibration is due after this one was done.',
  });

/** One joint on a bench sheet. Only released ones come here. */
export const BenchJoint = z.object({
  joint: z.string(),
  position: z.string(),
  values: JointValues,
  source: Source,
  number: z.int(),
  releasedOn: z.string(),
  demo: z.boolean(),
});
export type BenchJoint = z.infer<typeof BenchJoint>;

export const BenchAxle = z.object({
  axle: z.int(),
  brake: z.enum(['hydraulic', 'air']),
  detail: z.string(),
  joints: z.array(BenchJoint),
  /** Joints that every such axle has and nobody has released a specification for. */
  unknown: z.array(z.string()),
  sheet: z
    .object({ values: AxleValues, source: Source, number: z.int(), releasedOn: z.string(), demo: z.boolean() })
    .nullable(),
});
export type BenchAxle = z.infer<typeof BenchAxle>;

export const BenchModel = z.object({ id: Id, name: z.string(), fitment: Fitment, axles: z.array(BenchAxle) });
export type BenchModel = z.infer<typeof BenchModel>;

/** One vehicle's bench sheets and its yard's torque tools. */
export const BenchOfVehicle = z.object({
  at: z.string(),
  unit: z.string(),
  depot: z.string(),
  model: BenchModel,
  tools: z.array(TorqueTool),
});
export type BenchOfVehicle = z.infer<typeof BenchOfVehicle>;

/** The same for all vehicles of a yard, to be kept on a device. */
export const BenchOfDepot = z.object({
  at: z.string(),
  depot: z.string(),
  vehicles: z.array(
    z.object({
      unit: z.string(),
      modelId: Id,
      /** The axle whose mile mark comes first; null where there is none yet. */
      next: z.object({ axle: z.int(), markDate: z.string() }).nullable(),
    }),
  ),
  models: z.array(BenchModel),
  tools: z.array(TorqueTool),
});
export type BenchOfDepot = z.infer<typeof BenchOfDepot>;

const Nearest = z.object({ unit: z.string(), markDate: z.string() });

/** What the library lacks and what the benches can't reach, nearest mile mark first. */
export const Coverage = z.object({
  lacking: z.array(
    z.object({
      modelId: Id,
      model: z.string(),
      axle: z.int(),
      jointKindId: Id.nullable(),
      joint: z.string(),
      vehicles: z.int(),
      nearest: Nearest.nullable(),
      waiting: z.boolean(),
    }),
  ),
  unreachable: z.array(
    z.object({
      depot: z.string(),
      model: z.string(),
      axles: z.array(z.int()),
      joint: z.string(),
      torque: z.string(),
      overdue: z.object({ tool: z.string(), due: z.string().nullable() }).nullable(),
      need: z.string(),
      /** Yards whose bench reaches it. */
      elsewhere: z.array(z.string()),
      vehicles: z.int(),
      /** The nearest of them. */
      jobs: z.array(Nearest),
    }),
  ),
});
export type Coverage = z.infer<typeof Coverage>;

/** A job that was done on a specification which has changed since. */
export const ChangedSince = z.object({
  revisionId: Id,
  serviceId: Id,
  unit: z.string(),
  axle: z.int(),
  joint: z.string(),
  model: z.string(),
  fittedOn: z.string(),
  changedOn: z.string(),
  changes: z.array(FigureChange),
  doneAgainOn: z.string().nullable(),
});
export type ChangedSince = z.infer<typeof ChangedSince>;

export const ChangedAnswer = z.object({
  revisionId: Id,
  serviceId: Id,
  answer: z.enum(['checked', 'redone', 'not_needed']),
  note: maybe(300),
});
export type ChangedAnswer = z.infer<typeof ChangedAnswer>;

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
