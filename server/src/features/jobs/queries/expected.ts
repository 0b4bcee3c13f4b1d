import { decide, type JobAction } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { vehicleOfUnit } from '../../register/index.ts';
import { vehicleFacts } from '../facts.ts';

/** What the rules would have done at each axle of a vehicle if pads were asked for today: what a job of it would begin with. */
export async function expectedActions(
  em: EntityManager,
  unit: string,
  today: string,
): Promise<ReadonlyMap<number, readonly JobAction[]>> {
  const { axles } = await vehicleFacts(em, await vehicleOfUnit(em, unit, 'unit'), today);
  return new Map(
    [...axles].map(([axle, facts]) => {
      const { scope } = decide({ ...facts, asked: ['pads'] });
      return [axle, [...new Set<JobAction>(['pads', ...scope.map(({ action }) => action)])]];
    }),
  );
}
