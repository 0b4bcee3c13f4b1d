import { Migration } from '@mikro-orm/migrations';

/**
 * Vehicles that another depot does than their own, decided once for a plan before its depots are solved; null while that is
 * open. Plans from before lend nobody. `because`: what of the published plan no longer held when one was made by itself;
 * null where somebody asked for it.
 */
export class Migration20261205090000_lent_vehicles extends Migration {
  override up(): void {
    this.addSql('alter table plan add column loans jsonb, add column because jsonb');
    this.addSql(`update plan set loans = '[]'`);
  }

  override down(): void {
    this.addSql('alter table plan drop column loans, drop column because');
  }
}
