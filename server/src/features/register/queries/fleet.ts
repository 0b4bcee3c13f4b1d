import { FleetVehicle } from '@mile-mark/contract/register';
import { metresToMiles } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { normaliseUnit } from '../lookups.ts';
import { EVERY_VEHICLE, VehicleListRow, vehicleRowOf } from './vehicles.ts';

const FLEET = `
  select own.*, v.revision, v.left_on::text, v.left_how,
    (select max(measured_on)::text from live_inspection i where i.vehicle_id = v.id) as last_look,
    (select jsonb_build_object('axle', f.axle, 'date', f.mark->>'markDate') from forecast f
      where f.vehicle_id = v.id and f.mark->>'markDate' is not null order by f.mark->>'markDate', f.axle limit 1) as mark,
    (select jsonb_build_object('date', o.read_on, 'metres', o.odometer_m) from odometer o
      where o.vehicle_id = v.id and o.source in ('start of record', 'vehicle list') order by o.read_on, o.entered_at limit 1) as start,
    (select jsonb_build_object('id', m.id, 'from', a.name, 'to', b.name, 'on', m.moved_on, 'backOn', m.back_on, 'begun', m.begun)
      from vehicle_move m join depot a on a.id = m.from_depot_id join depot b on b.id = m.to_depot_id
      where m.vehicle_id = v.id and (not m.begun or (m.back_on is not null and not m.ended))) as move,
    coalesce((select jsonb_agg(jsonb_build_object('id', c.id, 'on', c.replaced_on, 'oldM', c.old_m, 'newM', c.new_m) order by c.replaced_on)
      from instrument_change c where c.vehicle_id = v.id and c.withdrawn_at is null), '[]') as instruments
  from (${EVERY_VEHICLE}) own join vehicle v on v.id = own.id`;

const FleetRow = VehicleListRow.extend({
  revision: z.int(),
  left_on: z.string().nullable(),
  left_how: FleetVehicle.shape.left.unwrap().shape.how.nullable(),
  last_look: z.string().nullable(),
  mark: FleetVehicle.shape.mark,
  start: z.object({ date: z.string(), metres: z.int() }).nullable(),
  move: FleetVehicle.shape.move,
  instruments: z.array(z.object({ id: z.string(), on: z.string(), oldM: z.int(), newM: z.int() })),
});

function fleetVehicleOf({
  left_on,
  left_how,
  last_look,
  start,
  revision,
  mark,
  move,
  instruments,
  ...row
}: z.output<typeof FleetRow>): FleetVehicle {
  return {
    ...vehicleRowOf(row),
    revision,
    lastLook: last_look,
    mark,
    start: start && { date: start.date, odometerMi: Math.round(metresToMiles(start.metres)) },
    move,
    instruments: instruments.map(({ oldM, newM, ...one }) => ({
      ...one,
      oldMi: Math.round(metresToMiles(oldM)),
      newMi: Math.round(metresToMiles(newM)),
    })),
    left: left_on === null || left_how === null ? null : { on: left_on, how: left_how },
  };
}

/** All vehicles, also those that left, in order of unit. */
export async function listFleet(em: EntityManager, today: string): Promise<FleetVehicle[]> {
  return (await rowsOf(em, FleetRow, `${FLEET} order by v.unit`, [today])).map(fleetVehicleOf);
}

/** One of them by its unit number; undefined where there is none. */
export async function vehicleOfFleet(
  em: EntityManager,
  unit: string,
  today: string,
): Promise<FleetVehicle | undefined> {
  const row = await firstRow(em, FleetRow, `${FLEET} where v.unit = ?`, [today, normaliseUnit(unit)]);
  return row && fleetVehicleOf(row);
}
