import { defineEntity, p } from '@mikro-orm/core';
import { JobEntity } from '../jobs/index.ts';
import { PersonEntity } from '../people/index.ts';
import { DepotEntity, VehicleEntity } from '../register/index.ts';

/** How a depot's shop works by the week. */
export const DepotShopEntity = defineEntity({
  name: 'DepotShop',
  tableName: 'depot_shop',
  properties: {
    depotId: p.uuid().primary(),
    week: p.json<unknown>(),
    revision: p.integer().default(1),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id').nullable(),
    changedOn: p.date().nullable(),
  },
});

/** What a plan weighs; one row. */
export const PlanTermsEntity = defineEntity({
  name: 'PlanTerms',
  tableName: 'plan_terms',
  properties: {
    id: p.boolean().primary(),
    terms: p.json<unknown>(),
    revision: p.integer().default(1),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id').nullable(),
    changedOn: p.date().nullable(),
  },
});

/** A person or vehicle that is away, a shop that is shut, or other work that a vehicle comes in for. */
export const AbsenceEntity = defineEntity({
  name: 'Absence',
  tableName: 'absence',
  properties: {
    id: p.uuid().primary(),
    kind: p.text(),
    absentPersonId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('absent_person_id').nullable(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id').nullable(),
    depotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('depot_id').nullable(),
    fromDate: p.date(),
    toDate: p.date(),
    reason: p.text(),
    comesIn: p.boolean().default(false),
    /** Of a calendar's entry: its UID. */
    calendarUid: p.text().nullable(),
    enteredBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('entered_by'),
    enteredOn: p.date(),
    withdrawnOn: p.date().nullable(),
  },
});

export const PlanEntity = defineEntity({
  name: 'Plan',
  tableName: 'plan',
  properties: {
    id: p.uuid().primary(),
    serial: p.bigint('string').defaultRaw('nextval'),
    state: p.text(),
    fromDate: p.date(),
    weeks: p.integer(),
    gap: p.double(),
    seconds: p.double(),
    urgent: p.json<unknown>().default('[]'),
    /** Where vehicles are to be done, as it was asked: vehicle and depot. */
    doneAtDepot: p.json<unknown>().default('[]'),
    /** Who another depot does; null while that is not decided. */
    loans: p.json<unknown>().nullable(),
    /** What of the published plan no longer held when it was made by itself; null where somebody asked for it. */
    because: p.json<unknown>().nullable(),
    askedBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('asked_by'),
    askedOn: p.date(),
    publishedBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('published_by').nullable(),
    publishedOn: p.date().nullable(),
    revision: p.integer().default(1),
  },
});

/** A depot's part of a plan: its problem as it stood, and what was proved. */
export const PlanDepotEntity = defineEntity({
  name: 'PlanDepot',
  tableName: 'plan_depot',
  properties: {
    planId: p.uuid().primary(),
    depotId: p.uuid().primary(),
    state: p.text().default('waiting'),
    /** Which try of solving it is; what an older one brings is not taken. */
    attempt: p.integer().default(0),
    heartbeatAt: p.datetime().onCreate(() => new Date()),
    problem: p.json<unknown>().nullable(),
    /** The working days as dates. */
    dates: p.json<unknown>().nullable(),
    cost: p.double().nullable(),
    bound: p.double().nullable(),
    provedGap: p.double().nullable(),
    seconds: p.double().nullable(),
    earliestCost: p.double().nullable(),
    intervalCost: p.double().nullable(),
    unplaced: p.json<unknown>().default('[]'),
    failure: p.text().nullable(),
  },
});

export const PlanVisitEntity = defineEntity({
  name: 'PlanVisit',
  tableName: 'plan_visit',
  properties: {
    id: p.uuid().primary(),
    /** The same from plan to plan: what calendars know it by. */
    uid: p.uuid(),
    planId: p.uuid(),
    depotId: p.uuid(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id'),
    axles: p.json<number[]>(),
    day: p.date(),
    bay: p.text().nullable(),
    hours: p.double(),
    outside: p.boolean().default(false),
    locked: p.boolean().default(false),
    byHand: p.boolean().default(false),
    why: p.json<string[]>().default('[]'),
    jobId: () => p.manyToOne(JobEntity).mapToPk().joinColumn('job_id').nullable(),
  },
});

/** A change of a plan by hand: a depot's visits as they were before. */
export const PlanChangeEntity = defineEntity({
  name: 'PlanChange',
  tableName: 'plan_change',
  properties: {
    id: p.uuid().primary(),
    serial: p.bigint('string').defaultRaw('nextval'),
    planId: () => p.manyToOne(PlanEntity).mapToPk().joinColumn('plan_id'),
    depotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('depot_id'),
    before: p.json<unknown>(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    undone: p.boolean().default(false),
  },
});

/** A calendar that was given out; only the hash of its token is kept. */
export const CalendarLinkEntity = defineEntity({
  name: 'CalendarLink',
  tableName: 'calendar_link',
  properties: {
    id: p.uuid().primary(),
    tokenHash: p.text(),
    kind: p.text(),
    subjectId: p.uuid(),
    madeBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('made_by'),
    madeOn: p.date(),
    lastReadOn: p.date().nullable(),
    withdrawnOn: p.date().nullable(),
  },
});

/** Something that is told to a person by mail; sent once it is written down. */
export const MailEntity = defineEntity({
  name: 'Mail',
  tableName: 'mail',
  properties: {
    id: p.uuid().primary(),
    serial: p.bigint('string').defaultRaw('nextval'),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    subject: p.text(),
    body: p.text(),
    at: p.datetime().onCreate(() => new Date()),
    sentAt: p.datetime().nullable(),
    failure: p.text().nullable(),
  },
});
