import { Migration } from '@mikro-orm/migrations';

/** What a process that died was doing is given to another, by the queue's own ids. */
export class Migration20261202100000_jobs_taken_up extends Migration {
  override up(): void {
    this.addSql(`alter table job_run add column queue_ids jsonb not null default '[]'`);
  }

  override down(): void {
    this.addSql('alter table job_run drop column queue_ids');
  }
}
