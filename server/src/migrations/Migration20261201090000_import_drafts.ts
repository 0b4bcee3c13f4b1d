import { Migration } from '@mikro-orm/migrations';

/**
 * Files that wait to be taken in are kept with what was said of them. And the triggers that hold each row against the
 * record keep one plan (planning anew for every row took longer than looking), with an index that has all they ask an
 * inspection for: without the odometer in it, one that begins with the inspection's own id was read from end to end.
 */
export class Migration20261201090000_import_drafts extends Migration {
  override up(): void {
    this.addSql(`create table import_draft (
      id uuid primary key,
      person_id uuid not null references person,
      file_name text not null check (length(file_name) between 1 and 255),
      kind text not null,
      content bytea not null,
      content_hash text not null,
      stated jsonb not null default '{}',
      edits jsonb not null default '{}',
      choices jsonb not null default '{}',
      revision integer not null default 1,
      at timestamptz not null,
      changed_at timestamptz not null
    )`);
    this.addSql('create index import_draft_person on import_draft (person_id)');
    for (const name of ROW_BY_ROW) this.addSql(`alter function ${name}() set plan_cache_mode = force_generic_plan`);
    this.addSql('drop index inspection_vehicle');
    this.addSql('create index inspection_vehicle on inspection (vehicle_id, measured_on, odometer_m)');
  }

  override down(): void {
    this.addSql('drop index inspection_vehicle');
    this.addSql('create index inspection_vehicle on inspection (vehicle_id, measured_on)');
    for (const name of ROW_BY_ROW) this.addSql(`alter function ${name}() reset plan_cache_mode`);
    this.addSql('drop table import_draft');
  }
}

const ROW_BY_ROW = ['refuse_falling_odometer', 'refuse_same_reading'];
