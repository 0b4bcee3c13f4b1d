import { mayDo, rolesThat, type Role } from '@mile-mark/contract';
import type { Me, Person, Reader } from '@mile-mark/contract/people';
import type { Actor } from '../../platform/auth/policy.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { depotsOfPeople } from './depots.ts';
import { PersonEntity, type PersonRow } from './entities.ts';

/** Roles of people who measure. */
export const MEASURERS: Role[] = [...rolesThat('measure')];

/** @param depots that they are limited to */
export function meOf(person: PersonRow, depots: readonly string[]): Me {
  return {
    id: person.id,
    name: person.name,
    email: person.email ?? '',
    role: person.role as Role,
    depots: [...depots],
    distanceUnit: person.distanceUnit as Me['distanceUnit'],
    thicknessUnit: person.thicknessUnit as Me['thicknessUnit'],
    torqueShown: person.torqueShown as Me['torqueShown'],
    singleKeys: person.singleKeys,
    walked: person.walked,
  };
}

export async function nobodyHasAnAccount(em: EntityManager): Promise<boolean> {
  return (await em.count(PersonEntity, { passwordHash: { $ne: null } })) === 0;
}

/** @param depots that they are limited to @param shown whether the e-mail address is told */
export function personOf(
  { id, name, role, email, passwordHash, leftOn }: PersonRow,
  depots: readonly string[],
  shown: boolean,
): Person {
  return {
    id,
    name,
    role: role as Role,
    email: shown ? (email ?? null) : null,
    depots: [...depots],
    signsIn: passwordHash != null && leftOn == null,
    leftOn: leftOn ?? null,
  };
}

export async function listPeople(em: EntityManager, actor: Actor): Promise<Person[]> {
  const people = await em.find(PersonEntity, { mergedInto: null }, { orderBy: { name: 'asc' } });
  const shown = mayDo(actor.role, 'administer');
  const limits = await depotsOfPeople(em);
  return people.map((person) => personOf(person, limits.get(person.id) ?? [], shown));
}

/** In which units somebody reads, for what is printed for them. */
export async function readerOf(em: EntityManager, { id }: Actor): Promise<Reader> {
  const { distanceUnit, thicknessUnit } = meOf(await em.findOneOrFail(PersonEntity, { id }), []);
  return { distanceUnit, thicknessUnit };
}
