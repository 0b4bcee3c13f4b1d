import { decide, type CardAxle } from '@mile-mark/core';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { vehicleOfUnit } from '../../register/index.ts';
import { vehicleFacts } from '../facts.ts';

/** What is done at an axle, and at which wheels. */
export type Scope = CardAxle['scope'];

/** What the rules would have done at each axle of a vehicle if pads were asked for today: what a job of it would begin with. */
export async function expectedScopes(
  em: EntityManager,
  unit: string,
  today: string,
): Promise<ReadonlyMap<number, Scope>> {
  const { axles } = await vehicleFacts(em, await vehicleOfUnit(em, unit, 'unit'), today);
  return new Map(
    [...axles].map(([axle, facts]) => {
      const { scope } = decide({ ...facts, asked: ['pads'] });
      const asked: Scope = scope.some(({ action }) => action === 'pads') ? [] : [{ action: 'pads', sides: 'both' }];
      return [axle, [...asked, ...scope.map(({ action, sides }) => ({ action, sides }))]];
    }),
  );
}
