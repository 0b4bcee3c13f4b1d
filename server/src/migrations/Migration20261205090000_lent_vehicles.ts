import { Migration } from '@mikro-orm/migrations';

/**
 * Vehicles that another depot does than their own, decided once for a plan before its depots are solved; null while that is
 * open. Plans from before lend nobody. `because`: what of the published plan no longer held when one was made by itself;
 * null where somebody asked for it. `done_at_depot`: where vehicles are to be done, as it was asked.
 */
export class Migration20261205090000_lent_vehicles extends Migration {
  override up(): void {
    this.addSql(
      "alter table plan add column loans jsonb, add column because jsonb, add column done_at_depot jsonb not null default '[]'",
    );
    this.addSql(`update plan set loans = '[]'`);
  }

  override down(): void {
    this.addSql('alter table plan drop column loans, drop column because, drop column done_at_depot');
  }
}
