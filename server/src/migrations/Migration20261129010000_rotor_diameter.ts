import { Migration } from '@mikro-orm/migrations';

/** The diameter of a model's discs, which decides what rotors fit. */
export class Migration20261129010000_rotor_diameter extends Migration {
  override up(): void {
    this.addSql(
      'alter table model_axle add column rotor_diameter_um integer check (rotor_diameter_um between 100000 and 800000)',
    );
  }
  override down(): void {
    this.addSql('alter table model_axle drop column rotor_diameter_um');
  }
}
