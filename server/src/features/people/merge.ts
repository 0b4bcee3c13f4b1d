import type { Role } from '@mile-mark/contract';
import type { PeopleMerged } from '@mile-mark/contract/people';
import { z } from 'zod';
import { recordsImported } from '../../events.ts';
import { command } from '../../platform/command/command.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../platform/errors.ts';
import { PersonEntity, type PersonRow } from './entities.ts';
import { MEASURERS } from './queries.ts';

/** Where the record names people: columns that refer to one, and those that refer to such a column. */
const COLUMNS = `
  with recursive refers as (
    select c.conrelid, k.own, c.confrelid, k.theirs from pg_constraint c, unnest(c.conkey, c.confkey) as k(own, theirs)
    where c.contype = 'f' and c.connamespace = 'public'::regnamespace),
  names as (
    select conrelid, own from refers where confrelid = 'person'::regclass
    union select r.conrelid, r.own from refers r join names n on r.confrelid = n.conrelid and r.theirs = n.own)
  select n.conrelid::regclass::text as "table", a.attname as "column",
    coalesce((select jsonb_agg(i.columns) from (
      select (select jsonb_agg(o.attname) from unnest(x.indkey::int2[]) as k(att)
        join pg_attribute o on o.attrelid = x.indrelid and o.attnum = k.att and o.attnum <> n.own) as columns
      from pg_index x where x.indrelid = n.conrelid and x.indisunique and x.indexprs is null and x.indpred is null
        and n.own = any(x.indkey::int2[])) i), '[]') as once
  from names n join pg_attribute a on a.attrelid = n.conrelid and a.attnum = n.own
  where n.conrelid not in
    ('person'::regclass, 'session'::regclass, 'password_reset'::regclass, 'known_device'::regclass, 'person_depot'::regclass)
  order by 1, 2`;

const Column = z.object({
  table: z.string(),
  column: z.string(),
  /** Of each key that the column is part of, the other columns. */
  once: z.array(z.array(z.string()).nullable()),
});

/** What was remembered or said of sheets names people in its text. */
const TEXTS = [
  ['import_understanding', 'understanding'],
  ['import_batch', 'understanding'],
  ['import_draft', 'stated'],
] as const;

/**
 * Makes two entries of one person one: all that was measured, signed and said under the first stands under the second
 * from then on. Only for an entry that nobody signs in with. It can't be taken back; the audit says what was moved.
 */
export const mergePerson = command({
  name: 'mergePerson',
  action: 'administer',
  run: async ({ em, today, audit, emit }, { personId, into }: { personId: string; into: string }) => {
    const { gone, stays } = await lockedPair(em, personId, into);
    const vehicles = await rowsOf(
      em,
      z.object({ id: z.string() }),
      'select distinct vehicle_id as id from inspection where technician_id = ?',
      [personId],
    );
    await em.execute('set constraints all deferred');
    await em.execute(`select set_config('mile_mark.merge', ?, true)`, [`${personId}>${into}`]);
    const moved = await moveAll(em, personId, into);
    await em.execute(`select set_config('mile_mark.merge', '', true)`);
    await em.execute('set constraints all immediate');
    await em.nativeUpdate(PersonEntity, { mergedInto: personId }, { mergedInto: into });
    await em.nativeUpdate(
      PersonEntity,
      { id: personId },
      { mergedInto: into, leftOn: gone.leftOn ?? today, email: null, passwordHash: null },
    );
    await audit('made two people one', `person/${into}`, { was: personId, name: gone.name, is: stays.name, moved });
    await emit(recordsImported({ vehicleIds: vehicles.map(({ id }) => id) }));
    return { id: into, moved } satisfies PeopleMerged;
  },
});

async function lockedPair(em: EntityManager, personId: string, into: string) {
  if (personId === into) throw invalidField('into', 'That is the same entry; another person is accepted.');
  await em.execute('select id from person where id = any(?::uuid[]) order by id for update', [`{${personId},${into}}`]);
  const of = (id: string): Promise<PersonRow | null> => em.findOne(PersonEntity, { id }, { refresh: true });
  const [gone, stays] = [await of(personId), await of(into)];
  if (!gone) throw new ApiError('not_found', 'There is no such person on record.');
  if (!stays || stays.mergedInto != null) throw invalidField('into', 'There is no such person on record.');
  if (!MEASURERS.includes(stays.role as Role))
    throw invalidField('into', `${stays.name} does not measure; somebody who does is accepted.`);
  if (gone.mergedInto != null && gone.mergedInto !== into)
    throw new ApiError('conflict', 'Somebody made this person another one meanwhile.');
  if (gone.passwordHash != null && gone.leftOn == null)
    throw new ApiError(
      'conflict',
      `${gone.name} signs in; end that access first, or keep that entry and merge the other.`,
    );
  return { gone, stays };
}

/** @returns rows that name the other person now */
async function moveAll(em: EntityManager, from: string, into: string): Promise<number> {
  let moved = 0;
  for (const { table, column, once } of await rowsOf(em, Column, COLUMNS)) {
    for (const others of once) {
      // What may stand once a person, and stands for both, stays as it is of the one who stays.
      const same = (others ?? []).map((other) => `kept."${other}" is not distinct from own."${other}"`);
      await em.execute(
        `delete from ${table} own where own."${column}" = ? and exists (select 1 from ${table} kept
           where ${[`kept."${column}" = ?`, ...same].join(' and ')})`,
        [from, into],
      );
    }
    const rows = await rowsOf(
      em,
      z.object({ n: z.number() }),
      `with moved as (update ${table} set "${column}" = ? where "${column}" = ? returning 1) select count(*)::int as n from moved`,
      [into, from],
    );
    moved += rows[0]?.n ?? 0;
  }
  for (const [table, column] of TEXTS)
    await em.execute(
      `update ${table} set ${column} = replace(${column}::text, ?, ?)::jsonb where ${column}::text like '%' || ? || '%'`,
      [from, into, from],
    );
  return moved;
}
