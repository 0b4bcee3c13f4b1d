import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { groupBy } from '../../platform/groupBy.ts';
import { onInstrumentNow } from '../register/index.ts';

/** Days of the feed that count: without a fault, or with a silence before them. */
const COUNTS = `(fault is null or fault = 'gap')`;

/** What is on record of a vehicle around the days of a page. Odometers in metres, as its instrument of today shows them. */
export interface Known {
  vehicleId: string;
  unit: string;
  /** The furthest of all days before the first of the page, and the last of those days. */
  before: { metres: number; on: string } | undefined;
  /** Every odometer from the first day of the page on. */
  since: { on: string; metres: number }[];
  /** Counting days of the feed from the first day of the page on, by day. */
  days: Map<string, { odometerMi: number; stops: number }>;
  /** The newest counting day of the feed; the newest odometer taken from it. */
  newest: string | undefined;
  odometerOn: string | undefined;
}

const Vehicle = z.object({
  id: z.string(),
  unit: z.string(),
  newest: z.string().nullable(),
  odometer_on: z.string().nullable(),
});
const Shown = z.object({ id: z.string(), day: z.string().nullable(), metres: z.number(), last: z.string().nullable() });
const Day = z.object({
  id: z.string(),
  day: z.string(),
  detail: z.object({ odometerMi: z.number(), stops: z.number() }),
});

/**
 * What is known of the vehicles of a page, which are locked until the transaction ends, always in the same order.
 *
 * @param first the first day of each unit in the page
 * @returns by unit; a unit nobody knows is not there
 */
export async function knownOf(em: EntityManager, first: ReadonlyMap<string, string>): Promise<Map<string, Known>> {
  const units = JSON.stringify([...first.keys()]);
  await em.execute(
    'select id from vehicle where unit in (select jsonb_array_elements_text(?::jsonb)) order by id for update',
    [units],
  );
  const vehicles = await rowsOf(
    em,
    Vehicle,
    `select v.id, v.unit,
       (select max(day)::text from feed_day where vehicle_id = v.id and ${COUNTS}) as newest,
       (select max(read_on)::text from odometer where vehicle_id = v.id and source = 'telematics') as odometer_on
     from vehicle v where v.unit in (select jsonb_array_elements_text(?::jsonb))`,
    [units],
  );
  const page = JSON.stringify(vehicles.map(({ id, unit }) => ({ id, first: first.get(unit) })));
  const shown = await rowsOf(
    em,
    Shown,
    `with page as (select * from jsonb_to_recordset(?::jsonb) as page (id uuid, first date)),
     shown as (
       select page.id, first, read_on as day, odometer_m from page join odometer o on o.vehicle_id = page.id
       union all select page.id, first, measured_on, odometer_m from page join live_inspection i on i.vehicle_id = page.id
       union all select page.id, first, fitted_on, odometer_m from page join service s on s.vehicle_id = page.id
       union all select page.id, first, day, odometer_m from page join feed_day f on f.vehicle_id = page.id and ${COUNTS}),
     known as (select id, first, day, ${onInstrumentNow('id', 'day', 'odometer_m')} as metres from shown)
     select id, null as day, max(metres) as metres, max(day)::text as last from known where day < first group by id
     union all select id, day::text, metres, null from known where day >= first`,
    [page],
  );
  const days = await rowsOf(
    em,
    Day,
    `select vehicle_id as id, day::text, detail from feed_day
       join jsonb_to_recordset(?::jsonb) as page (id uuid, first date) on page.id = vehicle_id and day >= first
     where ${COUNTS}`,
    [page],
  );
  const shownBy = groupBy(shown, ({ id }) => id);
  const daysBy = groupBy(days, ({ id }) => id);
  return new Map(
    vehicles.map(({ id, unit, newest, odometer_on }) => {
      const own = shownBy.get(id) ?? [];
      const before = own.find(({ last }) => last !== null);
      return [
        unit,
        {
          vehicleId: id,
          unit,
          before: before?.last ? { metres: before.metres, on: before.last } : undefined,
          since: own.flatMap(({ day, metres }) => (day === null ? [] : [{ on: day, metres }])),
          days: new Map((daysBy.get(id) ?? []).map(({ day, detail }) => [day, detail])),
          newest: newest ?? undefined,
          odometerOn: odometer_on ?? undefined,
        },
      ];
    }),
  );
}
