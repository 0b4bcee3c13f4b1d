import type { EntityManager } from '../../../platform/db/orm.ts';
import { invalidField } from '../../../platform/errors.ts';
import { MEASURERS, PersonEntity } from '../../people/index.ts';
import { JobPersonEntity } from '../entities.ts';

/** Says who is booked for a job, in place of whoever was. */
export async function bookPeople(em: EntityManager, jobId: string, personIds: readonly string[]): Promise<void> {
  const ids = [...new Set(personIds)];
  const people = await em.find(PersonEntity, { id: { $in: ids } });
  ids.forEach((id, index) => {
    const person = people.find((one) => one.id === id);
    if (!person || !MEASURERS.includes(person.role as (typeof MEASURERS)[number]))
      throw invalidField(`personIds.${index}`, 'A technician or coordinator on record is accepted.');
  });
  await em.nativeDelete(JobPersonEntity, { jobId });
  if (ids.length > 0)
    await em.insertMany(
      JobPersonEntity,
      ids.map((personId) => ({ jobId, personId })),
    );
}
