import { allocate, type Incoming, type KitJob, type KitState } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { loadCatalogue, type Catalogue } from '../catalogue.ts';
import { openJobs, type OpenJob } from '../kits.ts';

/** What lies on the shelves and what is on its way, by `depot/part`, and what each open job gets of it. */
export interface Standing {
  catalogue: Catalogue;
  jobs: OpenJob[];
  stock: Map<string, number>;
  incoming: Incoming[];
  states: Map<string, KitState>;
}

const LevelSql = z.object({ depot_id: z.string(), part_id: z.string(), units: z.number() });
/** What may still be used: a lot that has expired does not count. */
const LEVELS = `
  select b.depot_id, l.part_id, sum(l.units)::int as units from stock_level l join bin b on b.id = l.bin_id
  where l.expires_on is null or l.expires_on >= ?::date group by b.depot_id, l.part_id`;

const IncomingSql = z.object({ depot: z.string(), part: z.string(), units: z.number(), day: z.string() });
/** Lines of orders that went out, less what came; where nothing is promised, the usual lead time counts. */
const INCOMING = `
  select o.depot_id as depot, coalesce(l.instead_id, l.part_id) as part, (l.units - coalesce(r.units, 0))::int as units,
    greatest(coalesce(l.promised_on, (o.made_on + s.lead_days)), ?::date)::text as day
  from order_line l join purchase_order o on o.id = l.order_id join supplier s on s.id = o.supplier_id
    left join (select order_line_id, sum(units) as units from stock_movement where kind = 'receive' group by order_line_id) r on r.order_line_id = l.id
  where o.state in ('approved', 'sent', 'acknowledged') and l.ended is null and l.units > coalesce(r.units, 0)`;

/** Everything that readiness rests on, read at one moment. */
export async function standingOf(em: EntityManager, today: string): Promise<Standing> {
  const catalogue = await loadCatalogue(em);
  const [jobs, levels, incoming] = [
    await openJobs(em, catalogue.parts, today),
    await rowsOf(em, LevelSql, LEVELS, [today]),
    await rowsOf(em, IncomingSql, INCOMING, [today]),
  ];
  const stock = new Map(levels.map(({ depot_id, part_id, units }) => [`${depot_id}/${part_id}`, units]));
  const states = allocate(jobs.map(kitJob), stock, incoming);
  return { catalogue, jobs, stock, incoming, states: new Map(states.map((state) => [state.job, state])) };
}

/** What a job still wants: what was picked for it is its own already. */
export function kitJob({ id, depotId, day, booked, kit, picked }: OpenJob): KitJob {
  const left = new Map(picked);
  const needs = kit.needs.flatMap((need) => {
    const own = need.options.find(({ part }) => (left.get(part) ?? 0) > 0);
    if (!own) return [need];
    const units = Math.min(own.units, left.get(own.part) ?? 0);
    left.set(own.part, (left.get(own.part) ?? 0) - units);
    return units >= own.units ? [] : [{ ...need, options: [{ part: own.part, units: own.units - units }] }];
  });
  return { job: id, depot: depotId, day, booked, needs };
}

/** Units of each line of a job's kit that were picked, in the order of its lines. */
export function pickedOf({ kit, picked }: OpenJob): number[] {
  const left = new Map(picked);
  return kit.needs.map(({ options }) => {
    const own = options.find(({ part }) => (left.get(part) ?? 0) > 0);
    if (!own) return 0;
    const units = Math.min(own.units, left.get(own.part) ?? 0);
    left.set(own.part, (left.get(own.part) ?? 0) - units);
    return units;
  });
}
