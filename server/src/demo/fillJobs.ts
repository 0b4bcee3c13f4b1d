import type { BenchModel, TorqueTool } from '@mile-mark/contract/specifications';
import { dateOfDay, dayNumber } from '@mile-mark/core';
import type { EntityManager } from '../platform/db/orm.ts';
import { bookTimes, timesOf } from '../features/jobs/index.ts';
import { benchModels, listTorqueTools } from '../features/specifications/index.ts';
import { DEMO_TODAY } from './cast.ts';
import type { DemoFitting } from './castModels.ts';
import { at, begin, COORDINATOR, move, stepsOf, write, type Papers, type Row } from './jobPapers.ts';
import { idOf, insert, personId } from './rows.ts';

type Timed = Parameters<typeof timesOf>[0];

/** What was missing half-way, in about one job of six. */
const MISSED = ['clip set', 'pin boot', 'clip set', 'wear sensor', 'clip set', 'caliper'];
function askForParts(papers: Papers, jobId: string, one: DemoFitting, minutes: number): void {
  const draw = Number.parseInt(jobId.slice(-6), 16) % (MISSED.length * 6);
  const what = MISSED[draw];
  if (what === undefined) return;
  papers.job_entry.push({
    id: idOf('entry', jobId, 'part'),
    job_id: jobId,
    kind: 'part',
    step: null,
    detail: { what, quantity: what === 'caliper' ? 2 : 1 },
    person_id: personId(one.technician),
    done_at: at(one.date, minutes),
    entered_at: at(one.date, minutes),
  });
}

/** Writes the jobs of the demo: one closed for each fitting on record, and others in every state. */
export async function insertJobs(
  em: EntityManager,
  fittings: readonly DemoFitting[],
  standing: readonly DemoFitting[],
): Promise<void> {
  const openUnits = OPEN.flatMap(([unit, axle]) => standing.filter((one) => one.unit === unit && one.axle === axle));
  const models = [...fittings, ...openUnits].map(({ model }) => idOf('model', model.name));
  const bench = await benchModels(em, [...new Set(models)]);
  const tools = (await listTorqueTools(em)).filter(({ kind, retired }) => kind === 'wrench' && !retired);
  const papers: Papers = { job: [], job_axle: [], job_person: [], job_move: [], job_entry: [], times: new Map() };
  for (const visit of visitsOf(fittings)) closed(papers, visit, bench, tools);
  openUnits.forEach((one, index) => open(papers, one, index, bench, tools));
  await insertInOrder(em, papers.job);
  await insert(em, 'job_axle', 'job_id uuid, axle int, scope jsonb, declined jsonb', papers.job_axle);
  await insert(em, 'job_person', 'job_id uuid, person_id uuid', papers.job_person);
  await insert(
    em,
    'job_move',
    'id uuid, job_id uuid, verb text, from_state text, to_state text, detail jsonb, person_id uuid, moved_on date, at timestamptz',
    papers.job_move,
  );
  await insert(
    em,
    'job_entry',
    'id uuid, job_id uuid, kind text, step text, detail jsonb, person_id uuid, done_at timestamptz, entered_at timestamptz',
    papers.job_entry,
  );
  for (const [name, times] of papers.times) await bookTimes(em, name, times);
}

const JOB_COLUMNS =
  'id uuid, vehicle_id uuid, depot_id uuid, state text, day date, bay text, odometer_m int, policy jsonb, why jsonb, created_by uuid, created_on date, created_at timestamptz, closed_on date, worked_min real, usual_min real';

/**
 * A vehicle has one open job at a time, and a job gets on by legal moves only: the first of every vehicle is entered and
 * brought to where it stands, then the second of every vehicle.
 */
async function insertInOrder(em: EntityManager, jobs: readonly Row[]): Promise<void> {
  const rounds: Row[][] = [];
  const entered = new Map<unknown, number>();
  for (const job of jobs) {
    const round = entered.get(job.vehicle_id) ?? 0;
    entered.set(job.vehicle_id, round + 1);
    (rounds[round] ??= []).push(job);
  }
  for (const round of rounds) {
    const begun = round.map((row) => ({
      ...row,
      state: row.state === 'proposed' ? 'proposed' : 'booked',
      closed_on: null,
      odometer_m: null,
    }));
    await insert(em, 'job', JOB_COLUMNS, begun);
    await bring(em, round, 'in work', ['in work', 'closed']);
    await bring(em, round, 'closed', ['closed']);
    await bring(em, round, 'called off', ['called off']);
  }
}

async function bring(em: EntityManager, jobs: readonly Row[], state: string, from: readonly string[]): Promise<void> {
  const rows = jobs.filter((row) => from.includes(String(row.state)));
  await em.execute(
    `update job set state = ?, closed_on = case when ? = 'closed' then t.closed_on end, odometer_m = t.odometer_m
     from jsonb_to_recordset(?::jsonb) as t(id uuid, closed_on date, odometer_m int) where job.id = t.id`,
    [state, state, JSON.stringify(rows.map(({ id, closed_on, odometer_m }) => ({ id, closed_on, odometer_m })))],
  );
}

/** Fittings of one vehicle and day are one visit. */
function visitsOf(fittings: readonly DemoFitting[]): DemoFitting[][] {
  const visits = new Map<string, DemoFitting[]>();
  for (const one of fittings)
    visits.set(`${one.unit}/${one.date}`, [...(visits.get(`${one.unit}/${one.date}`) ?? []), one]);
  return [...visits.values()];
}

function closed(
  papers: Papers,
  visit: readonly DemoFitting[],
  bench: readonly BenchModel[],
  tools: readonly TorqueTool[],
): void {
  const [first] = visit;
  if (!first) return;
  const id = idOf('job', first.unit, first.date);
  const asked = dateOfDay(dayNumber(first.date) - 6);
  begin(papers, { id, one: first, state: 'closed', asked, day: first.date, axles: visit.map(({ axle }) => axle) });
  const steps = stepsOf(
    first,
    visit.map(({ axle }) => axle),
    bench,
  );
  const entered = papers.job_entry.length;
  const { end, measured } = write(papers, { id, one: first, steps, bench, tools });
  const times = timesOf({
    entries: papers.job_entry.slice(entered) as unknown as Timed['entries'],
    steps,
    measured,
    startedAt: at(first.date, 0),
  });
  Object.assign(papers.job.at(-1) as Row, { worked_min: times.workedMin, usual_min: times.usualMin });
  papers.times.set(first.model.class, [...(papers.times.get(first.model.class) ?? []), times]);
  askForParts(papers, id, first, end / 2);
  move(papers, id, {
    verb: 'start',
    from: 'booked',
    to: 'in work',
    on: first.date,
    at: at(first.date, 0),
    by: personId(first.technician),
  });
  move(papers, id, {
    verb: 'close',
    from: 'in work',
    to: 'closed',
    on: first.date,
    at: at(first.date, end + 2),
    by: personId(first.technician),
    detail: { odometerM: first.odometerM, note: null, fitted: visit.map(({ axle }) => ({ axle, fitted: 'pads' })) },
  });
}

/** Axles whose jobs are open, in the order of the states below. */
const OPEN: readonly [unit: string, axle: number][] = [
  ['V21', 1],
  ['T06', 1],
  ['P12', 1],
  ['T09', 2],
  ['P18', 1],
];
/** Open jobs, one in each state: in work half-way, booked, booked, proposed, called off. */
const OPEN_STATES = ['in work', 'booked', 'booked', 'proposed', 'called off'] as const;

function open(
  papers: Papers,
  one: DemoFitting,
  index: number,
  bench: readonly BenchModel[],
  tools: readonly TorqueTool[],
): void {
  const state = OPEN_STATES[index % OPEN_STATES.length] ?? 'proposed';
  const id = idOf('job', one.unit, 'open', index);
  const asked = dateOfDay(dayNumber(DEMO_TODAY) - 2);
  const day = state === 'proposed' ? null : dateOfDay(dayNumber(DEMO_TODAY) + (state === 'in work' ? 0 : 3 + index));
  begin(papers, { id, one, state, asked, day, axles: [one.axle] });
  if (state === 'called off')
    move(papers, id, {
      verb: 'call off',
      from: 'booked',
      to: 'called off',
      on: DEMO_TODAY,
      at: at(DEMO_TODAY, 20),
      by: COORDINATOR,
      detail: { reason: 'the vehicle is needed for the show week' },
    });
  if (state !== 'in work') return;
  move(papers, id, {
    verb: 'start',
    from: 'booked',
    to: 'in work',
    on: DEMO_TODAY,
    at: at(DEMO_TODAY, 0),
    by: personId(one.technician),
  });
  const steps = stepsOf(one, [one.axle], bench).filter(({ kind }) => kind !== 'measure');
  write(papers, { id, one, steps: steps.slice(0, Math.floor(steps.length / 3)), bench, tools });
}
