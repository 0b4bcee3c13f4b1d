import { Migration } from '@mikro-orm/migrations';

/** An import can be taken back whole; who, when and why is kept. */
export class Migration20261129120000_import_withdrawal extends Migration {
  override up(): void {
    this.addSql(`create table import_withdrawal (
      id uuid primary key,
      import_id uuid not null unique references import_batch,
      reason text not null check (length(trim(reason)) between 3 and 500),
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql(`create trigger import_withdrawal_append_only before update or delete on import_withdrawal
      for each row execute function refuse_change()`);
    this.addSql('create index inspection_import on inspection (import_id) where import_id is not null');
  }

  override down(): void {
    this.addSql('drop index inspection_import');
    this.addSql('drop table import_withdrawal');
  }
}
