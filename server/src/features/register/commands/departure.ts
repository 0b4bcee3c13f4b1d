import type { Departure } from '@mile-mark/contract/register';
import { z } from 'zod';
import { vehicleLeft } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { VehicleEntity, VehicleMoveEntity } from '../entities.ts';
import { refuseFuture } from '../lookups.ts';
import { lockedVehicle, raised, revisionOfVehicle } from '../revision.ts';

type Input = z.output<typeof Departure> & { unit: string };

const LAST_ENTRY = `
  select max(day)::text as day from (
    select measured_on as day from live_inspection where vehicle_id = ?
    union all select fitted_on from service where vehicle_id = ?) known`;

/**
 * Says that a vehicle was sold or retired: it leaves Ahead, plans and shelves at once, and stays in the records. What is
 * still open of it stands in the way and is named.
 */
export const leaveFleet = command({
  name: 'leaveFleet',
  action: 'register',
  revisionOf: async (em, { unit, revision }: Input) => revisionOfVehicle(em, unit, revision),
  run: async ({ em, today, audit, emit, changedNothing }, { unit, on, how }: Input) => {
    const vehicle = await lockedVehicle(em, unit);
    const { id } = vehicle;
    if (vehicle.leftOn === on && vehicle.leftHow === how) return (changedNothing(), { id });
    if (vehicle.leftOn)
      throw new ApiError('conflict', `${vehicle.unit} left on ${vehicle.leftOn}; take that back first.`);
    refuseFuture(on, today, 'on');
    const { day } = (await firstRow(em, z.object({ day: z.string().nullable() }), LAST_ENTRY, [id, id])) ?? {
      day: null,
    };
    if (day !== null && day > on)
      throw invalidField('on', `It was measured or worked on on ${day}; that day or a later one is accepted.`);
    await refuseOpenJob(em, id, vehicle.unit);
    await em.nativeUpdate(VehicleEntity, { id }, { leftOn: on, leftHow: how, ...raised(vehicle.revision) });
    // A move that was still to come does not come any more.
    await em.nativeDelete(VehicleMoveEntity, { vehicleId: id, begun: false });
    await em.nativeUpdate(VehicleMoveEntity, { vehicleId: id, backOn: { $ne: null }, ended: false }, { ended: true });
    await audit('said that a vehicle left', `vehicle/${id}`, { on, how });
    await emit(vehicleLeft({ vehicleIds: [id] }));
    return { id };
  },
});

async function refuseOpenJob(em: EntityManager, vehicleId: string, unit: string): Promise<void> {
  const open = await firstRow(
    em,
    z.object({ state: z.string(), day: z.string().nullable() }),
    `select state, day::text from job where vehicle_id = ? and state in ('proposed', 'booked', 'in work') limit 1`,
    [vehicleId],
  );
  if (!open) return;
  const when = open.day === null ? '' : ` for ${open.day}`;
  throw new ApiError('conflict', `A job of ${unit} is ${open.state}${when}; call it off or close it first.`);
}

/** Takes back that a vehicle left: it has its marks again. */
export const rejoinFleet = command({
  name: 'rejoinFleet',
  action: 'register',
  run: async ({ em, audit, emit, changedNothing }, { unit }: { unit: string }) => {
    const { id, leftOn, leftHow, revision } = await lockedVehicle(em, unit);
    if (!leftOn) return (changedNothing(), { id });
    await em.nativeUpdate(VehicleEntity, { id }, { leftOn: null, leftHow: null, ...raised(revision) });
    await audit('took back that a vehicle left', `vehicle/${id}`, { on: leftOn, how: leftHow });
    await emit(vehicleLeft({ vehicleIds: [id] }));
    return { id };
  },
});
