import {
  earliestDueFirst,
  everyInterval,
  packProblem,
  planFaults,
  SEARCH_SHARE,
  unplacedOf,
  weighPlan,
  type PlannedVisit,
  type SolvedDepot,
} from '@mile-mark/core/plan';
import { z } from 'zod';
import type { Pool } from '../../../platform/compute/pool.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { keepLoans, keptLoans, lendQuestion, loansKept } from '../loans.ts';
import { depotProblem, planBasis, type DepotProblem, type KeptLoan, type PlanAsk, type PlanBasis } from '../problem.ts';
import { currencyOf } from '../queries/shop.ts';
import { INTERVAL_TIMES } from '../vehicles.ts';
import { writeVisits } from '../visits.ts';
import { lend, prove, search } from './tasks.ts';
import { tellMade } from './watch.ts';

/** A depot whose solving gave no sign of life for so long is solved anew by whoever finds it, s. */
export const SILENT_S = 10;
const HEARTBEAT_MS = 2000;
/** The solver's own limit is soft: so many times what it was given, and it is ended with its thread. */
const PATIENCE = { times: 2, moreS: 10 };

const ClaimSql = z.object({
  attempt: z.number(),
  from: z.string(),
  weeks: z.number(),
  gap: z.number(),
  seconds: z.number(),
  urgent: z.array(z.object({ unit: z.string(), axles: z.array(z.number()) })),
  doneAt: z.array(z.object({ vehicle: z.string(), depot: z.string() })),
});
type Claim = z.output<typeof ClaimSql>;

/** Takes a depot on, unless somebody has it in hand or it is done. */
async function claim(em: EntityManager, planId: string, depotId: string): Promise<Claim | undefined> {
  return firstRow(
    em,
    ClaimSql,
    `update plan_depot d set state = 'solving', attempt = attempt + 1, heartbeat_at = now() from plan p
     where p.id = d.plan_id and p.state = 'solving' and d.plan_id = ? and d.depot_id = ?
       and (d.state = 'waiting' or (d.state = 'solving' and d.heartbeat_at < now() - make_interval(secs => ?)))
     returning d.attempt, p.from_date::text as from, p.weeks, p.gap, p.seconds, p.urgent, p.done_at_depot as "doneAt"`,
    [planId, depotId, SILENT_S],
  );
}

/** Ends where somebody stopped the plan, or another try took over. */
class Overtaken extends Error {}

/**
 * Solves one depot of a plan: the search's plan is kept at once, so that there is one whatever happens after; then the
 * proof. What a killed process left is taken up again by another; each depot's plan arrives once.
 */
export async function solveDepot(
  fork: () => EntityManager,
  pool: Pool,
  { planId, depotId }: { planId: string; depotId: string },
  today: string,
  jobSignal: AbortSignal,
): Promise<void> {
  const taken = await claim(fork(), planId, depotId);
  if (!taken) return;
  const own = { planId, depotId, attempt: taken.attempt };
  const ended = new AbortController();
  const signal = AbortSignal.any([jobSignal, ended.signal]);
  const timer = setInterval(() => {
    beat(fork(), own).then(
      (alive) => {
        if (!alive) ended.abort(new Overtaken());
      },
      () => undefined,
    );
  }, HEARTBEAT_MS);
  try {
    await solve(fork, pool, own, taken, { today, signal });
  } catch (error) {
    if (ended.signal.aborted) return;
    await fail(fork(), own, error instanceof Error ? error.message : String(error));
  } finally {
    clearInterval(timer);
    await settlePlan(fork(), planId);
  }
}

/** What the depots of one plan share. */
interface Shared {
  basis: PlanBasis;
  loans: KeptLoan[];
}

/** Read and decided once by a process for all that it solves of a plan. */
let shared: { planId: string; made: Promise<Shared> } | undefined;

function sharedOf(planId: string, make: () => Promise<Shared>): Promise<Shared> {
  if (shared?.planId !== planId) {
    const made = make();
    shared = { planId, made };
    // What failed, or was broken off with the depot that asked first, is not kept.
    made.catch(() => {
      if (shared?.made === made) shared = undefined;
    });
  }
  return shared.made;
}

/** Of the time for a depot, so much for deciding who is lent; nothing where no way between depots is stated. */
const LEND_SHARE = 0.5;

/** Who is lent in a plan: as it is decided already, by whatever process, or else decided now, before any depot is solved. */
async function decideLoans(
  em: EntityManager,
  pool: Pool,
  basis: PlanBasis,
  ask: PlanAsk,
  { seconds, signal }: { seconds: number; signal: AbortSignal },
): Promise<KeptLoan[]> {
  const known = await keptLoans(em, ask.planId);
  if (known) return known;
  const depots = await rowsOf(
    em,
    z.object({ id: z.string() }),
    'select depot_id as id from plan_depot where plan_id = ?',
    [ask.planId],
  );
  const question = await lendQuestion(
    em,
    basis,
    depots.map(({ id }) => id),
    ask,
  );
  const { fixed: _fixed, ...asked } = question;
  const lending =
    question.guests.length === 0
      ? { loans: [], alone: 0, together: 0 }
      : await lend(pool, { ...asked, seconds: LEND_SHARE * seconds }, signal);
  return keepLoans(em, ask.planId, loansKept(question, lending, ask.today));
}

interface Own {
  planId: string;
  depotId: string;
  attempt: number;
}

async function solve(
  fork: () => EntityManager,
  pool: Pool,
  own: Own,
  { from, weeks, gap, seconds, urgent, doneAt }: Claim,
  { today, signal }: { today: string; signal: AbortSignal },
): Promise<void> {
  const em = fork();
  const ask = { planId: own.planId, from, weeks, today, urgent, doneAt };
  const make = async () => {
    const made = await planBasis(em, today);
    return { basis: made, loans: await decideLoans(em, pool, made, ask, { seconds, signal }) };
  };
  const { basis, loans } = await sharedOf(own.planId, make).catch((error: unknown) => {
    // The depot that had asked first was stopped over it, maybe; this one was not.
    if (signal.aborted) throw error;
    return sharedOf(own.planId, make);
  });
  const begun = performance.now();
  const kept = await depotProblem(em, basis, own.depotId, ask, loans);
  const [fault] = planFaults(kept.problem);
  if (fault) throw new Error(`the problem is not as it should be: ${fault.code} at ${fault.at}`);
  const asked = { problem: kept.problem, depot: own.depotId, gap };
  const spent = () => (performance.now() - begun) / 1000;
  const first = await search(pool, { ...asked, seconds: seconds * SEARCH_SHARE }, signal);
  if (!(await keep(fork(), own, kept, basis, { ...first, seconds: spent(), provedGap: 1 }, 'solving'))) return;
  const patience = AbortSignal.timeout(1000 * (PATIENCE.times * seconds + PATIENCE.moreS));
  const proved = await prove(
    pool,
    { ...asked, seconds: Math.max(0.1, seconds - spent()), visits: first.visits },
    AbortSignal.any([signal, patience]),
  ).catch((error: unknown) => {
    if (patience.aborted && !signal.aborted) return { ...first, provedGap: 1 };
    throw error;
  });
  await keep(fork(), own, kept, basis, { ...proved, seconds: spent() }, 'done');
}

/** A sign of life; false where this try is no longer the one that counts. */
async function beat(em: EntityManager, { planId, depotId, attempt }: Own): Promise<boolean> {
  const row = await firstRow(
    em,
    z.object({ attempt: z.number() }),
    `update plan_depot set heartbeat_at = now() where plan_id = ? and depot_id = ? and attempt = ? and state = 'solving' returning attempt`,
    [planId, depotId, attempt],
  );
  return row !== undefined;
}

/** Keeps a depot's plan with what it is compared with; false where another try took over, or somebody stopped it. */
async function keep(
  em: EntityManager,
  { planId, depotId, attempt }: Own,
  kept: DepotProblem,
  basis: PlanBasis,
  solved: SolvedDepot,
  state: 'solving' | 'done',
): Promise<boolean> {
  const { problem, dates } = kept;
  const weighed = weighPlan(problem, solved.visits);
  const costOf = (visits: readonly PlannedVisit[]) => weighPlan(problem, visits).cost;
  const shop = basis.shops.find(({ id }) => id === depotId);
  const currency = await currencyOf(em);
  return em.transactional(async (inner) => {
    const row = await firstRow(
      inner,
      z.object({ attempt: z.number() }),
      `update plan_depot set state = ?, problem = ?::jsonb, dates = ?::jsonb, cost = ?, bound = ?, proved_gap = ?, seconds = ?,
         earliest_cost = ?, interval_cost = ?, unplaced = ?::jsonb, heartbeat_at = now()
       where plan_id = ? and depot_id = ? and attempt = ? and state = 'solving' returning attempt`,
      [
        state,
        JSON.stringify(packProblem(problem)),
        JSON.stringify(dates),
        weighed.cost,
        solved.provedGap < 1 ? solved.bound : null,
        solved.provedGap < 1 ? solved.provedGap : null,
        solved.seconds,
        costOf(earliestDueFirst(problem, depotId, undefined)),
        Math.min(...INTERVAL_TIMES.map((_times, which) => costOf(everyInterval(problem, depotId, which)))),
        JSON.stringify(unplacedOf(problem, depotId, solved.visits)),
        planId,
        depotId,
        attempt,
      ],
    );
    if (!row) return false;
    await writeVisits(inner, { planId, depotId }, kept, solved.visits, {
      bays: shop?.week.bays ?? [],
      currency,
      marksOf: ({ vehicle, axles }) => ({ locked: holds(problem, vehicle, axles), byHand: false }),
    });
    return true;
  });
}

/** Whether a visit is what the problem has locked. */
function holds({ vehicles }: DepotProblem['problem'], id: string, axles: readonly number[]): boolean {
  const lock = vehicles.find((one) => one.id === id)?.lock;
  return lock !== undefined && lock.axles.every((axle) => axles.includes(axle));
}

async function fail(em: EntityManager, { planId, depotId, attempt }: Own, why: string): Promise<void> {
  await em.execute(
    `update plan_depot set state = 'failed', failure = ? where plan_id = ? and depot_id = ? and attempt = ? and state = 'solving'`,
    [why.slice(0, 500), planId, depotId, attempt],
  );
}

/** Says that a plan is proposed, once all its depots have ended; failed, where none has visits to show. */
export async function settlePlan(em: EntityManager, planId: string): Promise<void> {
  await em.transactional(async (inner) => {
    const settled = await firstRow(
      inner,
      z.object({ state: z.string() }),
      `update plan p set state = case when exists (select 1 from plan_depot d where d.plan_id = p.id and d.problem is not null) then 'proposed' else 'failed' end
       where p.id = ? and p.state = 'solving' and not exists (select 1 from plan_depot d where d.plan_id = p.id and d.state in ('waiting', 'solving'))
       returning p.state`,
      [planId],
    );
    if (settled?.state === 'proposed') await tellMade(inner, planId);
  });
}
