import { torqueToNm, type TorqueUnit } from '../units/index.ts';
import { judgeHead, parseHead, usualHeads, type HeadKind } from './head.ts';
import { pairDifference, PAIR_TOLERANCE } from './pair.ts';
import { parseThread, type Thread } from './thread.ts';
import { usualTorque, type Strength } from './usual.ts';

/** Torque of a joint as its document states it; figures in `unit`, null where the document says nothing. */
export interface JointTorque {
  unit: TorqueUnit;
  least: number | null;
  nominal: number | null;
  most: number | null;
  /** Torques of earlier passes, in order, in the same unit. */
  passes: readonly number[];
  /** Turned on by so much after the last torque, degrees. */
  angleDeg: number | null;
  /** The same torque as the document states it in another unit. */
  statedToo: { unit: TorqueUnit; value: number } | null;
}

/** What judging a joint needs to know of it. */
export interface JointFacts {
  thread: string | null;
  strength: Strength | null;
  headKind: HeadKind | null;
  headSize: string | null;
  torque: JointTorque | null;
  hollow: boolean;
}

/** The field of the form or file that a doubt is about. */
export type JointField = 'thread' | 'headSize' | 'least' | 'nominal' | 'most' | 'passes' | 'statedToo';

/**
 * What is wrong or odd in a joint. `refused` can't be taken; a `question` can, once somebody says the document really
 * states it; a `conflict` waits to be settled by whoever releases.
 */
export type JointDoubt = { field: JointField } & (
  | { weight: 'refused'; code: 'order'; below: number; above: number }
  | { weight: 'refused'; code: 'passes'; pass: number; before: number }
  | { weight: 'refused'; code: 'figure_missing' }
  | { weight: 'refused'; code: 'thread_unread' }
  | { weight: 'refused'; code: 'head_unread'; kind: HeadKind }
  | {
      weight: 'refused';
      code: 'head_impossible';
      acrossMm: number;
      diameterMm: number;
      outside: boolean;
      usual: string[];
    }
  | { weight: 'refused'; code: 'same_unit' }
  | { weight: 'question'; code: 'head_unusual'; usual: string[] }
  | { weight: 'question'; code: 'torque_unusual'; leastNm: number; mostNm: number; nm: number }
  | { weight: 'conflict'; code: 'pair'; difference: number }
);

/**
 * The torque a joint is brought to, N·m: the nominal, or midway between least and most, or the one that is stated.
 * Undefined where none is known.
 */
export function targetNm(torque: JointTorque | null): number | undefined {
  if (!torque) return undefined;
  const { least, nominal, most, unit } = torque;
  const middle = least !== null && most !== null ? (least + most) / 2 : (least ?? most);
  const value = nominal ?? middle;
  return value === null ? undefined : torqueToNm(value, unit);
}

/**
 * Judges a joint as it is entered: figures in order, thread and head readable and of one fastener, the torque within
 * what such fasteners usually take, a stated pair of units in agreement.
 */
export function judgeJoint(facts: JointFacts): JointDoubt[] {
  const doubts: JointDoubt[] = [];
  const thread = facts.thread === null ? undefined : parseThread(facts.thread);
  if (facts.thread !== null && !thread) doubts.push({ field: 'thread', weight: 'refused', code: 'thread_unread' });
  doubts.push(...headDoubts(facts, thread));
  if (facts.torque) doubts.push(...torqueDoubts(facts, facts.torque, thread));
  return doubts;
}

function headDoubts({ headKind, headSize, hollow }: JointFacts, thread: Thread | undefined): JointDoubt[] {
  if (headKind === null || headSize === null) return [];
  const field = 'headSize';
  const head = parseHead(headKind, headSize);
  if (!head) return [{ field, weight: 'refused', code: 'head_unread', kind: headKind }];
  const doubt = thread && judgeHead(thread, head, { hollow });
  if (!thread || !doubt) return [];
  if (doubt.kind === 'unusual') return [{ field, weight: 'question', code: 'head_unusual', usual: doubt.usual }];
  const { acrossMm, diameterMm, outside } = doubt;
  const usual = usualHeads(thread, headKind);
  return [{ field, weight: 'refused', code: 'head_impossible', acrossMm, diameterMm, outside, usual }];
}

function torqueDoubts(facts: JointFacts, torque: JointTorque, thread: Thread | undefined): JointDoubt[] {
  const { least, nominal, most, passes, angleDeg, statedToo, unit } = torque;
  const doubts: JointDoubt[] = [];
  const order = (field: JointField, below: number | null, above: number | null) => {
    if (below !== null && above !== null && below > above)
      doubts.push({ field, weight: 'refused', code: 'order', below, above });
  };
  order('least', least, most);
  order('nominal', least, nominal);
  order('nominal', nominal, most);
  const value = nominal ?? least ?? most;
  if (value === null) doubts.push({ field: 'nominal', weight: 'refused', code: 'figure_missing' });
  const last = most ?? nominal ?? least ?? Infinity;
  [...passes, last].reduce((before, pass) => {
    if (pass <= before) doubts.push({ field: 'passes', weight: 'refused', code: 'passes', pass, before });
    return pass;
  }, 0);
  const nm = targetNm(torque);
  if (thread && nm !== undefined) {
    const { leastNm, mostNm } = usualTorque(thread, { strength: facts.strength ?? undefined, hollow: facts.hollow });
    // A torque before a turn by angle only seats the joint: it may be as low as it likes.
    if (nm > mostNm || (nm < leastNm && angleDeg === null))
      doubts.push({ field: 'nominal', weight: 'question', code: 'torque_unusual', leastNm, mostNm, nm });
  }
  if (statedToo && value !== null) {
    if (statedToo.unit === unit) doubts.push({ field: 'statedToo', weight: 'refused', code: 'same_unit' });
    const difference = pairDifference({ value, unit }, statedToo);
    if (Math.abs(difference) > PAIR_TOLERANCE)
      doubts.push({ field: 'statedToo', weight: 'conflict', code: 'pair', difference });
  }
  return doubts;
}
