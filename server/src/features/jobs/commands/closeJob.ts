import type { JobClosing, ScopeItem } from '@mile-mark/contract/jobs';
import { missingInWords, stepPlaceInWords } from '@mile-mark/contract/words';
import { afterMove, findingOf, milesToMetres, missingToClose, type JobAction, type Missing } from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import type { JobState as State } from '@mile-mark/contract/jobs';
import { padsFitted, jobMoved } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError } from '../../../platform/errors.ts';
import { ServiceEntity } from '../../inspections/index.ts';
import { PersonEntity } from '../../people/index.ts';
import { lockVehicle, parseOdometer } from '../../register/index.ts';
import { DefectEntity, DefectSettlementEntity, JobEntity, JobMoveEntity } from '../entities.ts';
import { doneSteps, jointsOf, limitsShown, loadJob, type JobState } from '../queries/card.ts';
import { isDue, openDefects } from '../queries/defects.ts';
import { cardRows } from '../queries/record.ts';
import { bookTimes, timesOf } from '../times.ts';
import { lockedJob } from './moveJob.ts';

type Closing = z.output<typeof JobClosing> & { jobId: string };

/**
 * Signs and closes a job: every hold done, what was left above its limits, torques complete, defects settled. The pads begin
 * their new life, the forecast is asked for, and what the work has mended is closed with it.
 *
 * @throws ApiError `incomplete`, with what is missing and where
 */
export const closeJob = command({
  name: 'closeJob',
  action: 'work',
  clientId: 'id',
  run: async ({ em, actor, today, audit, emit }, input: Closing) => {
    const { id, jobId, note } = input;
    const job = await lockedJob(em, jobId);
    const next = afterMove(job.state as State, 'close');
    if (!next)
      throw new ApiError('conflict', `This job is ${job.state}; it can’t be closed.`, [
        { field: 'id', message: `It is ${job.state}.` },
      ]);
    await lockVehicle(em, job.vehicleId);
    const state = await loadJob(em, jobId);
    const mended = await mendedBy(em, state, today);
    const missing = whatIsMissing(state, mended.open);
    if (missing.length > 0)
      throw new ApiError(
        'incomplete',
        `${missing.length} ${missing.length === 1 ? 'thing is' : 'things are'} missing before this job closes.`,
        [],
        missing,
      );
    const odometerM = await parseOdometer(em, {
      typed: input.odometer,
      unit: input.odometerUnit,
      vehicleId: job.vehicleId,
      date: today,
      field: 'odometer',
    });
    const times = timesOf({ ...state, startedAt: await startedAt(em, jobId) });
    await bookTimes(em, state.model.class, [times]);
    const fitted = await recordFitted(em, state, { today, odometerM, personId: actor.id });
    const settled = { how: 'closed', until: null, jobId, personId: actor.id, settledOn: today };
    await remindOfRechecks(em, state, { today, odometerM, personId: actor.id });
    for (const defectId of mended.byWork)
      await em.insert(DefectSettlementEntity, {
        id: randomUUID(),
        defectId,
        reason: 'done with this job',
        ...settled,
        at: new Date(),
      });
    await em.nativeUpdate(
      JobEntity,
      { id: jobId },
      {
        state: next,
        closedOn: today,
        odometerM,
        workedMin: times.workedMin ?? null,
        usualMin: times.usualMin,
        revision: job.revision + 1,
      },
    );
    await em.insert(JobMoveEntity, {
      id,
      jobId,
      verb: 'close',
      fromState: job.state,
      toState: next,
      detail: { note: note ?? null, odometerM, fitted, card: cardRows(state) },
      personId: actor.id,
      movedOn: today,
      at: new Date(),
    });
    await audit('closed a job', `vehicle/${job.vehicleId}`, { job: jobId, fitted });
    const vehicleIds = [job.vehicleId];
    await emit(fitted.length > 0 ? padsFitted({ vehicleIds }) : jobMoved({ vehicleIds }));
    return { id };
  },
});

/** When the work on a job was begun. */
async function startedAt(em: EntityManager, jobId: string): Promise<string | undefined> {
  const move = await em.findOne(JobMoveEntity, { jobId, verb: 'start' }, { orderBy: { at: 'desc' } });
  return move?.at.toISOString();
}

/** What the axle's service is called, by its scope; undefined where neither pads nor rotors were renewed. */
function fittedOf(scope: readonly ScopeItem[]): 'pads' | 'pads and rotors' | 'rotors' | undefined {
  const has = (action: JobAction) => scope.some((one) => one.action === action);
  if (has('pads')) return has('rotors new') ? 'pads and rotors' : 'pads';
  return has('rotors new') ? 'rotors' : undefined;
}

async function recordFitted(
  em: EntityManager,
  { job, scopes }: JobState,
  { today, odometerM, personId }: { today: string; odometerM: number; personId: string },
): Promise<{ axle: number; fitted: string }[]> {
  const rows = [...scopes].flatMap(([axle, scope]) => {
    const fitted = fittedOf(scope);
    return fitted ? [{ axle, fitted }] : [];
  });
  const own = { vehicleId: job.vehicleId, fittedOn: today, odometerM, recordedBy: personId, recordedAt: new Date() };
  for (const { axle, fitted } of rows) await em.insert(ServiceEntity, { id: randomUUID(), axle, fitted, ...own });
  return rows;
}

/** Joints that were torqued and are to be checked again after so many miles come up when the odometer is there. */
async function remindOfRechecks(
  em: EntityManager,
  state: JobState,
  { today, odometerM, personId }: { today: string; odometerM: number; personId: string },
): Promise<void> {
  const asked = new Map<string, { axle: number; joint: string; miles: number }>();
  for (const step of state.steps)
    for (const { joint, values } of step.kind === 'torque' ? jointsOf(state, step) : [])
      if (values.recheckMiles && step.axle !== undefined)
        asked.set(`${step.axle}/${joint}`, { axle: step.axle, joint, miles: values.recheckMiles });
  const { name } = await em.findOneOrFail(PersonEntity, { id: personId });
  const own = {
    vehicleId: state.job.vehicleId,
    kind: 're-check',
    side: null,
    state: null,
    severity: 'watch',
    note: null,
  };
  const rows = [...asked.values()].map(({ axle, joint, miles }) => ({
    ...own,
    id: randomUUID(),
    axle,
    item: joint,
    saidBy: name,
    foundOn: today,
    odometerM,
    sourceId: null,
    dueM: odometerM + Math.round(milesToMetres(miles)),
    jobId: state.job.id,
    personId,
    at: new Date(),
  }));
  if (rows.length > 0) await em.insertMany(DefectEntity, rows);
}

/** Open defects of the vehicle: those the work mends by itself, and those that need a word. */
async function mendedBy(
  em: EntityManager,
  { job, scopes }: JobState,
  today: string,
): Promise<{ byWork: string[]; open: string[] }> {
  const open = (await openDefects(em, today, job.vehicleId)).filter((one) => isDue(one, today));
  const rows = new Map(
    (await em.find(DefectEntity, { id: { $in: open.map(({ id }) => id) } })).map((row) => [row.id, row]),
  );
  const byWork = open.filter(({ id }) => {
    const row = rows.get(id);
    const scope = row?.axle == null ? undefined : scopes.get(row.axle);
    if (!row || !scope || row.kind === 'complaint') return false;
    if (row.kind === 'limit') return scope.some(({ action }) => action === 'pads');
    // The joint was torqued anew with this job.
    if (row.kind === 're-check') return true;
    const asked = findingOf(row.item, row.state ?? '')?.actions ?? [];
    return asked.length > 0 && asked.every((action) => scope.some((one) => answers(one.action, action)));
  });
  const mended = new Set(byWork.map(({ id }) => id));
  return { byWork: [...mended], open: open.map(({ id }) => id).filter((id) => !mended.has(id)) };
}

/** Whether doing one thing answers what was asked for: a new rotor answers a machined one. */
function answers(done: JobAction, asked: JobAction): boolean {
  return (
    done === asked ||
    (asked.startsWith('rotors') && done.startsWith('rotors')) ||
    (asked === 'pins cleaned' && done === 'bracket')
  );
}

/** What is missing, each at its step. */
function whatIsMissing(state: JobState, openDefectIds: string[]): { step: string | null; text: string }[] {
  const figures = [...state.signed].flatMap(([step, entries]) => entries.map((entry) => ({ step, entry })));
  const at = (step: string) => {
    const [, axle, side] = step.split('/');
    return { step, axle: Number(axle), side: side as 'left' | 'right' };
  };
  const onCard = new Set(state.steps.map(({ id }) => id));
  const missing = missingToClose({
    steps: state.steps,
    done: doneSteps(state),
    padsLeft: figures
      .filter(({ step, entry }) => entry.kind === 'pads left' && onCard.has(step))
      .map(({ step, entry: { detail } }) => ({
        ...at(step),
        innerMm: Number(detail.innerMm),
        outerMm: Number(detail.outerMm),
        confirmed: typeof detail.confirmed === 'string',
      })),
    rotorsLeft: figures
      .filter(({ step, entry }) => entry.kind === 'rotor left' && onCard.has(step))
      .map(({ step, entry: { detail } }) => ({ ...at(step), mm: Number(detail.mm) })),
    axles: limitsShown(state),
    openDefects: openDefectIds,
    odometer: true,
  });
  return missing.map((one: Missing) => ({
    step: 'step' in one ? one.step : null,
    text: missingInWords(one, stepPlaceInWords),
  }));
}
