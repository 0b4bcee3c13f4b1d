import type { LookBy } from '@mile-mark/contract/plan';
import { lookInWords } from '@mile-mark/contract/words';
import { dayNumber } from '@mile-mark/core';
import { weekdayOf } from '@mile-mark/core/plan';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { dateAfter, weekOf } from '../problem.ts';
import { absencesFrom, depotShops, type AbsenceRow, type DepotShop } from './shop.ts';

const LookSql = z.object({
  unit: z.string(),
  vehicle: z.string(),
  depotId: z.string(),
  depot: z.string(),
  axle: z.number(),
  mark: z.string(),
  days: z.number(),
  visit: z.string().nullable(),
});
type LookSql = z.output<typeof LookSql>;
/** Axles whose mark a look would put later by so many days in the mean, with the vehicle's next visit. */
const LOOKS = `
  select v.unit, v.id as vehicle, v.depot_id as "depotId", d.name as depot, f.axle, f.mark->>'markDate' as mark,
    (f.mark->'worth'->>'laterMi')::float8 / nullif((f.mark->>'milesPerDay')::float8, 0) as days,
    least((select min(j.day) from job j where j.vehicle_id = v.id and j.state in ('booked', 'in work')),
      (select min(p.day) from plan_visit p join plan s on s.id = p.plan_id where s.state = 'published' and p.vehicle_id = v.id and p.day >= ?::date))::text as visit
  from forecast f join vehicle v on v.id = f.vehicle_id join depot d on d.id = v.depot_id
  where f.mark->>'markDate' <= ? and (f.mark->'worth'->>'laterMi')::float8 >= ? * (f.mark->>'milesPerDay')::float8 and (f.mark->>'milesPerDay')::float8 > 0
  order by 7 desc, v.unit, f.axle`;
/** Marks so far ahead are looked at later; a look that gains less than so many days is not worth the walk. */
const [AHEAD_DAYS, LEAST_DAYS] = [112, 7];
/** So long before its mark a look still moves the visit cheaply (bookings within ten days cost threefold), days. */
const BEFORE_DAYS = 14;

/** Looks that pay, each vehicle's together: with its visit or other work where that comes in time, or on a day of their own. */
export async function lookBy(em: EntityManager, today: string): Promise<LookBy[]> {
  const rows = await rowsOf(em, LookSql, LOOKS, [today, dateAfter(today, AHEAD_DAYS), LEAST_DAYS]);
  const shops = new Map((await depotShops(em)).map((shop) => [shop.id, shop]));
  const absences = await absencesFrom(em, today);
  const byVehicle = new Map<string, LookSql[]>();
  for (const row of rows) byVehicle.set(row.vehicle, [...(byVehicle.get(row.vehicle) ?? []), row]);
  return [...byVehicle.values()].flatMap((own): LookBy[] => {
    const [first] = own;
    if (!first) return [];
    const marks = own.map(({ mark }) => mark).sort();
    const soonest = dateAfter(marks[0] ?? today, -BEFORE_DAYS);
    const by = soonest < today ? today : soonest;
    const trip = absences.find(
      (one) => one.subject === first.vehicle && one.comesIn && one.from <= by && one.to >= today,
    );
    return [
      {
        unit: first.unit,
        depot: first.depot,
        axles: own.map(({ axle }) => axle).sort((a, b) => a - b),
        by,
        ...lookOn({ visit: first.visit, trip, by, today, shop: shops.get(first.depotId) }),
        why: lookInWords({ days: first.days, passed: (marks[0] ?? today) < today }),
      },
    ];
  });
}

function lookOn({
  visit,
  trip,
  by,
  today,
  shop,
}: {
  visit: string | null;
  trip: AbsenceRow | undefined;
  by: string;
  today: string;
  shop: DepotShop | undefined;
}): Pick<LookBy, 'day' | 'with'> {
  if (visit !== null && visit <= by) return { day: visit < today ? today : visit, with: 'its visit' };
  if (trip) return { day: trip.from < today ? today : trip.from, with: trip.reason };
  const open = shop ? weekOf(shop).open : [];
  for (let back = 0; back <= dayNumber(by) - dayNumber(today); back += 1) {
    const date = dateAfter(by, -back);
    if ((open[weekdayOf(date)] ?? 0) > 0) return { day: date, with: 'a look of its own' };
  }
  return { day: null, with: 'a look of its own' };
}
