import { Migration } from '@mikro-orm/migrations';

const COLUMNS = 'vehicle_id, axle, fitted_on, fitted';

/**
 * What was fitted can be withdrawn with a reason: `service_record` keeps all, and everything that reads `service` reads
 * what stands. The same may be recorded again once the first was withdrawn.
 */
export class Migration20261129140000_service_withdrawal extends Migration {
  override up(): void {
    this.addSql('alter table service rename to service_record');
    this.addSql(`alter table service_record drop constraint service_vehicle_id_axle_fitted_on_fitted_key`);
    this.addSql(`create index service_place on service_record (${COLUMNS})`);
    this.addSql(`create table service_withdrawal (
      id uuid primary key,
      service_id uuid not null unique references service_record,
      reason text not null check (length(trim(reason)) between 3 and 500),
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql(`create trigger service_withdrawal_append_only before update or delete on service_withdrawal
      for each row execute function refuse_change()`);
    this.addSql(`create view service as select s.* from service_record s
      where not exists (select 1 from service_withdrawal w where w.service_id = s.id)`);
    // A unique index can't see what was withdrawn; a trigger under the vehicle's lock can.
    this.addSql(`create function refuse_same_service() returns trigger language plpgsql as $$
      begin
        perform 1 from vehicle where id = new.vehicle_id for update;
        if exists (select 1 from service s where s.vehicle_id = new.vehicle_id and s.axle = new.axle
            and s.fitted_on = new.fitted_on and s.fitted = new.fitted) then
          raise exception 'service is in' using errcode = 'unique_violation', constraint = 'service_once';
        end if;
        return new;
      end $$`);
    this.addSql(
      'create trigger service_once before insert on service_record for each row execute function refuse_same_service()',
    );
  }

  override down(): void {
    this.addSql('drop trigger service_once on service_record');
    this.addSql('drop function refuse_same_service');
    this.addSql('drop view service');
    // What was withdrawn can't be told from what stands any more: it goes, so that no mark rests on it.
    for (const table of ['service_record', 'specification_changed_answer'])
      this.addSql(`alter table ${table} disable trigger user`);
    this.addSql('create temporary table gone on commit drop as select service_id from service_withdrawal');
    this.addSql('drop table service_withdrawal');
    this.addSql('delete from specification_changed_answer where service_id in (select service_id from gone)');
    this.addSql('delete from service_record where id in (select service_id from gone)');
    for (const table of ['service_record', 'specification_changed_answer'])
      this.addSql(`alter table ${table} enable trigger user`);
    this.addSql('drop index service_place');
    this.addSql('alter table service_record rename to service');
    this.addSql(`alter table service add constraint service_vehicle_id_axle_fitted_on_fitted_key unique (${COLUMNS})`);
  }
}
