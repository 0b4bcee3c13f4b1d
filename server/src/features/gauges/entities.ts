import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import { PersonEntity } from '../people/index.ts';

/** A gauge. */
export const GaugeEntity = defineEntity({
  name: 'Gauge',
  tableName: 'gauge',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    kind: p.text(),
    resolutionUm: p.float(),
    unit: p.text(),
    calibrationDue: p.date().nullable(),
  },
});
export type GaugeRow = InferEntity<typeof GaugeEntity>;

/** A gauge study, planned or taken in. */
export const GaugeStudyEntity = defineEntity({
  name: 'GaugeStudy',
  tableName: 'gauge_study',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    gaugeId: () => p.manyToOne(GaugeEntity).mapToPk().joinColumn('gauge_id').nullable(),
    parts: p.json<string[]>(),
    technicians: p.json<{ id: string | null; name: string }[]>(),
    repeats: p.integer(),
    seed: p.integer().nullable(),
    referenced: p.boolean().default(false),
    newUm: p.integer().nullable(),
    limitUm: p.integer(),
    createdBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('created_by'),
    createdOn: p.date(),
    createdAt: p.datetime().onCreate(() => new Date()),
  },
});
export type GaugeStudyRow = InferEntity<typeof GaugeStudyEntity>;

/** One measurement of a study; the newest of a run counts. */
export const StudyValueEntity = defineEntity({
  name: 'StudyValue',
  tableName: 'study_value',
  properties: {
    id: p.uuid().primary(),
    studyId: () => p.manyToOne(GaugeStudyEntity).mapToPk().joinColumn('study_id'),
    part: p.text(),
    technician: p.text(),
    trial: p.integer(),
    valueUm: p.float(),
    typed: p.text(),
    enteredBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('entered_by'),
    enteredAt: p.datetime().onCreate(() => new Date()),
    serial: p.bigint('string').defaultRaw('nextval'),
  },
});
export type StudyValueRow = InferEntity<typeof StudyValueEntity>;

/** How a technician reads with a gauge, as the fleet taught it. */
export const AppraiserEntity = defineEntity({
  name: 'Appraiser',
  tableName: 'appraiser',
  properties: {
    technicianId: p.uuid().primary(),
    gaugeId: p.uuid().primary(),
    biasMm: p.float(),
    biasSdMm: p.float(),
    againstMm: p.float(),
    againstSdMm: p.float(),
    repeatabilityMm: p.float(),
    repeatabilityLogSd: p.float(),
    readings: p.integer(),
    computedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type AppraiserRow = InferEntity<typeof AppraiserEntity>;

/** The share of a bias that is the technician’s own, or the gauge’s. */
export const AppraiserShareEntity = defineEntity({
  name: 'AppraiserShare',
  tableName: 'appraiser_share',
  properties: {
    kind: p.text().primary(),
    subjectId: p.uuid().primary(),
    biasMm: p.float(),
    biasSdMm: p.float(),
  },
});
export type AppraiserShareRow = InferEntity<typeof AppraiserShareEntity>;

/** A bias by quarter. */
export const AppraiserDriftEntity = defineEntity({
  name: 'AppraiserDrift',
  tableName: 'appraiser_drift',
  properties: {
    technicianId: p.uuid().primary(),
    gaugeId: p.uuid().primary(),
    quarter: p.date().primary(),
    biasMm: p.float(),
    biasSdMm: p.float(),
    readings: p.integer(),
  },
});
export type AppraiserDriftRow = InferEntity<typeof AppraiserDriftEntity>;
