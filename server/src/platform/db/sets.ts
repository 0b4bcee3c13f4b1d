import type { z } from 'zod';
import type { EntityManager } from './orm.ts';
import { plannedRows } from './planned.ts';
import { parsed } from './rows.ts';

/** A statement whose rows are one of several sets; dates are cast to text by the statement itself. */
export interface RowSet<T extends z.ZodType = z.ZodType> {
  row: T;
  sql: string;
  params: readonly unknown[];
}

type RowsOf<Sets extends Record<string, RowSet>> = { [Name in keyof Sets]: z.output<Sets[Name]['row']>[] };

/**
 * The rows of several statements in one: what a page is made of is asked for once, and seen at one moment. Planned once
 * a connection, see `plannedRows`: the statements are always the same.
 *
 * @throws Error where a row is not what its schema says: a fault of the program, never of the caller
 */
export async function setsOf<Sets extends Record<string, RowSet>>(
  em: EntityManager,
  sets: Sets,
): Promise<RowsOf<Sets>> {
  const names = Object.entries(sets);
  const columns = names.map(([name, { sql }]) => `(select coalesce(json_agg(s), '[]') from (${sql}) s) as "${name}"`);
  const params = names.flatMap(([, set]) => set.params);
  const [found] = (await plannedRows(em, `select ${columns.join(', ')}`, params)) as Record<string, unknown>[];
  return Object.fromEntries(names.map(([name, { row }]) => [name, parsed(row, found?.[name])])) as RowsOf<Sets>;
}
