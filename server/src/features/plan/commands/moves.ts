import type { PlanLock, PlanMove, PlanSeen, PlanTried, PlanTry } from '@mile-mark/contract/plan';
import { brokenInWords } from '@mile-mark/contract/words';
import { movedTo, tryChange, unplacedOf, type PlannedVisit, type Tried } from '@mile-mark/core/plan';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { vehicleOfUnit } from '../../register/index.ts';
import { PlanChangeEntity, PlanEntity, PlanVisitEntity } from '../entities.ts';
import { currencyOf, depotShops } from '../queries/shop.ts';
import {
  keptProblem,
  plannedOf,
  sameAxles,
  visitsOf,
  writeVisits,
  type KeptProblem,
  type VisitRow,
} from '../visits.ts';
import { lockedPlan, revisionOfPlan } from './plans.ts';

type Move = Pick<z.output<typeof PlanTry>, 'unit' | 'axles' | 'date' | 'outside'>;

/** A move as the depot's problem has it, tried. */
interface Considered {
  depotId: string;
  kept: KeptProblem;
  visits: VisitRow[];
  after: PlannedVisit[];
  tried: Tried;
  unitOf: (vehicle: string) => string;
}

/** What can never be: not of this plan, twice at once, past its end. */
const IMPOSSIBLE = new Set(['unknown', 'twice', 'beyond', 'outside']);

async function consider(em: EntityManager, planId: string, { unit, axles, date, outside }: Move): Promise<Considered> {
  const vehicle = await vehicleOfUnit(em, unit, 'unit');
  const row = await firstRow(
    em,
    z.object({ depot: z.string() }),
    `select d.depot_id as depot from plan_depot d where d.plan_id = ? and d.problem is not null
       and exists (select 1 from jsonb_array_elements(d.problem->'vehicles') v where v->>'id' = ?)`,
    [planId, vehicle.id],
  );
  if (!row) throw invalidField('unit', `${vehicle.unit} is not of this plan, or its depot is not solved yet.`);
  const kept = await keptProblem(em, planId, row.depot);
  if (!kept) throw new ApiError('conflict', 'This depot is not solved yet.');
  const own = kept.problem.vehicles.find(({ id }) => id === vehicle.id);
  const other = axles.find((axle) => own?.axles.some((one) => one.axle === axle) !== true);
  if (other !== undefined) throw invalidField('axles', `Axle ${other} of ${vehicle.unit} is not of this plan.`);
  const day = kept.dates.indexOf(date);
  if (day < 0)
    throw invalidField(
      'date',
      `The shop is shut on ${date}, or it is not of this plan; a working day from ${kept.dates[0]} to ${kept.dates.at(-1)} is accepted.`,
    );
  const visits = await visitsOf(em, planId, row.depot);
  const before = plannedOf(visits, kept.dates);
  const after = movedTo(before, { vehicle: vehicle.id, axles, day, outside });
  const tried = tryChange(kept.problem, before, after);
  const units = new Map([
    ...visits.map((one): [string, string] => [one.vehicle, one.unit]),
    [vehicle.id, vehicle.unit],
  ]);
  return { depotId: row.depot, kept, visits, after, tried, unitOf: (id) => units.get(id) ?? 'a vehicle' };
}

async function triedDto(em: EntityManager, { tried, kept, unitOf }: Considered): Promise<PlanTried> {
  const { before, after, breaks } = tried;
  const less = (name: keyof typeof after.of) => after.of[name] - before.of[name];
  return {
    difference: after.cost - before.cost,
    shares: {
      lifeThrownAway: less('lifeThrownAway'),
      risk: less('risk'),
      outOfService: less('outOfService'),
      visits: less('visits'),
      overtime: less('overtime'),
      outside: less('outside'),
      transfers: less('transfers'),
      moves: less('moves'),
    },
    breaks: [
      ...new Set(breaks.map(({ code, vehicle, day }) => brokenInWords(code, unitOf(vehicle), kept.dates[day] ?? ''))),
    ],
    currency: await currencyOf(em),
  };
}

/** What a move would cost and break; nothing is changed. */
export async function tryMove(em: EntityManager, { planId, ...move }: z.output<typeof PlanTry>): Promise<PlanTried> {
  return triedDto(em, await consider(em, planId, move));
}

type MoveInput = z.output<typeof PlanMove> & { planId: string };

/** Moves axles to another day, keeping how the depot stood before so that it can be taken back. */
export const movePlan = command({
  name: 'movePlan',
  action: 'plan',
  clientId: 'id',
  revisionOf: revisionOfPlan,
  run: async ({ em, actor, audit }, { id, planId, lock, ...move }: MoveInput): Promise<PlanTried> => {
    const plan = await proposedPlan(em, planId);
    const considered = await consider(em, planId, move);
    const { depotId, kept, visits, after, tried } = considered;
    const never = tried.after.broken.find(({ code }) => IMPOSSIBLE.has(code));
    if (never)
      throw invalidField(
        'date',
        brokenInWords(never.code, considered.unitOf(never.vehicle), kept.dates[never.day] ?? ''),
      );
    await em.insert(PlanChangeEntity, { id, planId, depotId, before: visits, personId: actor.id, undone: false });
    const { id: vehicleId } = await vehicleOfUnit(em, move.unit, 'unit');
    const isMoved = (visit: PlannedVisit) =>
      visit.vehicle === vehicleId && move.axles.every((axle) => visit.axles.includes(axle));
    const had = (visit: PlannedVisit) =>
      visits.find((one) => one.vehicle === visit.vehicle && sameAxles(one.axles, visit.axles));
    await writeDepot(em, { planId, depotId }, kept, after, (visit) => ({
      locked: isMoved(visit) ? lock : had(visit)?.locked === true,
      byHand: isMoved(visit) || had(visit)?.byHand === true,
    }));
    await em.nativeUpdate(PlanEntity, { id: planId }, { revision: plan.revision + 1 });
    await audit('moved a visit of a plan', `plan/${planId}`, { ...move, lock });
    return triedDto(em, considered);
  },
});

/** Writes a depot's visits and what they cost now; the bound stands, whatever a person does. */
async function writeDepot(
  em: EntityManager,
  at: { planId: string; depotId: string },
  kept: KeptProblem,
  visits: readonly PlannedVisit[],
  marksOf: (visit: PlannedVisit) => { locked: boolean; byHand: boolean },
): Promise<void> {
  const shop = (await depotShops(em)).find(({ id }) => id === at.depotId);
  await writeVisits(em, at, kept, visits, {
    bays: shop?.week.bays ?? [],
    currency: await currencyOf(em),
    marksOf,
  });
  const { cost } = tryChange(kept.problem, [], visits).after;
  await em.execute(
    `update plan_depot set cost = ?, proved_gap = case when bound is null then null else greatest(0, ? - bound) / nullif(?::float8, 0) end, unplaced = ?::jsonb
     where plan_id = ? and depot_id = ?`,
    [cost, cost, cost, JSON.stringify(unplacedOf(kept.problem, at.depotId, visits)), at.planId, at.depotId],
  );
}

async function proposedPlan(em: EntityManager, planId: string) {
  const plan = await lockedPlan(em, planId);
  if (plan.state !== 'proposed')
    throw new ApiError(
      'conflict',
      `This plan is ${plan.state}; only a proposed one can be changed. Propose a new one.`,
    );
  return plan;
}

/** Locks a visit on its day, or frees it. */
export const lockVisit = command({
  name: 'lockVisit',
  action: 'plan',
  clientId: 'id',
  revisionOf: revisionOfPlan,
  run: async (
    { em, actor, audit },
    { id, planId, visitId, locked }: z.output<typeof PlanLock> & { planId: string },
  ) => {
    const plan = await proposedPlan(em, planId);
    const visit = await em.findOne(PlanVisitEntity, { id: visitId, planId });
    if (!visit) throw invalidField('visitId', 'This visit is not of the plan any more; look at it again.');
    const before = await visitsOf(em, planId, visit.depotId);
    await em.insert(PlanChangeEntity, {
      id,
      planId,
      depotId: visit.depotId,
      before,
      personId: actor.id,
      undone: false,
    });
    await em.nativeUpdate(PlanVisitEntity, { id: visitId }, { locked });
    await em.nativeUpdate(PlanEntity, { id: planId }, { revision: plan.revision + 1 });
    await audit(locked ? 'locked a visit of a plan' : 'freed a visit of a plan', `plan/${planId}`, { visitId });
    return { id: visitId };
  },
});

const BeforeSql = z.object({
  id: z.string(),
  depot: z.string(),
  before: z.array(
    z.object({
      vehicle: z.string(),
      axles: z.array(z.number()),
      day: z.string(),
      outside: z.boolean(),
      locked: z.boolean(),
      byHand: z.boolean(),
    }),
  ),
});

/** Takes the last change by hand back. */
export const undoMove = command({
  name: 'undoMove',
  action: 'plan',
  clientId: 'id',
  revisionOf: revisionOfPlan,
  run: async ({ em, audit }, { planId }: z.output<typeof PlanSeen> & { planId: string }) => {
    const plan = await proposedPlan(em, planId);
    const last = await firstRow(
      em,
      BeforeSql,
      `select id, depot_id as depot, before from plan_change where plan_id = ? and not undone order by serial desc limit 1`,
      [planId],
    );
    if (!last) throw new ApiError('conflict', 'Nothing was changed by hand.');
    const kept = await keptProblem(em, planId, last.depot);
    if (!kept) throw new ApiError('conflict', 'This depot is not solved.');
    const had = (visit: PlannedVisit) =>
      last.before.find((one) => one.vehicle === visit.vehicle && sameAxles(one.axles, visit.axles));
    const visits = last.before.flatMap(({ vehicle, axles, day, outside }) => {
      const at = kept.dates.indexOf(day);
      return at < 0 ? [] : [{ vehicle, axles, day: at, outside }];
    });
    await writeDepot(em, { planId, depotId: last.depot }, kept, visits, (visit) => ({
      locked: had(visit)?.locked === true,
      byHand: had(visit)?.byHand === true,
    }));
    await em.nativeUpdate(PlanChangeEntity, { id: last.id }, { undone: true });
    await em.nativeUpdate(PlanEntity, { id: planId }, { revision: plan.revision + 1 });
    await audit('took a change of a plan back', `plan/${planId}`, { change: last.id });
    return { id: randomUUID() };
  },
});
