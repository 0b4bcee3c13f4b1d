import { z } from 'zod';
import type { EntityManager } from './orm.ts';

/**
 * The rows of a statement, each parsed by a schema: what SQL gives is unknown until then.
 *
 * @param parameters one for each `?` of the statement
 * @throws Error where a row is not what the schema says: a fault of the program, never of the caller
 */
export async function rowsOf<T extends z.ZodType>(
  em: EntityManager,
  schema: T,
  sql: string,
  parameters: readonly unknown[] = [],
): Promise<z.output<T>[]> {
  return parsed(schema, await em.execute<unknown[]>(sql, [...parameters]));
}

/** The schema of rows of each schema of a row: making one, and what it needs to be quick, takes longer than a page's rows. */
const lists = new WeakMap<z.ZodType, z.ZodType>();

/** Rows of a schema. @throws Error where one is not what it says */
export function parsed<T extends z.ZodType>(schema: T, rows: unknown): z.output<T>[] {
  const list = lists.get(schema) ?? z.array(schema);
  lists.set(schema, list);
  const found = list.safeParse(rows);
  if (!found.success) throw new Error(`a row is not as expected: ${z.prettifyError(found.error)}`);
  return found.data as z.output<T>[];
}

/** The first row of a statement, parsed; undefined where there is none. */
export async function firstRow<T extends z.ZodType>(
  em: EntityManager,
  schema: T,
  sql: string,
  parameters: readonly unknown[] = [],
): Promise<z.output<T> | undefined> {
  return (await rowsOf(em, schema, sql, parameters))[0];
}
