import type { PlanHolds } from '@mile-mark/contract/plan';
import type { EntityManager } from '../../platform/db/orm.ts';
import { PlanDepotEntity, PlanEntity } from './entities.ts';
import type { PlanAsk } from './problem.ts';

/** What a plan is put on record with. */
interface Entered {
  id: string;
  fromDate: string;
  weeks: number;
  gap: number;
  seconds: number;
  urgent: PlanAsk['urgent'];
  doneAtDepot: PlanAsk['doneAt'];
  /** What no longer holds, where it is made by itself. */
  because: PlanHolds['items'] | null;
  askedBy: string;
  askedOn: string;
  depots: readonly string[];
}

/** Puts a plan on record, to be solved depot by depot. */
export async function enterPlan(em: EntityManager, { depots, ...plan }: Entered): Promise<void> {
  await em.insert(PlanEntity, {
    ...plan,
    state: 'solving',
    loans: null,
    publishedBy: null,
    publishedOn: null,
    revision: 1,
  });
  await em.insertMany(
    PlanDepotEntity,
    depots.map((depotId) => ({
      planId: plan.id,
      depotId,
      state: 'waiting',
      attempt: 0,
      heartbeatAt: new Date(),
      unplaced: [],
    })),
  );
}
