import type { NewPerson, Preferences } from '@mile-mark/contract/people';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { hashPassword, passwordFits } from '../../platform/auth/password.ts';
import { audit, command } from '../../platform/command/command.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { ApiError } from '../../platform/errors.ts';
import { limitTo } from './depots.ts';
import { PersonEntity, type PersonRow } from './entities.ts';
import { nobodyHasAnAccount } from './queries.ts';

/** Number of the lock under which the first account is made. */
const FIRST_ACCOUNT_LOCK = 460_047;

/** The person whose e-mail address and password these are; throws `wrong_credentials` otherwise. */
export async function authenticate(em: EntityManager, email: string, password: string): Promise<PersonRow> {
  const [row] = await rowsOf(em, z.object({ id: z.string() }), 'select id from person where lower(email) = lower(?)', [
    email,
  ]);
  const person = row ? await em.findOne(PersonEntity, { id: row.id }) : null;
  if (!(await passwordFits(password, person?.passwordHash)) || !person || person.leftOn)
    throw new ApiError('wrong_credentials');
  await audit(em, person.id, 'signed in', `person/${person.id}`);
  return person;
}

/**
 * Makes the first account, a coordinator; refused once anyone has an account, also when two people try at once. Not a
 * command: there is nobody yet whom the policy could allow it.
 */
export async function makeFirstAccount(
  em: EntityManager,
  input: { name: string; email: string; password: string },
): Promise<PersonRow> {
  const passwordHash = await hashPassword(input.password);
  return em.transactional(async (inner) => {
    await inner.execute('select pg_advisory_xact_lock(?)', [FIRST_ACCOUNT_LOCK]);
    if (!(await nobodyHasAnAccount(inner)))
      throw new ApiError('conflict', 'The first account exists already; sign in, or ask the coordinator for one.');
    const id = randomUUID();
    await insertPerson(inner, { id, name: input.name, role: 'coordinator', email: input.email, passwordHash });
    await audit(inner, id, 'made the first account', `person/${id}`);
    return inner.findOneOrFail(PersonEntity, { id });
  });
}

export const addPerson = command({
  name: 'addPerson',
  action: 'administer',
  clientId: 'id',
  contentOf: ({ password: _secret, ...rest }: NewPerson) => rest,
  run: async ({ em, audit: write }, { id, name, role, email, password, depots = [] }: NewPerson) => {
    const passwordHash = password === undefined ? null : await hashPassword(password);
    await insertPerson(em, { id, name, role, email: email ?? null, passwordHash });
    await limitTo(em, id, depots);
    await write('put a person on record', `person/${id}`, { name, role, depots });
    return { id };
  },
});

async function insertPerson(
  em: EntityManager,
  person: { id: string; name: string; role: string; email: string | null; passwordHash: string | null },
): Promise<void> {
  await em.insert(PersonEntity, { ...person, distanceUnit: 'mi', thicknessUnit: 'mm', createdAt: new Date() });
}

/** Sets the units in which the person reads and types, and what else is theirs; what is left out stays. */
export const setPreferences = command({
  name: 'setPreferences',
  action: 'read',
  run: async ({ em, actor, audit: write, changedNothing }, input: Preferences) => {
    const set = Object.fromEntries(Object.entries(input).filter(([, value]) => value !== undefined));
    if (Object.keys(set).length === 0) return (changedNothing(), null);
    await em.nativeUpdate(PersonEntity, { id: actor.id }, set);
    await write('set units', `person/${actor.id}`, set);
    return null;
  },
});
