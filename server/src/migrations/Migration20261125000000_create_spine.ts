import { Migration } from '@mikro-orm/migrations';

/**
 * The spine: people, register, vehicles, readings, forecasts, imports. What is evidence is append-only, and
 * the database itself refuses what the code would let through.
 */
export class Migration20261125000000_create_spine extends Migration {
  override up(): void {
    for (const statement of UP) this.addSql(statement);
  }

  override down(): void {
    for (const statement of DOWN) this.addSql(statement);
  }
}

const UP = [
  `create extension if not exists btree_gist`,
  `create table depot (
    id uuid primary key,
    name text not null unique check (length(trim(name)) between 1 and 120),
    time_zone text not null default 'UTC'
  )`,
  `create table person (
    id uuid primary key,
    name text not null check (length(trim(name)) between 1 and 120),
    role text not null check (role in ('coordinator', 'technician', 'parts keeper', 'viewer')),
    email text,
    password_hash text,
    distance_unit text not null default 'mi' check (distance_unit in ('mi', 'km')),
    thickness_unit text not null default 'mm' check (thickness_unit in ('mm', 'in', '1/32 in')),
    created_at timestamptz not null default now(),
    check ((email is null) = (password_hash is null))
  )`,
  `create unique index person_email on person (lower(email))`,
  `create unique index person_name on person (lower(name))`,
  `create table session (
    token_hash text primary key,
    person_id uuid not null references person,
    created_at timestamptz not null default now(),
    expires_at timestamptz not null
  )`,
  `create index session_person on session (person_id)`,
  `create table audit (
    id bigint generated always as identity primary key,
    at timestamptz not null default now(),
    person_id uuid references person,
    action text not null,
    subject text not null,
    detail jsonb not null default '{}'
  )`,
  `create index audit_subject on audit (subject)`,
  `create table idempotent_reply (
    id uuid primary key,
    request_hash text not null,
    body jsonb not null,
    at timestamptz not null default now()
  )`,
  `create table duty (
    id uuid primary key,
    name text not null check (length(trim(name)) between 1 and 120),
    stops_per_mile double precision not null check (stops_per_mile between 0 and 100),
    mph_before_stop double precision not null check (mph_before_stop between 0 and 100),
    payload_share double precision not null check (payload_share between 0 and 1.5),
    descent_m_per_mile double precision not null check (descent_m_per_mile between 0 and 400),
    retarder_share double precision not null check (retarder_share between 0 and 1),
    towed_kg double precision not null check (towed_kg between 0 and 60000),
    miles_per_day double precision not null check (miles_per_day between 0 and 1500)
  )`,
  `create unique index duty_name on duty (lower(name))`,
  `create table model (
    id uuid primary key,
    name text not null check (length(trim(name)) between 1 and 120),
    class text not null check (class in ('pickup', 'van', 'heavy')),
    tare_kg integer not null check (tare_kg between 300 and 60000),
    gvwr_kg integer not null check (gvwr_kg between 300 and 100000),
    reference_duty_id uuid references duty,
    check (gvwr_kg > tare_kg)
  )`,
  `create unique index model_name on model (lower(name))`,
  `create table model_axle (
    id uuid primary key,
    model_id uuid not null references model,
    axle integer not null check (axle between 1 and 6),
    brake text not null check (brake in ('hydraulic', 'air')),
    brake_detail text not null,
    pad_new_um integer not null check (pad_new_um between 3000 and 40000),
    backing_plate_um integer not null check (backing_plate_um between 0 and 20000),
    pad_maker_min_um integer not null check (pad_maker_min_um >= 0 and pad_maker_min_um < pad_new_um),
    rotor_new_um integer check (rotor_new_um between 5000 and 100000),
    rotor_discard_um integer check (rotor_discard_um < rotor_new_um),
    rotor_machine_to_um integer check (rotor_machine_to_um between rotor_discard_um and rotor_new_um),
    pistons_mm text,
    brake_share double precision not null check (brake_share > 0 and brake_share <= 1),
    unique (model_id, axle)
  )`,
  `create table limit_rule (
    id uuid primary key,
    jurisdiction text not null,
    authority text not null check (authority in ('law', 'policy')),
    brake text not null check (brake in ('hydraulic', 'air')),
    above_gvwr_kg double precision check (above_gvwr_kg >= 0),
    up_to_gvwr_kg double precision check (up_to_gvwr_kg >= 0),
    least_um integer not null check (least_um between 1 and 30000),
    equality_passes boolean not null,
    source text not null,
    revision text not null,
    checked_by text not null
  )`,
  `create table vehicle (
    id uuid primary key,
    unit text not null unique check (unit = upper(trim(unit)) and length(unit) between 1 and 20),
    model_id uuid not null references model,
    depot_id uuid not null references depot,
    input_rev integer not null default 1
  )`,
  `create index vehicle_model on vehicle (model_id)`,
  `create table duty_period (
    id uuid primary key,
    vehicle_id uuid not null references vehicle,
    duty_id uuid not null references duty,
    from_date date not null,
    to_date date,
    check (to_date is null or to_date > from_date),
    exclude using gist (vehicle_id with =, daterange(from_date, to_date) with &&)
  )`,
  `create table gauge (
    id uuid primary key,
    name text not null check (length(trim(name)) between 1 and 120),
    kind text not null,
    resolution_um double precision not null check (resolution_um > 0 and resolution_um <= 5000),
    unit text not null check (unit in ('mm', 'in', '1/32 in')),
    calibration_due date
  )`,
  `create unique index gauge_name on gauge (lower(name))`,
  `create table inspection (
    id uuid primary key,
    vehicle_id uuid not null references vehicle,
    technician_id uuid not null references person,
    gauge_id uuid not null references gauge,
    measured_on date not null check (measured_on >= '1990-01-01'),
    odometer_m integer not null check (odometer_m between 0 and 2000000000),
    odometer_typed text not null,
    note text,
    entered_by uuid not null references person,
    entered_at timestamptz not null default now(),
    import_id uuid,
    unique (id, vehicle_id, technician_id, measured_on, odometer_m)
  )`,
  `create index inspection_vehicle on inspection (vehicle_id, measured_on)`,
  `create table reading (
    id uuid primary key,
    inspection_id uuid not null,
    vehicle_id uuid not null,
    technician_id uuid not null,
    measured_on date not null,
    odometer_m integer not null,
    axle integer not null check (axle between 1 and 6),
    side text not null check (side in ('left', 'right')),
    pad text not null check (pad in ('inner', 'outer')),
    thickness_um integer check (thickness_um between 0 and 60000),
    typed text not null,
    unit text not null check (unit in ('mm', 'in', '1/32 in')),
    answer text check (answer in ('measured_twice', 'leave_to_coordinator')),
    supersedes_id uuid unique references reading,
    reason text,
    entered_by uuid not null references person,
    entered_at timestamptz not null default now(),
    check (thickness_um is not null or supersedes_id is not null),
    check (supersedes_id is null or length(trim(reason)) >= 3),
    check (supersedes_id <> id),
    foreign key (inspection_id, vehicle_id, technician_id, measured_on, odometer_m)
      references inspection (id, vehicle_id, technician_id, measured_on, odometer_m)
  )`,
  `create unique index reading_identity on reading
     (technician_id, vehicle_id, axle, side, pad, measured_on, odometer_m, thickness_um) where supersedes_id is null`,
  `create index reading_vehicle on reading (vehicle_id, measured_on)`,
  `create index reading_inspection on reading (inspection_id)`,
  `create table odometer (
    id uuid primary key,
    vehicle_id uuid not null references vehicle,
    read_on date not null check (read_on >= '1990-01-01'),
    odometer_m integer not null check (odometer_m between 0 and 2000000000),
    source text not null,
    entered_by uuid not null references person,
    entered_at timestamptz not null default now()
  )`,
  `create index odometer_vehicle on odometer (vehicle_id, read_on)`,
  `create table service (
    id uuid primary key,
    vehicle_id uuid not null references vehicle,
    axle integer not null check (axle between 1 and 6),
    fitted_on date not null check (fitted_on >= '1990-01-01'),
    odometer_m integer not null check (odometer_m between 0 and 2000000000),
    fitted text not null check (fitted in ('pads', 'pads and rotors', 'rotors')),
    recorded_by uuid not null references person,
    recorded_at timestamptz not null default now(),
    unique (vehicle_id, axle, fitted_on, fitted)
  )`,
  `create table wear_group (
    model_id uuid not null references model,
    axle integer not null,
    mean double precision not null,
    sd_vehicle double precision not null,
    sd_axle double precision not null,
    sd_pad double precision not null,
    vehicles integer not null,
    computed_at timestamptz not null default now(),
    primary key (model_id, axle)
  )`,
  `create table forecast (
    vehicle_id uuid not null references vehicle,
    axle integer not null,
    input_rev integer not null,
    input_hash text not null,
    model_version text not null,
    seed integer not null,
    today date not null,
    computed_at timestamptz not null default now(),
    mark jsonb not null,
    detail jsonb not null,
    primary key (vehicle_id, axle)
  )`,
  `create table vehicle_forecast (
    vehicle_id uuid primary key references vehicle,
    input_rev integer not null,
    today date not null,
    computed_at timestamptz not null default now(),
    detail jsonb not null
  )`,
  `create sequence forecast_serial`,
  `create table import_batch (
    id uuid primary key,
    kind text not null check (kind in ('models', 'duties', 'vehicles', 'services', 'readings')),
    file_name text not null,
    content_hash text not null,
    understanding jsonb not null,
    header jsonb not null,
    technician_id uuid references person,
    person_id uuid not null references person,
    at timestamptz not null default now(),
    counts jsonb not null,
    records integer not null
  )`,
  `create table import_row (
    import_id uuid not null references import_batch,
    line integer not null,
    cells jsonb not null,
    outcome text not null check (outcome in ('questioned', 'refused')),
    reasons jsonb not null,
    state text not null default 'open' check (state in ('open', 'taken', 'dismissed')),
    settled_by uuid references person,
    settled_at timestamptz,
    primary key (import_id, line)
  )`,
  `create table import_understanding (
    technician_id uuid not null references person,
    signature text not null,
    understanding jsonb not null,
    at timestamptz not null default now(),
    primary key (technician_id, signature)
  )`,
  `create table setting (key text primary key, value jsonb not null)`,
  `create function refuse_change() returns trigger language plpgsql as $$
    begin
      raise exception '% is append-only', tg_table_name using errcode = 'restrict_violation';
    end $$`,
  ...['reading', 'inspection', 'odometer', 'service', 'audit'].map(
    (table) =>
      `create trigger ${table}_append_only before update or delete on ${table} for each row execute function refuse_change()`,
  ),
  `create function refuse_falling_odometer() returns trigger language plpgsql as $$
    declare
      own_date date := case tg_table_name when 'inspection' then (to_jsonb(new)->>'measured_on')::date
        when 'odometer' then (to_jsonb(new)->>'read_on')::date else (to_jsonb(new)->>'fitted_on')::date end;
    begin
      perform 1 from vehicle where id = new.vehicle_id for update;
      if exists (
        select 1 from (
          select i.measured_on as day, i.odometer_m as metres from inspection i where i.vehicle_id = new.vehicle_id
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
  ...['inspection', 'odometer', 'service'].map(
    (table) =>
      `create trigger ${table}_rises before insert on ${table} for each row execute function refuse_falling_odometer()`,
  ),
];

const DOWN = [
  `drop table if exists setting, import_understanding, import_row, import_batch, vehicle_forecast, forecast, wear_group, service, odometer, reading,
     inspection, gauge, duty_period, vehicle, limit_rule, model_axle, model, duty, idempotent_reply, audit, session, person, depot`,
  `drop sequence if exists forecast_serial`,
  `drop function if exists refuse_change, refuse_falling_odometer`,
];
