import { Migration } from '@mikro-orm/migrations';

/**
 * Odometers are held against those that stand, and nothing is recorded of a vehicle on a day after it left the fleet.
 *
 * @param odometers what the table of odometers is called
 */
const rises = (
  odometers: string,
  departed: string,
) => `create or replace function refuse_falling_odometer() returns trigger language plpgsql as $$
  declare
    own_date date := case tg_table_name when 'inspection' then (to_jsonb(new)->>'measured_on')::date
      when '${odometers}' then (to_jsonb(new)->>'read_on')::date else (to_jsonb(new)->>'fitted_on')::date end;
    own_earlier uuid := (to_jsonb(new)->>'supersedes_id')::uuid;
  begin
    perform 1 from vehicle where id = new.vehicle_id for update;
    ${departed}
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

const DEPARTED = `if exists (select 1 from vehicle where id = new.vehicle_id and left_on < own_date) then
      raise exception 'vehicle left' using errcode = 'check_violation', constraint = 'vehicle_left';
    end if;`;

/** Vehicles move, leave and are corrected; depots close; the start of a record's odometer is corrected, never erased. */
export class Migration20261130090000_fleet_kept_up extends Migration {
  override up(): void {
    this.addSql(`alter table vehicle add column revision integer not null default 1,
      add column left_on date, add column left_how text check (left_how in ('sold', 'retired')),
      add constraint vehicle_left_whole check ((left_on is null) = (left_how is null))`);
    this.addSql('create view vehicle_in_fleet as select * from vehicle where left_on is null');
    this.addSql('alter table depot add column revision integer not null default 1, add column closed_on date');
    this.addSql('create unique index depot_name_alike on depot (lower(name))');
    this.addSql(`create table vehicle_move (
      id uuid primary key,
      vehicle_id uuid not null references vehicle,
      from_depot_id uuid not null references depot,
      to_depot_id uuid not null references depot check (to_depot_id <> from_depot_id),
      moved_on date not null,
      back_on date check (back_on > moved_on),
      begun boolean not null default false,
      ended boolean not null default false check (begun or not ended),
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql(`create unique index vehicle_move_open on vehicle_move (vehicle_id)
      where not begun or (back_on is not null and not ended)`);
    this.addSql('create index vehicle_move_vehicle on vehicle_move (vehicle_id, moved_on)');

    this.addSql('alter table odometer rename to odometer_record');
    this.addSql(`create table odometer_withdrawal (
      id uuid primary key,
      odometer_id uuid not null unique references odometer_record,
      reason text not null check (length(trim(reason)) between 3 and 500),
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql(`create trigger odometer_withdrawal_append_only before update or delete on odometer_withdrawal
      for each row execute function refuse_change()`);
    this.addSql(`create view odometer as select o.* from odometer_record o
      where not exists (select 1 from odometer_withdrawal w where w.odometer_id = o.id)`);
    this.addSql(rises('odometer_record', DEPARTED));
    this.addSql(`create function refuse_job_of_departed() returns trigger language plpgsql as $$
      begin
        perform 1 from vehicle where id = new.vehicle_id for update;
        if exists (select 1 from vehicle where id = new.vehicle_id and left_on is not null) then
          raise exception 'vehicle left' using errcode = 'check_violation', constraint = 'vehicle_left';
        end if;
        return new;
      end $$`);
    this.addSql(
      'create trigger job_of_fleet before insert on job for each row execute function refuse_job_of_departed()',
    );
  }

  override down(): void {
    this.addSql('drop trigger job_of_fleet on job');
    this.addSql('drop function refuse_job_of_departed');
    this.addSql('drop view odometer');
    // A corrected start goes: what stands can't be told from it any more.
    this.addSql('alter table odometer_record disable trigger user');
    this.addSql('create temporary table odometer_gone on commit drop as select odometer_id from odometer_withdrawal');
    this.addSql('drop table odometer_withdrawal');
    this.addSql('delete from odometer_record where id in (select odometer_id from odometer_gone)');
    this.addSql('alter table odometer_record enable trigger user');
    this.addSql('alter table odometer_record rename to odometer');
    this.addSql(rises('odometer', ''));
    this.addSql('drop table vehicle_move');
    this.addSql('drop index depot_name_alike');
    this.addSql('alter table depot drop column revision, drop column closed_on');
    this.addSql('drop view vehicle_in_fleet');
    this.addSql(
      'alter table vehicle drop constraint vehicle_left_whole, drop column revision, drop column left_on, drop column left_how',
    );
  }
}
