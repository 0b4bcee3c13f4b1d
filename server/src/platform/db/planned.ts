import { createHash } from 'node:crypto';
import type { Knex } from '@mikro-orm/postgresql';
import type { EntityManager } from './orm.ts';

/** So many statements have a plan of their own on each connection; those after them are planned each time. */
const MOST = 200;
const names = new Map<string, string>();

function nameOf(sql: string): string | undefined {
  const known = names.get(sql);
  if (known !== undefined || names.size >= MOST) return known;
  const name = createHash('sha256').update(sql).digest('base64url').slice(0, 16);
  names.set(sql, name);
  return name;
}

/**
 * The rows of a statement that is asked again and again: its parameters are bound, not written into its text, so that
 * the database reads and plans it once a connection. Planning is half of what a page's statements cost.
 *
 * @param sql always the same text; what it compares a parameter with, or a cast, must tell the parameter's type
 * @param parameters one for each `?` of the statement
 */
export async function plannedRows(
  em: EntityManager,
  sql: string,
  parameters: readonly unknown[] = [],
): Promise<unknown[]> {
  const name = nameOf(sql);
  const statement = em.getKnex().raw<{ rows: unknown[] }>(sql, [...parameters] as Knex.RawBinding[]);
  if (name !== undefined) statement.options({ name });
  const transaction = em.getTransactionContext<Knex.Transaction>();
  const { rows } = await (transaction ? statement.transacting(transaction) : statement);
  return rows;
}
