import type { AxleFigures, ModelFigures } from '@mile-mark/contract/register';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError } from '../../../platform/errors.ts';
import { ModelAxleEntity, type ModelAxleRow, ModelEntity, VehicleEntity } from '../entities.ts';
import { mm } from '../mappers.ts';

/** An axle as the model list has it. */
export function figuresOfAxle(row: ModelAxleRow): AxleFigures {
  return {
    axle: row.axle,
    brake: row.brake as AxleFigures['brake'],
    brakeDetail: row.brakeDetail,
    padNewMm: row.padNewUm / 1000,
    backingPlateMm: row.backingPlateUm / 1000,
    padMakerMinMm: row.padMakerMinUm / 1000,
    rotorNewMm: mm(row.rotorNewUm),
    rotorDiscardMm: mm(row.rotorDiscardUm),
    rotorMachineToMm: mm(row.rotorMachineToUm),
    rotorDiameterMm: mm(row.rotorDiameterUm),
    pistonsMm: row.pistonsMm ?? null,
    brakeShare: row.brakeShare,
  };
}

/** A model as its list has it. @throws ApiError `not_found` */
export async function modelFigures(em: EntityManager, id: string): Promise<ModelFigures> {
  const model = await em.findOne(ModelEntity, { id });
  if (!model) throw new ApiError('not_found', 'There is no such model on record.');
  const axles = await em.find(ModelAxleEntity, { modelId: id }, { orderBy: { axle: 'asc' } });
  return {
    id,
    name: model.name,
    class: model.class as ModelFigures['class'],
    tareKg: model.tareKg,
    gvwrKg: model.gvwrKg,
    axles: axles.map(figuresOfAxle),
    revision: model.revision,
    vehicles: await em.count(VehicleEntity, { modelId: id, leftOn: null }),
    released: axles
      .filter((row) => (row.releasedPadMinUm ?? row.releasedRotorDiscardUm ?? row.releasedRotorMachineToUm) != null)
      .map(({ axle }) => axle),
  };
}
