import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import { PersonEntity } from '../people/index.ts';
import { VehicleEntity } from '../register/index.ts';

/** Level of wear of one model’s axle, as the fleet taught it. */
export const WearGroupEntity = defineEntity({
  name: 'WearGroup',
  tableName: 'wear_group',
  properties: {
    modelId: p.uuid().primary(),
    axle: p.integer().primary(),
    mean: p.float(),
    sdVehicle: p.float(),
    sdAxle: p.float(),
    sdPad: p.float(),
    vehicles: p.integer(),
    computedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type WearGroupRow = InferEntity<typeof WearGroupEntity>;

/** How a level behaves in a class of vehicle, as the fleet taught it: of measured duty, of stated duty, of miles a day. */
export const DutyProcessEntity = defineEntity({
  name: 'DutyProcess',
  tableName: 'duty_process',
  properties: {
    class: p.text().primary(),
    what: p.text().$type<'measured duty' | 'stated duty' | 'miles a day'>().primary(),
    blockSd: p.float(),
    hazard: p.float(),
    routeMean: p.float(),
    routeSd: p.float(),
    vehicles: p.integer(),
    computedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type DutyProcessRow = InferEntity<typeof DutyProcessEntity>;

/** How wear scatters in a class of vehicle, as the fleet taught it. */
export const WearProcessEntity = defineEntity({
  name: 'WearProcess',
  tableName: 'wear_process',
  properties: {
    class: p.text().primary(),
    perPeriod: p.float(),
    perPad: p.float(),
    sdPad: p.float(),
    blockShare: p.float(),
    vehicles: p.integer(),
    /** Fingerprint of the readings it was learnt from: while they are the same, so is what they teach. */
    learntFrom: p.text(),
    computedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type WearProcessRow = InferEntity<typeof WearProcessEntity>;

/** What came of past forecasts of a class, near and far ahead. */
export const CalibrationEntity = defineEntity({
  name: 'Calibration',
  tableName: 'calibration',
  properties: {
    class: p.text().primary(),
    distance: p.text().primary(),
    looks: p.integer(),
    axles: p.integer(),
    within80: p.float(),
    within90: p.float(),
    spread: p.float(),
    factor: p.float(),
    computedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type CalibrationRow = InferEntity<typeof CalibrationEntity>;

/** The newest forecast of an axle. */
export const ForecastEntity = defineEntity({
  name: 'Forecast',
  tableName: 'forecast',
  properties: {
    vehicleId: p.uuid().primary(),
    axle: p.integer().primary(),
    inputRev: p.integer(),
    inputHash: p.text(),
    modelVersion: p.text(),
    seed: p.integer(),
    today: p.date(),
    computedAt: p.datetime().onCreate(() => new Date()),
    mark: p.json<unknown>(),
    detail: p.json<unknown>(),
    pads: p.json<unknown>().default('[]'),
  },
});
export type ForecastRow = InferEntity<typeof ForecastEntity>;

/** The newest forecast of a vehicle. */
export const VehicleForecastEntity = defineEntity({
  name: 'VehicleForecast',
  tableName: 'vehicle_forecast',
  properties: {
    vehicleId: p.uuid().primary(),
    inputRev: p.integer(),
    today: p.date(),
    computedAt: p.datetime().onCreate(() => new Date()),
    detail: p.json<unknown>(),
    judged: p.json<unknown>().nullable(),
    judgedRev: p.integer().nullable(),
  },
});
export type VehicleForecastRow = InferEntity<typeof VehicleForecastEntity>;

/** A vehicle whose forecast could not be made, and why. */
export const ForecastFailureEntity = defineEntity({
  name: 'ForecastFailure',
  tableName: 'forecast_failure',
  properties: {
    vehicleId: () => p.oneToOne(VehicleEntity).primary().mapToPk().joinColumn('vehicle_id'),
    inputRev: p.integer(),
    modelVersion: p.text(),
    today: p.date(),
    message: p.text(),
    failedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type ForecastFailureRow = InferEntity<typeof ForecastFailureEntity>;

/** A reading that does not fit what is known. */
export const ReadingDoubtEntity = defineEntity({
  name: 'ReadingDoubt',
  tableName: 'reading_doubt',
  properties: {
    readingId: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    suspicion: p.json<unknown>(),
  },
});
export type ReadingDoubtRow = InferEntity<typeof ReadingDoubtEntity>;

/** How past forecasts came out; one row. */
export const ValidationEntity = defineEntity({
  name: 'Validation',
  tableName: 'validation',
  properties: {
    onlyOne: p.boolean().primary().default(true),
    detail: p.json<unknown>(),
    computedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type ValidationRow = InferEntity<typeof ValidationEntity>;

/** A change of wear that readings showed. */
export const WearChangeEntity = defineEntity({
  name: 'WearChange',
  tableName: 'wear_change',
  properties: {
    id: p
      .uuid()
      .primary()
      .onCreate(() => crypto.randomUUID()),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    kind: p.text(),
    axle: p.integer().nullable(),
    side: p.text().nullable(),
    more: p.text().nullable(),
    since: p.date(),
    until: p.date().nullable(),
    probability: p.float(),
    detail: p.json<unknown>(),
    firstTold: p.date(),
    lastTold: p.date(),
    goneOn: p.date().nullable(),
  },
});
export type WearChangeRow = InferEntity<typeof WearChangeEntity>;

/** What was decided about a change of wear. */
export const WearChangeAnswerEntity = defineEntity({
  name: 'WearChangeAnswer',
  tableName: 'wear_change_answer',
  properties: {
    id: p.uuid().primary(),
    changeId: () => p.manyToOne(WearChangeEntity).mapToPk().joinColumn('change_id'),
    answer: p.text(),
    note: p.text().nullable(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type WearChangeAnswerRow = InferEntity<typeof WearChangeAnswerEntity>;

/** What the fleet had taught by a day. */
export const ContextHistoryEntity = defineEntity({
  name: 'GroundHistory',
  tableName: 'ground_history',
  properties: {
    asOf: p.date().primary(),
    detail: p.json<unknown>(),
    afterwards: p.boolean().default(false),
    computedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type ContextHistoryRow = InferEntity<typeof ContextHistoryEntity>;

/** What a vehicle answered to a question of the fleet's learning, and the word of all that the answer hangs on. */
export const KeptAnswerEntity = defineEntity({
  name: 'KeptAnswer',
  tableName: 'kept_answer',
  properties: {
    vehicleId: p.uuid().primary(),
    kind: p.text().primary(),
    key: p.text(),
    answer: p.json<unknown>(),
  },
});
