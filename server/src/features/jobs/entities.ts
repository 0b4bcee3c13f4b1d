import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import { PersonEntity } from '../people/index.ts';
import { DepotEntity, ModelEntity, VehicleEntity } from '../register/index.ts';

/** A visit of a vehicle, from its proposal to its record. */
export const JobEntity = defineEntity({
  name: 'Job',
  tableName: 'job',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    depotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('depot_id'),
    state: p.text(),
    day: p.date().nullable(),
    bay: p.text().nullable(),
    odometerM: p.integer().nullable(),
    /** What the shop did about what schools differ on when work began; null before. */
    policy: p.json<unknown>().nullable(),
    /** What was known when it was proposed, by axle, in words. */
    why: p.json<unknown>(),
    createdBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('created_by'),
    createdOn: p.date(),
    createdAt: p.datetime().onCreate(() => new Date()),
    closedOn: p.date().nullable(),
    /** What the work took by its card, and what such a card usually takes, minutes; null where it tells nothing. */
    workedMin: p.float().nullable(),
    usualMin: p.float().nullable(),
    revision: p.integer().default(1),
  },
});
export type JobEntityRow = InferEntity<typeof JobEntity>;

/** An axle of a job with what is done there, and what a person left out. */
export const JobAxleEntity = defineEntity({
  name: 'JobAxle',
  tableName: 'job_axle',
  properties: {
    jobId: p.uuid().primary(),
    axle: p.integer().primary(),
    scope: p.json<unknown>(),
    declined: p.json<unknown>().default('[]'),
  },
});

/** Who is booked for a job. */
export const JobPersonEntity = defineEntity({
  name: 'JobPerson',
  tableName: 'job_person',
  properties: { jobId: p.uuid().primary(), personId: p.uuid().primary() },
});

/** A step of a job's story: proposed, booked, begun, its scope changed, closed, called off. */
export const JobMoveEntity = defineEntity({
  name: 'JobMove',
  tableName: 'job_move',
  properties: {
    id: p.uuid().primary(),
    jobId: () => p.manyToOne(JobEntity).mapToPk().joinColumn('job_id'),
    verb: p.text(),
    fromState: p.text().nullable(),
    toState: p.text(),
    detail: p.json<unknown>().default('{}'),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    movedOn: p.date(),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** Something written on a card. */
export const JobEntryEntity = defineEntity({
  name: 'JobEntry',
  tableName: 'job_entry',
  properties: {
    id: p.uuid().primary(),
    jobId: () => p.manyToOne(JobEntity).mapToPk().joinColumn('job_id'),
    serial: p.bigint('string').defaultRaw('nextval'),
    kind: p.text(),
    step: p.text().nullable(),
    detail: p.json<unknown>().default('{}'),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    doneAt: p.datetime(),
    enteredAt: p.datetime().onCreate(() => new Date()),
  },
});

/** A photo of a step. */
export const JobPhotoEntity = defineEntity({
  name: 'JobPhoto',
  tableName: 'job_photo',
  properties: {
    id: p.uuid().primary(),
    jobId: () => p.manyToOne(JobEntity).mapToPk().joinColumn('job_id'),
    step: p.text(),
    takenAt: p.datetime(),
    jpeg: p.blob(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    enteredAt: p.datetime().onCreate(() => new Date()),
  },
});

/** A complaint, a finding that matters, or a pad under its legal limit. */
export const DefectEntity = defineEntity({
  name: 'Defect',
  tableName: 'defect',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    kind: p.text(),
    axle: p.integer().nullable(),
    side: p.text().nullable(),
    item: p.text(),
    state: p.text().nullable(),
    severity: p.text(),
    note: p.text().nullable(),
    saidBy: p.text(),
    foundOn: p.date(),
    odometerM: p.integer().nullable(),
    /** The finding or reading it comes from. */
    sourceId: p.uuid().nullable(),
    /** Of a re-check: the odometer from which it is due. */
    dueM: p.integer().nullable(),
    jobId: () => p.manyToOne(JobEntity).mapToPk().joinColumn('job_id').nullable(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** That a defect was closed, put off, or the vehicle let go all the same. */
export const DefectSettlementEntity = defineEntity({
  name: 'DefectSettlement',
  tableName: 'defect_settlement',
  properties: {
    id: p.uuid().primary(),
    defectId: () => p.manyToOne(DefectEntity).mapToPk().joinColumn('defect_id'),
    how: p.text(),
    until: p.date().nullable(),
    reason: p.text(),
    jobId: () => p.manyToOne(JobEntity).mapToPk().joinColumn('job_id').nullable(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    settledOn: p.date(),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** A matter on which schools differ, settled for the fleet, a class or a model; the newest counts. */
export const ShopPolicyEntity = defineEntity({
  name: 'ShopPolicy',
  tableName: 'shop_policy',
  properties: {
    id: p
      .uuid()
      .primary()
      .onCreate(() => crypto.randomUUID()),
    serial: p.bigint('string').defaultRaw('nextval'),
    matter: p.text(),
    level: p.text(),
    subject: p.text().default(''),
    option: p.text(),
    reason: p.text().nullable(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    settledOn: p.date(),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** What a shop takes at an axle of a model, other than a kit has by itself; the newest of a kind and a work counts. */
export const KitChangeEntity = defineEntity({
  name: 'KitChange',
  tableName: 'kit_change',
  properties: {
    id: p.uuid().primary(),
    serial: p.bigint('string').defaultRaw('nextval'),
    modelId: () => p.manyToOne(ModelEntity).mapToPk().joinColumn('model_id'),
    axle: p.integer(),
    kind: p.text(),
    action: p.text(),
    /** Pieces a wheel, or mL or g an axle; 0 leaves it out, null is as usual again. */
    quantity: p.double().nullable(),
    reason: p.text(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    changedOn: p.date(),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** What a step took on closed cards of a class of vehicle: sums of ln(minutes ÷ usual) and of its square over jobs. */
export const StepTimeEntity = defineEntity({
  name: 'StepTime',
  tableName: 'step_time',
  properties: {
    class: p.text().primary(),
    step: p.text().primary(),
    n: p.integer(),
    sumLn: p.double(),
    sumLn2: p.double().name('sum_ln2'),
  },
});
