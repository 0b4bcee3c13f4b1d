import { Migration } from '@mikro-orm/migrations';

/**
 * What is planned, ordered and moved of parts is noted as worked out: it still counts as a change, and no record of a
 * vehicle, forecast or answer about one rests on it. Before, all of them were made anew whenever the parts were planned.
 */
export class Migration20261211090000_parts_apart extends Migration {
  override up(): void {
    this.addSql(noteChange(`if not worked_out and exists`));
    this.rewatch('derived');
  }

  override down(): void {
    this.addSql(noteChange('if exists'));
    this.rewatch('');
  }

  private rewatch(kind: string): void {
    for (const table of APART) {
      for (const name of ['record_came', 'record_changed', 'record_went'])
        this.addSql(`drop trigger ${name} on ${table}`);
      this.addSql(`select watch_record('${table}', '', '${kind}')`);
    }
  }
}

const APART = [
  'purchase_order',
  'order_line',
  'order_message',
  'stock_movement',
  'stock_level',
  'count_request',
  'part_plan',
  'job_kit',
  'kit_notice',
];

/** @param shared when a transaction is told that it changed what all share */
const noteChange = (shared: string) => `
  create or replace function note_record_change() returns trigger language plpgsql as $$
  declare
    touched text[];
    told text := coalesce(current_setting('mile_mark.told', true), '');
    worked_out boolean := coalesce(tg_argv[1], '') = 'derived';
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
    if touched is null or touched::text || worked_out::text = told then return null; end if;
    insert into record_change (about, derived)
      select nullif(about, '')::uuid, worked_out from unnest(touched) as about;
    perform set_config('mile_mark.told', touched::text || worked_out::text, true);
    ${shared} (select from unnest(touched) as about where coalesce(about, '') = '') then
      perform set_config('mile_mark.shared', 'changed', true);
    end if;
    return null;
  end $$`;
