import { Migration } from '@mikro-orm/migrations';
import { KIT_PARTS } from '@mile-mark/core';
import { MOVEMENT_KINDS, ORDER_STATES } from '@mile-mark/contract/parts';

const oneOf = (names: readonly string[]) => names.map((name) => `'${name}'`).join(', ');
const APPEND_ONLY = ['stock_movement', 'count_request', 'order_message', 'kit_notice'];

/** Parts with what they fit and who sells them, stock as movements, orders with what the supplier said, kits of jobs. */
export class Migration20261128180000_parts extends Migration {
  override up(): void {
    this.addSql(`create table supplier (
      id uuid primary key,
      name text not null unique check (length(trim(name)) between 1 and 120),
      currency text not null check (currency ~ '^[A-Z]{3}$'),
      lead_days integer not null check (lead_days between 0 and 365),
      order_cost_minor integer not null default 0 check (order_cost_minor >= 0),
      freight_minor integer not null default 0 check (freight_minor >= 0),
      freight_free_minor integer check (freight_free_minor > 0)
    )`);
    this.addSql(`create table part (
      id uuid primary key,
      number text not null unique check (length(trim(number)) between 1 and 60),
      maker_number text check (length(trim(maker_number)) between 1 and 60),
      maker text not null check (length(trim(maker)) between 1 and 120),
      name text not null check (length(trim(name)) between 1 and 120),
      kind text not null check (kind in (${oneOf(KIT_PARTS)})),
      pieces integer not null check (pieces between 1 and 100),
      rank integer not null default 1 check (rank between 1 and 99),
      superseded_by uuid references part check (superseded_by <> id),
      shelf_days integer check (shelf_days between 1 and 7300),
      exchange_minor integer check (exchange_minor > 0),
      diameter_mm double precision check (diameter_mm between 10 and 800),
      height_mm double precision check (height_mm between 1 and 500),
      thickness_mm double precision check (thickness_mm between 1 and 200),
      holes integer check (holes between 1 and 24),
      retired boolean not null default false,
      revision integer not null default 1 check (revision > 0),
      check (kind <> 'brake pad' or pieces in (1, 2, 4))
    )`);
    this.addSql('create index part_kind on part (kind)');
    this.addSql(`create table part_fit (
      id uuid primary key,
      part_id uuid not null references part,
      model_id uuid references model,
      axle integer check (axle between 1 and 6),
      side text not null default 'both' check (side in ('both', 'left', 'right')),
      rotor_mm double precision
    )`);
    this.addSql('create index part_fit_part on part_fit (part_id)');
    this.addSql('create index part_fit_model on part_fit (model_id, axle)');
    this.addSql(`create table part_offer (
      part_id uuid not null references part,
      supplier_id uuid not null references supplier,
      supplier_number text,
      price_minor integer not null check (price_minor > 0),
      currency text not null check (currency ~ '^[A-Z]{3}$'),
      pack integer not null default 1 check (pack >= 1),
      least integer not null default 1 check (least >= 1),
      lead_days integer check (lead_days between 0 and 365),
      primary key (part_id, supplier_id)
    )`);
    this.addSql(`create table bin (
      id uuid primary key,
      depot_id uuid not null references depot,
      code text not null check (length(trim(code)) between 1 and 40),
      unique (depot_id, code)
    )`);
    this.addSql(`create table purchase_order (
      id uuid primary key,
      serial bigserial not null,
      supplier_id uuid not null references supplier,
      depot_id uuid not null references depot,
      state text not null check (state in (${oneOf(ORDER_STATES)})),
      edited boolean not null default false,
      revision integer not null default 1 check (revision > 0),
      made_on date not null,
      approved_by uuid references person,
      approved_at timestamptz,
      sent_at timestamptz,
      supplier_reference text,
      note text check (length(trim(note)) between 1 and 500),
      called_off_on date,
      check ((state = 'called off') = (called_off_on is not null)),
      check (state = 'proposed' or state = 'called off' or approved_by is not null)
    )`);
    this.addSql(
      `create unique index purchase_order_one_proposal on purchase_order (supplier_id, depot_id) where state = 'proposed'`,
    );
    this.addSql(`create table order_line (
      id uuid primary key,
      order_id uuid not null references purchase_order,
      part_id uuid not null references part,
      units integer not null check (units > 0),
      price_minor integer not null check (price_minor > 0),
      currency text not null check (currency ~ '^[A-Z]{3}$'),
      why jsonb not null default '[]',
      latest date,
      promised_on date,
      instead_id uuid references part,
      ended text check (ended in ('rejected', 'short')),
      unique (order_id, part_id)
    )`);
    this.addSql(`create table order_message (
      order_id uuid not null references purchase_order,
      message_id text not null,
      kind text not null,
      detail jsonb not null,
      at timestamptz not null default clock_timestamp(),
      primary key (order_id, message_id)
    )`);
    this.addSql(`create table stock_movement (
      id uuid primary key,
      serial bigserial not null,
      kind text not null check (kind in (${oneOf(MOVEMENT_KINDS)})),
      part_id uuid not null references part,
      bin_id uuid not null references bin,
      lot text check (length(trim(lot)) between 1 and 60),
      expires_on date,
      units integer not null,
      counted integer check (counted >= 0),
      job_id uuid references job,
      order_line_id uuid references order_line,
      request_id uuid not null,
      note text check (length(trim(note)) between 1 and 500),
      person_id uuid not null references person,
      moved_on date not null,
      at timestamptz not null default clock_timestamp(),
      check (units <> 0 or kind = 'count'),
      check ((kind = 'count') = (counted is not null)),
      check (kind not in ('pick', 'return') or job_id is not null),
      check (kind not in ('receive', 'return') or units > 0),
      check (kind not in ('pick', 'scrap', 'exchange') or units < 0)
    )`);
    this.addSql('create index stock_movement_place on stock_movement (part_id, bin_id)');
    this.addSql('create index stock_movement_job on stock_movement (job_id) where job_id is not null');
    this.addSql('create index stock_movement_line on stock_movement (order_line_id) where order_line_id is not null');
    this.addSql('create index stock_movement_serial on stock_movement (serial desc)');
    // What lies where is a sum and nothing else; it is kept beside the movements by the movements themselves.
    this.addSql(`create table stock_level (
      part_id uuid not null references part,
      bin_id uuid not null references bin,
      lot text not null default '',
      expires_on date,
      units integer not null,
      primary key (part_id, bin_id, lot)
    )`);
    this.addSql(`create function book_stock() returns trigger language plpgsql as $$
      begin
        insert into stock_level (part_id, bin_id, lot, expires_on, units)
          values (new.part_id, new.bin_id, coalesce(new.lot, ''), new.expires_on, new.units)
        on conflict (part_id, bin_id, lot) do update
          set units = stock_level.units + new.units, expires_on = coalesce(stock_level.expires_on, new.expires_on);
        return new;
      end $$`);
    this.addSql(
      'create trigger stock_booked after insert on stock_movement for each row execute function book_stock()',
    );
    this.addSql(`create table count_request (
      id uuid primary key,
      part_id uuid not null references part,
      bin_id uuid not null references bin,
      reason text not null,
      person_id uuid not null references person,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql(`create table part_plan (
      part_id uuid not null references part,
      depot_id uuid not null references depot,
      computed_on date not null,
      weeks jsonb not null,
      lead jsonb not null,
      reorder_point integer not null,
      order_units integer not null,
      why jsonb not null,
      primary key (part_id, depot_id)
    )`);
    this.addSql(`create table job_kit (
      job_id uuid primary key references job,
      state text not null check (state in ('complete', 'substitutable', 'short')),
      until date,
      needs jsonb not null,
      faults jsonb not null default '[]',
      computed_at timestamptz not null default clock_timestamp()
    )`);
    this.addSql(`create table kit_notice (
      id uuid primary key,
      job_id uuid not null references job,
      text text not null,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql('alter table import_batch drop constraint import_batch_kind_check');
    this.addSql(`alter table import_batch add constraint import_batch_kind_check
      check (kind in ('models', 'duties', 'vehicles', 'services', 'readings', 'parts', 'stock'))`);
    for (const table of APPEND_ONLY)
      this.addSql(`create trigger ${table}_append_only before update or delete on ${table}
        for each row execute function refuse_change()`);
  }

  override down(): void {
    this.addSql(`drop table kit_notice, job_kit, part_plan, count_request, stock_level, stock_movement, order_message,
      order_line, purchase_order, bin, part_offer, part_fit, part, supplier`);
    this.addSql('drop function book_stock');
    this.addSql(
      `delete from import_row where import_id in (select id from import_batch where kind in ('parts', 'stock'))`,
    );
    this.addSql(`delete from import_batch where kind in ('parts', 'stock')`);
    this.addSql('alter table import_batch drop constraint import_batch_kind_check');
    this.addSql(`alter table import_batch add constraint import_batch_kind_check
      check (kind in ('models', 'duties', 'vehicles', 'services', 'readings'))`);
  }
}
