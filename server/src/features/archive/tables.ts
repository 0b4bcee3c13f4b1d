import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../platform/db/rows.ts';

/**
 * What is not of the record: who is signed in, links that open something, what the application asks of itself, files
 * that nobody took in yet, and answers it keeps to be quicker.
 */
const LEFT_OUT = [
  'migration',
  'session',
  'password_reset',
  'calendar_link',
  'mail',
  'outbox',
  'job_run',
  'idempotent_reply',
  'kept_answer',
  'forecast_failure',
  'import_draft',
  'record_change',
  'known_device',
  'failed_sign_in',
];

/** A column that holds a secret or a picture goes its own way. */
const OWN_WAY: Record<string, string> = { person: 'password_hash', photo: 'jpeg', job_photo: 'jpeg' };
/** Tables of photos; each photo is a file of the archive. */
export const PHOTO_TABLES = ['photo', 'job_photo'] as const;

export interface Table {
  name: string;
  columns: { name: string; type: string }[];
  /** Columns of its key, in order. */
  key: string[];
}

const Column = z.object({ table: z.string(), name: z.string(), type: z.string() });
const COLUMNS = `
  select c.table_name as "table", c.column_name as name, c.data_type as type
  from information_schema.columns c join information_schema.tables t using (table_schema, table_name)
  where c.table_schema = 'public' and t.table_type = 'BASE TABLE' and c.is_generated = 'NEVER'
  order by c.table_name, c.ordinal_position`;
const KEYS = `
  select r.relname as "table", a.attname as name, '' as type
  from pg_index i join pg_class r on r.oid = i.indrelid join pg_namespace n on n.oid = r.relnamespace
    cross join unnest(i.indkey) with ordinality k(attnum, place) join pg_attribute a on a.attrelid = r.oid and a.attnum = k.attnum
  where i.indisprimary and n.nspname = 'public' order by r.relname, k.place`;

/** The tables of the record with their columns, in order of name; secrets and pictures are none of them. */
export async function recordTables(em: EntityManager): Promise<Table[]> {
  const columns = await rowsOf(em, Column, COLUMNS);
  const keys = await rowsOf(em, Column, KEYS);
  const names = [...new Set(columns.map(({ table }) => table))].filter((name) => !LEFT_OUT.includes(name));
  return names.map((name) => ({
    name,
    columns: columns
      .filter((column) => column.table === name && column.name !== OWN_WAY[name])
      .map((column) => ({ name: column.name, type: column.type })),
    key: keys.filter(({ table }) => table === name).map((column) => column.name),
  }));
}

/** The last change of the tables' form that this database has seen. */
export async function formOf(em: EntityManager): Promise<string> {
  const row = await firstRow(em, z.object({ name: z.string() }), 'select name from migration order by id desc limit 1');
  return row?.name ?? '';
}
