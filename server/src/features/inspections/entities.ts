import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import { GaugeEntity } from '../gauges/index.ts';
import { PersonEntity } from '../people/index.ts';
import { VehicleEntity } from '../register/index.ts';

/** A visit on which somebody measured; corrected by another that supersedes it. */
export const InspectionEntity = defineEntity({
  name: 'Inspection',
  tableName: 'inspection',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    technicianId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('technician_id'),
    gaugeId: () => p.manyToOne(GaugeEntity).mapToPk().joinColumn('gauge_id'),
    measuredOn: p.date(),
    odometerM: p.integer(),
    odometerTyped: p.text(),
    note: p.text().nullable(),
    enteredBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('entered_by'),
    enteredAt: p.datetime().onCreate(() => new Date()),
    /** The file it came with. */
    importId: p.uuid().nullable(),
    odometerAnswer: p.text().nullable(),
    usualMilesPerDay: p.float().nullable(),
    expectedOdometerM: p.integer().nullable(),
    supersedesId: p.uuid().nullable(),
    reason: p.text().nullable(),
  },
});
export type InspectionRow = InferEntity<typeof InspectionEntity>;

/** A thickness as read; corrected or withdrawn by another that supersedes it. */
export const ReadingEntity = defineEntity({
  name: 'Reading',
  tableName: 'reading',
  properties: {
    id: p.uuid().primary(),
    inspectionId: () => p.manyToOne(InspectionEntity).mapToPk().joinColumn('inspection_id'),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    technicianId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('technician_id'),
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
    enteredBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('entered_by'),
    enteredAt: p.datetime().onCreate(() => new Date()),
  },
});
export type ReadingRow = InferEntity<typeof ReadingEntity>;

/** Pads or rotors fitted, also what was withdrawn since: what stands is read from the view `service`. */
export const ServiceEntity = defineEntity({
  name: 'Service',
  tableName: 'service_record',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    axle: p.integer(),
    fittedOn: p.date(),
    odometerM: p.integer(),
    fitted: p.text(),
    /** The import that brought it; none where it was typed. */
    importId: p.uuid().nullable(),
    recordedBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('recorded_by'),
    recordedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type ServiceRow = InferEntity<typeof ServiceEntity>;

/** Pads or rotors that were not fitted after all, or not so. */
export const ServiceWithdrawalEntity = defineEntity({
  name: 'ServiceWithdrawal',
  tableName: 'service_withdrawal',
  properties: {
    id: p.uuid().primary(),
    serviceId: () => p.manyToOne(ServiceEntity).mapToPk().joinColumn('service_id'),
    reason: p.text(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** A pad that could not be seen. */
export const UnseenPadEntity = defineEntity({
  name: 'UnseenPad',
  tableName: 'unseen_pad',
  properties: {
    id: p.uuid().primary(),
    inspectionId: () => p.manyToOne(InspectionEntity).mapToPk().joinColumn('inspection_id'),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    axle: p.integer(),
    side: p.text(),
    pad: p.text(),
  },
});
export type UnseenPadRow = InferEntity<typeof UnseenPadEntity>;

/** What was found besides thicknesses. */
export const FindingEntity = defineEntity({
  name: 'Finding',
  tableName: 'finding',
  properties: {
    id: p.uuid().primary(),
    inspectionId: () => p.manyToOne(InspectionEntity).mapToPk().joinColumn('inspection_id'),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    axle: p.integer(),
    side: p.text(),
    item: p.text(),
    state: p.text(),
    places: p.array(),
    degree: p.text().nullable(),
    note: p.text().nullable(),
  },
});
export type FindingRow = InferEntity<typeof FindingEntity>;

/** A finding taken back, with its reason. */
export const FindingWithdrawalEntity = defineEntity({
  name: 'FindingWithdrawal',
  tableName: 'finding_withdrawal',
  properties: {
    id: p.uuid().primary(),
    findingId: () => p.manyToOne(FindingEntity).mapToPk().joinColumn('finding_id'),
    reason: p.text(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** An inspection taken back whole, or entered anew at the vehicle that was meant. */
export const InspectionWithdrawalEntity = defineEntity({
  name: 'InspectionWithdrawal',
  tableName: 'inspection_withdrawal',
  properties: {
    id: p.uuid().primary(),
    inspectionId: () => p.manyToOne(InspectionEntity).mapToPk().joinColumn('inspection_id'),
    movedTo: () => p.manyToOne(InspectionEntity).mapToPk().joinColumn('moved_to').nullable(),
    reason: p.text(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** A rotor measured around its circle. */
export const RotorMeasurementEntity = defineEntity({
  name: 'RotorMeasurement',
  tableName: 'rotor_measurement',
  properties: {
    id: p.uuid().primary(),
    inspectionId: () => p.manyToOne(InspectionEntity).mapToPk().joinColumn('inspection_id'),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    axle: p.integer(),
    side: p.text(),
    thicknessUm: p.json<(number | null)[]>(),
    runoutUm: p.json<unknown>(),
    hubRunoutUm: p.json<unknown>(),
    studs: p.integer().nullable(),
  },
});
export type RotorMeasurementRow = InferEntity<typeof RotorMeasurementEntity>;

/** A photo of an inspection. */
export const PhotoEntity = defineEntity({
  name: 'Photo',
  tableName: 'photo',
  properties: {
    id: p.uuid().primary(),
    inspectionId: () => p.manyToOne(InspectionEntity).mapToPk().joinColumn('inspection_id'),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    axle: p.integer().nullable(),
    side: p.text().nullable(),
    takenAt: p.datetime(),
    jpeg: p.blob(),
    enteredBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('entered_by'),
    enteredAt: p.datetime().onCreate(() => new Date()),
  },
});
export type PhotoRow = InferEntity<typeof PhotoEntity>;

/** How a question was settled. */
export const QuestionAnswerEntity = defineEntity({
  name: 'QuestionAnswer',
  tableName: 'question_answer',
  properties: {
    id: p.uuid().primary(),
    readingId: () => p.manyToOne(ReadingEntity).mapToPk().joinColumn('reading_id').nullable(),
    inspectionId: () => p.manyToOne(InspectionEntity).mapToPk().joinColumn('inspection_id').nullable(),
    answer: p.text(),
    note: p.text().nullable(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type QuestionAnswerRow = InferEntity<typeof QuestionAnswerEntity>;

/** An answer taken back: its question is open again. */
export const QuestionUndoEntity = defineEntity({
  name: 'QuestionUndo',
  tableName: 'question_undo',
  properties: {
    id: p.uuid().primary(),
    answerId: () => p.manyToOne(QuestionAnswerEntity).mapToPk().joinColumn('answer_id'),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});
