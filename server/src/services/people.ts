import { randomUUID } from 'node:crypto';
import type { Me, NewPerson, Person, Role } from '@mile-mark/contract';
import { hashPassword, passwordFits } from '../auth/password.ts';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { PersonEntity, type PersonRow } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal } from '../errors.ts';
import { recordDeed } from './audit.ts';

export function meOf(person: PersonRow): Me {
  return {
    id: person.id,
    name: person.name,
    email: person.email ?? '',
    role: person.role as Role,
    distanceUnit: person.distanceUnit as Me['distanceUnit'],
    thicknessUnit: person.thicknessUnit as Me['thicknessUnit'],
  };
}

/** The person whose e-mail address and password these are; throws `wrong_credentials` otherwise. */
export async function authenticate(em: EntityManager, email: string, password: string): Promise<PersonRow> {
  const [row] = await em.execute<{ id: string }[]>('select id from person where lower(email) = lower(?)', [email]);
  const person = row ? await em.findOne(PersonEntity, { id: row.id }) : null;
  if (!(await passwordFits(password, person?.passwordHash)) || !person) throw new Refusal('wrong_credentials');
  await recordDeed(em, person.id, 'signed in', `person/${person.id}`);
  return person;
}

export async function nobodyHasAnAccount(em: EntityManager): Promise<boolean> {
  return (await em.count(PersonEntity, { passwordHash: { $ne: null } })) === 0;
}

/** Makes the first account, a coordinator; refused once anyone has an account, also when two people try at once. */
export async function makeFirstAccount(
  em: EntityManager,
  input: { name: string; email: string; password: string },
): Promise<PersonRow> {
  const passwordHash = await hashPassword(input.password);
  return em.transactional(async (inner) => {
    await inner.execute('select pg_advisory_xact_lock(460047)');
    if (!(await nobodyHasAnAccount(inner)))
      throw new Refusal('conflict', 'The first account exists already; sign in, or ask the coordinator for one.');
    const id = randomUUID();
    await insertPerson(inner, { id, name: input.name, role: 'coordinator', email: input.email, passwordHash });
    await recordDeed(inner, id, 'made the first account', `person/${id}`);
    return inner.findOneOrFail(PersonEntity, { id });
  });
}

export async function addPerson(em: EntityManager, actor: Actor, input: NewPerson): Promise<{ id: string }> {
  mustBeAllowed(actor, 'administer');
  const passwordHash = input.password === undefined ? null : await hashPassword(input.password);
  await em.transactional(async (inner) => {
    await insertPerson(inner, {
      id: input.id,
      name: input.name,
      role: input.role,
      email: input.email ?? null,
      passwordHash,
    });
    await recordDeed(inner, actor.id, 'put a person on record', `person/${input.id}`, {
      name: input.name,
      role: input.role,
    });
  });
  return { id: input.id };
}

async function insertPerson(
  em: EntityManager,
  person: { id: string; name: string; role: string; email: string | null; passwordHash: string | null },
): Promise<void> {
  await em.insert(PersonEntity, { ...person, distanceUnit: 'mi', thicknessUnit: 'mm', createdAt: new Date() });
}

export async function listPeople(em: EntityManager, actor: Actor): Promise<Person[]> {
  const people = await em.find(PersonEntity, {}, { orderBy: { name: 'asc' } });
  const shown = actor.role === 'coordinator';
  return people.map(({ id, name, role, email }) => ({
    id,
    name,
    role: role as Role,
    email: shown ? (email ?? null) : null,
  }));
}

export async function setPreferences(
  em: EntityManager,
  actor: Actor,
  input: Pick<Me, 'distanceUnit' | 'thicknessUnit'>,
): Promise<void> {
  await em.nativeUpdate(PersonEntity, { id: actor.id }, input);
  await recordDeed(em, actor.id, 'set units', `person/${actor.id}`, input);
}
