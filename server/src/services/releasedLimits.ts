import type { AxleValues } from '@mile-mark/contract';
import type { EntityManager } from '../db/orm.ts';

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
  await em.execute(
    `update model_axle set released_pad_min_um = ?::int, released_rotor_discard_um = ?::int,
       released_rotor_machine_to_um = ?::int where model_id = ? and axle = ?`,
    [um(values?.padMinMm), um(values?.rotorDiscardMm), um(values?.rotorMachineToMm), model_id, axle],
  );
  const rows = await em.execute<{ id: string }[]>(
    'update vehicle set input_rev = input_rev + 1 where model_id = ? returning id',
    [model_id],
  );
  return rows.map(({ id }) => id);
}
