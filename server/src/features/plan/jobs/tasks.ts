import {
  lendVehicles,
  proveDepot,
  searchDepot,
  type LendAsk,
  type Lending,
  type PlannedVisit,
  type PlanProblem,
  type SolvedDepot,
} from '@mile-mark/core/plan';
import type { Pool } from '../../../platform/compute/pool.ts';
import type { Tasks } from '../../../platform/compute/worker.ts';

interface Asked {
  problem: PlanProblem;
  depot: string;
  seconds: number;
  gap: number;
}

const SEED = 20_261_129;
const until = ({ seconds, gap }: Pick<Asked, 'seconds' | 'gap'>) => ({
  seconds,
  gap,
  seed: SEED,
  now: () => performance.now() / 1000,
});

/** What this feature has threads do. */
export const PLAN_TASKS = {
  'plan/lend': ({ seconds, ...asked }: LendAsk & { seconds: number }): Lending =>
    lendVehicles(asked, until({ seconds, gap: 0 })),
  'plan/search': (asked: Asked): SolvedDepot => searchDepot(asked.problem, asked.depot, until(asked)),
  'plan/prove': (asked: Asked & { visits: PlannedVisit[] }): Promise<SolvedDepot> =>
    proveDepot(asked.problem, asked.depot, asked.visits, until(asked)),
} satisfies Tasks;

/** Who is lent between depots, beside the server's own thread. */
export async function lend(pool: Pool, asked: LendAsk & { seconds: number }, signal: AbortSignal): Promise<Lending> {
  return (await pool.run('plan/lend', asked, { signal })) as Lending;
}

/** A depot's plan by search, beside the server's own thread. */
export async function search(pool: Pool, asked: Asked, signal: AbortSignal): Promise<SolvedDepot> {
  return (await pool.run('plan/search', asked, { signal })) as SolvedDepot;
}

/** The same proved and made better; ends with its thread where it is aborted. */
export async function prove(
  pool: Pool,
  asked: Asked & { visits: readonly PlannedVisit[] },
  signal: AbortSignal,
): Promise<SolvedDepot> {
  return (await pool.run('plan/prove', asked, { signal })) as SolvedDepot;
}
