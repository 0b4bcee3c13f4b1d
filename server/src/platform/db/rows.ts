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
  const parsed = z.array(schema).safeParse(await em.execute<unknown[]>(sql, [...parameters]));
  if (!parsed.success) throw new Error(`a row is not as expected: ${z.prettifyError(parsed.error)}`);
  return parsed.data;
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
