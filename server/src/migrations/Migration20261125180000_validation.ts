import { Migration } from '@mikro-orm/migrations';

/** How past forecasts came out, as the last job over the fleet found it. */
export class Migration20261125180000_validation extends Migration {
  override up(): void {
    this.addSql(`create table validation (
      only_one boolean primary key default true check (only_one),
      detail jsonb not null,
      computed_at timestamptz not null default now()
    )`);
  }

  override down(): void {
    this.addSql('drop table if exists validation');
  }
}
