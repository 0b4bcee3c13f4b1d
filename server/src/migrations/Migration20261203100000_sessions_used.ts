import { Migration } from '@mikro-orm/migrations';

/** A session that nobody used for long ends by itself. */
export class Migration20261203100000_sessions_used extends Migration {
  override up(): void {
    this.addSql('alter table session add column used_at timestamptz not null default clock_timestamp()');
  }

  override down(): void {
    this.addSql('alter table session drop column used_at');
  }
}
