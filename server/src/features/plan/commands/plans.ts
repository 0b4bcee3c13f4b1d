import type { NewPlan, PlanSeen } from '@mile-mark/contract/plan';
import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { planAsked } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { ModelAxleEntity, vehicleOfUnit } from '../../register/index.ts';
import { PlanDepotEntity, PlanEntity } from '../entities.ts';
import { settlePlan } from '../jobs/solve.ts';
import { depotShops } from '../queries/shop.ts';
import { enterPlan } from '../enter.ts';

/** Asks for a plan, depot by depot; the queue solves them, each process as many at a time as it has threads. */
export const addPlan = command({
  name: 'addPlan',
  action: 'plan',
  clientId: 'id',
  run: async ({ em, actor, today, audit, emit }, input: z.output<typeof NewPlan>) => {
    const { id = randomUUID(), fromDate = today, weeks, gap, seconds, urgent } = input;
    if (fromDate < today) throw invalidField('fromDate', `Today (${today}) or a later day is accepted.`);
    const shops = await depotShops(em);
    const chosen = (input.depots ?? shops.map(({ depot }) => depot)).map((name, i) => {
      const shop = shops.find(({ depot }) => depot === name);
      if (!shop)
        throw invalidField(`depots.${i}`, `${name} is no depot with vehicles; one of those on record is accepted.`);
      return shop;
    });
    if (chosen.length === 0) throw new ApiError('conflict', 'There is no depot with vehicles to plan for yet.');
    for (const [i, { unit, axles }] of urgent.entries()) await refuseOtherAxles(em, unit, axles, `urgent.${i}`);
    await enterPlan(em, {
      id,
      fromDate,
      weeks,
      gap,
      seconds,
      urgent,
      because: null,
      askedBy: actor.id,
      askedOn: today,
      depots: [...new Set(chosen.map((shop) => shop.id))],
    });
    await audit('asked for a plan', `plan/${id}`, {
      fromDate,
      weeks,
      depots: chosen.map(({ depot }) => depot),
      urgent,
    });
    await emit(planAsked({}));
    return { id };
  },
});

async function refuseOtherAxles(
  em: EntityManager,
  unit: string,
  axles: readonly number[],
  field: string,
): Promise<void> {
  const vehicle = await vehicleOfUnit(em, unit, `${field}.unit`);
  const known = await em.find(ModelAxleEntity, { modelId: vehicle.modelId });
  const other = axles.find((axle) => !known.some((one) => one.axle === axle));
  if (other !== undefined) throw invalidField(`${field}.axles`, `${unit} has no axle ${other}.`);
}

type Seen = z.output<typeof PlanSeen> & { planId: string };

/** A plan, its row locked until the transaction ends; changes of one plan wait for each other. */
export async function lockedPlan(em: EntityManager, planId: string) {
  await em.execute('select 1 from plan where id = ? for update', [planId]);
  const plan = await em.findOne(PlanEntity, { id: planId }, { refresh: true });
  if (!plan) throw new ApiError('not_found', 'There is no such plan on record.');
  return plan;
}

export const revisionOfPlan = async (
  em: EntityManager,
  { planId, revision }: { planId: string; revision?: number | undefined },
) => ({
  seen: revision,
  onRecord: (await lockedPlan(em, planId)).revision,
});

/** Stops solving and keeps what there is; a plan that is proposed is dropped. */
export const cancelPlan = command({
  name: 'cancelPlan',
  action: 'plan',
  clientId: 'id',
  revisionOf: revisionOfPlan,
  run: async ({ em, audit }, { planId }: Seen) => {
    const plan = await lockedPlan(em, planId);
    if (plan.state === 'solving') {
      await em.nativeUpdate(PlanDepotEntity, { planId, state: { $in: ['waiting', 'solving'] } }, { state: 'stopped' });
      await settlePlan(em, planId);
    } else if (plan.state === 'proposed' || plan.state === 'failed')
      await em.nativeUpdate(PlanEntity, { id: planId }, { state: 'dropped', revision: plan.revision + 1 });
    else throw new ApiError('conflict', `This plan is ${plan.state}; it can’t be dropped.`);
    await audit(plan.state === 'solving' ? 'stopped solving a plan' : 'dropped a plan', `plan/${planId}`);
    return { id: planId };
  },
});
