import type { BenchModel, TorqueTool } from '@mile-mark/contract/specifications';
import {
  buildOf,
  cardOf,
  dateOfDay,
  dayNumber,
  DEFAULT_POLICY,
  randomNormal,
  seededRandom,
  type CardStep,
  type JobAction,
} from '@mile-mark/core';
import type { EntityManager } from '../platform/db/orm.ts';
import { bookTimes, timesOf, type JobTimes } from '../features/jobs/index.ts';
import { benchModels, listTorqueTools } from '../features/specifications/index.ts';
import { DEMO_TODAY, STAFF, type DemoFitting, type DemoModel } from './cast.ts';
import { idOf, insert, personId } from './rows.ts';
import { jointsOf, signaturesOf } from './signCard.ts';

type Row = Record<string, unknown>;
interface Papers {
  job: Row[];
  job_axle: Row[];
  job_person: Row[];
  job_move: Row[];
  job_entry: Row[];
  /** What closed jobs took, by class. */
  times: Map<string, JobTimes[]>;
}

const COORDINATOR = personId(STAFF[0].name);
const two = (figure: number) => String(Math.floor(figure)).padStart(2, '0');
const at = (date: string, minutes: number) =>
  `${date}T${two(7 + minutes / 60)}:${two(minutes % 60)}:${two((minutes * 60) % 60)}Z`;
/** Bays of a depot: a job of a day has the one its vehicle's number brings. */
const bayOf = (unit: string) => `Bay ${1 + (Number(unit.slice(1)) % 2)}`;
const PADS: { action: JobAction; mandatory: boolean; rules: string[] }[] = [
  { action: 'pads', mandatory: true, rules: ['pads at the service limit'] },
  { action: 'hardware', mandatory: false, rules: ['hardware with pads'] },
];
const WHY = ['The thinnest pad was at its service limit.', 'The shop renews clips and springs with pads.'];

type Timed = Parameters<typeof timesOf>[0];

/** How far the minutes of a step scatter from job to job, as a standard deviation of their logarithm. */
const SCATTER = 0.35;
/** Rust makes channels and hubs slow; the rest goes a little faster than usual, and trucks' wheels slower. */
function paceAt({ step }: CardStep, { model }: DemoFitting): number {
  if (step === 'channels' || step === 'hub clean') return 1.6;
  return model.class === 'heavy' && (step === 'wheel off' || step === 'wheel on') ? 1.5 : 0.85;
}

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

interface Begun {
  id: string;
  one: DemoFitting;
  state: string;
  asked: string;
  day: string | null;
  axles: number[];
}

function begin(papers: Papers, { id, one, state, asked, day, axles }: Begun): void {
  const vehicle = { vehicle_id: idOf('vehicle', one.unit), depot_id: idOf('depot', one.depot) };
  const bay = day === null ? null : bayOf(one.unit);
  const scope = PADS.map((item) => ({ ...item, sides: 'both', reason: null }));
  papers.job.push({
    id,
    ...vehicle,
    state,
    day,
    bay,
    odometer_m: state === 'closed' ? one.odometerM : null,
    policy: state === 'closed' || state === 'in work' ? DEFAULT_POLICY : null,
    why: axles.map((axle) => ({
      axle,
      because: WHY.map((text, k) => ({ rule: PADS[k]?.rules[0], action: PADS[k]?.action, text })),
    })),
    created_by: COORDINATOR,
    created_on: asked,
    created_at: at(asked, 10),
    closed_on: state === 'closed' ? day : null,
  });
  for (const axle of axles) papers.job_axle.push({ job_id: id, axle, scope, declined: [] });
  papers.job_person.push({ job_id: id, person_id: personId(one.technician) });
  const detail = { day, bay, axles: axles.map((axle) => ({ axle, scope, declined: [] })) };
  move(papers, id, {
    verb: 'propose',
    from: null,
    to: day === null ? 'proposed' : 'booked',
    on: asked,
    at: at(asked, 10),
    by: COORDINATOR,
    detail,
  });
}

interface Moved {
  verb: string;
  from: string | null;
  to: string;
  on: string;
  at: string;
  by: string;
  detail?: Row;
}

function move(papers: Papers, jobId: string, { verb, from, to, on, at: moment, by, detail = {} }: Moved): void {
  papers.job_move.push({
    id: idOf('move', jobId, verb),
    job_id: jobId,
    verb,
    from_state: from,
    to_state: to,
    detail,
    person_id: by,
    moved_on: on,
    at: moment,
  });
}

function stepsOf(one: DemoFitting, axles: readonly number[], bench: readonly BenchModel[]): CardStep[] {
  return cardOf({
    axles: axles.map((axle) => {
      const own = one.model.axles[axle - 1] as DemoModel['axles'][number];
      return {
        axle,
        brake: own.brake,
        build: buildOf(own.brake, own.brakeDetail),
        scope: PADS.map(({ action }) => ({ action, sides: 'both' as const })),
        joints: [...new Set(jointsOf(bench, one, axle).map(({ joint }) => joint))],
        unknownJoints: [],
      };
    }),
    policy: DEFAULT_POLICY,
    drawOffMl: 0,
  });
}

/** Signs steps as a careful person does. @returns minutes from the beginning to the last, and when axles were measured */
function write(
  papers: Papers,
  {
    id,
    one,
    steps,
    bench,
    tools,
  }: {
    id: string;
    one: DemoFitting;
    steps: readonly CardStep[];
    bench: readonly BenchModel[];
    tools: readonly TorqueTool[];
  },
): { end: number; measured: Map<number, { at: string }> } {
  const date = steps.length > 0 && papers.job.at(-1)?.state === 'in work' ? DEMO_TODAY : one.date;
  let minutes = 0;
  const measured = new Map<number, { at: string }>();
  const random = seededRandom(Number.parseInt(id.slice(0, 8), 16));
  for (const step of steps) {
    minutes += step.minutes * paceAt(step, one) * Math.exp(SCATTER * randomNormal(random));
    const moment = at(date, minutes);
    if (step.kind === 'measure' && step.axle !== undefined) measured.set(step.axle, { at: moment });
    if (step.kind === 'measure') continue;
    for (const [k, detail] of signaturesOf(step, one, bench, tools).entries())
      papers.job_entry.push({
        id: idOf('entry', id, step.id, k),
        job_id: id,
        kind: step.kind,
        step: step.id,
        detail,
        person_id: personId(one.technician),
        done_at: moment,
        entered_at: moment,
      });
  }
  return { end: minutes, measured };
}
