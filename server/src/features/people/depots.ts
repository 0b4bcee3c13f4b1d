import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { invalidField } from '../../platform/errors.ts';

const DepotSql = z.object({ id: z.string(), name: z.string() });
const LimitSql = z.object({ person: z.string(), names: z.array(z.string()) });

/** Depots that people are limited to, by their id; of all people, or of one. */
export async function depotsOfPeople(em: EntityManager, personId?: string): Promise<ReadonlyMap<string, string[]>> {
  const rows = await rowsOf(
    em,
    LimitSql,
    `select l.person_id as person, array_agg(d.name order by d.name) as names
     from person_depot l join depot d on d.id = l.depot_id where ?::uuid is null or l.person_id = ?::uuid group by l.person_id`,
    [personId ?? null, personId ?? null],
  );
  return new Map(rows.map(({ person, names }) => [person, names]));
}

/**
 * Limits a person to depots from now on; to none of them where none is named.
 *
 * @throws ApiError `invalid` at `depots`
 */
export async function limitTo(em: EntityManager, personId: string, names: readonly string[]): Promise<void> {
  const depots = await rowsOf(em, DepotSql, 'select id, name from depot order by name');
  const wanted = names.map((name) => {
    const found = depots.find((depot) => depot.name.toLowerCase() === name.toLowerCase());
    if (found) return found.id;
    const accepted = depots.map((depot) => depot.name).join(', ');
    throw invalidField('depots', `There is no depot “${name}” on record; accepted: ${accepted}.`);
  });
  await em.execute('delete from person_depot where person_id = ?', [personId]);
  await em.execute('insert into person_depot (person_id, depot_id) select ?, unnest(?::uuid[])', [
    personId,
    `{${[...new Set(wanted)].join()}}`,
  ]);
}
