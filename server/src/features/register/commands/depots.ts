import type { Closure, DepotChange, NewDepot } from '@mile-mark/contract/register';
import { z } from 'zod';
import { depotChanged } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { DepotEntity, VehicleEntity } from '../entities.ts';
import { idByName, lockVehicle } from '../lookups.ts';
import { lockedDepot, raised } from '../revision.ts';
import { moveAtOnce, openDepot } from './moveVehicle.ts';

export const addDepot = command({
  name: 'addDepot',
  action: 'register',
  clientId: 'id',
  run: async ({ em, audit, emit }, { id, name, timeZone }: z.output<typeof NewDepot>) => {
    await refuseName(em, name);
    await em.insert(DepotEntity, { id, name, timeZone, revision: 1 });
    await audit('opened a depot', `depot/${id}`, { name, timeZone });
    await emit(depotChanged({}));
    return { id };
  },
});

async function refuseName(em: EntityManager, name: string, own?: string): Promise<void> {
  const other = await idByName(em, 'depot', name);
  if (other && other !== own)
    throw invalidField('name', `There is a depot “${name}” already; another name is accepted.`);
}

type Change = z.output<typeof DepotChange> & { depotId: string };

const revisionOfDepot = async (
  em: EntityManager,
  { depotId, revision }: { depotId: string; revision?: number | undefined },
) => ({
  seen: revision,
  onRecord: (await lockedDepot(em, depotId)).revision,
});

/** Renames a depot, or says in which time zone it stands. */
export const changeDepot = command({
  name: 'changeDepot',
  action: 'register',
  revisionOf: async (em, input: Change) => revisionOfDepot(em, input),
  run: async ({ em, audit, emit, changedNothing }, { depotId, name, timeZone }: Change) => {
    const was = await lockedDepot(em, depotId);
    if (was.name === name && was.timeZone === timeZone) return (changedNothing(), { id: depotId });
    await refuseName(em, name, depotId);
    await em.nativeUpdate(DepotEntity, { id: depotId }, { name, timeZone, ...raised(was.revision) });
    await audit('changed a depot', `depot/${depotId}`, {
      was: { name: was.name, timeZone: was.timeZone },
      now: { name, timeZone },
    });
    await emit(depotChanged({}));
    return { id: depotId };
  },
});

type Closing = z.output<typeof Closure> & { depotId: string };

/**
 * Closes a depot: its vehicles move to another today. Open jobs and stock there stand in the way and are named: nobody
 * would find them any more; so do people who work nowhere else, who would see nothing.
 */
export const closeDepot = command({
  name: 'closeDepot',
  action: 'register',
  revisionOf: async (em, input: Closing) => revisionOfDepot(em, input),
  run: async ({ em, actor, today, audit, emit, changedNothing }, { depotId, vehiclesTo }: Closing) => {
    const depot = await lockedDepot(em, depotId);
    if (depot.closedOn) return (changedNothing(), { id: depotId });
    await refuseWhatIsOpen(em, depotId, depot.name);
    const vehicles = await em.find(VehicleEntity, { depotId, leftOn: null }, { orderBy: { id: 'asc' } });
    if (vehicles.length > 0) {
      if (vehiclesTo === undefined)
        throw invalidField(
          'vehiclesTo',
          `${vehicles.length} vehicles stand in ${depot.name}; the depot they go to is needed.`,
        );
      const to = await openDepot(em, vehiclesTo, 'vehiclesTo');
      if (to.id === depotId) throw invalidField('vehiclesTo', 'Another depot is accepted.');
      await lockVehicle(em, ...vehicles.map(({ id }) => id));
      for (const vehicle of vehicles) await moveAtOnce(em, vehicle, to.id, { personId: actor.id, today });
    }
    await em.nativeUpdate(DepotEntity, { id: depotId }, { closedOn: today, ...raised(depot.revision) });
    await audit('closed a depot', `depot/${depotId}`, { name: depot.name, vehicles: vehicles.length, vehiclesTo });
    await emit(depotChanged({}));
    return { id: depotId };
  },
});

const OPEN_THERE = `
  select (select count(*)::int from job where depot_id = ? and state in ('proposed', 'booked', 'in work')) as jobs,
    (select coalesce(sum(l.units), 0)::int from stock_level l join bin b on b.id = l.bin_id where b.depot_id = ?) as units,
    (select count(*)::int from vehicle_move m where (not m.begun and m.to_depot_id = ?)
      or (m.back_on is not null and not m.ended and ? in (m.from_depot_id, m.to_depot_id))) as moves,
    array(select p.name from person p where p.left_on is null and p.merged_into is null
      and exists (select 1 from person_depot own where own.person_id = p.id and own.depot_id = ?)
      and not exists (select 1 from person_depot own join depot d on d.id = own.depot_id
        where own.person_id = p.id and own.depot_id <> ? and d.closed_on is null)
      order by p.name) as people`;

async function refuseWhatIsOpen(em: EntityManager, depotId: string, name: string): Promise<void> {
  const open = await firstRow(
    em,
    z.object({ jobs: z.int(), units: z.int(), moves: z.int(), people: z.array(z.string()) }),
    OPEN_THERE,
    Array<string>(6).fill(depotId),
  );
  const said = [
    open?.jobs
      ? `${open.jobs} open ${open.jobs === 1 ? 'job is' : 'jobs are'} booked there: call off, close or move them`
      : '',
    open?.units ? `${open.units} parts lie on its shelves: move or count them out` : '',
    open?.moves ? `${open.moves} ${open.moves === 1 ? 'move' : 'moves'} to or from it are open: take them back` : '',
    open?.people.length
      ? `${open.people.join(', ')} ${open.people.length === 1 ? 'works' : 'work'} nowhere else: say under People where they work from now on`
      : '',
  ].filter(Boolean);
  if (said.length > 0) throw new ApiError('conflict', `${name} can’t close yet. ${said.join('. ')}.`);
}

/** Takes back that a depot closed; the vehicles that moved stay where they are. */
export const reopenDepot = command({
  name: 'reopenDepot',
  action: 'register',
  run: async ({ em, audit, emit, changedNothing }, { depotId }: { depotId: string }) => {
    const { closedOn, revision } = await lockedDepot(em, depotId);
    if (!closedOn) return (changedNothing(), { id: depotId });
    await em.nativeUpdate(DepotEntity, { id: depotId }, { closedOn: null, ...raised(revision) });
    await audit('opened a depot again', `depot/${depotId}`, { closedOn });
    await emit(depotChanged({}));
    return { id: depotId };
  },
});
