import { Migration } from '@mikro-orm/migrations';

/**
 * What is thought of each reading is kept with the forecast that rests on it: a vehicle's page reads it instead of
 * following the whole history again. Null where the forecast is of an earlier program; the page follows the history then.
 */
export class Migration20261204090000_judged_readings extends Migration {
  override up(): void {
    this.addSql('alter table vehicle_forecast add column judged jsonb');
  }

  override down(): void {
    this.addSql('alter table vehicle_forecast drop column judged');
  }
}
