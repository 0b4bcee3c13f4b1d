import { jointDoubtInWords, jointFacts, type JointKindRow, type NewRevision } from '@mile-mark/contract/specifications';
import { judgeJoint } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import type { FieldError } from '../../platform/errors.ts';
import { ModelAxleEntity, type ModelAxleRow } from '../register/index.ts';
import { listJointKinds } from './queries/specifications.ts';

interface Place {
  modelId: string;
  axle: number;
  jointKindId: string | null;
  position: string;
}

/** What entries are judged against: the axles of models, and the kinds of joints. */
export interface SpecificationContext {
  axles: ReadonlyMap<string, ModelAxleRow>;
  kinds: ReadonlyMap<string, JointKindRow>;
}

const axleKey = (modelId: string, axle: number) => `${modelId} ${axle}`;

/** Reads what entries about these models are judged against. */
export async function readContext(em: EntityManager, modelIds: readonly string[]): Promise<SpecificationContext> {
  const axles = await em.find(ModelAxleEntity, { modelId: { $in: [...modelIds] } });
  const kinds = await listJointKinds(em);
  return {
    axles: new Map(axles.map((row) => [axleKey(row.modelId, row.axle), row])),
    kinds: new Map(kinds.map((kind) => [kind.id, kind])),
  };
}

/** What is wrong or still to be confirmed in what was entered, by field. */
export function faultsOf(
  context: SpecificationContext,
  { modelId, axle, jointKindId, values, confirmed }: Place & Pick<NewRevision, 'values' | 'confirmed'>,
): { refused: FieldError[]; questions: FieldError[] } {
  const refused: FieldError[] = [];
  const questions: FieldError[] = [];
  const refuse = (field: string, message: string) => refused.push({ field, message });
  const own = context.axles.get(axleKey(modelId, axle));
  const kind = jointKindId === null ? undefined : context.kinds.get(jointKindId);
  if (!own) refuse('axle', 'The model has no such axle on record; one that it has is accepted.');
  if (jointKindId && !kind) refuse('jointKindId', 'There is no such joint on the list; one of the list is accepted.');
  if ((values.about === 'joint') !== (jointKindId !== null))
    refuse('values.about', 'A joint has values of a joint, an axle as a whole those of an axle.');
  if (kind?.brake && own && kind.brake !== own.brake)
    refuse('jointKindId', `${kind.name} belongs to ${kind.brake} brakes; this axle's are ${own.brake}.`);
  if (values.about === 'joint') {
    if (values.absent && values.torque)
      refuse(
        'values.absent',
        'A joint that is not there has no torque; leave the torque blank, or say that it is there.',
      );
    for (const doubt of judgeJoint(jointFacts(values, kind?.hollow ?? false))) {
      const entry = { field: `values.${doubt.field}`, message: jointDoubtInWords(doubt) };
      if (doubt.weight === 'refused') refused.push(entry);
      if (doubt.weight === 'question' && !confirmed.includes(doubt.code)) questions.push(entry);
    }
  } else if (own) {
    const { padMinMm, rotorDiscardMm, rotorMachineToMm } = values;
    const discard = rotorDiscardMm ?? (own.rotorDiscardUm == null ? null : own.rotorDiscardUm / 1000);
    if (padMinMm !== null && padMinMm >= own.padNewUm / 1000)
      refuse('values.padMinMm', `New pads have ${own.padNewUm / 1000} mm; less than that is accepted.`);
    if (rotorDiscardMm !== null && own.rotorNewUm != null && rotorDiscardMm >= own.rotorNewUm / 1000)
      refuse('values.rotorDiscardMm', `A new rotor has ${own.rotorNewUm / 1000} mm; less than that is accepted.`);
    if (rotorMachineToMm !== null && own.rotorNewUm != null && rotorMachineToMm > own.rotorNewUm / 1000)
      refuse('values.rotorMachineToMm', `A new rotor has ${own.rotorNewUm / 1000} mm; at most that is accepted.`);
    if (rotorMachineToMm !== null && discard !== null && rotorMachineToMm < discard)
      refuse('values.rotorMachineToMm', `Less than discard (${discard} mm); at least that is accepted.`);
  }
  return { refused, questions };
}
