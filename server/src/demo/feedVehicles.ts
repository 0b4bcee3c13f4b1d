import { metresToMiles } from '@mile-mark/core';
import type { EntityManager } from '../platform/db/orm.ts';
import { uuidArray } from '../platform/db/uuidArray.ts';

/** What the stand-in plays for the demo: vehicles with their odometers by dates and the duty they drive. */
export async function demoFeedVehicles(
  em: EntityManager,
): Promise<
  { unit: string; points: { date: string; miles: number }[]; dutyId: string; tareKg: number; gvwrKg: number }[]
> {
  const rows = await em.execute<{ id: string; unit: string; duty_id: string; tare_kg: number; gvwr_kg: number }[]>(
    `select v.id, v.unit, m.tare_kg, m.gvwr_kg, (select p.duty_id from duty_period p where p.vehicle_id = v.id order by p.from_date desc limit 1) as duty_id
     from vehicle v join model m on m.id = v.model_id where exists (select 1 from inspection i where i.vehicle_id = v.id) order by v.unit limit 400`,
  );
  const points = await em.execute<{ vehicle_id: string; date: string; odometer_m: number }[]>(
    `select vehicle_id, day::text as date, max(odometer_m) as odometer_m from (
       select vehicle_id, measured_on as day, odometer_m from inspection union all
       select vehicle_id, read_on, odometer_m from odometer where source <> 'telematics' union all
       select vehicle_id, fitted_on, odometer_m from service) k
     where vehicle_id = any(?::uuid[]) group by 1, 2 order by 1, 2`,
    [uuidArray(rows.map(({ id }) => id))],
  );
  return rows.map(({ id, unit, duty_id, tare_kg, gvwr_kg }) => ({
    unit,
    dutyId: duty_id,
    tareKg: tare_kg,
    gvwrKg: gvwr_kg,
    points: points
      .filter((one) => one.vehicle_id === id)
      .map(({ date, odometer_m }) => ({ date, miles: metresToMiles(odometer_m) })),
  }));
}
