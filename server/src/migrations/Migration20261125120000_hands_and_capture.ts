import { Migration } from '@mikro-orm/migrations';

/** Hands and their drift, questions and answers, capture in the bay, gauge studies. */
export class Migration20261125120000_hands_and_capture extends Migration {
  override up(): void {
    for (const statement of UP) this.addSql(statement);
  }

  override down(): void {
    for (const statement of DOWN) this.addSql(statement);
  }
}

const PLACE = `inspection_id uuid not null references inspection,
    vehicle_id uuid not null references vehicle,
    axle integer not null check (axle between 1 and 6),
    side text not null check (side in ('left', 'right'))`;

const UP = [
  `alter table inspection
    add column odometer_answer text check (odometer_answer in ('measured_twice', 'leave_to_coordinator')),
    add column usual_miles_per_day double precision,
    add column expected_odometer_m integer,
    add column supersedes_id uuid unique references inspection,
    add column reason text,
    add check (supersedes_id is null or length(trim(reason)) >= 3)`,
  `alter table forecast add column pads jsonb not null default '[]'`,
  `create table hand (
    technician_id uuid not null references person,
    gauge_id uuid not null references gauge,
    bias_mm double precision not null,
    bias_sd_mm double precision not null check (bias_sd_mm > 0),
    against_mm double precision not null,
    against_sd_mm double precision not null,
    repeatability_mm double precision not null check (repeatability_mm > 0),
    repeatability_log_sd double precision not null,
    readings integer not null,
    computed_at timestamptz not null default now(),
    primary key (technician_id, gauge_id)
  )`,
  `create table hand_share (
    kind text not null check (kind in ('technician', 'gauge')),
    subject_id uuid not null,
    bias_mm double precision not null,
    bias_sd_mm double precision not null,
    primary key (kind, subject_id)
  )`,
  `create table hand_drift (
    technician_id uuid not null references person,
    gauge_id uuid not null references gauge,
    quarter date not null,
    bias_mm double precision not null,
    bias_sd_mm double precision not null,
    readings integer not null,
    primary key (technician_id, gauge_id, quarter)
  )`,
  `create table reading_doubt (
    reading_id uuid primary key references reading,
    vehicle_id uuid not null references vehicle,
    suspicion jsonb not null
  )`,
  `create index reading_doubt_vehicle on reading_doubt (vehicle_id)`,
  `create table question_answer (
    id uuid primary key,
    reading_id uuid references reading,
    inspection_id uuid references inspection,
    answer text not null check (answer in ('it_is_so', 'correct', 'withdraw', 'measure_again')),
    note text,
    person_id uuid not null references person,
    at timestamptz not null default now(),
    check ((reading_id is null) <> (inspection_id is null))
  )`,
  `create unique index question_answer_reading on question_answer (reading_id)`,
  `create unique index question_answer_inspection on question_answer (inspection_id)`,
  `create table unseen_pad (
    id uuid primary key,
    ${PLACE},
    pad text not null check (pad in ('inner', 'outer'))
  )`,
  `create table finding (
    id uuid primary key,
    ${PLACE},
    item text not null check (item in ('pins', 'boots', 'leak', 'lining', 'rotor')),
    state text not null
  )`,
  `create table rotor_measurement (
    id uuid primary key,
    ${PLACE},
    thickness_um jsonb not null,
    runout_um jsonb not null,
    hub_runout_um jsonb not null,
    studs integer check (studs between 3 and 12)
  )`,
  `create table photo (
    id uuid primary key,
    inspection_id uuid not null references inspection,
    vehicle_id uuid not null references vehicle,
    axle integer check (axle between 1 and 6),
    side text check (side in ('left', 'right')),
    taken_at timestamptz not null,
    jpeg bytea not null check (length(jpeg) <= 1600000),
    entered_by uuid not null references person,
    entered_at timestamptz not null default now()
  )`,
  ...['unseen_pad', 'finding', 'rotor_measurement', 'photo'].map(
    (table) => `create index ${table}_vehicle on ${table} (vehicle_id)`,
  ),
  `create table gauge_study (
    id uuid primary key,
    name text not null check (length(trim(name)) between 1 and 120),
    gauge_id uuid references gauge,
    parts jsonb not null,
    technicians jsonb not null,
    repeats integer not null check (repeats between 2 and 10),
    seed integer,
    referenced boolean not null default false,
    new_um integer check (new_um > 0),
    limit_um integer not null check (limit_um > 0),
    created_by uuid not null references person,
    created_on date not null,
    created_at timestamptz not null default now(),
    check (new_um is null or new_um > limit_um)
  )`,
  `create unique index gauge_study_name on gauge_study (lower(name))`,
  `create table study_value (
    id uuid primary key,
    study_id uuid not null references gauge_study,
    part text not null,
    technician text not null,
    trial integer not null check (trial >= 1),
    value_um double precision not null,
    typed text not null,
    entered_by uuid not null references person,
    entered_at timestamptz not null default clock_timestamp(),
    serial bigint generated always as identity
  )`,
  `create index study_value_study on study_value (study_id, serial)`,
  ...['question_answer', 'unseen_pad', 'finding', 'rotor_measurement', 'photo', 'gauge_study', 'study_value'].map(
    (table) =>
      `create trigger ${table}_append_only before update or delete on ${table} for each row execute function refuse_change()`,
  ),
  // An inspection entered anew at another odometer is held against the others, not against the one it supersedes.
  `create or replace function refuse_falling_odometer() returns trigger language plpgsql as $$
    declare
      own_date date := case tg_table_name when 'inspection' then (to_jsonb(new)->>'measured_on')::date
        when 'odometer' then (to_jsonb(new)->>'read_on')::date else (to_jsonb(new)->>'fitted_on')::date end;
      own_earlier uuid := (to_jsonb(new)->>'supersedes_id')::uuid;
    begin
      perform 1 from vehicle where id = new.vehicle_id for update;
      if exists (
        select 1 from (
          select i.measured_on as day, i.odometer_m as metres from inspection i where i.vehicle_id = new.vehicle_id
            and i.id is distinct from own_earlier
            and not exists (select 1 from inspection later where later.supersedes_id = i.id)
            and not exists (select 1 from reading gone where gone.inspection_id = i.id
              having count(*) > 0 and count(*) = count(*) filter (where gone.thickness_um is null
                or exists (select 1 from reading later where later.supersedes_id = gone.id)))
          union all select read_on, odometer_m from odometer where vehicle_id = new.vehicle_id
          union all select fitted_on, odometer_m from service where vehicle_id = new.vehicle_id
        ) known
        where (known.day < own_date and known.metres > new.odometer_m + 1610)
           or (known.day > own_date and known.metres < new.odometer_m - 1610)
      ) then
        raise exception 'odometer falls' using errcode = 'check_violation', constraint = 'odometer_rises';
      end if;
      return new;
    end $$`,
];

const DOWN = [
  `drop table if exists study_value, gauge_study, photo, rotor_measurement, finding, unseen_pad, question_answer,
     reading_doubt, hand_drift, hand_share, hand`,
  `alter table forecast drop column if exists pads`,
  `alter table inspection drop column if exists odometer_answer, drop column if exists usual_miles_per_day,
     drop column if exists expected_odometer_m, drop column if exists supersedes_id, drop column if exists reason`,
];
