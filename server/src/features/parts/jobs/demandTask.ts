import { demandAhead, type DemandAsked, type PartDemand } from '@mile-mark/core';
import type { Pool } from '../../../platform/compute/pool.ts';
import type { Tasks } from '../../../platform/compute/worker.ts';

/** What this feature has threads do. */
export const PARTS_TASKS = {
  'parts/demand': (asked: DemandAsked): PartDemand[] => demandAhead(asked),
} satisfies Tasks;

/** Demand over the fleet, computed beside the server's own thread. */
export async function demandOf(pool: Pool, asked: DemandAsked): Promise<PartDemand[]> {
  return (await pool.run('parts/demand', asked)) as PartDemand[];
}
