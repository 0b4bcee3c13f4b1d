import { Migration } from '@mikro-orm/migrations';
import { JOB_ACTIONS, KIT_PARTS } from '@mile-mark/core';

const oneOf = (names: readonly string[]) => names.map((name) => `'${name}'`).join(', ');

/** What a shop takes other than usual, contents of consumables, the terms of ordering, orders placed elsewhere. */
export class Migration20261128200000_kit_changes extends Migration {
  override up(): void {
    this.addSql(`create table kit_change (
      id uuid primary key,
      serial bigserial not null,
      model_id uuid not null references model,
      axle integer not null check (axle between 1 and 6),
      kind text not null check (kind in (${oneOf(KIT_PARTS)})),
      action text not null check (action in (${oneOf(JOB_ACTIONS)})),
      quantity double precision check (quantity between 0 and 100000),
      reason text not null check (length(trim(reason)) between 3 and 500),
      person_id uuid not null references person,
      changed_on date not null,
      at timestamptz not null default clock_timestamp()
    )`);
    this.addSql('create index kit_change_model on kit_change (model_id, serial)');
    this.addSql(`create trigger kit_change_append_only before update or delete on kit_change
      for each row execute function refuse_change()`);
    this.addSql('alter table part add column content double precision check (content > 0)');
    // One row; what it was before stays in the audit.
    this.addSql(`create table parts_terms (
      id boolean primary key default true check (id),
      service double precision not null default 0.95 check (service between 0.5 and 0.999),
      holding_share double precision not null default 0.25 check (holding_share between 0.01 and 1),
      budget_minor bigint check (budget_minor > 0),
      budget_currency text check (budget_currency ~ '^[A-Z]{3}$'),
      revision integer not null default 1 check (revision > 0),
      person_id uuid references person,
      changed_on date,
      check ((budget_minor is null) = (budget_currency is null))
    )`);
    this.addSql('insert into parts_terms default values');
    this.addSql('alter table purchase_order add column outside boolean not null default false');
    this
      .addSql(`create unique index purchase_order_outside on purchase_order (supplier_id, depot_id, upper(supplier_reference))
      where outside`);
    this.addSql('alter table import_batch drop constraint import_batch_kind_check');
    this.addSql(`alter table import_batch add constraint import_batch_kind_check
      check (kind in ('models', 'duties', 'vehicles', 'services', 'readings', 'parts', 'stock', 'orders'))`);
  }

  override down(): void {
    this.addSql(`delete from import_row where import_id in (select id from import_batch where kind = 'orders')`);
    this.addSql(`delete from import_batch where kind = 'orders'`);
    this.addSql('alter table import_batch drop constraint import_batch_kind_check');
    this.addSql(`alter table import_batch add constraint import_batch_kind_check
      check (kind in ('models', 'duties', 'vehicles', 'services', 'readings', 'parts', 'stock'))`);
    this.addSql('drop index purchase_order_outside');
    this.addSql('alter table purchase_order drop column outside');
    this.addSql('drop table parts_terms, kit_change');
    this.addSql('alter table part drop column content');
  }
}
