import { Migration } from '@mikro-orm/migrations';

/** A session is seen by who it is of: since when, on what device; a forgotten password is reset by a link that works once. */
export class Migration20261130120000_sessions_seen extends Migration {
  override up(): void {
    this.addSql(`alter table session add column id uuid not null unique default gen_random_uuid(),
      add column device text not null default '' check (length(device) <= 200)`);
    this.addSql(`create table password_reset (
      token_hash text primary key,
      person_id uuid not null references person,
      made_by uuid not null references person,
      made_at timestamptz not null default clock_timestamp(),
      expires_at timestamptz not null,
      used_at timestamptz
    )`);
    this.addSql('create index password_reset_person on password_reset (person_id)');
  }

  override down(): void {
    this.addSql('drop table password_reset');
    this.addSql('alter table session drop column id, drop column device');
  }
}
