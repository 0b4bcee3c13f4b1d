import { Migration } from '@mikro-orm/migrations';

/** How wear scatters in each class, and how its past forecasts came out; learnt anew with each job over the fleet. */
export class Migration20261127040000_calibration extends Migration {
  override up(): void {
    this.addSql(`create table wear_process (
      class text primary key check (class in ('pickup', 'van', 'heavy')),
      per_period double precision not null check (per_period > 0),
      per_pad double precision not null check (per_pad > 0),
      sd_pad double precision not null check (sd_pad > 0),
      vehicles integer not null check (vehicles >= 0),
      learnt_from text not null,
      computed_at timestamptz not null
    )`);
    this.addSql(`create table calibration (
      class text not null check (class in ('pickup', 'van', 'heavy')),
      distance text not null check (distance in ('near', 'far')),
      looks integer not null check (looks > 0),
      axles integer not null check (axles > 0),
      within80 double precision not null check (within80 between 0 and 1),
      within90 double precision not null check (within90 between 0 and 1),
      spread double precision not null check (spread >= 0),
      factor double precision not null check (factor >= 1),
      computed_at timestamptz not null,
      primary key (class, distance)
    )`);
  }

  override down(): void {
    this.addSql('drop table calibration');
    this.addSql('drop table wear_process');
  }
}
