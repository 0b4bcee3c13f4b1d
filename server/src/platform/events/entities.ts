import { defineEntity, p } from '@mikro-orm/core';

/** What happened, written in the transaction in which it happened, until everybody who subscribed has heard of it. */
export const OutboxEntity = defineEntity({
  name: 'Outbox',
  tableName: 'outbox',
  properties: {
    id: p.bigint('string').primary().autoincrement(),
    at: p.datetime().onCreate(() => new Date()),
    name: p.text(),
    payload: p.json<unknown>(),
    deliveredAt: p.datetime().nullable(),
    attempts: p.integer().default(0),
    failure: p.text().nullable(),
  },
});
