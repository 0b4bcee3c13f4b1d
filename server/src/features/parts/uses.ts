import { BY_CHANCE, chanceOfUse, type Chance, type KitAhead, type KitPart, type Taken } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';

const TakenSql = z.object({
  model_id: z.string(),
  axle: z.number(),
  action: z.string(),
  jobs: z.number(),
  took: z.number(),
});
/** How many closed jobs did new pads at an axle, and how many of them did what else. */
const TAKEN = `
  with done as (select v.model_id, a.axle, a.scope from job j join vehicle v on v.id = j.vehicle_id join job_axle a on a.job_id = j.id
      where j.state = 'closed' and a.scope @> '[{"action": "pads"}]'),
    counted as (select model_id, axle, count(*)::int as jobs from done group by model_id, axle)
  select c.model_id, c.axle, n.action, c.jobs,
    (select count(*)::int from done d where d.model_id = c.model_id and d.axle = c.axle
      and d.scope @> jsonb_build_array(jsonb_build_object('action', n.action))) as took
  from counted c cross join unnest(?::text[]) as n(action)`;

/** How likely a job takes what some jobs take and others don't, by model and axle. */
export interface Uses {
  at: (model: string, axle: number) => KitAhead['chances'];
  /** Closed jobs of the model that did new pads at the axle. */
  jobsAt: (model: string, axle: number) => number;
}

/** Chances of use, learnt from closed jobs. */
export async function usesOf(em: EntityManager): Promise<Uses> {
  const actions = [...new Set(Object.values(BY_CHANCE).map(({ action }) => action))];
  const rows = await rowsOf(em, TakenSql, TAKEN, [`{${actions.map((one) => `"${one}"`).join(',')}}`]);
  return {
    at: chancesOf(rows),
    jobsAt: (model, axle) => rows.find((row) => row.model_id === model && row.axle === axle)?.jobs ?? 0,
  };
}

function chancesOf(rows: readonly z.output<typeof TakenSql>[]): (model: string, axle: number) => KitAhead['chances'] {
  const sum = (all: readonly z.output<typeof TakenSql>[]): Taken => ({
    jobs: all.reduce((total, { jobs }) => total + jobs, 0),
    took: all.reduce((total, { took }) => total + took, 0),
  });
  return (model, axle) =>
    Object.fromEntries(
      Object.entries(BY_CHANCE).map(([kind, { action, usual }]): [KitPart, Chance] => {
        const of = rows.filter((row) => row.action === action);
        const own = of.filter((row) => row.model_id === model && row.axle === axle);
        return [kind as KitPart, chanceOfUse(usual, sum(own), sum(of))];
      }),
    );
}
