import type { Understanding } from '@mile-mark/contract/imports';
import { dayNumber, maxPlausibleMm, metresToMiles } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { groupBy } from '../../platform/groupBy.ts';
import type { CsvRecord } from '../../platform/documents/csv.ts';
import { ModelAxleEntity, normaliseUnit, onInstrumentNow } from '../register/index.ts';
import type { Ground } from './understand/understand.ts';
import type { VehicleRecord } from './understand/values.ts';

/** Odometers of so many of a sheet's vehicles are looked up to tell miles from kilometres. */
const VEHICLES_LOOKED_UP = 60;
/** A pad of a fleet with no model on record yet, mm. */
const ANY_PAD_MM = 40;

/** What is known beside a sheet: what a pad of this fleet can be, and where its vehicles stood on days on record. */
export async function groundOf(
  em: EntityManager,
  records: readonly CsvRecord[],
  columns: Understanding['columns'],
  today: string,
): Promise<Ground> {
  const axles = await em.find(ModelAxleEntity, {});
  const thickest = axles.map(({ padNewUm, backingPlateUm }) =>
    maxPlausibleMm({ newMm: padNewUm / 1000, plateMm: backingPlateUm / 1000 }),
  );
  const unit = columns.findIndex(({ field }) => field === 'unit');
  const units = unit < 0 ? [] : [...new Set(records.map(({ cells }) => normaliseUnit(cells[unit] ?? '')))];
  const known = await odometersOf(em, units.slice(0, VEHICLES_LOOKED_UP));
  return {
    today,
    mostMm: thickest.length > 0 ? Math.max(...thickest) : ANY_PAD_MM,
    recordOf: (unit) => known.get(normaliseUnit(unit)),
  };
}

/** Miles a day where no duty tells. */
const ANY_PACE = 80;

async function odometersOf(em: EntityManager, units: readonly string[]): Promise<Map<string, VehicleRecord>> {
  const rows = await rowsOf(
    em,
    z.object({ unit: z.string(), date: z.string(), metres: z.number(), per_day: z.number().nullable() }),
    `select v.unit, known.day::text as date, ${onInstrumentNow('v.id', 'known.day', 'known.metres')}::float8 as metres,
       (select d.miles_per_day from duty_period p join duty d on d.id = p.duty_id
         where p.vehicle_id = v.id order by p.from_date desc limit 1)::float8 as per_day
     from vehicle v join (
       select vehicle_id, measured_on as day, odometer_m as metres from live_inspection
       union select vehicle_id, read_on, odometer_m from odometer
       union select vehicle_id, fitted_on, odometer_m from service) known on known.vehicle_id = v.id
     where v.unit in (select jsonb_array_elements_text(?::jsonb)) order by v.unit, known.day, known.metres`,
    [JSON.stringify(units)],
  );
  return new Map(
    [...groupBy(rows, ({ unit }) => unit)].map(([unit, own]) => [
      unit,
      {
        points: own.map(({ date, metres }) => ({ day: dayNumber(date), miles: metresToMiles(metres) })),
        milesPerDay: own[0]?.per_day || ANY_PACE,
      },
    ]),
  );
}
