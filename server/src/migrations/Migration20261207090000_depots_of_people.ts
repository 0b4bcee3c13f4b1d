import { Migration } from '@mikro-orm/migrations';

/** A technician or a parts keeper may be limited to depots; who is in here at none works at all of them. */
export class Migration20261207090000_depots_of_people extends Migration {
  override up(): void {
    this.addSql(`create table person_depot (
      person_id uuid not null references person,
      depot_id uuid not null references depot,
      primary key (person_id, depot_id)
    )`);
    this.addSql('create index person_depot_depot on person_depot (depot_id)');
  }

  override down(): void {
    this.addSql('drop table person_depot');
  }
}
