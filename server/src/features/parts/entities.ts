import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import { JobEntity } from '../jobs/index.ts';
import { PersonEntity } from '../people/index.ts';
import { DepotEntity, ModelEntity } from '../register/index.ts';

/** Who sells parts, and on what terms. */
export const SupplierEntity = defineEntity({
  name: 'Supplier',
  tableName: 'supplier',
  properties: {
    id: p.uuid().primary(),
    name: p.text(),
    currency: p.text(),
    leadDays: p.integer(),
    orderCostMinor: p.integer().default(0),
    freightMinor: p.integer().default(0),
    /** From this value on freight costs nothing. */
    freightFreeMinor: p.integer().nullable(),
  },
});

/** A part of the catalogue. */
export const PartEntity = defineEntity({
  name: 'Part',
  tableName: 'part',
  properties: {
    id: p.uuid().primary(),
    number: p.text(),
    makerNumber: p.text().nullable(),
    maker: p.text(),
    name: p.text(),
    kind: p.text(),
    /** Pieces in one unit of issue. */
    pieces: p.integer(),
    /** What a unit holds of a consumable, mL or g. */
    content: p.double().nullable(),
    rank: p.integer().default(1),
    supersededBy: p.uuid().nullable(),
    shelfDays: p.integer().nullable(),
    /** What the old one brings when it goes back. */
    exchangeMinor: p.integer().nullable(),
    diameterMm: p.double().nullable(),
    heightMm: p.double().nullable(),
    thicknessMm: p.double().nullable(),
    holes: p.integer().nullable(),
    retired: p.boolean().default(false),
    revision: p.integer().default(1),
  },
});
export type PartRow = InferEntity<typeof PartEntity>;

/** Where a part fits; what is blank fits all. */
export const PartFitEntity = defineEntity({
  name: 'PartFit',
  tableName: 'part_fit',
  properties: {
    id: p
      .uuid()
      .primary()
      .onCreate(() => crypto.randomUUID()),
    partId: () => p.manyToOne(PartEntity).mapToPk().joinColumn('part_id'),
    modelId: () => p.manyToOne(ModelEntity).mapToPk().joinColumn('model_id').nullable(),
    axle: p.integer().nullable(),
    side: p.text().default('both'),
    rotorMm: p.double().nullable(),
  },
});

/** What a supplier asks for a part. */
export const PartOfferEntity = defineEntity({
  name: 'PartOffer',
  tableName: 'part_offer',
  properties: {
    partId: p.uuid().primary(),
    supplierId: p.uuid().primary(),
    supplierNumber: p.text().nullable(),
    priceMinor: p.integer(),
    currency: p.text(),
    pack: p.integer().default(1),
    least: p.integer().default(1),
    leadDays: p.integer().nullable(),
  },
});

/** A place on a shelf. */
export const BinEntity = defineEntity({
  name: 'Bin',
  tableName: 'bin',
  properties: {
    id: p.uuid().primary(),
    depotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('depot_id'),
    code: p.text(),
  },
});

/** An order to a supplier, from its proposal to its last receipt. */
export const PurchaseOrderEntity = defineEntity({
  name: 'PurchaseOrder',
  tableName: 'purchase_order',
  properties: {
    id: p.uuid().primary(),
    serial: p.bigint('string').defaultRaw('nextval'),
    supplierId: () => p.manyToOne(SupplierEntity).mapToPk().joinColumn('supplier_id'),
    depotId: () => p.manyToOne(DepotEntity).mapToPk().joinColumn('depot_id'),
    state: p.text(),
    /** Somebody changed the proposal: it is not made anew behind their back. */
    edited: p.boolean().default(false),
    revision: p.integer().default(1),
    madeOn: p.date(),
    approvedBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('approved_by').nullable(),
    approvedAt: p.datetime().nullable(),
    sentAt: p.datetime().nullable(),
    supplierReference: p.text().nullable(),
    note: p.text().nullable(),
    calledOffOn: p.date().nullable(),
    /** Placed elsewhere and taken from a list. */
    outside: p.boolean().default(false),
  },
});
export type PurchaseOrderRow = InferEntity<typeof PurchaseOrderEntity>;

/** A line of an order, with why it was proposed. */
export const OrderLineEntity = defineEntity({
  name: 'OrderLine',
  tableName: 'order_line',
  properties: {
    id: p.uuid().primary(),
    orderId: () => p.manyToOne(PurchaseOrderEntity).mapToPk().joinColumn('order_id'),
    partId: () => p.manyToOne(PartEntity).mapToPk().joinColumn('part_id'),
    units: p.integer(),
    priceMinor: p.integer(),
    currency: p.text(),
    why: p.json<unknown>().default('[]'),
    /** By when it has to be ordered. */
    latest: p.date().nullable(),
    promisedOn: p.date().nullable(),
    /** What the supplier sends instead. */
    insteadId: () => p.manyToOne(PartEntity).mapToPk().joinColumn('instead_id').nullable(),
    ended: p.text().nullable(),
  },
});

/** Something a supplier said about an order; each message counts once, however often it comes. */
export const OrderMessageEntity = defineEntity({
  name: 'OrderMessage',
  tableName: 'order_message',
  properties: {
    orderId: p.uuid().primary(),
    messageId: p.text().primary(),
    kind: p.text(),
    detail: p.json<unknown>(),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** Parts put somewhere or taken from there. */
export const StockMovementEntity = defineEntity({
  name: 'StockMovement',
  tableName: 'stock_movement',
  properties: {
    id: p.uuid().primary(),
    serial: p.bigint('string').defaultRaw('nextval'),
    kind: p.text(),
    partId: () => p.manyToOne(PartEntity).mapToPk().joinColumn('part_id'),
    binId: () => p.manyToOne(BinEntity).mapToPk().joinColumn('bin_id'),
    lot: p.text().nullable(),
    expiresOn: p.date().nullable(),
    units: p.integer(),
    /** Of a count: what was found. */
    counted: p.integer().nullable(),
    jobId: () => p.manyToOne(JobEntity).mapToPk().joinColumn('job_id').nullable(),
    orderLineId: () => p.manyToOne(OrderLineEntity).mapToPk().joinColumn('order_line_id').nullable(),
    /** What was asked for: all movements of one request. */
    requestId: p.uuid(),
    note: p.text().nullable(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    movedOn: p.date(),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** What lies in a bin, lot by lot: the sum of its movements, kept by a trigger. */
export const StockLevelEntity = defineEntity({
  name: 'StockLevel',
  tableName: 'stock_level',
  properties: {
    partId: p.uuid().primary(),
    binId: p.uuid().primary(),
    lot: p.text().primary().default(''),
    expiresOn: p.date().nullable(),
    units: p.integer(),
  },
});

/** That somebody is to count a part in a bin; open until they did. */
export const CountRequestEntity = defineEntity({
  name: 'CountRequest',
  tableName: 'count_request',
  properties: {
    id: p.uuid().primary(),
    partId: () => p.manyToOne(PartEntity).mapToPk().joinColumn('part_id'),
    binId: () => p.manyToOne(BinEntity).mapToPk().joinColumn('bin_id'),
    reason: p.text(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** What a depot will need of a part, and what follows from that for its orders. */
export const PartPlanEntity = defineEntity({
  name: 'PartPlan',
  tableName: 'part_plan',
  properties: {
    partId: p.uuid().primary(),
    depotId: p.uuid().primary(),
    computedOn: p.date(),
    weeks: p.json<unknown>(),
    lead: p.json<unknown>(),
    reorderPoint: p.integer(),
    orderUnits: p.integer(),
    why: p.json<unknown>(),
  },
});

/** Whether a job's kit is there. */
export const JobKitEntity = defineEntity({
  name: 'JobKit',
  tableName: 'job_kit',
  properties: {
    jobId: p.uuid().primary(),
    state: p.text(),
    until: p.date().nullable(),
    needs: p.json<unknown>(),
    faults: p.json<unknown>().default('[]'),
    computedAt: p.datetime().onCreate(() => new Date()),
  },
});

/** That a job's kit went to one that needs it sooner, told to whoever works on it. */
export const KitNoticeEntity = defineEntity({
  name: 'KitNotice',
  tableName: 'kit_notice',
  properties: {
    id: p.uuid().primary(),
    jobId: () => p.manyToOne(JobEntity).mapToPk().joinColumn('job_id'),
    text: p.text(),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** What orders rest on: one row. */
export const PartsTermsEntity = defineEntity({
  name: 'PartsTerms',
  tableName: 'parts_terms',
  properties: {
    id: p.boolean().primary().default(true),
    service: p.double(),
    holdingShare: p.double(),
    budgetMinor: p.bigint('number').nullable(),
    budgetCurrency: p.text().nullable(),
    revision: p.integer().default(1),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id').nullable(),
    changedOn: p.date().nullable(),
  },
});
