import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import { PersonEntity } from '../people/index.ts';

/** A depot where vehicles stand. */
export const DepotEntity = defineEntity({
  name: 'Depot',
  tableName: 'depot',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    timeZone: p.text().default('UTC'),
    closedOn: p.date().nullable(),
    revision: p.integer().default(1),
  },
});
export type DepotRow = InferEntity<typeof DepotEntity>;

/** A depot that somebody is limited to; who has none works at all of them. */
export const PersonDepotEntity = defineEntity({
  name: 'PersonDepot',
  tableName: 'person_depot',
  properties: {
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id').primary(),
    depotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('depot_id').primary(),
  },
});

/** What a vehicle may drive, stated or measured. */
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
    longestDescentM: p.float().default(0),
    source: p.text().default('stated'),
    sourceNote: p.text().nullable(),
    madeBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('made_by').nullable(),
    madeAt: p.datetime().onCreate(() => new Date()),
  },
});
export type DutyRow = InferEntity<typeof DutyEntity>;

/** A variant of a model. */
export const ModelEntity = defineEntity({
  name: 'Model',
  tableName: 'model',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    class: p.text(),
    tareKg: p.integer(),
    gvwrKg: p.integer(),
    referenceDutyId: () => p.manyToOne(DutyEntity).mapToPk().joinColumn('reference_duty_id').nullable(),
    drive: p.text().nullable(),
    wheelbaseMm: p.integer().nullable(),
    builtFrom: p.date().nullable(),
    builtTo: p.date().nullable(),
    axleOption: p.text().nullable(),
    /** Between MIN and MAX of the reservoir, mL. */
    reservoirMl: p.integer().nullable(),
    liftingPoints: p.text().nullable(),
    retarder: p.boolean().default(false),
    revision: p.integer().default(1),
  },
});
export type ModelRow = InferEntity<typeof ModelEntity>;

/** An axle of a model: pads, rotor, limits of the model list and of its released specification. */
export const ModelAxleEntity = defineEntity({
  name: 'ModelAxle',
  tableName: 'model_axle',
  properties: {
    id: p.uuid().primary(),
    modelId: () => p.manyToOne(ModelEntity).mapToPk().joinColumn('model_id'),
    axle: p.integer(),
    brake: p.text(),
    brakeDetail: p.text(),
    padNewUm: p.integer(),
    backingPlateUm: p.integer(),
    padMakerMinUm: p.integer(),
    rotorNewUm: p.integer().nullable(),
    rotorDiscardUm: p.integer().nullable(),
    rotorMachineToUm: p.integer().nullable(),
    /** Of the disc; decides which rotors fit. */
    rotorDiameterUm: p.integer().nullable(),
    pistonsMm: p.text().nullable(),
    brakeShare: p.float(),
    /** Of the axle’s released specification, beside the model list’s own. */
    releasedPadMinUm: p.integer().nullable(),
    releasedRotorDiscardUm: p.integer().nullable(),
    releasedRotorMachineToUm: p.integer().nullable(),
  },
});
export type ModelAxleRow = InferEntity<typeof ModelAxleEntity>;

/** A limit of law or policy. */
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

/** A vehicle; `inputRev` rises with everything its forecast rests on. */
export const VehicleEntity = defineEntity({
  name: 'Vehicle',
  tableName: 'vehicle',
  properties: {
    id: p.uuid().primary(),
    unit: p.text(),
    modelId: () => p.manyToOne(ModelEntity).mapToPk().joinColumn('model_id'),
    depotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('depot_id'),
    inputRev: p.integer().default(1),
    revision: p.integer().default(1),
    leftOn: p.date().nullable(),
    leftHow: p.text().nullable(),
  },
});
export type VehicleRow = InferEntity<typeof VehicleEntity>;

/** Which duty a vehicle drives from a day on. */
export const DutyPeriodEntity = defineEntity({
  name: 'DutyPeriod',
  tableName: 'duty_period',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    dutyId: () => p.manyToOne(DutyEntity).mapToPk().joinColumn('duty_id'),
    fromDate: p.date(),
    toDate: p.date().nullable(),
    /** Miles a day of this vehicle under it; as the duty states, where there is none. */
    milesPerDay: p.float().nullable(),
  },
});
export type DutyPeriodRow = InferEntity<typeof DutyPeriodEntity>;

/** That a vehicle's instrument was replaced: what the old one showed, and the new one then. */
export const InstrumentChangeEntity = defineEntity({
  name: 'InstrumentChange',
  tableName: 'instrument_change',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    replacedOn: p.date(),
    oldM: p.integer(),
    newM: p.integer(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
    withdrawnBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('withdrawn_by').nullable(),
    withdrawnAt: p.datetime().nullable(),
  },
});

/** What a stretch of duty said before it was corrected or withdrawn. */
export const DutyCorrectionEntity = defineEntity({
  name: 'DutyCorrection',
  tableName: 'duty_correction',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    dutyId: () => p.manyToOne(DutyEntity).mapToPk().joinColumn('duty_id'),
    fromDate: p.date(),
    toDate: p.date().nullable(),
    milesPerDay: p.float().nullable(),
    reason: p.text(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** An odometer read outside an inspection, also one corrected since: what stands is read from the view `odometer`. */
export const OdometerEntity = defineEntity({
  name: 'Odometer',
  tableName: 'odometer_record',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    readOn: p.date(),
    odometerM: p.integer(),
    source: p.text(),
    enteredBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('entered_by'),
    enteredAt: p.datetime().onCreate(() => new Date()),
  },
});
export type OdometerRow = InferEntity<typeof OdometerEntity>;

/** That an odometer was withdrawn, for another one; only ever added to. */
export const OdometerWithdrawalEntity = defineEntity({
  name: 'OdometerWithdrawal',
  tableName: 'odometer_withdrawal',
  properties: {
    id: p.uuid().primary(),
    odometerId: () => p.manyToOne(OdometerEntity).mapToPk().joinColumn('odometer_id'),
    reason: p.text(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type OdometerWithdrawalRow = InferEntity<typeof OdometerWithdrawalEntity>;

/** A move to another depot: begun on its day, ended where it was for a time and that is over. */
export const VehicleMoveEntity = defineEntity({
  name: 'VehicleMove',
  tableName: 'vehicle_move',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    fromDepotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('from_depot_id'),
    toDepotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('to_depot_id'),
    movedOn: p.date(),
    backOn: p.date().nullable(),
    begun: p.boolean().default(false),
    ended: p.boolean().default(false),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type VehicleMoveRow = InferEntity<typeof VehicleMoveEntity>;

/** What the shop has set, by key. */
export const SettingEntity = defineEntity({
  name: 'Setting',
  tableName: 'setting',
  properties: {
    key: p.text().primary(),
    value: p.json<unknown>(),
  },
});
export type SettingRow = InferEntity<typeof SettingEntity>;

/** That a vehicle was said to be another variant. */
export const VehicleModelChangeEntity = defineEntity({
  name: 'VehicleModelChange',
  tableName: 'vehicle_model_change',
  properties: {
    id: p
      .uuid()
      .primary()
      .onCreate(() => crypto.randomUUID()),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    fromModelId: () => p.manyToOne(ModelEntity).mapToPk().joinColumn('from_model_id'),
    toModelId: () => p.manyToOne(ModelEntity).mapToPk().joinColumn('to_model_id'),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    changedOn: p.date(),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type VehicleModelChangeRow = InferEntity<typeof VehicleModelChangeEntity>;
