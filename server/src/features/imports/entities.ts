import { defineEntity, p, type InferEntity } from '@mikro-orm/core';
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

/** A row of a file that waits to be mended or dismissed. */
export const ImportRowEntity = defineEntity({
  name: 'ImportRow',
  tableName: 'import_row',
  properties: {
    importId: p.uuid().primary(),
    line: p.integer().primary(),
    cells: p.json<string[]>(),
    outcome: p.text(),
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
