import { Migration } from '@mikro-orm/migrations';

/**
 * An odometer begins anew where its instrument is replaced. Every row keeps what was shown on its day; where days are held
 * against each other, those before count as the instrument of today would have shown them.
 */
export class Migration20261201100000_instruments extends Migration {
  override up(): void {
    this.addSql(`create table instrument_change (
      id uuid primary key,
      vehicle_id uuid not null references vehicle,
      replaced_on date not null,
      old_m integer not null check (old_m >= 0),
      new_m integer not null check (new_m >= 0),
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp(),
      withdrawn_by uuid references person,
      withdrawn_at timestamptz,
      check ((withdrawn_by is null) = (withdrawn_at is null))
    )`);
    this.addSql(
      'create unique index instrument_change_day on instrument_change (vehicle_id, replaced_on) where withdrawn_at is null',
    );
    this.addSql(rises(heldOnInstruments));
    this.addSql(ONE_PLAN);
  }

  override down(): void {
    this.addSql(rises(held(asShown)));
    this.addSql(ONE_PLAN);
    this.addSql('drop table instrument_change');
  }
}

/** Metres of a day as the instrument of today would have shown them. */
const now: Shown = (day, metres) =>
  `(${metres} - coalesce((select sum(c.old_m - c.new_m) from instrument_change c
    where c.vehicle_id = new.vehicle_id and c.withdrawn_at is null and c.replaced_on > ${day}), 0)::integer)`;

const ONE_PLAN = 'alter function refuse_falling_odometer() set plan_cache_mode = force_generic_plan';

type Shown = (day: string, metres: string) => string;
const asShown: Shown = (_day, metres) => metres;

/** Whether a row falls against another, of days as they were shown or as the instrument of today would have shown them. */
const held = (shown: Shown) => `own_m := ${shown('own_date', 'new.odometer_m')};
    falls := exists (
      select 1 from (
        select i.measured_on as day, i.odometer_m as metres from live_inspection i where i.vehicle_id = new.vehicle_id
          and i.id is distinct from own_earlier
          and not exists (select 1 from reading gone where gone.inspection_id = i.id
            having count(*) > 0 and count(*) = count(*) filter (where gone.thickness_um is null
              or exists (select 1 from reading later where later.supersedes_id = gone.id)))
        union all select read_on, odometer_m from odometer where vehicle_id = new.vehicle_id
        union all select fitted_on, odometer_m from service where vehicle_id = new.vehicle_id
      ) known
      where (known.day < own_date and ${shown('known.day', 'known.metres')} > own_m + 1610)
         or (known.day > own_date and ${shown('known.day', 'known.metres')} < own_m - 1610));`;

/** Few vehicles had two instruments; of the others the figures are asked for by the index, as they stand. */
const heldOnInstruments = `if exists (select 1 from instrument_change where vehicle_id = new.vehicle_id and withdrawn_at is null) then
      ${held(now)}
    else
      ${held(asShown)}
    end if;`;

const rises = (
  holding: string,
) => `create or replace function refuse_falling_odometer() returns trigger language plpgsql as $$
  declare
    own_date date := case tg_table_name when 'inspection' then (to_jsonb(new)->>'measured_on')::date
      when 'odometer_record' then (to_jsonb(new)->>'read_on')::date else (to_jsonb(new)->>'fitted_on')::date end;
    own_earlier uuid := (to_jsonb(new)->>'supersedes_id')::uuid;
    own_m integer;
    falls boolean;
  begin
    perform 1 from vehicle where id = new.vehicle_id for update;
    if exists (select 1 from vehicle where id = new.vehicle_id and left_on < own_date) then
      raise exception 'vehicle left' using errcode = 'check_violation', constraint = 'vehicle_left';
    end if;
    ${holding}
    if falls then
      raise exception 'odometer falls' using errcode = 'check_violation', constraint = 'odometer_rises';
    end if;
    return new;
  end $$`;
