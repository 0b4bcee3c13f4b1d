import type { NewMove } from '@mile-mark/contract/register';
import { z } from 'zod';
import { vehicleChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { DepotEntity, type DepotRow, VehicleEntity, VehicleMoveEntity, type VehicleRow } from '../entities.ts';
import { idByName, lockVehicle } from '../lookups.ts';
import { lockedVehicle, raised } from '../revision.ts';

/** A depot by its name that is not closed; refuses the named field. */
export async function openDepot(em: EntityManager, name: string, field: string): Promise<DepotRow> {
  const id = await idByName(em, 'depot', name);
  const depot = id && (await em.findOne(DepotEntity, { id }, { refresh: true }));
  if (!depot) throw invalidField(field, `There is no depot “${name}” on record; one of the depot list is accepted.`);
  if (depot.closedOn)
    throw invalidField(field, `${depot.name} closed on ${depot.closedOn}; an open depot is accepted.`);
  return depot;
}

/**
 * Moves a vehicle to another depot on a day, for good or until a day. A move of a day past or today is made at once, one
 * ahead on its day. A job booked in the old depot meanwhile stands in the way: nobody would find the vehicle there.
 */
export const moveVehicle = command({
  name: 'moveVehicle',
  action: 'register',
  clientId: 'id',
  run: async ({ em, actor, today, audit, emit }, input: z.output<typeof NewMove> & { unit: string }) => {
    const { id, on, backOn } = input;
    const vehicle = await lockedVehicle(em, input.unit);
    if (vehicle.leftOn) throw new ApiError('conflict', `${vehicle.unit} left the fleet on ${vehicle.leftOn}.`);
    const to = await openDepot(em, input.depot, 'depot');
    if (to.id === vehicle.depotId)
      throw invalidField('depot', `${vehicle.unit} stands in ${to.name} already; another depot is accepted.`);
    if (backOn !== undefined && backOn <= today)
      throw invalidField('backOn', `That is over already; a day after ${today} is accepted, or none.`);
    const [last] = await em.find(VehicleMoveEntity, { vehicleId: vehicle.id }, { orderBy: { at: 'desc' }, limit: 1 });
    if (last && (!last.begun || (last.backOn && !last.ended)))
      throw new ApiError('conflict', 'Another move of this vehicle is open; take that one back first.');
    if (last && on < (last.ended ? (last.backOn ?? last.movedOn) : last.movedOn))
      throw invalidField('on', `It moved on ${last.movedOn} last; a day from then on is accepted.`);
    await refuseJobMeanwhile(em, vehicle, { on, backOn, today });
    const begun = on <= today;
    await em.insert(VehicleMoveEntity, {
      id,
      vehicleId: vehicle.id,
      fromDepotId: vehicle.depotId,
      toDepotId: to.id,
      movedOn: on,
      backOn: backOn ?? null,
      begun,
      ended: false,
      personId: actor.id,
      at: new Date(),
    });
    await em.nativeUpdate(
      VehicleEntity,
      { id: vehicle.id },
      { ...(begun ? { depotId: to.id } : {}), ...raised(vehicle.revision) },
    );
    await audit('moved a vehicle', `vehicle/${vehicle.id}`, { to: to.name, on, ...(backOn ? { backOn } : {}) });
    await emit(vehicleChanged({ vehicleIds: [vehicle.id] }));
    return { id };
  },
});

/** Moves a vehicle today, as a list of vehicles says; a move that was open is over with it. */
export async function moveAtOnce(
  em: EntityManager,
  vehicle: VehicleRow,
  depotId: string,
  { personId, today }: { personId: string; today: string },
): Promise<void> {
  const vehicleId = vehicle.id;
  await em.nativeDelete(VehicleMoveEntity, { vehicleId, begun: false });
  await em.nativeUpdate(VehicleMoveEntity, { vehicleId, backOn: { $ne: null }, ended: false }, { ended: true });
  await em.insert(VehicleMoveEntity, {
    id: crypto.randomUUID(),
    vehicleId,
    fromDepotId: vehicle.depotId,
    toDepotId: depotId,
    movedOn: today,
    backOn: null,
    begun: true,
    ended: false,
    personId,
    at: new Date(),
  });
  await em.execute('update vehicle set depot_id = ?, revision = revision + 1 where id = ?', [depotId, vehicleId]);
}

const JOB_MEANWHILE = `
  select j.state, j.day::text, d.name as depot from job j join depot d on d.id = j.depot_id
  where j.vehicle_id = ? and j.depot_id = ? and ((j.state = 'in work' and ?::date <= ?::date) or (j.state in ('proposed', 'booked')
    and (j.day is null or (j.day >= ?::date and (?::date is null or j.day < ?::date))))) limit 1`;

/** Refuses a move that would leave a job behind in the depot it is booked in. */
async function refuseJobMeanwhile(
  em: EntityManager,
  { id, unit, depotId }: VehicleRow,
  { on, backOn = null, today }: { on: string; backOn?: string | null | undefined; today: string },
): Promise<void> {
  const job = await firstRow(em, JobMeanwhile, JOB_MEANWHILE, [id, depotId, on, today, on, backOn, backOn]);
  if (!job) return;
  const when = job.day === null ? '' : ` for ${job.day}`;
  throw new ApiError(
    'conflict',
    `A job of ${unit} is ${job.state} in ${job.depot}${when}; close it or call it off first, or move ${unit} after it.`,
  );
}

const JobMeanwhile = z.object({ state: z.string(), day: z.string().nullable(), depot: z.string() });

/** Takes back the last move of a vehicle; it stands where it stood before. */
export const undoVehicleMove = command({
  name: 'undoVehicleMove',
  action: 'register',
  run: async ({ em, audit, emit }, { id }: { id: string }) => {
    const found = await em.findOne(VehicleMoveEntity, { id });
    if (!found) throw new ApiError('not_found', 'There is no such move on record; somebody took it back meanwhile.');
    await lockVehicle(em, found.vehicleId);
    const vehicle = await em.findOneOrFail(VehicleEntity, { id: found.vehicleId }, { refresh: true });
    const [last] = await em.find(
      VehicleMoveEntity,
      { vehicleId: vehicle.id },
      { orderBy: { at: 'desc' }, limit: 1, refresh: true },
    );
    if (last?.id !== id) throw new ApiError('conflict', 'It moved again since; take that move back first.');
    const from = await em.findOneOrFail(DepotEntity, { id: last.fromDepotId }, { refresh: true });
    if (from.closedOn)
      throw new ApiError(
        'conflict',
        `${from.name}, where it stood before, closed on ${from.closedOn}; move it on instead.`,
      );
    await em.nativeDelete(VehicleMoveEntity, { id });
    await em.nativeUpdate(VehicleEntity, { id: vehicle.id }, { depotId: from.id, ...raised(vehicle.revision) });
    await audit('took back a move', `vehicle/${vehicle.id}`, { id, on: last.movedOn, backTo: from.name });
    await emit(vehicleChanged({ vehicleIds: [vehicle.id] }));
    return { id };
  },
});

const DUE = `
  select id, vehicle_id as "vehicleId" from vehicle_move
  where (not begun and moved_on <= ?::date) or (begun and not ended and back_on <= ?::date) order by moved_on`;

/** Makes the moves whose day has come, and brings back what was away for a time; safe to call at any time, by any process. */
export async function makeMovesDue(em: EntityManager, today: string): Promise<void> {
  const due = await rowsOf(em, z.object({ id: z.string(), vehicleId: z.string() }), DUE, [today, today]);
  for (const { id, vehicleId } of due)
    await em.fork().transactional(async (inner) => {
      await lockVehicle(inner, vehicleId);
      const move = await inner.findOne(VehicleMoveEntity, { id }, { refresh: true });
      // Another process may have made it meanwhile, and somebody have moved the vehicle on.
      if (!move || move.ended) return;
      const over = move.backOn != null && move.backOn <= today;
      if (move.begun && !over) return;
      const depotId = over ? move.fromDepotId : move.toDepotId;
      const vehicle = await inner.findOneOrFail(VehicleEntity, { id: vehicleId }, { refresh: true });
      await inner.nativeUpdate(VehicleMoveEntity, { id }, { begun: true, ended: over });
      if (vehicle.leftOn) return;
      await inner.nativeUpdate(VehicleEntity, { id: vehicleId }, { depotId, ...raised(vehicle.revision) });
    });
}
