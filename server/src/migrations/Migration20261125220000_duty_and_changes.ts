import { Migration } from '@mikro-orm/migrations';

/** Duties with slowdowns and where they come from; changes of wear that were found; what the fleet had taught by a day; the feed of driven days. */
export class Migration20261125220000_duty_and_changes extends Migration {
  override up(): void {
    this.addSql(`alter table duty
      add column slowdowns_per_mile float8 not null default 0 check (slowdowns_per_mile >= 0),
      add column slowdown_from_mph float8 not null default 0 check (slowdown_from_mph >= 0),
      add column slowdown_to_mph float8 not null default 0 check (slowdown_to_mph >= 0 and slowdown_to_mph <= slowdown_from_mph),
      add column longest_descent_m float8 not null default 0 check (longest_descent_m >= 0),
      add column source text not null default 'stated' check (source in ('stated', 'trace')),
      add column source_note text,
      add column made_by uuid references person (id),
      add column made_at timestamptz not null default now()`);
    this.addSql(`create table wear_change (
      id uuid primary key default gen_random_uuid(),
      vehicle_id uuid not null references vehicle (id),
      kind text not null check (kind in ('apart', 'wheel', 'axle', 'route')),
      axle int,
      side text check (side in ('left', 'right')),
      more text check (more in ('inner', 'outer')),
      since date not null,
      until date,
      probability float8 not null check (probability between 0 and 1),
      detail jsonb not null,
      first_told date not null,
      last_told date not null,
      gone_on date
    )`);
    this.addSql('create index wear_change_vehicle on wear_change (vehicle_id)');
    this.addSql(`create table wear_change_answer (
      id uuid primary key,
      change_id uuid not null references wear_change (id),
      answer text not null check (answer in ('look', 'cause_found', 'nothing_found', 'duty_changed')),
      note text,
      person_id uuid not null references person (id),
      at timestamptz not null default now()
    )`);
    this.addSql(`create trigger wear_change_answer_append_only before update or delete on wear_change_answer
      for each row execute function refuse_change()`);
    this.addSql(`create table ground_history (
      as_of date primary key,
      detail jsonb not null,
      afterwards boolean not null default false,
      computed_at timestamptz not null default now()
    )`);
    this.addSql(`create table feed_day (
      id uuid primary key,
      vehicle_id uuid references vehicle (id),
      unit text not null,
      day date not null,
      odometer_m int,
      detail jsonb not null,
      fault text check (fault in ('falls', 'leaps', 'twice', 'gap', 'unknown', 'unreadable')),
      fault_note text,
      received_at timestamptz not null default now()
    )`);
    this.addSql(`create unique index feed_day_once on feed_day (vehicle_id, day) where fault is null or fault = 'gap'`);
    this.addSql(`create index feed_day_faults on feed_day (received_at) where fault is not null`);
    this.addSql(`create table measured_duty (
      vehicle_id uuid not null references vehicle (id),
      from_date date not null,
      to_date date not null,
      days int not null,
      miles float8 not null,
      duty jsonb not null,
      primary key (vehicle_id, from_date),
      check (to_date > from_date)
    )`);
    this.addSql(`create table feed_state (
      only_one boolean primary key default true check (only_one),
      cursor text,
      polled_at timestamptz,
      failed_at timestamptz,
      failure text
    )`);
  }

  override down(): void {
    this.addSql('drop table if exists feed_state');
    this.addSql('drop table if exists measured_duty');
    this.addSql('drop table if exists feed_day');
    this.addSql('drop table if exists ground_history');
    this.addSql('drop table if exists wear_change_answer');
    this.addSql('drop table if exists wear_change');
    this
      .addSql(`alter table duty drop column slowdowns_per_mile, drop column slowdown_from_mph, drop column slowdown_to_mph,
      drop column longest_descent_m, drop column source, drop column source_note, drop column made_by, drop column made_at`);
  }
}
