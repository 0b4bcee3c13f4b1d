import { z } from 'zod';
import type { Pool } from '../../../platform/compute/pool.ts';
import { changesSoFar } from '../../../platform/answers/answers.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { Subscriber } from '../../../platform/events/bus.ts';
import type { AnyJob, JobDefinition, JobKind, Jobs } from '../../../platform/jobs/registry.ts';
import { sendMails } from './mail.ts';
import { settlePlan, SILENT_S, solveDepot } from './solve.ts';
import { watchPlan } from './watch.ts';

/** The tries so far make each asking a job of its own: one that died with its process does not stand in the way. */
const OfDepot = z.object({ planId: z.uuid(), depotId: z.uuid(), tries: z.int() });
type OfDepot = z.output<typeof OfDepot>;
const SOLVE: JobKind<OfDepot> = {
  name: 'plan-depot',
  schema: OfDepot,
  key: ({ planId, depotId, tries }) => `${planId}/${depotId}/${tries}`,
};
const MAIL: JobKind<object> = { name: 'send-mail', schema: z.object({}), key: () => 'mail' };

const WATCH: JobKind<object> = { name: 'watch-plan', schema: z.object({}), key: () => 'watch' };
/** A moment for what else comes in with it, s. */
const WATCH_AFTER_S = 15;
const WATCHED_BY_ITSELF = '*/10 * * * *';

const EXPIRES_S = 1800;

/** The jobs of this feature. @param mailUrl where mails go; without one they wait */
export function planJobs(
  fork: () => EntityManager,
  pool: Pool,
  today: () => string,
  mailUrl: string | undefined,
  ask: Jobs['ask'],
): AnyJob[] {
  const solve: JobDefinition<OfDepot> = {
    ...SOLVE,
    prompt: true,
    retry: 2,
    expiresS: EXPIRES_S,
    // As many depots at a time as there are threads.
    batch: Math.max(1, pool.threads),
    run: async (items, { signal }) => {
      await Promise.all(items.map((item) => solveDepot(fork, pool, item, today(), signal)));
    },
  };
  const mail: JobDefinition<object> = {
    ...MAIL,
    retry: 5,
    schedule: mailUrl === undefined ? undefined : { cron: '* * * * *', data: {} },
    run: async () => {
      if (mailUrl !== undefined) await sendMails(fork(), mailUrl);
    },
  };
  /** How the record stood when this process looked last: while nothing changed there is nothing new to find. */
  let seen = '';
  const watch: JobDefinition<object> = {
    ...WATCH,
    retry: 1,
    schedule: { cron: WATCHED_BY_ITSELF, data: {} },
    run: async () => {
      const em = fork();
      const now = `${today()}/${await changesSoFar(em)}`;
      if (now === seen) return;
      if (await watchPlan(em, today())) await catchUpPlans(fork(), ask);
      seen = now;
    },
  };
  return [solve, mail, watch];
}

/** Depots that wait to be solved, or whose solving gave no sign of life: a process died over them. */
const LEFT = `
  select d.plan_id as "planId", d.depot_id as "depotId", d.attempt as tries from plan_depot d join plan p on p.id = d.plan_id
  where p.state = 'solving' and (d.state = 'waiting' or (d.state = 'solving' and d.heartbeat_at < now() - make_interval(secs => ?)))`;

/** Asks for every depot that nobody has in hand. */
export async function catchUpPlans(em: EntityManager, ask: Jobs['ask']): Promise<void> {
  for (const one of await rowsOf(em, OfDepot, LEFT, [SILENT_S])) await ask(SOLVE, one);
  // Where a process died between a depot's end and the plan's.
  for (const { id } of await rowsOf(em, z.object({ id: z.string() }), `select id from plan where state = 'solving'`))
    await settlePlan(em, id);
}

export function planSubscriber(fork: () => EntityManager, ask: Jobs['ask']): Subscriber {
  return {
    name: 'plan',
    after: async (events) => {
      if (events.some(({ name }) => name === 'plan asked')) await catchUpPlans(fork(), ask);
      if (events.some(({ name }) => name === 'plan published')) await ask(MAIL, {});
      // Who is away, and what a person books: the rest is found within minutes.
      if (events.some(({ name }) => name === 'shop changed' || name === 'job moved'))
        await ask(WATCH, {}, { afterS: WATCH_AFTER_S });
    },
  };
}
