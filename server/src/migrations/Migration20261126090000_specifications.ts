import { Migration } from '@mikro-orm/migrations';

/** A figure of the torque inside a revision's detail. */
const torque = (field: string) => `(detail #>> '{torque,${field}}')::numeric`;
const rises = (below: string, above: string) =>
  `check (${torque(below)} is null or ${torque(above)} is null or ${torque(below)} <= ${torque(above)})`;

/** Specifications by model, axle and joint with their revisions and releases; torque tools; variants of models. */
export class Migration20261126090000_specifications extends Migration {
  override up(): void {
    this.addSql(`alter table model
      add column drive text,
      add column wheelbase_mm int check (wheelbase_mm between 1000 and 12000),
      add column built_from date,
      add column built_to date check (built_to >= built_from),
      add column axle_option text`);
    this.addSql(`create table vehicle_model_change (
      id uuid primary key default gen_random_uuid(),
      vehicle_id uuid not null references vehicle,
      from_model_id uuid not null references model,
      to_model_id uuid not null references model,
      person_id uuid not null references person,
      changed_on date not null,
      at timestamptz not null default now()
    )`);
    this.addSql(`create table joint_kind (
      id uuid primary key,
      name text not null check (length(trim(name)) between 1 and 60),
      brake text check (brake in ('hydraulic', 'air')),
      expected boolean not null default false,
      hollow boolean not null default false,
      place serial
    )`);
    this.addSql('create unique index joint_kind_name on joint_kind (lower(name))');
    this.addSql(`create table specification (
      id uuid primary key,
      model_id uuid not null references model,
      axle int not null check (axle between 1 and 6),
      joint_kind_id uuid references joint_kind,
      position text not null default '',
      open_revision_id uuid,
      released_revision_id uuid,
      constraint specification_place unique nulls not distinct (model_id, axle, joint_kind_id, position)
    )`);
    this.addSql(`create table specification_revision (
      id uuid primary key,
      specification_id uuid not null references specification,
      number int not null check (number >= 1),
      detail jsonb not null check (detail ->> 'about' in ('joint', 'axle')),
      document text not null check (length(trim(document)) > 0),
      page text not null check (length(trim(page)) > 0),
      revision text not null check (length(trim(revision)) > 0),
      dated date not null,
      confirmed jsonb not null default '[]',
      demo boolean not null default false,
      imported_from text,
      entered_by uuid not null references person,
      entered_on date not null,
      entered_at timestamptz not null default now(),
      unique (specification_id, number),
      unique (id, entered_by),
      check (jsonb_typeof(detail -> 'torque') is distinct from 'object'
        or coalesce(detail #>> '{torque,unit}', '') in ('N·m', 'lbf·ft', 'lbf·in')),
      check (coalesce(${torque('least')}, 1) > 0 and coalesce(${torque('nominal')}, 1) > 0 and coalesce(${torque('most')}, 1) > 0),
      ${rises('least', 'nominal')},
      ${rises('nominal', 'most')},
      ${rises('least', 'most')}
    )`);
    this.addSql(`alter table specification
      add constraint specification_open foreign key (open_revision_id) references specification_revision,
      add constraint specification_released foreign key (released_revision_id) references specification_revision,
      add constraint specification_one_or_other check (open_revision_id is distinct from released_revision_id or open_revision_id is null)`);
    this.addSql(`create table specification_attempt (
      id uuid primary key,
      revision_id uuid not null references specification_revision,
      person_id uuid not null references person,
      at timestamptz not null default now(),
      typed jsonb not null,
      differing jsonb not null,
      answer jsonb not null
    )`);
    this.addSql('create index specification_attempt_revision on specification_attempt (revision_id)');
    this.addSql(`create table specification_release (
      revision_id uuid primary key references specification_revision,
      attempt_id uuid not null references specification_attempt,
      entered_by uuid not null,
      released_by uuid not null references person,
      released_on date not null,
      released_at timestamptz not null default now(),
      detail jsonb not null,
      settled jsonb,
      replaces uuid references specification_revision,
      changes jsonb not null default '[]',
      foreign key (revision_id, entered_by) references specification_revision (id, entered_by),
      constraint specification_two_people check (released_by <> entered_by)
    )`);
    this.addSql(`create table specification_withdrawal (
      revision_id uuid primary key references specification_revision,
      person_id uuid not null references person,
      withdrawn_on date not null,
      at timestamptz not null default now(),
      reason text not null check (length(trim(reason)) >= 3)
    )`);
    this.addSql(`create table specification_changed_answer (
      revision_id uuid not null references specification_revision,
      service_id uuid not null references service,
      answer text not null check (answer in ('checked', 'redone', 'not_needed')),
      note text,
      person_id uuid not null references person,
      at timestamptz not null default now(),
      primary key (revision_id, service_id)
    )`);
    for (const table of [
      'specification_revision',
      'specification_attempt',
      'specification_release',
      'specification_withdrawal',
      'specification_changed_answer',
      'vehicle_model_change',
    ])
      this.addSql(`create trigger ${table}_append_only before update or delete on ${table}
        for each row execute function refuse_change()`);
    this.addSql(`create table torque_tool (
      id uuid primary key,
      name text not null check (length(trim(name)) between 1 and 60),
      kind text not null check (kind in ('wrench', 'adapter', 'multiplier')),
      type text check (type in ('setting', 'indicating')),
      depot_id uuid not null references depot,
      unit text not null check (unit in ('N·m', 'lbf·ft', 'lbf·in')),
      least numeric check (least > 0),
      most numeric not null check (most > 0),
      graduation numeric check (graduation > 0),
      length_mm numeric check (length_mm > 0),
      extension_mm numeric check (extension_mm > 0),
      end_size text,
      ratio numeric check (ratio > 1),
      drive text,
      retired boolean not null default false,
      check (least is null or least < most),
      check (kind <> 'wrench' or (least is not null and graduation is not null)),
      check (kind <> 'adapter' or extension_mm is not null),
      check (kind <> 'multiplier' or ratio is not null)
    )`);
    this.addSql('create unique index torque_tool_name on torque_tool (lower(name))');
    this.addSql(`create table tool_calibration (
      id uuid primary key,
      tool_id uuid not null references torque_tool,
      done_on date,
      due date not null check (due > done_on),
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql('create index tool_calibration_tool on tool_calibration (tool_id, at desc)');
    this.addSql(`create trigger tool_calibration_append_only before update or delete on tool_calibration
      for each row execute function refuse_change()`);
  }

  override down(): void {
    for (const table of ['tool_calibration', 'torque_tool', 'specification_changed_answer', 'specification_withdrawal'])
      this.addSql(`drop table if exists ${table}`);
    this.addSql('drop table if exists specification_release');
    this.addSql('drop table if exists specification_attempt');
    this.addSql('alter table specification drop constraint specification_open, drop constraint specification_released');
    this.addSql('drop table if exists specification_revision');
    this.addSql('drop table if exists specification');
    this.addSql('drop table if exists joint_kind');
    this.addSql('drop table if exists vehicle_model_change');
    this.addSql(
      'alter table model drop column drive, drop column wheelbase_mm, drop column built_from, drop column built_to, drop column axle_option',
    );
  }
}
