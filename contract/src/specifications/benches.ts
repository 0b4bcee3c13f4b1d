import { z } from 'zod';
import { parseHead } from '@mile-mark/core';
import { Id, IsoDate, Name, SeenRevision } from '../common.ts';
import { Fitment } from './library.ts';
import { AxleValues, FigureChange, JointValues, maybe, Source, TorqueFigure, TorqueUnit } from './schemas.ts';

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
  revision: z.int(),
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

export const ToolChange = z.object({ depot: Name, retired: z.boolean(), revision: SeenRevision });
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

/** One vehicle's bench sheets and its depot's torque tools. */
export const BenchOfVehicle = z.object({
  at: z.string(),
  unit: z.string(),
  depot: z.string(),
  model: BenchModel,
  tools: z.array(TorqueTool),
});
export type BenchOfVehicle = z.infer<typeof BenchOfVehicle>;

/** The same for all vehicles of a depot, to be kept on a device. */
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
      /** Depots whose bench reaches it. */
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
