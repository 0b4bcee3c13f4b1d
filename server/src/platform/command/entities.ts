import { defineEntity, p } from '@mikro-orm/core';

/** Who did what, when; only ever added to. */
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

/** What a command answered to a client's id, so that the same request again gets the same answer. */
export const IdempotentReplyEntity = defineEntity({
  name: 'IdempotentReply',
  tableName: 'idempotent_reply',
  properties: {
    id: p.uuid().primary(),
    /** Null in rows of versions that kept replies of inspections only. */
    command: p.text().nullable(),
    requestHash: p.text(),
    body: p.json<unknown>(),
    at: p.datetime().onCreate(() => new Date()),
  },
});
