import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import { PersonEntity } from '../people/index.ts';
import { DepotEntity, ModelEntity } from '../register/index.ts';

/** A kind of joint. */
export const JointKindEntity = defineEntity({
  name: 'JointKind',
  tableName: 'joint_kind',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    brake: p.text().nullable(),
    expected: p.boolean().default(false),
    hollow: p.boolean().default(false),
    place: p.integer().defaultRaw('nextval'),
  },
});
export type JointKindRow = InferEntity<typeof JointKindEntity>;

/** A joint of a model, or an axle of it, and which revision counts. */
export const SpecificationEntity = defineEntity({
  name: 'Specification',
  tableName: 'specification',
  properties: {
    id: p.uuid().primary(),
    modelId: () => p.manyToOne(ModelEntity).mapToPk().joinColumn('model_id'),
    axle: p.integer(),
    jointKindId: () => p.manyToOne(JointKindEntity).mapToPk().joinColumn('joint_kind_id').nullable(),
    position: p.text().default(''),
    openRevisionId: p.uuid().nullable(),
    releasedRevisionId: p.uuid().nullable(),
  },
});
export type SpecificationRow = InferEntity<typeof SpecificationEntity>;

/** Figures entered from a document. */
export const SpecificationRevisionEntity = defineEntity({
  name: 'SpecificationRevision',
  tableName: 'specification_revision',
  properties: {
    id: p.uuid().primary(),
    specificationId: () => p.manyToOne(SpecificationEntity).mapToPk().joinColumn('specification_id'),
    number: p.integer(),
    detail: p.json<unknown>(),
    document: p.text(),
    page: p.text(),
    revision: p.text(),
    dated: p.date(),
    confirmed: p.json<unknown>().default('[]'),
    demo: p.boolean().default(false),
    importedFrom: p.text().nullable(),
    enteredBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('entered_by'),
    enteredOn: p.date(),
    enteredAt: p.datetime().onCreate(() => new Date()),
  },
});
export type SpecificationRevisionRow = InferEntity<typeof SpecificationRevisionEntity>;

/** A blind comparison with what was entered. */
export const SpecificationAttemptEntity = defineEntity({
  name: 'SpecificationAttempt',
  tableName: 'specification_attempt',
  properties: {
    id: p.uuid().primary(),
    revisionId: () => p.manyToOne(SpecificationRevisionEntity).mapToPk().joinColumn('revision_id'),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
    typed: p.json<unknown>(),
    differing: p.json<unknown>(),
    answer: p.json<unknown>(),
  },
});
export type SpecificationAttemptRow = InferEntity<typeof SpecificationAttemptEntity>;

/** That a revision counts from a day on. */
export const SpecificationReleaseEntity = defineEntity({
  name: 'SpecificationRelease',
  tableName: 'specification_release',
  properties: {
    revisionId: p.uuid().primary(),
    attemptId: () => p.manyToOne(SpecificationAttemptEntity).mapToPk().joinColumn('attempt_id'),
    enteredBy: p.uuid(),
    releasedBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('released_by'),
    releasedOn: p.date(),
    releasedAt: p.datetime().onCreate(() => new Date()),
    detail: p.json<unknown>(),
    settled: p.json<unknown>().nullable(),
    replaces: () => p.manyToOne(SpecificationRevisionEntity).mapToPk().joinColumn('replaces').nullable(),
    changes: p.json<unknown>().default('[]'),
  },
});
export type SpecificationReleaseRow = InferEntity<typeof SpecificationReleaseEntity>;

/** That a revision was taken back. */
export const SpecificationWithdrawalEntity = defineEntity({
  name: 'SpecificationWithdrawal',
  tableName: 'specification_withdrawal',
  properties: {
    revisionId: p.uuid().primary(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    withdrawnOn: p.date(),
    at: p.datetime().onCreate(() => new Date()),
    reason: p.text(),
  },
});
export type SpecificationWithdrawalRow = InferEntity<typeof SpecificationWithdrawalEntity>;

/** What was decided about a job done on an older revision. */
export const SpecificationChangedAnswerEntity = defineEntity({
  name: 'SpecificationChangedAnswer',
  tableName: 'specification_changed_answer',
  properties: {
    revisionId: p.uuid().primary(),
    serviceId: p.uuid().primary(),
    answer: p.text(),
    note: p.text().nullable(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type SpecificationChangedAnswerRow = InferEntity<typeof SpecificationChangedAnswerEntity>;

/** A wrench, multiplier or adapter. */
export const TorqueToolEntity = defineEntity({
  name: 'TorqueTool',
  tableName: 'torque_tool',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    kind: p.text(),
    type: p.text().nullable(),
    depotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('depot_id'),
    unit: p.text(),
    least: p.decimal('number').nullable(),
    most: p.decimal('number'),
    graduation: p.decimal('number').nullable(),
    lengthMm: p.decimal('number').nullable(),
    extensionMm: p.decimal('number').nullable(),
    endSize: p.text().nullable(),
    ratio: p.decimal('number').nullable(),
    drive: p.text().nullable(),
    retired: p.boolean().default(false),
    revision: p.integer().default(1),
  },
});
export type TorqueToolRow = InferEntity<typeof TorqueToolEntity>;

/** A calibration of a torque tool. */
export const ToolCalibrationEntity = defineEntity({
  name: 'ToolCalibration',
  tableName: 'tool_calibration',
  properties: {
    id: p.uuid().primary(),
    toolId: () => p.manyToOne(TorqueToolEntity).mapToPk().joinColumn('tool_id'),
    doneOn: p.date().nullable(),
    due: p.date(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type ToolCalibrationRow = InferEntity<typeof ToolCalibrationEntity>;
