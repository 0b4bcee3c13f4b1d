/**
 * Times the list of jobs, a card and a step of it with 5,000 closed jobs on record, cards and all.
 * Prints a JSON line each; called by `npm run bench` with DATABASE_URL of an empty database.
 */
import { randomUUID } from 'node:crypto';
import { computePool } from '../compute.ts';
import { DEMO_TODAY } from '../demo/cast.ts';
import { fillDemo } from '../demo/fill.ts';
import { createComputer, refreshFleet } from '../features/forecasts/index.ts';
import { addJobEntries, jobCard, jobLessons, listJobs } from '../features/jobs/index.ts';
import { ensureShippedLimits } from '../features/register/index.ts';
import { ensureShippedJoints } from '../features/specifications/index.ts';
import { migrate } from '../platform/db/orm.ts';
import { createBus } from '../platform/events/bus.ts';
import { connect } from '../schema.ts';

const CLOSED = 5000;
const TIMES = 40;
const print = (what: string, value: number, unit: string) =>
  process.stdout.write(
    `${JSON.stringify({ name: `${CLOSED} closed jobs: ${what}`, value: Math.round(value * 100) / 100, unit })}\n`,
  );
const quantile = (times: number[], at: number) =>
  times.sort((a, b) => a - b)[Math.floor(at * (times.length - 1))] ?? NaN;

const orm = await connect(process.env.DATABASE_URL ?? '');
await migrate(orm);
await ensureShippedLimits(orm.em.fork());
await ensureShippedJoints(orm.em.fork());
await fillDemo(orm.em.fork(), 60);
const pool = computePool();
await refreshFleet(orm.em.fork(), createComputer(pool), DEMO_TODAY);
const em = orm.em.fork();
// Closed jobs copied until there are 5,000, each with its axles, moves and its whole card.
await em.execute('alter table job disable trigger job_moves');
await em.execute(
  `create temporary table copied as select gen_random_uuid() as id, j.id as from_id from generate_series(1, ?) i
     cross join lateral (select id from job where state = 'closed' order by md5(id::text || i) limit 1) j`,
  [CLOSED],
);
await em.execute(`insert into job (id, vehicle_id, depot_id, state, day, bay, odometer_m, policy, why, created_by, created_on, created_at, closed_on, worked_min, usual_min, revision)
  select c.id, j.vehicle_id, j.depot_id, j.state, j.day, j.bay, j.odometer_m, j.policy, j.why, j.created_by, j.created_on, j.created_at, j.closed_on, j.worked_min, j.usual_min, j.revision
  from copied c join job j on j.id = c.from_id`);
await em.execute(
  'insert into job_axle select c.id, a.axle, a.scope, a.declined from copied c join job_axle a on a.job_id = c.from_id',
);
await em.execute(`insert into job_move (id, job_id, verb, from_state, to_state, detail, person_id, moved_on, at)
  select gen_random_uuid(), c.id, m.verb, m.from_state, m.to_state, m.detail, m.person_id, m.moved_on, m.at from copied c join job_move m on m.job_id = c.from_id`);
await em.execute(`insert into job_entry (id, job_id, kind, step, detail, person_id, done_at, entered_at)
  select gen_random_uuid(), c.id, e.kind, e.step, e.detail, e.person_id, e.done_at, e.entered_at from copied c join job_entry e on e.job_id = c.from_id`);
await em.execute('alter table job enable trigger job_moves');
await em.execute('analyze job, job_axle, job_move, job_entry');
const [counted] = await em.execute<{ entries: number }[]>('select count(*)::int as entries from job_entry');
print('entries on their cards', counted?.entries ?? 0, 'entries');

async function time(what: string, work: (index: number) => Promise<unknown>): Promise<void> {
  const times: number[] = [];
  for (let i = 0; i < TIMES; i += 1) {
    const begun = performance.now();
    await work(i);
    times.push(performance.now() - begun);
  }
  print(`${what}, median`, quantile(times, 0.5), 'ms');
  print(`${what}, 95th percentile`, quantile(times, 0.95), 'ms');
}

await time('list of open jobs', () => listJobs(orm.em.fork(), { state: 'open' }));
await time('list of closed jobs', () => listJobs(orm.em.fork(), { state: 'closed' }));
const [working] = await listJobs(orm.em.fork(), { state: 'in work' });
if (!working) throw new Error('no job is in work');
await time('what they taught', () => jobLessons(orm.em.fork(), DEMO_TODAY));
await time('a card', () => jobCard(orm.em.fork(), working.id, DEMO_TODAY));
const [person] = await em.execute<{ id: string }[]>(`select id from person where role = 'technician' limit 1`);
const actor = { id: person?.id ?? '', role: 'technician' as const };
const events = createBus(() => orm.em.fork(), []);
const open = (await jobCard(orm.em.fork(), working.id, DEMO_TODAY)).steps.filter(
  ({ kind, done }) => kind === 'do' && !done,
);
await time('a step signed', (index) =>
  addJobEntries.run(
    { em: orm.em.fork(), actor: actor as never, today: DEMO_TODAY, events },
    {
      jobId: working.id,
      entries: [
        { id: randomUUID(), kind: 'do', doneAt: `${DEMO_TODAY}T09:00:00Z`, step: open[index % open.length]?.id ?? '' },
      ],
    },
  ),
);
await pool.close();
await orm.close(true);
