import { Migration } from '@mikro-orm/migrations';

/**
 * What closed jobs took, by class and step; what a model's cards need of it; when somebody left; what vehicles answered
 * when the fleet learnt, so that only those of which something changed are asked again.
 */
export class Migration20261127140000_what_jobs_teach extends Migration {
  override up(): void {
    this.addSql(`alter table job add column worked_min real check (worked_min > 0),
      add column usual_min real check (usual_min > 0)`);
    this.addSql(`create table step_time (
      class text not null,
      step text not null check (step <> ''),
      n integer not null check (n > 0),
      sum_ln double precision not null,
      sum_ln2 double precision not null check (sum_ln2 >= 0),
      primary key (class, step)
    )`);
    this.addSql(`create index job_entry_part on job_entry (job_id) where kind = 'part'`);
    this.addSql(`alter table model add column reservoir_ml integer check (reservoir_ml between 10 and 3000),
      add column lifting_points text check (length(trim(lifting_points)) between 1 and 300)`);
    this.addSql(`create table kept_answer (
      vehicle_id uuid not null references vehicle on delete cascade,
      kind text not null,
      key text not null,
      answer json not null,
      primary key (vehicle_id, kind)
    )`);
    this.addSql('create index kept_answer_kind on kept_answer (kind)');
    this.addSql(`alter table person add column left_on date`);
  }

  override down(): void {
    this.addSql('drop table kept_answer');
    this.addSql('alter table person drop column left_on');
    this.addSql('alter table model drop column reservoir_ml, drop column lifting_points');
    this.addSql('drop index job_entry_part');
    this.addSql('drop table step_time');
    this.addSql('alter table job drop column worked_min, drop column usual_min');
  }
}
