import { Migration } from '@mikro-orm/migrations';

/**
 * Two entries of one person become one, with what was measured and signed under either. What is append-only stays so but
 * for that: a row may change while two people are made one, and then only where it names the one who becomes the other.
 */
export class Migration20261201110000_people_merged extends Migration {
  override up(): void {
    // A file of services is taken back whole, as one of readings is.
    this.addSql('alter table service_record add column import_id uuid references import_batch');
    this.addSql('create index service_import on service_record (import_id) where import_id is not null');
    this.addSql(`alter table person add column merged_into uuid references person check (merged_into <> id)`);
    this.addSql(
      refuseChange(`if tg_op = 'UPDATE' and merge like '%>%' and to_jsonb(new) = replace(to_jsonb(old)::text,
        split_part(merge, '>', 1), split_part(merge, '>', 2))::jsonb then return new; end if;`),
    );
    this.addSql(deferred('deferrable initially immediate'));
  }

  override down(): void {
    this.addSql(deferred('not deferrable'));
    this.addSql(refuseChange(''));
    this.addSql('alter table person drop column merged_into');
    this.addSql('alter table service_record drop column import_id');
  }
}

const refuseChange = (
  unless: string,
) => `create or replace function refuse_change() returns trigger language plpgsql as $$
  declare merge text := coalesce(current_setting('mile_mark.merge', true), '');
  begin
    ${unless}
    raise exception '% is append-only', tg_table_name using errcode = 'restrict_violation';
  end $$`;

/** References by several columns at once, which can only change together: whoever changes them says when it is held against. */
const deferred = (how: string) => `do $$
  declare one record;
  begin
    for one in select conrelid::regclass::text as held_by, conname from pg_constraint
      where contype = 'f' and array_length(conkey, 1) > 1 and connamespace = 'public'::regnamespace
    loop
      execute format('alter table %s alter constraint %I ${how}', one.held_by, one.conname);
    end loop;
  end $$`;
