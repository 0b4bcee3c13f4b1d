import type { EntityName } from '@mikro-orm/core';
import type { Knex } from '@mikro-orm/postgresql';
import type { EntityManager } from './orm.ts';

/**
 * Inserts rows of one table with one statement and one bound parameter, a JSON list: a statement with every value
 * written into its text, as the mapper makes it, takes longer to be read than to be done.
 *
 * @param rows by the entity's property names; all have the same ones
 */
export async function insertRows<T extends object>(
  em: EntityManager,
  entity: EntityName<T>,
  rows: readonly Record<string, unknown>[],
): Promise<void> {
  const [first] = rows;
  if (!first) return;
  const { tableName, properties } = em.getMetadata().get<T>(entity);
  const byName = properties as Record<string, { fieldNames: string[] } | undefined>;
  const columns = Object.keys(first).map((name): [string, string] => {
    const column = byName[name]?.fieldNames[0];
    if (column === undefined) throw new Error(`${tableName} has no ${name}`);
    return [name, column];
  });
  const named = rows.map((row) => Object.fromEntries(columns.map(([name, column]) => [column, row[name]])));
  const list = columns.map(([, column]) => `"${column}"`).join(', ');
  const insert = em
    .getKnex()
    .raw(
      `insert into "${tableName}" (${list}) select ${list} from jsonb_populate_recordset(null::"${tableName}", ?::jsonb)`,
      [JSON.stringify(named)],
    );
  const transaction = em.getTransactionContext<Knex.Transaction>();
  await (transaction ? insert.transacting(transaction) : insert);
}
