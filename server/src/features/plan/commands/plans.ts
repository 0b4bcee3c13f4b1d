import type { NewPlan, PlanSeen } from '@mile-mark/contract/plan';
import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { planAsked } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { standingUnits } from '../../jobs/index.ts';
import { ModelAxleEntity, vehicleOfUnit } from '../../register/index.ts';
import { PlanDepotEntity, PlanEntity } from '../entities.ts';
import { settlePlan } from '../jobs/solve.ts';
import type { PlanAsk } from '../problem.ts';
import { depotShops, planTerms, type DepotShop } from '../queries/shop.ts';
import { openJobs } from '../vehicles.ts';
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
    const doneAtDepot: PlanAsk['doneAt'][number][] = [];
    for (const [i, wish] of input.doneAt.entries())
      doneAtDepot.push(await placeWished(em, wish, chosen, today, `doneAt.${i}`));
    await enterPlan(em, {
      id,
      fromDate,
      weeks,
      gap,
      seconds,
      urgent,
      doneAtDepot,
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
      doneAt: input.doneAt,
    });
    await emit(planAsked({}));
    return { id };
  },
});

/** A vehicle with the depot that is to do it: both depots planned, a way between them, and no person's booking against it. */
async function placeWished(
  em: EntityManager,
  { unit, depot }: { unit: string; depot: string },
  chosen: readonly DepotShop[],
  today: string,
  field: string,
): Promise<PlanAsk['doneAt'][number]> {
  const vehicle = await vehicleOfUnit(em, unit, `${field}.unit`);
  const [home, host] = [chosen.find(({ id }) => id === vehicle.depotId), chosen.find((one) => one.depot === depot)];
  if (!host)
    throw invalidField(`${field}.depot`, `${depot} is not planned now; one of the depots asked for is accepted.`);
  if (!home) throw invalidField(`${field}.unit`, `The own depot of ${vehicle.unit} is not planned now.`);
  const { travel } = await planTerms(em);
  const hasWay = travel.some(({ between }) => between.includes(home.depot) && between.includes(host.depot));
  if (home !== host && !hasWay)
    throw invalidField(`${field}.depot`, `A way between ${home.depot} and ${host.depot} is needed (Plan, Shop).`);
  const booked = (await openJobs(em, vehicle.depotId)).find((job) => job.vehicle === vehicle.id && !job.planned);
  if (booked && home !== host)
    throw invalidField(`${field}.unit`, `A job of ${vehicle.unit} is in work or booked by hand at ${home.depot}.`);
  if (home !== host && (await standingUnits(em, today)).has(vehicle.unit))
    throw invalidField(`${field}.unit`, `${vehicle.unit} may not be driven.`);
  return { vehicle: vehicle.id, depot: host.id };
}

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
