import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { createTestApp, type TestApp } from './testing/app.ts';

let test: TestApp;
beforeAll(async () => {
  test = await createTestApp();
});
afterAll(async () => test.close());

interface Column {
  table_name: string;
  column_name: string;
  nullable: boolean;
}
const query = <T>(sql: string) => test.orm.em.fork().execute<T[]>(sql);

/** What the migrations made, against what the entities say: two accounts of one thing, so they are held together. */
describe('the entities', () => {
  const metadata = () => Object.values(test.orm.getMetadata().getAll()).filter(({ pivotTable }) => !pivotTable);
  const columnsOfEntities = () =>
    metadata()
      .flatMap(({ tableName, props }) =>
        props.flatMap(({ fieldNames, nullable }) =>
          fieldNames.map((name) => `${tableName}.${name}${nullable ? '?' : ''}`),
        ),
      )
      .sort();

  it('are one a table, column for column, blank where the table lets it be blank', async () => {
    const columns = await query<Column>(
      `select c.table_name, c.column_name, c.is_nullable = 'YES' as nullable from information_schema.columns c
         join information_schema.tables t on t.table_name = c.table_name and t.table_schema = c.table_schema
       where c.table_schema = 'public' and t.table_type = 'BASE TABLE' and c.table_name <> 'migration'`,
    );
    const made = columns.map(
      ({ table_name, column_name, nullable }) => `${table_name}.${column_name}${nullable ? '?' : ''}`,
    );
    expect(columnsOfEntities()).toEqual(made.sort());
  });

  it('have a relation for every foreign key of one column, to the same table', async () => {
    const keys = await query<{ from: string; to: string }>(
      `select c.conrelid::regclass || '.' || a.attname as from, c.confrelid::regclass::text as to
       from pg_constraint c join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
       where c.contype = 'f' and array_length(c.conkey, 1) = 1 and c.connamespace = 'public'::regnamespace`,
    );
    const relations = new Map<string, string>(
      metadata().flatMap(({ tableName, props }) =>
        props.flatMap(({ targetMeta, fieldNames }) =>
          targetMeta ? [[`${tableName}.${fieldNames[0]}`, targetMeta.tableName] as const] : [],
        ),
      ),
    );
    const wrong = keys.filter(({ from, to }) => relations.has(from) && relations.get(from) !== to);
    expect(wrong).toEqual([]);
    // Plain ids: keys that are primary too, that point to their own table or a later one of the room, or out of it.
    const without = keys.filter(({ from }) => !relations.has(from)).map(({ from }) => from);
    expect(without.sort()).toEqual([
      'appraiser.gauge_id',
      'appraiser.technician_id',
      'appraiser_drift.gauge_id',
      'appraiser_drift.technician_id',
      'audit.person_id',
      'depot_shop.depot_id',
      'forecast.vehicle_id',
      'import_change.import_id',
      'import_row.import_id',
      'import_understanding.technician_id',
      'inspection.supersedes_id',
      'job_axle.job_id',
      'job_kit.job_id',
      'job_person.job_id',
      'job_person.person_id',
      'kept_answer.vehicle_id',
      'measured_duty.vehicle_id',
      'order_message.order_id',
      'part.superseded_by',
      'part_offer.part_id',
      'part_offer.supplier_id',
      'part_plan.depot_id',
      'part_plan.part_id',
      'person.merged_into',
      'plan_depot.depot_id',
      'plan_depot.plan_id',
      'reading.supersedes_id',
      'reading_doubt.reading_id',
      'service_record.import_id',
      'specification.open_revision_id',
      'specification.released_revision_id',
      'specification_changed_answer.revision_id',
      'specification_changed_answer.service_id',
      'specification_release.revision_id',
      'specification_withdrawal.revision_id',
      'stock_level.bin_id',
      'stock_level.part_id',
      'vehicle_forecast.vehicle_id',
      'wear_group.model_id',
    ]);
  });
});
