import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import { VehicleEntity } from '../register/index.ts';

/** A day as the telematics service told it, with what could not be believed. */
export const FeedDayEntity = defineEntity({
  name: 'FeedDay',
  tableName: 'feed_day',
  properties: {
    id: p.uuid().primary(),
    vehicleId: () => p.manyToOne(VehicleEntity).mapToPk().joinColumn('vehicle_id').nullable(),
    unit: p.text(),
    day: p.date(),
    odometerM: p.integer().nullable(),
    detail: p.json<unknown>(),
    fault: p.text().nullable(),
    faultNote: p.text().nullable(),
    receivedAt: p.datetime().onCreate(() => new Date()),
  },
});
export type FeedDayRow = InferEntity<typeof FeedDayEntity>;

/** Four weeks of driven days as a duty. */
export const MeasuredDutyEntity = defineEntity({
  name: 'MeasuredDuty',
  tableName: 'measured_duty',
  properties: {
    vehicleId: p.uuid().primary(),
    fromDate: p.date().primary(),
    toDate: p.date(),
    days: p.integer(),
    miles: p.float(),
    duty: p.json<unknown>(),
  },
});
export type MeasuredDutyRow = InferEntity<typeof MeasuredDutyEntity>;

/** How far the feed has been read; one row. */
export const FeedStateEntity = defineEntity({
  name: 'FeedState',
  tableName: 'feed_state',
  properties: {
    onlyOne: p.boolean().primary().default(true),
    cursor: p.text().nullable(),
    polledAt: p.datetime().nullable(),
    failedAt: p.datetime().nullable(),
    failure: p.text().nullable(),
  },
});
export type FeedStateRow = InferEntity<typeof FeedStateEntity>;
