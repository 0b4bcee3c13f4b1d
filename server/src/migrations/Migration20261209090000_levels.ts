import { Migration } from '@mikro-orm/migrations';

/** Stated duty and miles a day behave too: a row of each, beside that of measured duty; and how far measured blocks are believed. */
export class Migration20261209090000_levels extends Migration {
  override up(): void {
    this.addSql(`alter table duty_process add column what text not null default 'measured duty'
      check (what in ('measured duty', 'stated duty', 'miles a day'))`);
    this.addSql('alter table duty_process alter column what drop default');
    this.addSql('alter table duty_process drop constraint duty_process_pkey, add primary key (class, what)');
    // Stated duty has no blocks, so no scatter of them.
    this.addSql(`alter table duty_process drop constraint duty_process_block_sd_check,
      add constraint duty_process_block_sd_check check (block_sd >= 0)`);
    // As it was until now: every block believed.
    this.addSql(`alter table wear_process add column block_share double precision not null default 1
      check (block_share >= 0 and block_share <= 1)`);
    this.addSql('alter table wear_process alter column block_share drop default');
    // Learnt anew with it.
    this.addSql(`update wear_process set learnt_from = ''`);
  }

  override down(): void {
    this.addSql('alter table wear_process drop column block_share');
    this.addSql(`delete from duty_process where what <> 'measured duty'`);
    this.addSql(`alter table duty_process drop constraint duty_process_block_sd_check,
      add constraint duty_process_block_sd_check check (block_sd > 0)`);
    this.addSql('alter table duty_process drop constraint duty_process_pkey, add primary key (class)');
    this.addSql('alter table duty_process drop column what');
  }
}
