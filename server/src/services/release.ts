import { differingFigures, pairDifference, PAIR_TOLERANCE, targetNm, torqueIn } from '@mile-mark/core';
import {
  AxleValues,
  figuresToRetype,
  JointValues,
  SpecificationValues,
  type JointTorque,
  type ReleaseAnswer,
  type ReleaseAttempt,
} from '@mile-mark/contract';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal, refuseField } from '../errors.ts';
import { recordDeed } from './audit.ts';
import { writeLimits } from './releasedLimits.ts';
import { changesBetween } from './specifications.ts';

interface Waiting {
  specification_id: string;
  model_id: string;
  axle: number;
  released_revision_id: string | null;
  is_open: boolean;
  detail: SpecificationValues;
  entered_by: string;
  entered_by_name: string;
}

export interface Released {
  answer: ReleaseAnswer;
  /** Vehicles whose forecasts rest on what was released. */
  vehicleIds: string[];
}

/**
 * Holds what a second person typed blind against what was entered. Where all agree, and a stated pair does not
 * contradict itself or is settled, the revision is released in the same transaction; else only the attempt is kept.
 * A repeat with the same id answers as the first did.
 */
export async function releaseRevision(
  em: EntityManager,
  actor: Actor,
  revisionId: string,
  input: ReleaseAttempt,
  today: string,
): Promise<Released> {
  mustBeAllowed(actor, 'specify');
  return em.transactional(async (inner) => {
    const waiting = await lockWaiting(inner, revisionId);
    const [earlier] = await inner.execute<{ answer: ReleaseAnswer; revision_id: string }[]>(
      'select answer, revision_id from specification_attempt where id = ?',
      [input.id],
    );
    if (earlier?.revision_id === revisionId) return { answer: earlier.answer, vehicleIds: [] };
    if (earlier) throw new Refusal('conflict', 'This attempt belongs to another revision.');
    if (!waiting.is_open)
      throw new Refusal('conflict', 'This revision was released or taken back meanwhile; look at the list again.');
    if (waiting.entered_by === actor.id)
      throw new Refusal(
        'forbidden',
        'You entered this yourself: somebody else must type it from the document and release it.',
      );
    await refuseGuessing(inner, actor, revisionId, waiting.entered_by_name);
    const values = SpecificationValues.parse(waiting.detail);
    const typed = typedValues(input, values);
    const differing = differingFigures(figuresToRetype(values), figuresToRetype(typed));
    const conflict = differing.length === 0 && !input.settled ? conflictOf(values) : null;
    const answer: ReleaseAnswer = { released: differing.length === 0 && !conflict, differing, conflict };
    await inner.execute(
      `insert into specification_attempt (id, revision_id, person_id, typed, differing, answer)
       values (?, ?, ?, ?::jsonb, ?::jsonb, ?::jsonb)`,
      [input.id, revisionId, actor.id, JSON.stringify(typed), JSON.stringify(differing), JSON.stringify(answer)],
    );
    if (!answer.released) return { answer, vehicleIds: [] };
    const effective = settle(values, input.settled);
    const before = await detailReleased(inner, waiting.released_revision_id);
    await inner.execute(
      `insert into specification_release (revision_id, attempt_id, entered_by, released_by, released_on, detail, settled, replaces, changes)
       values (?, ?, ?, ?, ?::date, ?::jsonb, ?::jsonb, ?, ?::jsonb)`,
      [
        revisionId,
        input.id,
        waiting.entered_by,
        actor.id,
        today,
        JSON.stringify(effective),
        conflictOf(values) && input.settled ? JSON.stringify(input.settled) : null,
        waiting.released_revision_id,
        JSON.stringify(before ? changesBetween(before, effective).filter(({ field }) => field !== 'Note') : []),
      ],
    );
    await inner.execute(
      'update specification set released_revision_id = open_revision_id, open_revision_id = null where id = ?',
      [waiting.specification_id],
    );
    await recordDeed(inner, actor.id, 'released a specification', `specification/${waiting.specification_id}`, {
      revisionId,
    });
    const vehicleIds = effective.about === 'axle' ? await writeLimits(inner, waiting, effective) : [];
    return { answer, vehicleIds };
  });
}

/** How often one person may type a revision differently: who goes on would be guessing, not reading. */
const MOST_TRIES = 3;

async function refuseGuessing(em: EntityManager, actor: Actor, revisionId: string, enteredBy: string): Promise<void> {
  const [{ tries } = { tries: 0 }] = await em.execute<{ tries: number }[]>(
    `select count(*)::int as tries from specification_attempt where revision_id = ? and person_id = ? and differing <> '[]'`,
    [revisionId, actor.id],
  );
  if (tries >= MOST_TRIES)
    throw new Refusal(
      'conflict',
      `You have typed it differently ${tries} times. Let ${enteredBy} look at the document again, or somebody else release it.`,
    );
}

async function lockWaiting(em: EntityManager, revisionId: string): Promise<Waiting> {
  const [waiting] = await em.execute<Waiting[]>(
    `select s.id as specification_id, s.model_id, s.axle, s.released_revision_id,
       s.open_revision_id is not distinct from r.id as is_open, r.detail, r.entered_by, p.name as entered_by_name
     from specification_revision r join specification s on s.id = r.specification_id join person p on p.id = r.entered_by
     where r.id = ? for update of s`,
    [revisionId],
  );
  if (!waiting) throw new Refusal('not_found', 'There is no such revision on record.');
  return waiting;
}

async function detailReleased(em: EntityManager, revisionId: string | null): Promise<SpecificationValues | undefined> {
  if (!revisionId) return undefined;
  const [row] = await em.execute<{ detail: unknown }[]>(
    'select detail from specification_release where revision_id = ?',
    [revisionId],
  );
  return row && SpecificationValues.parse(row.detail);
}

/** What was typed as values of the same kind, so that figures are compared field by field. */
function typedValues({ typed }: ReleaseAttempt, entered: SpecificationValues): SpecificationValues {
  if (typed.about !== entered.about)
    throw refuseField(
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
    throw refuseField(
      'settled.holds',
      'The second figure is one torque only, the first has a range or passes as well: send it back to be entered as the document means it.',
    );
  const torque: JointTorque = { ...values.torque, unit: statedToo.unit, nominal: statedToo.value, statedToo: null };
  return { ...values, torque };
}
