import { z } from 'zod';
import { Id, IsoDate, Name } from '../common.ts';

export const text = (most: number) => z.string().trim().max(most, `At most ${most} characters are accepted.`);
/** A text that may be unknown; a blank one is. */
export const maybe = (most: number) =>
  text(most)
    .nullable()
    .default(null)
    .transform((value) => (value === '' ? null : value));

export const TorqueUnit = z.enum(['N·m', 'lbf·ft', 'lbf·in'], {
  error: 'N·m, lbf·ft or lbf·in is accepted; a torque without its unit is not.',
});
export type TorqueUnit = z.infer<typeof TorqueUnit>;

export const TorqueFigure = z
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
