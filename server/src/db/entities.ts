import { defineEntity, p, type InferEntity } from '@mikro-orm/core';

/** One entity a table; names in the database are the same in snake case. Foreign keys are plain ids: rows are read by set, joined in mappers. */

export const DepotEntity = defineEntity({
  name: 'Depot',
  tableName: 'depot',
  properties: { id: p.uuid().primary(), name: p.text(), timeZone: p.text().default('UTC') },
});

export const PersonEntity = defineEntity({
  name: 'Person',
  tableName: 'person',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    role: p.text(),
    email: p.text().nullable(),
    passwordHash: p.text().nullable(),
    distanceUnit: p.text().default('mi'),
    thicknessUnit: p.text().default('mm'),
    createdAt: p.datetime().onCreate(() => new Date()),
  },
});
export type PersonRow = InferEntity<typeof PersonEntity>;

export const SessionEntity = defineEntity({
  name: 'Session',
  tableName: 'session',
  properties: {
    tokenHash: p.text().primary(),
    personId: p.uuid(),
    createdAt: p.datetime().onCreate(() => new Date()),
    expiresAt: p.datetime(),
  },
});

export const AuditEntity = defineEntity({
  name: 'Audit',
  tableName: 'audit',
  properties: {
    id: p.bigint('string').primary().autoincrement(),
    at: p.datetime().onCreate(() => new Date()),
    personId: p.uuid().nullable(),
    action: p.text(),
    subject: p.text(),
    detail: p.json<Record<string, unknown>>(),
  },
});

const IdempotentReplyEntity = defineEntity({
  name: 'IdempotentReply',
  tableName: 'idempotent_reply',
  properties: {
    id: p.uuid().primary(),
    requestHash: p.text(),
    body: p.json<unknown>(),
    at: p.datetime().onCreate(() => new Date()),
  },
});

export const DutyEntity = defineEntity({
  name: 'Duty',
  tableName: 'duty',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    stopsPerMile: p.float(),
    mphBeforeStop: p.float(),
    payloadShare: p.float(),
    descentMPerMile: p.float().name('descent_m_per_mile'),
    retarderShare: p.float(),
    towedKg: p.float(),
    milesPerDay: p.float(),
    slowdownsPerMile: p.float().default(0),
    slowdownFromMph: p.float().default(0),
    slowdownToMph: p.float().default(0),
    longestDescentM: p.float().default(0).name('longest_descent_m'),
    source: p.text().default('stated'),
    sourceNote: p.text().nullable(),
    madeBy: p.uuid().nullable(),
  },
});
export type DutyRow = InferEntity<typeof DutyEntity>;

export const ModelEntity = defineEntity({
  name: 'Model',
  tableName: 'model',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    class: p.text(),
    tareKg: p.integer(),
    gvwrKg: p.integer(),
    referenceDutyId: p.uuid().nullable(),
    drive: p.text().nullable(),
    wheelbaseMm: p.integer().nullable(),
    builtFrom: p.date().nullable(),
    builtTo: p.date().nullable(),
    axleOption: p.text().nullable(),
  },
});
export type ModelRow = InferEntity<typeof ModelEntity>;

export const ModelAxleEntity = defineEntity({
  name: 'ModelAxle',
  tableName: 'model_axle',
  properties: {
    id: p.uuid().primary(),
    modelId: p.uuid(),
    axle: p.integer(),
    brake: p.text(),
    brakeDetail: p.text(),
    padNewUm: p.integer(),
    backingPlateUm: p.integer(),
    padMakerMinUm: p.integer(),
    rotorNewUm: p.integer().nullable(),
    rotorDiscardUm: p.integer().nullable(),
    rotorMachineToUm: p.integer().nullable(),
    /** Of the axle's released specification, beside the model list's own. */
    releasedPadMinUm: p.integer().nullable(),
    releasedRotorDiscardUm: p.integer().nullable(),
    releasedRotorMachineToUm: p.integer().nullable(),
    pistonsMm: p.text().nullable(),
    brakeShare: p.float(),
  },
});
export type ModelAxleRow = InferEntity<typeof ModelAxleEntity>;

export const LimitRuleEntity = defineEntity({
  name: 'LimitRule',
  tableName: 'limit_rule',
  properties: {
    id: p.uuid().primary(),
    jurisdiction: p.text(),
    authority: p.text(),
    brake: p.text(),
    aboveGvwrKg: p.float().nullable(),
    upToGvwrKg: p.float().nullable(),
    leastUm: p.integer(),
    equalityPasses: p.boolean(),
    source: p.text(),
    revision: p.text(),
    checkedBy: p.text(),
  },
});
export type LimitRuleRow = InferEntity<typeof LimitRuleEntity>;

export const VehicleEntity = defineEntity({
  name: 'Vehicle',
  tableName: 'vehicle',
  properties: {
    id: p.uuid().primary(),
    unit: p.text(),
    modelId: p.uuid(),
    depotId: p.uuid(),
    inputRev: p.integer().default(1),
  },
});
export type VehicleRow = InferEntity<typeof VehicleEntity>;

export const DutyPeriodEntity = defineEntity({
  name: 'DutyPeriod',
  tableName: 'duty_period',
  properties: {
    id: p.uuid().primary(),
    vehicleId: p.uuid(),
    dutyId: p.uuid(),
    fromDate: p.date(),
    toDate: p.date().nullable(),
  },
});
export type DutyPeriodRow = InferEntity<typeof DutyPeriodEntity>;

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

export const InspectionEntity = defineEntity({
  name: 'Inspection',
  tableName: 'inspection',
  properties: {
    id: p.uuid().primary(),
    vehicleId: p.uuid(),
    technicianId: p.uuid(),
    gaugeId: p.uuid(),
    measuredOn: p.date(),
    odometerM: p.integer(),
    odometerTyped: p.text(),
    note: p.text().nullable(),
    enteredBy: p.uuid(),
    enteredAt: p.datetime().onCreate(() => new Date()),
    importId: p.uuid().nullable(),
    odometerAnswer: p.text().nullable(),
    usualMilesPerDay: p.float().nullable(),
    expectedOdometerM: p.integer().nullable(),
    supersedesId: p.uuid().nullable(),
    reason: p.text().nullable(),
  },
});

export const ReadingEntity = defineEntity({
  name: 'Reading',
  tableName: 'reading',
  properties: {
    id: p.uuid().primary(),
    inspectionId: p.uuid(),
    vehicleId: p.uuid(),
    technicianId: p.uuid(),
    measuredOn: p.date(),
    odometerM: p.integer(),
    axle: p.integer(),
    side: p.text(),
    pad: p.text(),
    thicknessUm: p.integer().nullable(),
    typed: p.text(),
    unit: p.text(),
    answer: p.text().nullable(),
    supersedesId: p.uuid().nullable(),
    reason: p.text().nullable(),
    enteredBy: p.uuid(),
    enteredAt: p.datetime().onCreate(() => new Date()),
  },
});
export type ReadingRow = InferEntity<typeof ReadingEntity>;

export const OdometerEntity = defineEntity({
  name: 'Odometer',
  tableName: 'odometer',
  properties: {
    id: p.uuid().primary(),
    vehicleId: p.uuid(),
    readOn: p.date(),
    odometerM: p.integer(),
    source: p.text(),
    enteredBy: p.uuid(),
    enteredAt: p.datetime().onCreate(() => new Date()),
  },
});

export const ServiceEntity = defineEntity({
  name: 'Service',
  tableName: 'service',
  properties: {
    id: p.uuid().primary(),
    vehicleId: p.uuid(),
    axle: p.integer(),
    fittedOn: p.date(),
    odometerM: p.integer(),
    fitted: p.text(),
    recordedBy: p.uuid(),
    recordedAt: p.datetime().onCreate(() => new Date()),
  },
});

export const ImportBatchEntity = defineEntity({
  name: 'ImportBatch',
  tableName: 'import_batch',
  properties: {
    id: p.uuid().primary(),
    kind: p.text(),
    fileName: p.text(),
    contentHash: p.text(),
    understanding: p.json<unknown>(),
    header: p.json<string[]>(),
    technicianId: p.uuid().nullable(),
    personId: p.uuid(),
    at: p.datetime().onCreate(() => new Date()),
    counts: p.json<unknown>(),
    records: p.integer(),
  },
});

export const ImportRowEntity = defineEntity({
  name: 'ImportRow',
  tableName: 'import_row',
  properties: {
    importId: p.uuid().primary(),
    line: p.integer().primary(),
    cells: p.json<string[]>(),
    outcome: p.text(),
    reasons: p.json<unknown>(),
    state: p.text().default('open'),
    settledBy: p.uuid().nullable(),
    settledAt: p.datetime().nullable(),
  },
});

export const ENTITIES = [
  DepotEntity,
  PersonEntity,
  SessionEntity,
  AuditEntity,
  IdempotentReplyEntity,
  DutyEntity,
  ModelEntity,
  ModelAxleEntity,
  LimitRuleEntity,
  VehicleEntity,
  DutyPeriodEntity,
  GaugeEntity,
  InspectionEntity,
  ReadingEntity,
  OdometerEntity,
  ServiceEntity,
  ImportBatchEntity,
  ImportRowEntity,
];
