import { z } from 'zod';
import type { EntityManager } from '../platform/db/orm.ts';
import { rowsOf } from '../platform/db/rows.ts';
import { STAFF } from './cast.ts';
import { MODELS } from './castModels.ts';
import { codeOf } from './partsCast.ts';
import { idOf, personId } from './rows.ts';

const KEEPER = personId(STAFF[2].name);

const ClosedSql = z.object({
  id: z.string(),
  closed: z.string(),
  depot: z.string(),
  axle: z.number(),
  model: z.string(),
});

/** What closed jobs fitted: the pads of either maker, received for them and picked. */
export async function picksOfClosed(em: EntityManager): Promise<Record<string, unknown>[]> {
  const jobs = await rowsOf(
    em,
    ClosedSql,
    `select j.id, j.closed_on::text as closed, d.name as depot, a.axle, m.name as model from job j join job_axle a on a.job_id = j.id
       join vehicle v on v.id = j.vehicle_id join model m on m.id = v.model_id join depot d on d.id = j.depot_id
     where j.state = 'closed' and a.scope @> '[{"action": "pads"}]' order by j.closed_on, j.id`,
  );
  const bins = await rowsOf(
    em,
    z.object({ id: z.string(), depot: z.string() }),
    'select distinct on (d.name) b.id, d.name as depot from bin b join depot d on d.id = b.depot_id order by d.name, b.code',
  );
  const binOf = new Map(bins.map(({ id, depot }) => [depot, id]));
  const codes = new Map(MODELS.map((model) => [model.name, codeOf(model)]));
  return jobs.flatMap(({ id, closed, depot, axle, model }, index) => {
    const code = codes.get(model);
    const binId = binOf.get(depot);
    if (code === undefined || binId === undefined) return [];
    const number = `PD-${code}-${axle}${index % 3 === 2 ? '-M' : ''}`;
    const base = {
      part_id: idOf('part', number),
      bin_id: binId,
      lot: null,
      expires_on: null,
      note: null,
      person_id: KEEPER,
      moved_on: closed,
      request_id: idOf('past pick', id, axle),
    };
    return [
      {
        ...base,
        id: idOf('past receipt', id, axle),
        kind: 'receive',
        units: 1,
        job_id: null,
        at: `${closed}T06:00:00Z`,
      },
      { ...base, id: idOf('past pick', id, axle), kind: 'pick', units: -1, job_id: id, at: `${closed}T06:30:00Z` },
    ];
  });
}
