import {
  AxleValues,
  figuresToRetype,
  type JointTorque,
  JointValues,
  type ReleaseAnswer,
  type ReleaseAttempt,
  SpecificationValues,
} from '@mile-mark/contract/specifications';
import { differingFigures, PAIR_TOLERANCE, pairDifference, targetNm, torqueIn } from '@mile-mark/core';
import { z } from 'zod';
import { specificationReleased } from '../../../events.ts';
import type { Actor } from '../../../platform/auth/policy.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { SpecificationAttemptEntity, SpecificationEntity, SpecificationReleaseEntity } from '../entities.ts';
import { changesBetween } from '../queries/specifications.ts';
import { writeLimits } from './releasedLimits.ts';

const Waiting = z.object({
  specification_id: z.string(),
  model_id: z.string(),
  axle: z.number(),
  released_revision_id: z.string().nullable(),
  is_open: z.boolean(),
  detail: SpecificationValues,
  entered_by: z.string(),
  entered_by_name: z.string(),
});
type Waiting = z.output<typeof Waiting>;

/**
 * Holds what a second person typed blind against what was entered. Where all agree, and a stated pair does not
 * contradict itself or is settled, the revision is released in the same transaction; else only the attempt is kept.
 */
export const releaseRevision = command({
  name: 'releaseRevision',
  action: 'specify',
  clientId: 'id',
  run: async (tx, input: ReleaseAttempt & { revisionId: string }): Promise<ReleaseAnswer> => {
    const { em, actor } = tx;
    const { id, revisionId } = input;
    const waiting = await lockWaiting(em, revisionId);
    await refuseRelease(tx, waiting, revisionId);
    const values = SpecificationValues.parse(waiting.detail);
    const typed = typedValues(input, values);
    const differing = differingFigures(figuresToRetype(values), figuresToRetype(typed));
    const conflict = differing.length === 0 && !input.settled ? conflictOf(values) : null;
    const answer: ReleaseAnswer = { released: differing.length === 0 && !conflict, differing, conflict };
    const attempt = { id, revisionId, personId: actor.id, typed, differing, answer, at: new Date() };
    await em.insert(SpecificationAttemptEntity, attempt);
    if (answer.released) await release(tx, waiting, input, values);
    else
      await tx.audit('compared a specification', `specification/${waiting.specification_id}`, {
        revisionId,
        differing,
      });
    return answer;
  },
});

async function refuseRelease({ em, actor }: Transaction, waiting: Waiting, revisionId: string): Promise<void> {
  if (!waiting.is_open)
    throw new ApiError('conflict', 'This revision was released or taken back meanwhile; look at the list again.');
  if (waiting.entered_by === actor.id)
    throw new ApiError(
      'forbidden',
      'You entered this yourself: somebody else must type it from the document and release it.',
    );
  await refuseGuessing(em, actor, revisionId, waiting.entered_by_name);
}

async function release(
  { em, actor, today, audit, emit }: Transaction,
  waiting: Waiting,
  { id, revisionId, settled }: ReleaseAttempt & { revisionId: string },
  values: SpecificationValues,
): Promise<void> {
  const effective = settle(values, settled);
  const before = await detailReleased(em, waiting.released_revision_id);
  await em.insert(SpecificationReleaseEntity, {
    revisionId,
    attemptId: id,
    enteredBy: waiting.entered_by,
    releasedBy: actor.id,
    releasedOn: today,
    releasedAt: new Date(),
    detail: effective,
    settled: conflictOf(values) && settled ? settled : null,
    replaces: waiting.released_revision_id,
    changes: before ? changesBetween(before, effective).filter(({ field }) => field !== 'Note') : [],
  });
  const counts = { releasedRevisionId: revisionId, openRevisionId: null };
  await em.nativeUpdate(SpecificationEntity, { id: waiting.specification_id }, counts);
  await audit('released a specification', `specification/${waiting.specification_id}`, { revisionId });
  const vehicleIds = effective.about === 'axle' ? await writeLimits(em, waiting, effective) : [];
  await emit(specificationReleased({ vehicleIds }));
}

/** How often one person may type a revision differently: who goes on would be guessing, not reading. */
const MOST_TRIES = 3;

async function refuseGuessing(em: EntityManager, actor: Actor, revisionId: string, enteredBy: string): Promise<void> {
  const [{ tries } = { tries: 0 }] = await rowsOf(
    em,
    z.object({ tries: z.number() }),
    `select count(*)::int as tries from specification_attempt where revision_id = ? and person_id = ? and differing <> '[]'`,
    [revisionId, actor.id],
  );
  if (tries >= MOST_TRIES)
    throw new ApiError(
      'conflict',
      `You have typed it differently ${tries} times. Let ${enteredBy} look at the document again, or somebody else release it.`,
    );
}

async function lockWaiting(em: EntityManager, revisionId: string): Promise<Waiting> {
  const [waiting] = await rowsOf(
    em,
    Waiting,
    `select s.id as specification_id, s.model_id, s.axle, s.released_revision_id,
       s.open_revision_id is not distinct from r.id as is_open, r.detail, r.entered_by, p.name as entered_by_name
     from specification_revision r join specification s on s.id = r.specification_id join person p on p.id = r.entered_by
     where r.id = ? for update of s`,
    [revisionId],
  );
  if (!waiting) throw new ApiError('not_found', 'There is no such revision on record.');
  return waiting;
}

async function detailReleased(em: EntityManager, revisionId: string | null): Promise<SpecificationValues | undefined> {
  if (!revisionId) return undefined;
  const row = await em.findOne(SpecificationReleaseEntity, { revisionId });
  return row ? SpecificationValues.parse(row.detail) : undefined;
}

/** What was typed as values of the same kind, so that figures are compared field by field. */
function typedValues({ typed }: ReleaseAttempt, entered: SpecificationValues): SpecificationValues {
  if (typed.about !== entered.about)
    throw invalidField(
      'typed.about',
      `Figures of ${entered.about === 'joint' ? 'a joint' : 'an axle'} are accepted here.`,
    );
  return typed.about === 'joint'
    ? JointValues.parse({ about: 'joint', torque: typed.torque })
    : AxleValues.parse(typed);
}

/** A stated pair that contradicts itself, in words; null where there is none. */
function conflictOf(values: SpecificationValues): ReleaseAnswer['conflict'] {
  const torque = values.about === 'joint' ? values.torque : null;
  const nm = targetNm(torque);
  if (!torque?.statedToo || nm === undefined) return null;
  const value = torque.nominal ?? torque.least ?? torque.most ?? torqueIn(nm, torque.unit);
  const difference = pairDifference({ value, unit: torque.unit }, torque.statedToo);
  if (Math.abs(difference) <= PAIR_TOLERANCE) return null;
  return {
    first: `${value} ${torque.unit}`,
    statedToo: `${torque.statedToo.value} ${torque.statedToo.unit}`,
    percent: Math.abs(difference) * 100,
  };
}

/** The values that count: those of the document, and of a pair that contradicted itself the figure that holds. */
function settle(values: SpecificationValues, settled: ReleaseAttempt['settled']): SpecificationValues {
  if (!settled || values.about !== 'joint' || !values.torque?.statedToo || !conflictOf(values)) return values;
  if (settled.holds === 'first') return { ...values, torque: { ...values.torque, statedToo: null } };
  const { least, most, passes, statedToo } = values.torque;
  if (least !== null || most !== null || passes.length > 0)
    throw invalidField(
      'settled.holds',
      'The second figure is one torque only, the first has a range or passes as well: send it back to be entered as the document means it.',
    );
  const torque: JointTorque = { ...values.torque, unit: statedToo.unit, nominal: statedToo.value, statedToo: null };
  return { ...values, torque };
}
