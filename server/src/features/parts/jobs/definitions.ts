import { z } from 'zod';
import type { Pool } from '../../../platform/compute/pool.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow } from '../../../platform/db/rows.ts';
import type { Subscriber } from '../../../platform/events/bus.ts';
import type { AnyJob, JobDefinition, JobKind, Jobs } from '../../../platform/jobs/registry.ts';
import { FLEET_IS_REFRESHED } from '../../forecasts/index.ts';
import { followOrders } from './orders.ts';
import { planParts } from './plan.ts';

const Nothing = z.object({});
const PLAN: JobKind<object> = { name: 'plan-parts', schema: Nothing, key: () => 'parts' };
const FOLLOW: JobKind<object> = { name: 'follow-orders', schema: Nothing, key: () => 'orders' };

const PLAN_EXPIRES_S = 300;

/** The jobs of this feature. @param supplierUrl where orders go; without one they wait as approved */
export function partsJobs(
  fork: () => EntityManager,
  pool: Pool,
  today: () => string,
  supplierUrl: string | undefined,
  ask: Jobs['ask'],
): AnyJob[] {
  const plan: JobDefinition<object> = {
    ...PLAN,
    retry: 3,
    expiresS: PLAN_EXPIRES_S,
    run: async (_items, { signal }) => planParts(fork(), pool, today(), signal),
  };
  const follow: JobDefinition<object> = {
    ...FOLLOW,
    retry: 5,
    schedule: supplierUrl === undefined ? undefined : { cron: '* * * * *', data: {} },
    run: async () => {
      if (supplierUrl === undefined) return;
      const { failed, said } = await followOrders(fork, supplierUrl);
      if (said > 0) await ask(PLAN, {});
      // Tried again: whoever asked for it to be sent shall not wait for the next full minute.
      if (failed > 0) throw new Error(`a supplier did not answer about ${failed} ${failed === 1 ? 'order' : 'orders'}`);
    },
  };
  return [plan, follow];
}

/** What makes demand, stock and orders be looked at anew. */
const STIRS = new Set([
  'stock moved',
  'catalogue changed',
  'order moved',
  'job moved',
  'settings changed',
  'records imported',
  'import taken back',
  'row mended',
  'vehicle changed',
  'vehicle left',
  'model corrected',
  'depot changed',
]);

export function partsSubscriber(ask: Jobs['ask']): Subscriber {
  return {
    name: 'parts',
    after: async (events) => {
      if (events.some(({ name }) => name === 'order moved')) await ask(FOLLOW, {});
      if (events.some(({ name }) => STIRS.has(name))) await ask(PLAN, {});
    },
  };
}

/**
 * Asks for a plan where forecasts were made since the last one, or none was made for a day; while the whole fleet's are
 * being made it waits for the last of them.
 */
export async function catchUpParts(em: EntityManager, ask: Jobs['ask']): Promise<void> {
  const row = await firstRow(
    em,
    z.object({ behind: z.boolean() }),
    `select exists (select 1 from part where not retired)
       and coalesce((select max(started_at) from job_run where name = 'plan-parts'), '-infinity')
         < greatest((select max(computed_at) from vehicle_forecast), now() - interval '1 day')
       and not ${FLEET_IS_REFRESHED} as behind`,
  );
  if (row?.behind) await ask(PLAN, {});
}
