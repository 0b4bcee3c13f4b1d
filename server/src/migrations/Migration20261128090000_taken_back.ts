import { Migration } from '@mikro-orm/migrations';
import { DEGREES, FINDING_ITEMS } from '@mile-mark/core';

const oneOf = (names: readonly string[]) => names.map((name) => `'${name}'`).join(', ');

/** What is kept of an inspection besides itself; each is read through a view that leaves out what was taken back. */
const BESIDES = ['rotor_measurement', 'unseen_pad', 'photo'];

/**
 * Findings say which, how far and what else; a finding or a whole inspection can be taken back: who, when and why is
 * kept, what was taken back stays on record, and everything reads only what stands.
 */
export class Migration20261128090000_taken_back extends Migration {
  override up(): void {
    this.addSql(`alter table finding add column places text[] not null default '{}',
      add column degree text check (degree in (${oneOf(DEGREES)})),
      add column note text check (length(trim(note)) between 1 and 500),
      drop constraint if exists finding_item_check,
      add constraint finding_item_check check (item in (${oneOf(FINDING_ITEMS)}))`);
    for (const subject of ['finding', 'inspection']) {
      this.addSql(`create table ${subject}_withdrawal (
        id uuid primary key,
        ${subject}_id uuid not null unique references ${subject},
        ${subject === 'inspection' ? 'moved_to uuid references inspection,' : ''}
        reason text not null check (length(trim(reason)) between 3 and 500),
        person_id uuid not null references person,
        at timestamptz not null default clock_timestamp()
      )`);
      this.addSql(`create trigger ${subject}_withdrawal_append_only before update or delete on ${subject}_withdrawal
        for each row execute function refuse_change()`);
    }
    this.addSql(`create view live_inspection as select i.* from inspection i
      where not exists (select 1 from inspection later where later.supersedes_id = i.id)
        and not exists (select 1 from inspection_withdrawal w where w.inspection_id = i.id)`);
    this.addSql(`create view live_finding as select f.* from finding f
      where not exists (select 1 from finding_withdrawal w where w.finding_id = f.id)
        and not exists (select 1 from inspection_withdrawal w where w.inspection_id = f.inspection_id)`);
    for (const table of BESIDES)
      this.addSql(`create view live_${table} as select x.* from ${table} x
        where not exists (select 1 from inspection_withdrawal w where w.inspection_id = x.inspection_id)`);
    this.addSql(`create index inspection_entered on inspection (entered_by, entered_at)`);
    this.addSql(`alter table person add column torque_shown text not null default 'as stated'
        check (torque_shown in ('as stated', 'N·m', 'lbf·ft')),
      add column single_keys boolean not null default true,
      add column walked boolean not null default false`);
    this.addSql(
      'alter table duty_period add column miles_per_day double precision check (miles_per_day between 0 and 1500)',
    );
    this.addSql('alter table model add column retarder boolean not null default false');
    this.addSql(`update model set retarder = class = 'heavy'`);
    this.addSql(`create table question_undo (
      id uuid primary key,
      answer_id uuid not null unique references question_answer,
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql(`create trigger question_undo_append_only before update or delete on question_undo
      for each row execute function refuse_change()`);
    this.addSql(`create view live_question_answer as select a.* from question_answer a
      where not exists (select 1 from question_undo u where u.answer_id = a.id)`);
    for (const subject of ['reading', 'inspection']) {
      this.addSql(`drop index question_answer_${subject}`);
      this.addSql(`create index question_answer_${subject} on question_answer (${subject}_id)`);
    }
    this.addSql(ONE_ANSWER);
    this.addSql(
      'create trigger question_once before insert on question_answer for each row execute function refuse_second_answer()',
    );
    this.addSql(RISES);
    // What was withdrawn may be entered again: a unique index can't see that, a trigger under the vehicle's lock can.
    this.addSql('drop index reading_identity');
    this.addSql(`create index reading_identity on reading
      (vehicle_id, axle, side, pad, measured_on, technician_id, odometer_m, thickness_um) where supersedes_id is null`);
    this.addSql(SAME);
    this.addSql(
      'create trigger reading_once before insert on reading for each row when (new.supersedes_id is null) execute function refuse_same_reading()',
    );
  }

  override down(): void {
    for (const view of ['inspection', 'finding', ...BESIDES]) this.addSql(`drop view live_${view}`);
    this.addSql('drop trigger question_once on question_answer');
    this.addSql('drop function refuse_second_answer');
    this.addSql('drop view live_question_answer');
    this.addSql('drop table question_undo');
    for (const subject of ['reading', 'inspection']) {
      this.addSql(`drop index question_answer_${subject}`);
      this.addSql(`create unique index question_answer_${subject} on question_answer (${subject}_id)`);
    }
    this.addSql('alter table duty_period drop column miles_per_day');
    this.addSql('alter table model drop column retarder');
    this.addSql('alter table person drop column torque_shown, drop column single_keys, drop column walked');
    this.addSql('drop trigger reading_once on reading');
    this.addSql('drop function refuse_same_reading');
    this.addSql('drop index reading_identity');
    this.addSql(`create unique index reading_identity on reading
      (technician_id, vehicle_id, axle, side, pad, measured_on, odometer_m, thickness_um) where supersedes_id is null`);
    this.addSql('drop index inspection_entered');
    this.addSql('drop table inspection_withdrawal, finding_withdrawal');
    this.addSql('alter table finding drop column places, drop column degree, drop column note');
  }
}

/** A question is settled once at a time; what was undone is open again. The row in question is locked meanwhile. */
const ONE_ANSWER = `create function refuse_second_answer() returns trigger language plpgsql as $$
  begin
    perform 1 from reading where id = new.reading_id for update;
    perform 1 from inspection where id = new.inspection_id for update;
    if exists (select 1 from live_question_answer a where a.reading_id = new.reading_id or a.inspection_id = new.inspection_id) then
      raise exception 'question is settled' using errcode = 'unique_violation',
        constraint = case when new.reading_id is null then 'question_answer_inspection' else 'question_answer_reading' end;
    end if;
    return new;
  end $$`;

/** The same reading stands once. */
const SAME = `create function refuse_same_reading() returns trigger language plpgsql as $$
  begin
    perform 1 from vehicle where id = new.vehicle_id for update;
    if exists (
      select 1 from reading r where r.supersedes_id is null and r.vehicle_id = new.vehicle_id and r.axle = new.axle
        and r.side = new.side and r.pad = new.pad and r.measured_on = new.measured_on and r.technician_id = new.technician_id
        and r.odometer_m = new.odometer_m and r.thickness_um = new.thickness_um
        and not exists (select 1 from reading gone where gone.supersedes_id = r.id and gone.thickness_um is null)
    ) then
      raise exception 'reading is in' using errcode = 'unique_violation', constraint = 'reading_identity';
    end if;
    return new;
  end $$`;

/** An odometer is held against those that stand; an inspection that was taken back says nothing. */
const RISES = `create or replace function refuse_falling_odometer() returns trigger language plpgsql as $$
  declare
    own_date date := case tg_table_name when 'inspection' then (to_jsonb(new)->>'measured_on')::date
      when 'odometer' then (to_jsonb(new)->>'read_on')::date else (to_jsonb(new)->>'fitted_on')::date end;
    own_earlier uuid := (to_jsonb(new)->>'supersedes_id')::uuid;
  begin
    perform 1 from vehicle where id = new.vehicle_id for update;
    if exists (
      select 1 from (
        select i.measured_on as day, i.odometer_m as metres from live_inspection i where i.vehicle_id = new.vehicle_id
          and i.id is distinct from own_earlier
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
  end $$`;
