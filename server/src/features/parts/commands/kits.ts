import type { NewKitChange } from '@mile-mark/contract/parts';
import { ACTION_WORDS } from '@mile-mark/contract/words';
import { buildOf, kitChangeFault, type KitChangeFault } from '@mile-mark/core';
import type { z } from 'zod';
import { catalogueChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { invalidField } from '../../../platform/errors.ts';
import { KitChangeEntity, kitChanges, kitVersion } from '../../jobs/index.ts';
import { idByName, ModelAxleEntity } from '../../register/index.ts';

type Input = z.output<typeof NewKitChange>;

async function modelOf(em: EntityManager, name: string): Promise<string> {
  const id = await idByName(em, 'model', name);
  if (id === undefined)
    throw invalidField('model', `There is no model “${name}” on record; one of the list is accepted.`);
  return id;
}

const NOT_BUILT_SO: Record<Extract<KitChangeFault, { code: 'not built so' }>['why'], string> = {
  'no hydraulics': 'This axle has an air brake: no hose, washer or fluid. Another kind is accepted.',
  'fixed caliper': 'This axle has a fixed caliper: no bracket, pin boots or clips. Another kind is accepted.',
  'no fixed caliper': 'Pad pins and spreader springs are of fixed calipers; another kind is accepted.',
  'no sensor': 'This axle is built without a wear sensor; another kind is accepted.',
  'no air brake': 'Retainers, guide pin kits and shear adapters are of air brakes; another kind is accepted.',
};

function refuse(fault: KitChangeFault, { kind }: Input): never {
  switch (fault.code) {
    case 'not whole':
      throw invalidField('quantity', `A ${kind} is counted by wheel; a whole number is accepted.`);
    case 'pieces':
      throw invalidField(
        'quantity',
        kind === 'brake pad'
          ? 'An axle takes four pads, two a wheel; 2 is accepted.'
          : `Of a ${kind}, ${fault.accepted.join(', ').replace(/, (\d+)$/, ' or $1')} a wheel is accepted.`,
      );
    case 'not built so':
      throw invalidField('kind', NOT_BUILT_SO[fault.why]);
  }
}

/** Takes more, less or nothing of a kind at an axle of a model, from now on; work in progress keeps the kit it began with. */
export const addKitChange = command({
  name: 'addKitChange',
  action: 'supply',
  clientId: 'id',
  revisionOf: async (em, { model, version }: Input) => {
    const modelId = await modelOf(em, model);
    // One at a time for a model: the version that was seen is the one that is changed.
    await em.execute('select 1 from model where id = ? for update', [modelId]);
    return { seen: version, onRecord: kitVersion(await kitChanges(em), modelId).version };
  },
  run: async ({ em, actor, today, audit, emit }, input: Input) => {
    const { id, model, axle, kind, action, quantity, reason } = input;
    const modelId = await modelOf(em, model);
    const built = await em.findOne(ModelAxleEntity, { modelId, axle });
    if (!built) throw invalidField('axle', `${model} has no axle ${axle}; one of its axles is accepted.`);
    const { changes } = kitVersion(await kitChanges(em), modelId);
    const there = changes.find((one) => one.axle === axle && one.kind === kind && one.action === action);
    if (quantity === null && !there)
      throw invalidField('quantity', `With ${ACTION_WORDS[action]}, ${kind} is as usual already.`);
    const brake = built.brake as 'hydraulic' | 'air';
    const fault =
      quantity === null
        ? undefined
        : kitChangeFault({ kind, quantity }, { brake, build: buildOf(brake, built.brakeDetail) });
    if (fault) refuse(fault, input);
    await em.insert(KitChangeEntity, {
      id,
      modelId,
      axle,
      kind,
      action,
      quantity,
      reason,
      personId: actor.id,
      changedOn: today,
      at: new Date(),
    });
    await audit('changed a kit', `model/${modelId}`, {
      axle,
      kind,
      action,
      quantity,
      before: there?.quantity ?? null,
      reason,
    });
    await emit(catalogueChanged({}));
    return { id };
  },
});
