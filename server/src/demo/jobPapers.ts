import type { BenchModel, TorqueTool } from '@mile-mark/contract/specifications';
import {
  buildOf,
  cardOf,
  DEFAULT_POLICY,
  randomNormal,
  seededRandom,
  type CardStep,
  type JobAction,
} from '@mile-mark/core';
import type { JobTimes } from '../features/jobs/index.ts';
import { DEMO_TODAY, STAFF } from './cast.ts';
import type { DemoFitting, DemoModel } from './castModels.ts';
import { idOf, personId } from './rows.ts';
import { jointsOf, signaturesOf } from './signCard.ts';

export type Row = Record<string, unknown>;
/** What is written into the tables of jobs. */
export interface Papers {
  job: Row[];
  job_axle: Row[];
  job_person: Row[];
  job_move: Row[];
  job_entry: Row[];
  /** What closed jobs took, by class. */
  times: Map<string, JobTimes[]>;
}

export const COORDINATOR = personId(STAFF[0].name);
const two = (figure: number) => String(Math.floor(figure)).padStart(2, '0');
/** A moment of a day, so many minutes after the shop opens. */
export const at = (date: string, minutes: number) =>
  `${date}T${two(7 + minutes / 60)}:${two(minutes % 60)}:${two((minutes * 60) % 60)}Z`;
/** Bays of a depot: a job of a day has the one its vehicle's number brings. */
const bayOf = (unit: string) => `Bay ${1 + (Number(unit.slice(1)) % 2)}`;
const PADS: { action: JobAction; mandatory: boolean; rules: string[] }[] = [
  { action: 'pads', mandatory: true, rules: ['pads at the service limit'] },
  { action: 'hardware', mandatory: false, rules: ['hardware with pads'] },
];
const WHY = ['The thinnest pad was at its service limit.', 'The shop renews clips and springs with pads.'];

/** How far the minutes of a step scatter from job to job, as a standard deviation of their logarithm. */
const SCATTER = 0.35;
/** Rust makes channels and hubs slow; the rest goes a little faster than usual, and trucks' wheels slower. */
function paceAt({ step }: CardStep, { model }: DemoFitting): number {
  if (step === 'channels' || step === 'hub clean') return 1.6;
  return model.class === 'heavy' && (step === 'wheel off' || step === 'wheel on') ? 1.5 : 0.85;
}

interface Begun {
  id: string;
  one: DemoFitting;
  state: string;
  asked: string;
  day: string | null;
  axles: number[];
}

export function begin(papers: Papers, { id, one, state, asked, day, axles }: Begun): void {
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

export function move(papers: Papers, jobId: string, { verb, from, to, on, at: moment, by, detail = {} }: Moved): void {
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

export function stepsOf(one: DemoFitting, axles: readonly number[], bench: readonly BenchModel[]): CardStep[] {
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
export function write(
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
