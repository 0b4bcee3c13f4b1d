import type { ModelBuild } from '@mile-mark/contract/register';
import { LockMode } from '@mikro-orm/core';
import { buildInWords, buildOf } from '@mile-mark/core';
import type { z } from 'zod';
import { variantStated } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { ModelAxleEntity, ModelEntity, VehicleEntity } from '../entities.ts';
import { listModels } from '../queries/lists.ts';

type Input = z.output<typeof ModelBuild> & { modelId: string };

/**
 * Says how a model's brakes are built, in the words of the model list; what was there before stays in the audit trail.
 * Cards that are not closed follow at once: they are for the vehicle as it is.
 */
export const changeModelBuild = command({
  name: 'changeModelBuild',
  action: 'register',
  revisionOf: async (em, { modelId, revision }: Input) => {
    const [row] = await em.find(ModelEntity, { id: modelId }, { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true });
    if (!row) throw new ApiError('not_found', 'There is no such model on record.');
    return { seen: revision, onRecord: row.revision };
  },
  run: async ({ em, audit, emit }, { modelId, axles: said, reservoirMl, liftingPoints, retarder: taken }: Input) => {
    const axles = await em.find(ModelAxleEntity, { modelId });
    const was: Record<string, string> = {};
    const becomes: Record<string, string> = {};
    for (const [index, one] of said.entries()) {
      const axle = axles.find((own) => own.axle === one.axle);
      if (!axle) throw invalidField(`axles.${index}.axle`, `This model has no axle ${one.axle}.`);
      const words = wordsOf(axle, one, `axles.${index}`);
      if (words === axle.brakeDetail) continue;
      was[one.axle] = axle.brakeDetail;
      becomes[one.axle] = words;
      await em.nativeUpdate(ModelAxleEntity, { id: axle.id }, { brakeDetail: words });
    }
    const { revision, retarder: had } = await em.findOneOrFail(ModelEntity, { id: modelId });
    const retarder = taken ?? had;
    const own = { reservoirMl, liftingPoints: liftingPoints === '' ? null : liftingPoints, retarder };
    await em.nativeUpdate(ModelEntity, { id: modelId }, { ...own, revision: revision + 1 });
    await audit('said how a model is built', `model/${modelId}`, { was, becomes, ...own });
    if (retarder !== had) {
      const vehicles = await em.find(VehicleEntity, { modelId });
      await emit(variantStated({ vehicleIds: vehicles.map(({ id }) => id) }));
    }
    em.clear();
    const model = (await listModels(em)).find(({ id }) => id === modelId);
    if (!model) throw new ApiError('not_found');
    return model;
  },
});

/** The axle's words; those on record stay where they say the same already, with all else they say. */
function wordsOf(axle: { brake: string; brakeDetail: string }, said: Input['axles'][number], field: string): string {
  const brake = axle.brake as 'hydraulic' | 'air';
  const now = buildOf(brake, axle.brakeDetail);
  if (brake === 'air' && (said.caliper !== undefined || said.parking !== undefined))
    throw invalidField(`${field}.caliper`, 'An air disc axle has spring brakes; only its wear sensor is said here.');
  const build = { caliper: said.caliper ?? now.caliper, parking: said.parking ?? now.parking, sensor: said.sensor };
  const same = build.caliper === now.caliper && build.parking === now.parking && build.sensor === now.sensor;
  return same ? axle.brakeDetail : buildInWords(build);
}
