import { mayDo, type Role } from '@mile-mark/contract';
import { LIMITED_ROLES, type PasswordChange, type Person, type PersonChange } from '@mile-mark/contract/people';
import { hashPassword, passwordFits } from '../../platform/auth/password.ts';
import type { Actor } from '../../platform/auth/policy.ts';
import { command } from '../../platform/command/command.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../platform/errors.ts';
import { depotsOfPeople, limitTo } from './depots.ts';
import { PersonEntity, type PersonRow } from './entities.ts';
import { personOf } from './queries.ts';
import { closeSessions } from './sessions.ts';

/** Number of the lock under which access is given, changed and ended. */
const ACCESS_LOCK = 460_061;

/** The person whose access is changed, once the one who changes it is still allowed to: another may have been quicker. */
export async function underAccessLock(em: EntityManager, actor: Actor, personId: string): Promise<PersonRow> {
  await em.execute('select pg_advisory_xact_lock(?)', [ACCESS_LOCK]);
  const here = await em.findOne(PersonEntity, { id: actor.id, leftOn: null }, { refresh: true });
  if (!here || !mayDo(here.role as Role, 'administer')) throw new ApiError('unauthenticated');
  const person = await em.findOne(PersonEntity, { id: personId }, { refresh: true });
  if (!person) throw new ApiError('not_found', 'There is no such person on record.');
  return person;
}

/**
 * Ends somebody's access at once: every session closes and their password opens none, so that nothing they send from then on
 * is written, also where they were signing in at that moment. What they have written stays on record under their name.
 * Nobody ends their own, and of two who end each other's at once only the first does: a coordinator stays.
 */
export const endAccess = command({
  name: 'endAccess',
  action: 'administer',
  run: async ({ em, actor, today, audit: write, changedNothing }, { personId }: { personId: string }) => {
    if (personId === actor.id) throw invalidField('id', 'Your own access is ended by another coordinator.');
    const person = await underAccessLock(em, actor, personId);
    await closeSessions(em, personId);
    if (person.leftOn) changedNothing();
    else {
      await em.nativeUpdate(PersonEntity, { id: personId }, { leftOn: today });
      await write('ended the access of a person', `person/${personId}`, { name: person.name });
    }
    return personNow(em, personId);
  },
});

async function personNow(em: EntityManager, personId: string): Promise<Person> {
  const person = await em.findOneOrFail(PersonEntity, { id: personId }, { refresh: true });
  return personOf(person, (await depotsOfPeople(em, personId)).get(personId) ?? [], true);
}

const FIELDS = ['name', 'role', 'email', 'depots'] as const;

/**
 * Corrects a person: name, role, address; gives an account to who had none, or a new password to who forgot theirs.
 * Another role or password ends their sessions at once. One's own role and password are not changed here, so that a
 * coordinator stays, also of two who change each other's at once.
 */
export const changePerson = command({
  name: 'changePerson',
  action: 'administer',
  run: async (
    { em, actor, audit: write, changedNothing },
    { personId, name, role, email, password, depots, seen }: PersonChange & { personId: string },
  ) => {
    const person = await underAccessLock(em, actor, personId);
    const limits = (await depotsOfPeople(em, personId)).get(personId) ?? [];
    const was = { name: person.name, role: person.role as Role, email: person.email ?? null, depots: limits };
    const now = { name, role, email, depots: LIMITED_ROLES.includes(role) ? (depots ?? limits) : [] };
    const differs = (other: typeof was) =>
      FIELDS.filter((field) => JSON.stringify(was[field]) !== JSON.stringify(other[field]));
    const changed = differs(now);
    // It stands so already: a second press after an answer that was lost.
    if (changed.length === 0 && (password === undefined || (await passwordFits(password, person.passwordHash)))) {
      changedNothing();
      return personOf(person, limits, true);
    }
    if (differs({ ...seen, depots: seen.depots ?? limits }).length > 0)
      throw new ApiError('changed_meanwhile', 'Somebody changed this person meanwhile; look again, then change it.');
    if (person.leftOn) throw new ApiError('conflict', `${was.name} left; their access is not given back here.`);
    mustHold(person, { own: personId === actor.id, role, email, password });
    // The hash only where it is new: they may be changing their own at this moment.
    const secret = password === undefined ? {} : { passwordHash: await hashPassword(password) };
    await em.nativeUpdate(PersonEntity, { id: personId }, { name, role, email, ...secret });
    await limitTo(em, personId, now.depots);
    if (role !== was.role || password !== undefined) await closeSessions(em, personId);
    await write('corrected a person', `person/${personId}`, {
      was: Object.fromEntries(changed.map((field) => [field, was[field]])),
      now: Object.fromEntries(changed.map((field) => [field, now[field]])),
      newPassword: password !== undefined,
    });
    return personNow(em, personId);
  },
});

/** What a change of a person may not do, said at its field. */
function mustHold(
  person: PersonRow,
  { own, role, email, password }: Pick<PersonChange, 'role' | 'email' | 'password'> & { own: boolean },
): void {
  if (own && role !== person.role) throw invalidField('role', 'Your own role is changed by another coordinator.');
  if (own && password !== undefined)
    throw invalidField('password', 'Your own password is changed under your name, at the top right.');
  if (person.passwordHash && email === null)
    throw invalidField('email', 'Who signs in keeps an e-mail address; to end their access is a thing of its own.');
  if (!person.passwordHash && email !== null && password === undefined)
    throw invalidField('password', 'A first password of at least 10 characters goes with the e-mail address.');
}

/** Changes one's own password; every other session of one's own ends. */
export const changePassword = command({
  name: 'changePassword',
  action: 'read',
  run: async (
    { em, actor, audit: write, changedNothing },
    { current, next, token }: PasswordChange & { token: string | undefined },
  ) => {
    if (current === next) throw invalidField('next', 'A password other than the present one is accepted.');
    const person = await em.findOneOrFail(PersonEntity, { id: actor.id }, { refresh: true });
    if (!(await passwordFits(current, person.passwordHash))) {
      // It is the new one already: a second press after an answer that was lost.
      if (await passwordFits(next, person.passwordHash)) return (changedNothing(), null);
      throw invalidField('current', 'This is not your present password.');
    }
    const passwordHash = await hashPassword(next);
    const changed = await em.nativeUpdate(
      PersonEntity,
      { id: actor.id, passwordHash: person.passwordHash ?? null },
      { passwordHash },
    );
    if (changed === 0) throw new ApiError('changed_meanwhile', 'Your password was changed elsewhere meanwhile.');
    await closeSessions(em, actor.id, token);
    await write('changed their password', `person/${actor.id}`);
    return null;
  },
});
