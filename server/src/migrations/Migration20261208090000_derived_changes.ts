import { Migration } from '@mikro-orm/migrations';

/**
 * Whether a change is of what is on record or of what is worked out from it: a vehicle's record stands while its forecast
 * is made anew.
 */
export class Migration20261208090000_derived_changes extends Migration {
  override up(): void {
    this.addSql('alter table record_change add column derived boolean not null default false');
    // Which transaction it came of tells what was not visible yet to whoever asked before.
    this.addSql('alter table record_change add column xid xid8 not null default pg_current_xact_id()');
    this.addSql('drop index record_change_about');
    this.addSql('create index record_change_about on record_change (about) include (n, derived)');
    this.addSql(noteChange({ derived: true }));
    // What was told by it is told by changes since.
    this.addSql('drop sequence forecast_serial');
    this.addSql('drop function watch_record');
    this.addSql(watchRecord({ derived: true }));
    for (const table of DERIVED) {
      for (const name of ['record_came', 'record_changed', 'record_went'])
        this.addSql(`drop trigger ${name} on ${table}`);
      this.addSql(`select watch_record('${table}', 'vehicle_id', 'derived')`);
    }
  }

  override down(): void {
    this.addSql('create sequence forecast_serial');
    this.addSql('drop function watch_record');
    this.addSql(watchRecord({ derived: false }));
    this.addSql(noteChange({ derived: false }));
    this.addSql('drop index record_change_about');
    this.addSql('alter table record_change drop column derived, drop column xid');
    this.addSql('create index record_change_about on record_change (about) include (n)');
  }
}

/** What forecasts write of a vehicle; of a change of wear its place and axle, which a cause found names, never change. */
const DERIVED = ['vehicle_forecast', 'forecast', 'reading_doubt', 'wear_change'];

const noteChange = ({ derived }: { derived: boolean }) => `
  create or replace function note_record_change() returns trigger language plpgsql as $$
  declare
    touched text[];
    told text := coalesce(current_setting('mile_mark.told', true), '');
    ${derived ? `worked_out boolean := coalesce(tg_argv[1], '') = 'derived';` : ''}
  begin
    if tg_argv[0] = '' then
      if tg_op = 'DELETE' then select array_agg(''::text) into touched from (select from gone limit 1) as any_row;
      else select array_agg(''::text) into touched from (select from came limit 1) as any_row; end if;
    else
      execute format(case tg_op
        when 'INSERT' then 'select array_agg(distinct %1$I::text) from came'
        when 'DELETE' then 'select array_agg(distinct %1$I::text) from gone'
        else 'select array_agg(distinct about) from (select %1$I::text as about from came union all select %1$I::text from gone) as both_rows'
      end, tg_argv[0]) into touched;
    end if;
    if touched is null or touched::text${derived ? ' || worked_out::text' : ''} = told then return null; end if;
    insert into record_change (about${derived ? ', derived' : ''})
      select nullif(about, '')::uuid${derived ? ', worked_out' : ''} from unnest(touched) as about;
    perform set_config('mile_mark.told', touched::text${derived ? ' || worked_out::text' : ''}, true);
    if exists (select from unnest(touched) as about where coalesce(about, '') = '') then
      perform set_config('mile_mark.shared', 'changed', true);
    end if;
    return null;
  end $$`;

/** Has what changes in a table noted: about which column's vehicle, and, where it is worked out from the record, that it is. */
const watchRecord = ({ derived }: { derived: boolean }) => {
  const [given, told] = derived ? [`, kind text default ''`, '%L, %L'] : ['', '%L'];
  const args = derived ? 'watched, about, kind' : 'watched, about';
  return `
  create function watch_record(watched text, about text${given}) returns void language plpgsql as $$
  begin
    execute format('create trigger record_came after insert on %I referencing new table as came
      for each statement execute function note_record_change(${told})', ${args});
    execute format('create trigger record_changed after update on %I referencing old table as gone new table as came
      for each statement execute function note_record_change(${told})', ${args});
    execute format('create trigger record_went after delete on %I referencing old table as gone
      for each statement execute function note_record_change(${told})', ${args});
  end $$`;
};
