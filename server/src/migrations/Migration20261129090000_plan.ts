import { Migration } from '@mikro-orm/migrations';
import { AWAY_KINDS, CALENDAR_KINDS, DEPOT_STATES, PLAN_STATES } from '@mile-mark/contract/plan';

const oneOf = (names: readonly string[]) => names.map((name) => `'${name}'`).join(', ');

/** Shops, who is away, plans with their depots and visits, calendars given out, mails to be sent. */
export class Migration20261129090000_plan extends Migration {
  override up(): void {
    this.addSql(`create table depot_shop (
      depot_id uuid primary key references depot,
      week jsonb not null,
      revision integer not null default 1 check (revision > 0),
      person_id uuid references person,
      changed_on date
    )`);
    // One row; what it was before stays in the audit.
    this.addSql(`create table plan_terms (
      id boolean primary key default true check (id),
      terms jsonb not null,
      revision integer not null default 1 check (revision > 0),
      person_id uuid references person,
      changed_on date
    )`);
    this.addSql(`create table absence (
      id uuid primary key,
      kind text not null check (kind in (${oneOf(AWAY_KINDS)})),
      absent_person_id uuid references person,
      vehicle_id uuid references vehicle,
      depot_id uuid references depot,
      from_date date not null,
      to_date date not null check (to_date >= from_date),
      reason text not null check (length(trim(reason)) between 3 and 200),
      comes_in boolean not null default false check (not comes_in or kind = 'vehicle'),
      calendar_uid text,
      entered_by uuid not null references person,
      entered_on date not null,
      withdrawn_on date,
      check ((kind = 'person') = (absent_person_id is not null)),
      check ((kind = 'vehicle') = (vehicle_id is not null)),
      check ((kind = 'depot') = (depot_id is not null))
    )`);
    this.addSql('create index absence_live on absence (to_date) where withdrawn_on is null');
    this.addSql(`create unique index absence_calendar on absence
      (calendar_uid, coalesce(absent_person_id, vehicle_id, depot_id)) where withdrawn_on is null and calendar_uid is not null`);
    this.addSql(`create table plan (
      id uuid primary key,
      serial bigserial not null,
      state text not null check (state in (${oneOf(PLAN_STATES)})),
      from_date date not null,
      weeks integer not null check (weeks between 1 and 52),
      gap double precision not null,
      seconds double precision not null,
      urgent jsonb not null default '[]',
      asked_by uuid not null references person,
      asked_on date not null,
      published_by uuid references person,
      published_on date,
      revision integer not null default 1 check (revision > 0)
    )`);
    // Two people publish at once: one of them does.
    this.addSql(`create unique index plan_one_published on plan (state) where state = 'published'`);
    this.addSql(`create table plan_depot (
      plan_id uuid not null references plan,
      depot_id uuid not null references depot,
      state text not null default 'waiting' check (state in (${oneOf(DEPOT_STATES)})),
      attempt integer not null default 0,
      heartbeat_at timestamptz not null default now(),
      problem jsonb,
      dates jsonb,
      cost double precision,
      bound double precision,
      proved_gap double precision,
      seconds double precision,
      earliest_cost double precision,
      interval_cost double precision,
      unplaced jsonb not null default '[]',
      failure text,
      primary key (plan_id, depot_id)
    )`);
    this.addSql(`create table plan_visit (
      id uuid primary key,
      uid uuid not null,
      plan_id uuid not null,
      depot_id uuid not null,
      vehicle_id uuid not null references vehicle,
      axles jsonb not null,
      day date not null,
      bay text,
      hours double precision not null check (hours > 0),
      outside boolean not null default false,
      locked boolean not null default false,
      by_hand boolean not null default false,
      why jsonb not null default '[]',
      job_id uuid references job,
      foreign key (plan_id, depot_id) references plan_depot
    )`);
    this.addSql('create index plan_visit_plan on plan_visit (plan_id, depot_id)');
    this.addSql('create index plan_visit_vehicle on plan_visit (vehicle_id)');
    // Changes by hand, so that each can be taken back.
    this.addSql(`create table plan_change (
      id uuid primary key,
      serial bigserial not null,
      plan_id uuid not null references plan,
      depot_id uuid not null references depot,
      before jsonb not null,
      person_id uuid not null references person,
      undone boolean not null default false
    )`);
    this.addSql(`create table calendar_link (
      id uuid primary key,
      token_hash text not null unique,
      kind text not null check (kind in (${oneOf(CALENDAR_KINDS)})),
      subject_id uuid not null,
      made_by uuid not null references person,
      made_on date not null,
      last_read_on date,
      withdrawn_on date
    )`);
    this.addSql(`create table mail (
      id uuid primary key,
      serial bigserial not null,
      person_id uuid not null references person,
      subject text not null,
      body text not null,
      at timestamptz not null default clock_timestamp(),
      sent_at timestamptz,
      failure text
    )`);
    this.addSql('create index mail_waiting on mail (serial) where sent_at is null');
  }
  override down(): void {
    this.addSql(
      'drop table mail, calendar_link, plan_change, plan_visit, plan_depot, plan, absence, plan_terms, depot_shop',
    );
  }
}
