import type { UnitChange } from '@mile-mark/contract/register';
import type { z } from 'zod';
import { vehicleChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { invalidField } from '../../../platform/errors.ts';
import { VehicleEntity } from '../entities.ts';
import { normaliseUnit } from '../lookups.ts';
import { raised, revisionOfVehicle } from '../revision.ts';

type Input = z.output<typeof UnitChange> & { of: string };

/** Gives a vehicle another unit number; everything on record of it goes with it. */
export const changeUnit = command({
  name: 'changeUnit',
  action: 'register',
  revisionOf: async (em, { of, revision }: Input) => revisionOfVehicle(em, of, revision),
  run: async ({ em, audit, emit, changedNothing }, input: Input) => {
    const { id, unit: was, revision } = await em.findOneOrFail(VehicleEntity, { unit: normaliseUnit(input.of) });
    const unit = normaliseUnit(input.unit);
    if (unit === was) return (changedNothing(), { id });
    const other = await em.findOne(VehicleEntity, { unit });
    if (other)
      throw invalidField(
        'unit',
        other.leftOn
          ? `${unit} is the number of a vehicle that left on ${other.leftOn}; another number is accepted, or give that one another first.`
          : `There is a vehicle ${unit} already; another number is accepted.`,
      );
    await em.nativeUpdate(VehicleEntity, { id }, { unit, ...raised(revision) });
    await audit('gave a vehicle another unit number', `vehicle/${id}`, { was, unit, reason: input.reason });
    await emit(vehicleChanged({ vehicleIds: [id] }));
    return { id };
  },
});
