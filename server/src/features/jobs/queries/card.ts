import type { CardStep, JobCard, ScopeItem } from '@mile-mark/contract/jobs';
import { torqueInWords, type BenchAxle, type BenchJoint, type TorqueTool } from '@mile-mark/contract/specifications';
import { cornerInWords, STEP_CAUTIONS, stepInWords } from '@mile-mark/contract/words';
import {
  buildOf,
  cardOf,
  judgeReached,
  statesOf,
  torqueIn,
  torqueToNm,
  type CardAxle,
  type CardStep as CoreStep,
  type ShopPolicy,
  type TorqueUnit,
} from '@mile-mark/core';
import type { AxleDetail } from '@mile-mark/contract/forecasts';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError } from '../../../platform/errors.ts';
import { axlesStanding } from '../../forecasts/index.ts';
import type { ModelRow } from '../../register/index.ts';
import { benchModels, listTorqueTools } from '../../specifications/index.ts';
import { JobAxleEntity, JobEntity, type JobEntityRow } from '../entities.ts';
import { entriesOf, holderOf, positionOf, standing, toldAt, type EntryRow } from '../entries.ts';
import { bedInOf, fluidOf } from './cardFigures.ts';
import { torqueView, valueInWords } from './cardValues.ts';
import { listJobs } from './jobs.ts';
import { needsOf, pacesOf, type Paces } from './needs.ts';
import { kitChanges, kitVersion, type KitVersion } from './kitChanges.ts';
import { policyOfModel } from './policy.ts';

/** A job with all that its card, its closing and its record rest on. */
export interface JobState {
  job: JobEntityRow;
  model: ModelRow;
  details: AxleDetail[];
  bench: BenchAxle[];
  /** Torque tools of the job's depot, and of all: one may be borrowed. */
  tools: TorqueTool[];
  allTools: TorqueTool[];
  policy: ShopPolicy;
  scopes: Map<number, ScopeItem[]>;
  entries: EntryRow[];
  signed: Map<string, EntryRow[]>;
  axles: CardAxle[];
  steps: CoreStep[];
  fluid: JobCard['fluid'];
  bedIn: JobCard['bedIn'];
  /** Who measured the axles as found, and when, since work began. */
  measured: Map<number, { by: string; byId: string; at: string; id: string }>;
  startedBy: string | null;
  /** What the shop took other than usual when work began; now, where it has not. */
  kitChanges: KitVersion['changes'];
}

const MeasuredSql = z.object({ axle: z.number(), id: z.string(), by: z.string(), by_id: z.string(), at: z.string() });
/**
 * Axles that were measured since the job was begun, or within two weeks before (common practice, no source), and before
 * it was closed; not of pads that an earlier service took off.
 */
const MEASURED = `
  select distinct on (r.axle) r.axle, i.id, p.name as by, p.id as by_id,
    to_char(i.entered_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at
  from job j join reading r on r.vehicle_id = j.vehicle_id join inspection i on i.id = r.inspection_id join person p on p.id = i.technician_id
  where j.id = ? and r.thickness_um is not null and i.measured_on <= coalesce(j.closed_on, 'infinity')
    and i.measured_on >= (select min(m.moved_on) - 14 from job_move m where m.job_id = j.id and m.verb = 'start')
    and not exists (select 1 from service s where s.vehicle_id = r.vehicle_id and s.axle = r.axle
      and s.fitted_on > i.measured_on and s.fitted_on < coalesce(j.closed_on, 'infinity'))
  order by r.axle, i.entered_at desc`;

/** Loads a job with what is signed on its card and what the card asks for. @throws ApiError `not_found` */
export async function loadJob(em: EntityManager, id: string): Promise<JobState> {
  const job = await em.findOne(JobEntity, { id }, { refresh: true });
  if (!job) throw new ApiError('not_found', 'There is no such job on record.');
  const own = () => em.fork({ keepTransactionContext: true });
  const [{ record, details }, axleRows, entries, started, measured, benches, changes] = await Promise.all([
    axlesStanding(own(), job.vehicleId),
    own().find(JobAxleEntity, { jobId: id }, { orderBy: { axle: 'asc' } }),
    entriesOf(own(), id),
    rowsOf(
      own(),
      z.object({ by: z.string(), began: z.number() }),
      `select p.name as by, (extract(epoch from m.at) * 1000000)::float as began from job_move m join person p on p.id = m.person_id where m.job_id = ? and m.verb = 'start'`,
      [id],
    ),
    rowsOf(own(), MeasuredSql, MEASURED, [id]),
    rowsOf(own(), z.object({ model: z.string() }), 'select model_id as model from vehicle where id = ?', [
      job.vehicleId,
    ]).then(async ([row]) => benchModels(own(), row ? [row.model] : [])),
    kitChanges(own()),
  ]);
  const { model } = record;
  const [benchModel] = benches;
  const [{ name: depot } = { name: '' }] = await rowsOf(
    own(),
    z.object({ name: z.string() }),
    'select name from depot where id = ?',
    [job.depotId],
  );
  const policy = (job.policy as ShopPolicy | null) ?? (await policyOfModel(own(), model));
  const scopes = new Map(axleRows.map(({ axle, scope }) => [axle, scope as ScopeItem[]]));
  const signed = standing(entries);
  const level = signed.get('fluid level')?.at(-1)?.detail.level;
  const fluid = fluidOf(details, scopes, {
    level: typeof level === 'number' ? level : undefined,
    reservoirMl: model.reservoirMl ?? undefined,
  });
  const bench = benchModel?.axles ?? [];
  const axles = cardAxles(details, scopes, bench);
  const allTools = (await listTorqueTools(own())).filter(({ retired }) => !retired);
  const first = details.find(({ axle }) => scopes.has(axle));
  return {
    job,
    model,
    details,
    bench,
    tools: allTools.filter((tool) => tool.depot === depot),
    allTools,
    policy,
    scopes,
    entries,
    signed,
    steps: cardOf({ axles, policy, drawOffMl: fluid?.drawOffMl ?? 0 }),
    axles,
    fluid,
    bedIn: bedInOf(
      model,
      first?.brakeShare ?? 0.5,
      policy,
      bench.find(({ axle }) => axle === first?.axle)?.sheet?.values.bedIn ?? null,
    ),
    measured: new Map(measured.map(({ axle, by_id, ...rest }) => [axle, { ...rest, byId: by_id }])),
    startedBy: started[0]?.by ?? null,
    kitChanges: kitVersion(changes, model.id, started[0]?.began).changes,
  };
}

function cardAxles(
  details: readonly AxleDetail[],
  scopes: JobState['scopes'],
  bench: readonly BenchAxle[],
): CardAxle[] {
  return details
    .filter(({ axle }) => scopes.has(axle))
    .map(({ axle, brake, brakeDetail }) => {
      const own = bench.find((one) => one.axle === axle);
      return {
        axle,
        brake,
        build: buildOf(brake, brakeDetail),
        scope: (scopes.get(axle) ?? []).map(({ action, sides }) => ({ action, sides })),
        joints: [...new Set((own?.joints ?? []).map(({ joint }) => joint))],
        unknownJoints: own?.unknown ?? [],
      };
    });
}

/** The joints a torque step is about: all of its kind on its axle. */
export function jointsOf({ bench }: JobState, step: Pick<CoreStep, 'axle' | 'joint'>): BenchJoint[] {
  return bench.find(({ axle }) => axle === step.axle)?.joints.filter(({ joint }) => joint === step.joint) ?? [];
}

/** Torque in another unit than its joint's is converted before it is compared. */
export function fitsSpecification(joint: BenchJoint, value: number, unit: TorqueUnit): ReturnType<typeof judgeReached> {
  const { torque } = joint.values;
  if (!torque) return { fits: false, least: 0, most: 0 };
  const own = unit === torque.unit ? value : torqueIn(torqueToNm(value, unit), torque.unit);
  return judgeReached(own, torque);
}

/** Why signed torques no longer hold: the figures were revised since, and what was reached does not fit them. */
function outdated(state: JobState, step: CoreStep, signed: readonly EntryRow[]): string | null {
  if (step.kind !== 'torque') return null;
  for (const joint of jointsOf(state, step)) {
    const entry = signed.find((one) => positionOf(one) === joint.position);
    if (!entry || Number(entry.detail.revision) === joint.number) continue;
    const { fits } = fitsSpecification(joint, Number(entry.detail.value), entry.detail.unit as TorqueUnit);
    if (!fits && joint.values.torque)
      return `The specification changed since it was signed: now ${torqueInWords(joint.values.torque)}. Torque it again.`;
  }
  return null;
}

/** Ids of the steps that stand done: signed, every place of a joint too, and not outdated by a revision. */
export function doneSteps(state: JobState): Set<string> {
  const done = new Set<string>();
  for (const step of state.steps) {
    const signed = state.signed.get(step.id) ?? [];
    if (step.kind === 'measure' && step.axle !== undefined && state.measured.has(step.axle)) done.add(step.id);
    else if (signed.length === 0 || step.unreleased) continue;
    else if (step.kind === 'torque') {
      const places = jointsOf(state, step).map(({ position }) => position);
      const all = places.every((place) => signed.some((one) => positionOf(one) === place));
      if (all && outdated(state, step, signed) === null) done.add(step.id);
    } else if (step.kind !== 'measure') done.add(step.id);
  }
  return done;
}

/** The card of a job as it is shown. */
export async function jobCard(em: EntityManager, id: string, today: string): Promise<JobCard> {
  const at = new Date().toISOString();
  const state = await loadJob(em, id);
  const [job] = await listJobs(em, { id });
  const people = await rowsOf(
    em,
    z.object({ id: z.string(), name: z.string() }),
    `select id, name from person where role in ('technician', 'coordinator') and left_on is null order by name`,
  );
  if (!job) throw new ApiError('not_found');
  const done = doneSteps(state);
  const paces = await pacesOf(em, state.model.class);
  const steps = state.steps.map((step) => stepView(state, step, { done, today, paces }));
  return {
    at,
    job,
    steps,
    needs: needsOf(state, steps, paces),
    holder: job.state === 'in work' ? holderOf(state.entries, state.startedBy) : null,
    fluid: state.fluid,
    bedIn: state.steps.some(({ step }) => step === 'bed in') ? state.bedIn : null,
    limits: limitsShown(state),
    tools: wrenches(state),
    people,
    parts: state.entries
      .filter(({ kind }) => kind === 'part')
      .map((one) => ({
        id: one.id,
        what: String(one.detail.what),
        quantity: Number(one.detail.quantity),
        by: one.by,
        at: toldAt(one),
      })),
    notes: state.entries
      .filter(({ kind }) => kind === 'note')
      .map((one) => ({ id: one.id, text: String(one.detail.text), by: one.by, at: toldAt(one) })),
  };
}

/** Wrenches to sign with: the bench's own first, then those that may be borrowed, by their depot. */
function wrenches({ tools, allTools }: JobState): JobCard['tools'] {
  const own = new Set(tools.map(({ id }) => id));
  return [...tools, ...allTools.filter(({ id }) => !own.has(id))]
    .filter(({ kind }) => kind === 'wrench')
    .map(({ id, name, unit, depot }) => ({ id, name: own.has(id) ? name : `${name} (${depot})`, unit }));
}

export function limitsShown({ details, scopes, bench }: JobState): JobCard['limits'] {
  return details
    .filter(({ axle }) => scopes.has(axle))
    .map(({ axle, padNewMm, limit, rotorDiscardMm }) => ({
      axle,
      newMm: padNewMm,
      limitMm: limit.limitMm,
      rotorDiscardMm,
      runoutMm: bench.find((one) => one.axle === axle)?.sheet?.values.runoutMm ?? null,
    }));
}

/** What to do at a step, in words, for this job. */
export function textOfStep({ details, policy, fluid, bedIn }: JobState, step: CoreStep): string {
  const detail = details.find(({ axle }) => axle === step.axle) ?? details[0];
  return stepInWords(step.step, {
    build: buildOf(detail?.brake ?? 'hydraulic', detail?.brakeDetail ?? ''),
    policy,
    axle: step.axle,
    side: step.side,
    drawOffMl: fluid?.drawOffMl ?? 0,
    bedIn: bedIn?.text ?? '',
  });
}

function stepView(
  state: JobState,
  step: CoreStep,
  { done, today, paces }: { done: ReadonlySet<string>; today: string; paces: Paces },
): CardStep {
  const signed = state.signed.get(step.id) ?? [];
  const measured = step.kind === 'measure' && step.axle !== undefined ? state.measured.get(step.axle) : undefined;
  const last = signed.at(-1);
  const doneView = measured
    ? { by: measured.by, byId: measured.byId, at: measured.at, text: 'measured', entryId: measured.id }
    : last
      ? {
          by: last.by,
          byId: last.person_id,
          at: toldAt(last),
          text: signed.map(valueInWords).join('; '),
          entryId: last.id,
        }
      : null;
  return {
    id: step.id,
    corner: cornerInWords(step.axle, step.side),
    axle: step.axle ?? null,
    side: step.side ?? null,
    kind: step.kind,
    hold: step.hold,
    text: textOfStep(state, step),
    caution: STEP_CAUTIONS[step.step] ?? null,
    minutes: Math.max(0.5, Math.round(step.minutes * (paces.get(step.step)?.value ?? 1) * 2) / 2),
    after: step.after,
    states: step.item ? statesOf(step.item) : [],
    torque: step.kind === 'torque' ? jointsOf(state, step).map((joint) => torqueView(joint, state.tools, today)) : [],
    unreleased: step.unreleased ?? false,
    done: done.has(step.id) ? doneView : null,
    again: outdated(state, step, signed),
  };
}
