import { Migration } from '@mikro-orm/migrations';

/**
 * The revision of a vehicle of which its kept judgements of readings are all: readings judged when they are entered are
 * added to them before the forecast that they move is made.
 */
export class Migration20261206090000_judged_rev extends Migration {
  override up(): void {
    this.addSql('alter table vehicle_forecast add column judged_rev int');
    this.addSql('update vehicle_forecast set judged_rev = input_rev where judged is not null');
  }

  override down(): void {
    this.addSql('alter table vehicle_forecast drop column judged_rev');
  }
}
