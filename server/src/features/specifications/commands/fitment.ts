import { LockMode } from '@mikro-orm/core';
import { z } from 'zod';
import type { Fitment, FitmentEdit } from '@mile-mark/contract/specifications';
import { variantStated } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import {
  idByName,
  ModelAxleEntity,
  ModelEntity,
  VehicleEntity,
  VehicleModelChangeEntity,
  vehicleOfUnit,
} from '../../register/index.ts';
import { fitmentOf } from '../queries/models.ts';

type ChangedFitment = z.output<typeof FitmentEdit> & { modelId: string };

/** Says what tells a variant from its sisters. */
export const changeFitment = command({
  name: 'changeFitment',
  action: 'register',
  revisionOf: async (em, { modelId, revision }: ChangedFitment) => {
    const model = await em.findOne(ModelEntity, { id: modelId }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!model) throw new ApiError('not_found', 'There is no such model on record.');
    return { seen: revision, onRecord: model.revision };
  },
  run: async ({ em, audit }, { modelId, revision: _seen, ...fitment }: ChangedFitment) => {
    const model = await em.findOneOrFail(ModelEntity, { id: modelId });
    await em.nativeUpdate(ModelEntity, { id: modelId }, { ...fitment, revision: model.revision + 1 });
    await audit('said the fitment of a model', `model/${modelId}`, { before: fitmentOf(model), after: fitment });
    return { id: modelId };
  },
});

/** Puts another variant of a model on record: masses and axles are copied, specifications are its own. */
export const addVariant = command({
  name: 'addVariant',
  action: 'register',
  clientId: 'id',
  run: async ({ em, audit }, input: { modelId: string; id: string; name: string; fitment: Fitment }) => {
    const { modelId, id, name, fitment } = input;
    if (await idByName(em, 'model', name))
      throw invalidField('name', `There is a model “${name}” already; another name is accepted.`);
    const model = await em.findOne(ModelEntity, { id: modelId });
    if (!model) throw new ApiError('not_found', 'There is no such model on record.');
    const { class: vehicleClass, tareKg, gvwrKg, referenceDutyId = null } = model;
    await em.insert(ModelEntity, {
      id,
      name,
      class: vehicleClass,
      tareKg,
      gvwrKg,
      referenceDutyId,
      revision: 1,
      ...fitment,
    });
    const axles = await em.find(ModelAxleEntity, { modelId });
    const ownOfList = { releasedPadMinUm: null, releasedRotorDiscardUm: null, releasedRotorMachineToUm: null };
    await em.insertMany(
      ModelAxleEntity,
      axles.map((axle) => ({ ...axle, ...ownOfList, id: crypto.randomUUID(), modelId: id })),
    );
    await audit('put a variant on record', `model/${id}`, { of: modelId, name });
    return { id };
  },
});

/** Says which variant a vehicle is; its forecast is made anew. */
export const changeModel = command({
  name: 'changeModel',
  action: 'register',
  run: async ({ em, actor, today, audit, emit, changedNothing }, input: { unit: string; model: string }) => {
    const { id: vehicleId, unit } = await vehicleOfUnit(em, input.unit, 'unit');
    const toModelId = await idByName(em, 'model', input.model);
    if (!toModelId)
      throw invalidField('model', `There is no model “${input.model}” on record; one of the library is accepted.`);
    const lock = { lockMode: LockMode.PESSIMISTIC_WRITE };
    const { modelId: fromModelId } = await em.findOneOrFail(VehicleEntity, { id: vehicleId }, lock);
    if (fromModelId === toModelId) {
      changedNothing();
      return { id: vehicleId };
    }
    const other = await axleBuiltOtherwise(em, vehicleId, [fromModelId, toModelId]);
    if (other !== undefined)
      throw invalidField(
        'model',
        `Axle ${other} of ${unit} has readings or work on record, and ${input.model} has no such axle or brakes it otherwise; a model with the same is accepted.`,
      );
    await em.execute('update vehicle set model_id = ?, revision = revision + 1 where id = ?', [toModelId, vehicleId]);
    const change = { vehicleId, fromModelId, toModelId, personId: actor.id, changedOn: today };
    await em.insert(VehicleModelChangeEntity, { id: crypto.randomUUID(), ...change, at: new Date() });
    await audit('said which variant a vehicle is', `vehicle/${vehicleId}`, { model: input.model });
    await emit(variantStated({ vehicleIds: [vehicleId] }));
    return { id: vehicleId };
  },
});

/** The first axle with something on record for this vehicle that the other model has not, or brakes otherwise. */
async function axleBuiltOtherwise(
  em: EntityManager,
  vehicleId: string,
  [from, to]: [string, string],
): Promise<number | undefined> {
  const [row] = await rowsOf(
    em,
    z.object({ axle: z.int() }),
    `select a.axle from model_axle a where a.model_id = ?
       and not exists (select 1 from model_axle b where b.model_id = ? and b.axle = a.axle and b.brake = a.brake)
       and (exists (select 1 from reading r where r.vehicle_id = ? and r.axle = a.axle)
         or exists (select 1 from service_record s where s.vehicle_id = ? and s.axle = a.axle)
         or exists (select 1 from job_axle x join job j on j.id = x.job_id where j.vehicle_id = ? and x.axle = a.axle))
     order by a.axle limit 1`,
    [from, to, vehicleId, vehicleId, vehicleId],
  );
  return row?.axle;
}
