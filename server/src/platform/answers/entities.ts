import { defineEntity, p } from '@mikro-orm/core';

/** That the record changed, and about what; null: any answer may rest on it. Written by triggers on every table. */
export const RecordChangeEntity = defineEntity({
  name: 'RecordChange',
  tableName: 'record_change',
  properties: {
    id: p.bigint('string').primary().autoincrement(),
    about: p.uuid().nullable(),
    n: p.bigint('string').default('1'),
    derived: p.boolean().default(false),
    /** The transaction it came of. */
    xid: p.string().columnType('xid8').defaultRaw('pg_current_xact_id()'),
  },
});
