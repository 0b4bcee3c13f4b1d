import { z } from 'zod';
import { specificationWithdrawn } from '../../../events.ts';
import { mustBeAllowed } from '../../../platform/auth/policy.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { SpecificationEntity, SpecificationWithdrawalEntity } from '../entities.ts';
import { writeLimits } from './releasedLimits.ts';

const OfRevision = z.object({
  id: z.string(),
  model_id: z.string(),
  axle: z.number(),
  of_axle: z.boolean(),
  open: z.boolean(),
  released: z.boolean(),
});
type OfRevision = z.output<typeof OfRevision>;

/** Takes back a revision: one that waits, or a released one that proved wrong, whose joint is unknown from then on. */
export const withdrawRevision = command({
  name: 'withdrawRevision',
  action: 'specify',
  run: async ({ em, actor, today, audit, emit, changedNothing }, input: { revisionId: string; reason: string }) => {
    const { revisionId, reason } = input;
    const own = await lockSpecification(em, revisionId);
    if (!own.open && !own.released) {
      // A repeat adds nothing.
      if (!(await em.findOne(SpecificationWithdrawalEntity, { revisionId })))
        throw new ApiError('conflict', 'This revision was replaced meanwhile; there is nothing to take back.');
      changedNothing();
      return { id: revisionId };
    }
    if (own.released) mustBeAllowed(actor, 'withdrawReleased');
    await em.insert(SpecificationWithdrawalEntity, { revisionId, personId: actor.id, withdrawnOn: today, reason });
    const pointer = own.open ? { openRevisionId: null } : { releasedRevisionId: null };
    await em.nativeUpdate(SpecificationEntity, { id: own.id }, pointer);
    await audit('took back a specification', `specification/${own.id}`, { revisionId, reason });
    const vehicleIds = own.released && own.of_axle ? await writeLimits(em, own, undefined) : [];
    await emit(specificationWithdrawn({ vehicleIds }));
    return { id: revisionId };
  },
});

/** The joint of a revision, held until the end of the transaction. */
async function lockSpecification(em: EntityManager, revisionId: string): Promise<OfRevision> {
  const [own] = await rowsOf(
    em,
    OfRevision,
    `select s.id, s.model_id, s.axle, s.joint_kind_id is null as of_axle,
       s.open_revision_id is not distinct from r.id as open, s.released_revision_id is not distinct from r.id as released
     from specification_revision r join specification s on s.id = r.specification_id where r.id = ? for update of s`,
    [revisionId],
  );
  if (!own) throw new ApiError('not_found', 'There is no such revision on record.');
  return own;
}
