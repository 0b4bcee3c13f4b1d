import { VehicleRow } from '@mile-mark/contract/register';
import { metresToMiles } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { onInstrumentNow } from '../instruments.ts';

/** A row of each vehicle, also of one that left. */
export const EVERY_VEHICLE = `
  select v.id, v.unit, m.name as model, m.class, d.name as depot,
    (select u.name from duty_period p join duty u on u.id = p.duty_id
      where p.vehicle_id = v.id and p.from_date <= ?::date order by p.from_date desc limit 1) as duty,
    (select coalesce(array_agg(a.axle order by a.axle), '{}') from model_axle a where a.model_id = m.id) as axles,
    greatest((select max(${onInstrumentNow('v.id', 'i.measured_on', 'odometer_m')}) from live_inspection i where i.vehicle_id = v.id),
      (select max(${onInstrumentNow('v.id', 'o.read_on', 'odometer_m')}) from odometer o where o.vehicle_id = v.id),
      (select max(${onInstrumentNow('v.id', 's.fitted_on', 'odometer_m')}) from service s where s.vehicle_id = v.id)) as metres
  from vehicle v join model m on m.id = v.model_id join depot d on d.id = v.depot_id`;

/** A row of `EVERY_VEHICLE`. */
export const VehicleListRow = VehicleRow.omit({ odometerMi: true }).extend({ metres: z.int().nullable() });

export function vehicleRowOf({ metres, ...row }: z.output<typeof VehicleListRow>): VehicleRow {
  return { ...row, odometerMi: metres === null ? null : Math.round(metresToMiles(metres)) };
}

/** The vehicles of the fleet as it is now, in order of unit. */
export async function listVehicles(em: EntityManager, today: string): Promise<VehicleRow[]> {
  return (await rowsOf(em, VehicleListRow, `${EVERY_VEHICLE} where v.left_on is null order by v.unit`, [today])).map(
    vehicleRowOf,
  );
}
