import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
import type { RowChoice, Understanding } from '@mile-mark/contract/imports';
import { PersonEntity } from '../people/index.ts';

/** A file taken in. */
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
    technicianId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('technician_id').nullable(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
    counts: p.json<unknown>(),
    records: p.integer(),
  },
});
export type ImportBatchRow = InferEntity<typeof ImportBatchEntity>;

/** A file that waits to be taken in; its content is read apart. */
export const ImportDraftEntity = defineEntity({
  name: 'ImportDraft',
  tableName: 'import_draft',
  properties: {
    id: p.uuid().primary(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    fileName: p.text(),
    kind: p.text(),
    content: p.blob().lazy(),
    contentHash: p.text(),
    stated: p.json<Partial<Understanding>>(),
    edits: p.json<Record<string, string[]>>(),
    choices: p.json<Record<string, RowChoice>>(),
    revision: p.integer(),
    at: p.datetime(),
    changedAt: p.datetime(),
  },
});
export type ImportDraftRow = InferEntity<typeof ImportDraftEntity>;

/** An import taken back whole. */
export const ImportWithdrawalEntity = defineEntity({
  name: 'ImportWithdrawal',
  tableName: 'import_withdrawal',
  properties: {
    id: p.uuid().primary(),
    importId: () => p.manyToOne(ImportBatchEntity).mapToPk().joinColumn('import_id'),
    reason: p.text(),
    personId: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('person_id'),
    at: p.datetime().onCreate(() => new Date()),
  },
});

/** What a list changed on record when it was taken in, row by row; see `withdrawList`. */
export const ImportChangeEntity = defineEntity({
  name: 'ImportChange',
  tableName: 'import_change',
  properties: {
    importId: p.uuid().primary(),
    serial: p.bigint('string').primary(),
    tableName: p.text(),
    rowKey: p.json<Record<string, string>>(),
    before: p.json<unknown>().nullable(),
    after: p.json<unknown>().nullable(),
  },
});

/** A row of a file that waits to be mended or dismissed. */
export const ImportRowEntity = defineEntity({
  name: 'ImportRow',
  tableName: 'import_row',
  properties: {
    importId: p.uuid().primary(),
    line: p.integer().primary(),
    cells: p.json<string[]>(),
    outcome: p.text(),
    /** Whether it may go in as it is typed. */
    takeable: p.boolean().default(true),
    reasons: p.json<unknown>(),
    state: p.text().default('open'),
    settledBy: () => p.manyToOne(PersonEntity).mapToPk().joinColumn('settled_by').nullable(),
    settledAt: p.datetime().nullable(),
  },
});
export type ImportRowRow = InferEntity<typeof ImportRowEntity>;

/** How a technician’s sheets are understood. */
export const ImportUnderstandingEntity = defineEntity({
  name: 'ImportUnderstanding',
  tableName: 'import_understanding',
  properties: {
    technicianId: p.uuid().primary(),
    signature: p.text().primary(),
    understanding: p.json<unknown>(),
    at: p.datetime().onCreate(() => new Date()),
  },
});
export type ImportUnderstandingRow = InferEntity<typeof ImportUnderstandingEntity>;
