import type { ChangedAnswer } from '@mile-mark/contract/specifications';
import { z } from 'zod';
import { command } from '../../../platform/command/command.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { ServiceEntity } from '../../inspections/index.ts';
import { SpecificationChangedAnswerEntity, SpecificationRevisionEntity } from '../entities.ts';

/** Settles a job that was done on an older revision, with who and when; once. */
export const answerChanged = command({
  name: 'answerChanged',
  action: 'specify',
  run: async ({ em, actor, audit, changedNothing }, input: ChangedAnswer) => {
    const { revisionId, serviceId, answer, note } = input;
    const revision = await em.findOne(SpecificationRevisionEntity, { id: revisionId });
    const service = await em.findOne(ServiceEntity, { id: serviceId });
    if (!revision || !service) throw new ApiError('not_found', 'There is no such job or revision on record.');
    const added = await rowsOf(
      em,
      z.object({ service_id: z.string() }),
      `insert into specification_changed_answer (revision_id, service_id, answer, note, person_id) values (?, ?, ?, ?, ?)
       on conflict do nothing returning service_id`,
      [revisionId, serviceId, answer, note, actor.id],
    );
    if (added.length > 0)
      await audit('settled a changed specification', `service/${serviceId}`, { answer, revisionId });
    else {
      // A repeat by the same person adds nothing; another's answer stands.
      const earlier = await em.findOneOrFail(SpecificationChangedAnswerEntity, { revisionId, serviceId });
      if (earlier.personId !== actor.id || earlier.answer !== answer)
        throw new ApiError('conflict', 'Somebody settled this meanwhile; look at the list again.');
      changedNothing();
    }
    return { id: serviceId };
  },
});
