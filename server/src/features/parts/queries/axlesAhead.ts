import { kitOf } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { Scope } from '../../jobs/index.ts';
import { cardAxle, Disc } from '../kits.ts';

const AxleSql = z.object({
  vehicle_id: z.string(),
  axle: z.number(),
  depot_id: z.string(),
  model_id: z.string(),
  model: z.string(),
  class: z.string(),
  brake: z.enum(['hydraulic', 'air']),
  detail: z.string(),
  disc: Disc,
  mark: z.string(),
  job_id: z.string().nullable(),
});
const AXLES = `
  select f.vehicle_id, f.axle, v.depot_id, v.model_id, m.name as model, m.class, x.brake, x.brake_detail as detail,
    x.rotor_diameter_um as disc, f.mark->>'markDate' as mark, (select j.id from job j join job_axle a on a.job_id = j.id
      where j.vehicle_id = v.id and a.axle = f.axle and j.state in ('proposed', 'booked', 'in work')) as job_id
  from forecast f join vehicle v on v.id = f.vehicle_id join model m on m.id = v.model_id
    join model_axle x on x.model_id = v.model_id and x.axle = f.axle
  where f.mark is not null and (?::uuid is null or f.vehicle_id = ?) order by f.vehicle_id, f.axle`;

/** An axle with a mark, and the open job that does it, if one does. */
export type AxleAhead = z.output<typeof AxleSql>;

/** @param vehicleId of one vehicle only, where it is told */
export const axlesAhead = (em: EntityManager, vehicleId: string | null = null): Promise<AxleAhead[]> =>
  rowsOf(em, AxleSql, AXLES, [vehicleId, vehicleId]);

/** What every set of pads goes with; the rest is known when somebody looked. */
const SURELY: Scope = (['pads', 'hardware', 'sensor'] as const).map((action) => ({ action, sides: 'both' }));

/** Lines of an axle's kit: of what a job would do there, where that is known, else what its pads need surely. */
export const kitAhead = (
  { axle, brake, detail }: AxleAhead,
  policy: Parameters<typeof kitOf>[1],
  changes: Parameters<typeof kitOf>[2],
  scope: Scope = SURELY,
) => kitOf([cardAxle(axle, brake, detail, scope)], policy, changes);
