import type { AxleValues } from '@mile-mark/contract/specifications';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ModelAxleEntity, VehicleEntity } from '../../register/index.ts';

/**
 * Released limits are what forecasts reckon with from now on; with none, those of the model list.
 *
 * @returns the vehicles whose forecasts rest on them
 */
export async function writeLimits(
  em: EntityManager,
  { model_id, axle }: { model_id: string; axle: number },
  values: AxleValues | undefined,
): Promise<string[]> {
  const um = (mm: number | null | undefined) => (mm == null ? null : Math.round(mm * 1000));
  await em.nativeUpdate(
    ModelAxleEntity,
    { modelId: model_id, axle },
    {
      releasedPadMinUm: um(values?.padMinMm),
      releasedRotorDiscardUm: um(values?.rotorDiscardMm),
      releasedRotorMachineToUm: um(values?.rotorMachineToMm),
    },
  );
  return (await em.find(VehicleEntity, { modelId: model_id })).map(({ id }) => id);
}
