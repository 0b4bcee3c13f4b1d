import { createHash } from 'node:crypto';
import type { EntityManager } from '../platform/db/orm.ts';

/** Ids made from names, so that the demo is the same on every machine. */
export function idOf(...parts: (string | number)[]): string {
  const hex = createHash('sha256').update(parts.join('/')).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

/**
 * Writes rows of one table by sets. Its statistics are taken on the way, for want of which the database would hold each
 * row of a large fleet against all others.
 */
export async function insert(em: EntityManager, table: string, columns: string, rows: object[]): Promise<void> {
  for (let i = 0; i < rows.length; i += 2000) {
    await em.execute(
      `insert into ${table} (${columns
        .split(', ')
        .map((column) => column.split(' ')[0])
        .join(', ')})
       select * from jsonb_to_recordset(?::jsonb) as t(${columns})`,
      [JSON.stringify(rows.slice(i, i + 2000))],
    );
    if (rows.length > 2000 && (i === 0 || i + 2000 >= rows.length)) await em.execute(`analyze ${table}`);
  }
}

/** The id of a person of the demo. */
export const personId = (name: string): string => idOf('person', name);

/** The id of a gauge of the cast. */
export const gaugeId = (gauge: { name: string }): string => idOf('gauge', gauge.name);
