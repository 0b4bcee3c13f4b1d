import { Migration } from '@mikro-orm/migrations';

/** Vehicles whose forecast could not be made, and why: as the record stood then, by that version of the model, on that day. */
export class Migration20261210090000_forecast_failures extends Migration {
  override up(): void {
    this.addSql(`create table forecast_failure (
      vehicle_id uuid primary key references vehicle,
      input_rev integer not null,
      model_version text not null,
      today date not null,
      message text not null check (length(message) between 1 and 500),
      failed_at timestamptz not null default clock_timestamp()
    )`);
    this.addSql(`select watch_record('forecast_failure', 'vehicle_id', 'derived')`);
  }

  override down(): void {
    this.addSql('drop table forecast_failure');
  }
}
