import { Migration } from '@mikro-orm/migrations';

/** How measured duty behaves in each class of vehicle, as the fleet's blocks taught it; learnt anew each night. */
export class Migration20261127010000_duty_process extends Migration {
  override up(): void {
    this.addSql(`create table duty_process (
      class text primary key check (class in ('pickup', 'van', 'heavy')),
      block_sd double precision not null check (block_sd > 0),
      hazard double precision not null check (hazard > 0 and hazard < 1),
      route_mean double precision not null,
      route_sd double precision not null check (route_sd > 0),
      vehicles integer not null check (vehicles >= 0),
      computed_at timestamptz not null
    )`);
  }

  override down(): void {
    this.addSql('drop table duty_process');
  }
}
