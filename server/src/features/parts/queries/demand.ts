import type { Demand, PartRecord, PartsDay } from '@mile-mark/contract/parts';
import { costPerMile, dateOfDay, dayNumber, keptBack, partRecord, transfersFirst } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { partOfNumber } from '../catalogue.ts';
import { depotOfName } from '../stock.ts';
import { onInstrumentNow } from '../../register/index.ts';

const Week = z.object({ mean: z.number(), p05: z.number(), p50: z.number(), p95: z.number() });
const PlanSql = z.object({
  computed_on: z.string(),
  weeks: z.array(Week),
  lead: Week.extend({ days: z.number(), onHand: z.number(), onOrder: z.number() }),
  reorder_point: z.number(),
  order_units: z.number(),
  why: z.array(z.string()),
});

const quantiles = ({ p05, p50, p95 }: z.output<typeof Week>) => ({ '0.05': p05, '0.5': p50, '0.95': p95 });

/** What a depot will need of a part; of one that no axle there takes, nothing. */
export async function demandFor(em: EntityManager, asked: { part: string; depot: string }): Promise<Demand> {
  const { id: partId, number } = await partOfNumber(em, asked.part, 'part');
  const depotId = await depotOfName(em, asked.depot);
  const plan = await firstRow(
    em,
    PlanSql,
    'select computed_on::text, weeks, lead, reorder_point, order_units, why from part_plan where part_id = ? and depot_id = ?',
    [partId, depotId],
  );
  if (!plan) {
    const [any] = await rowsOf(
      em,
      z.object({ on: z.string() }),
      'select computed_on::text as on from part_plan limit 1',
    );
    if (!any)
      throw new ApiError('not_found', 'Demand is not computed yet; it is as soon as there are forecasts and parts.');
    const none = { mean: 0, quantiles: { '0.05': 0, '0.5': 0, '0.95': 0 } };
    return {
      part: number,
      depot: asked.depot,
      computedOn: any.on,
      items: [],
      lead: { days: 0, ...none },
      onHand: 0,
      onOrder: 0,
      reorderPoint: 0,
      orderQuantity: 0,
      why: ['No axle of this depot takes it, or a newer number is ordered in its place.'],
    };
  }
  const start = dayNumber(plan.computed_on);
  return {
    part: number,
    depot: asked.depot,
    computedOn: plan.computed_on,
    items: plan.weeks.map((week, i) => ({
      week: dateOfDay(start + 7 * i),
      mean: week.mean,
      quantiles: quantiles(week),
    })),
    lead: { days: plan.lead.days, mean: plan.lead.mean, quantiles: quantiles(plan.lead) },
    onHand: plan.lead.onHand,
    onOrder: plan.lead.onOrder,
    reorderPoint: plan.reorder_point,
    orderQuantity: plan.order_units,
    why: plan.why,
  };
}

const StandingSql = z.object({
  depot: z.string(),
  part: z.string(),
  name: z.string(),
  onHand: z.number(),
  onOrder: z.number(),
  point: z.number(),
  wants: z.number(),
  weeks: z.array(z.object({ mean: z.number() })),
});

/** What should go from one depot to another before any is bought. */
export async function transfersNow(em: EntityManager): Promise<PartsDay['transfers']> {
  const rows = await rowsOf(
    em,
    StandingSql,
    `select d.name as depot, p.number as part, p.name, (x.lead->>'onHand')::int as "onHand", (x.lead->>'onOrder')::int as "onOrder",
       x.reorder_point as point, x.order_units as wants, x.weeks
     from part_plan x join part p on p.id = x.part_id join depot d on d.id = x.depot_id`,
  );
  const names = new Map(rows.map(({ part, name }) => [part, name]));
  return transfersFirst(rows.map((row) => ({ ...row, keeps: keptBack(row.point, row.weeks) }))).transfers.map(
    (one) => ({ ...one, name: names.get(one.part) ?? '' }),
  );
}

const LifeSql = z.object({
  part: z.string(),
  name: z.string(),
  maker: z.string(),
  model: z.string(),
  axle: z.number(),
  wornMm: z.number(),
  miles: z.number(),
  severity: z.number(),
  failed: z.boolean(),
  usableMm: z.number(),
  price: z.number().nullable(),
  currency: z.string().nullable(),
});

/**
 * The life of each set of pads that was picked for a job, not put back, and fitted: worn since by the forecast's own
 * estimate, over the miles since. A set that came off again is left out: what it wore until then is not known here. It failed
 * where its lining was seen to lift or crack.
 */
const LIVES = `
  with fitted as (
    select distinct on (j.vehicle_id, a.axle) s.part_id, j.vehicle_id, a.axle, j.closed_on,
      ${onInstrumentNow('j.vehicle_id', 'j.closed_on', 'j.odometer_m')} as odometer_m
    from stock_movement s join part p on p.id = s.part_id and p.kind = 'brake pad' join job j on j.id = s.job_id and j.state = 'closed'
      join job_axle a on a.job_id = j.id and a.scope @> '[{"action": "pads"}]'
      join vehicle v on v.id = j.vehicle_id
      join part_fit f on f.part_id = p.id and (f.model_id is null or f.model_id = v.model_id) and (f.axle is null or f.axle = a.axle)
    where s.kind = 'pick' and (select sum(n.units) from stock_movement n where n.job_id = j.id and n.part_id = p.id) < 0
    order by j.vehicle_id, a.axle, j.closed_on desc, s.serial desc)
  select p.number as part, p.name, p.maker, m.name as model, f.axle, x.pad_new_um / 1000.0 - (c.mark->>'thinnestMm')::float as "wornMm",
    ((c.mark->>'odometerNowMi')::float - f.odometer_m / 1609.344) as miles, coalesce((c.detail->>'severitySinceFitted')::float, 1) as severity,
    exists (select 1 from live_finding g join inspection i on i.id = g.inspection_id where g.vehicle_id = f.vehicle_id and g.axle = f.axle
      and g.item = 'lining' and i.measured_on > f.closed_on and g.state in ('edge lifting', 'cracked')) as failed,
    x.pad_new_um / 1000.0 - (c.mark->>'serviceLimitMm')::float as "usableMm",
    o.price_minor as price, o.currency
  from fitted f join part p on p.id = f.part_id join vehicle v on v.id = f.vehicle_id join model m on m.id = v.model_id
    join model_axle x on x.model_id = v.model_id and x.axle = f.axle
    join forecast c on c.vehicle_id = f.vehicle_id and c.axle = f.axle and c.mark is not null
    left join lateral (select price_minor, currency from part_offer where part_id = p.id order by price_minor limit 1) o on true
  where not exists (select 1 from service s where s.vehicle_id = f.vehicle_id and s.axle = f.axle and s.fitted_on > f.closed_on and s.fitted <> 'rotors')`;

/** Labour of a change is the shop's own matter; here a set is held against a set of the same job. */
export async function partRecords(em: EntityManager): Promise<PartRecord[]> {
  const lives = await rowsOf(em, LifeSql, LIVES);
  const groups = new Map<string, z.output<typeof LifeSql>[]>();
  for (const life of lives) {
    const key = `${life.part}/${life.model}/${life.axle}`;
    groups.set(key, [...(groups.get(key) ?? []), life]);
  }
  return [...groups.values()].flatMap((own) => {
    const [first] = own;
    if (!first) return [];
    const { part, name, maker, model, axle, price, currency, usableMm } = first;
    const { sets, rate, failures, miles } = partRecord(own);
    return [
      {
        part,
        name,
        maker,
        model,
        axle,
        sets,
        rate: rate ?? null,
        failures,
        miles,
        costPerMileMinor: rate && price !== null ? costPerMile(price, 0, rate.value, usableMm) : null,
        currency,
      },
    ];
  });
}
