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
    // A row that may not go in as it is typed is not offered to be taken so.
    this.addSql('alter table import_row add column takeable boolean not null default true');
    // What a stretch of duty said before it was corrected or withdrawn.
    this.addSql(`create table duty_correction (
      id uuid primary key,
      vehicle_id uuid not null references vehicle,
      duty_id uuid not null references duty,
      from_date date not null,
      to_date date,
      miles_per_day double precision,
      reason text not null check (length(trim(reason)) >= 3),
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql('create index duty_correction_vehicle on duty_correction (vehicle_id)');
    this.addSql(`create trigger duty_correction_append_only before update or delete on duty_correction
      for each row execute function refuse_change()`);
    for (const name of ROW_BY_ROW) this.addSql(`alter function ${name}() set plan_cache_mode = force_generic_plan`);
    this.addSql('drop index inspection_vehicle');
    this.addSql('create index inspection_vehicle on inspection (vehicle_id, measured_on, odometer_m)');
  }

  override down(): void {
    this.addSql('drop index inspection_vehicle');
    this.addSql('create index inspection_vehicle on inspection (vehicle_id, measured_on)');
    for (const name of ROW_BY_ROW) this.addSql(`alter function ${name}() reset plan_cache_mode`);
    this.addSql('drop table duty_correction');
    this.addSql('alter table import_row drop column takeable');
    this.addSql('drop table import_draft');
  }
}

const ROW_BY_ROW = ['refuse_falling_odometer', 'refuse_same_reading'];
