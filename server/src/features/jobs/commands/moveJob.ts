import { mayDo } from '@mile-mark/contract';
import type { JobMove, JobRow, JobState, ScopeChange, ScopeItem } from '@mile-mark/contract/jobs';
import { afterMove, decide, isOpen, type JobAction } from '@mile-mark/core';
import type { z } from 'zod';
import { jobMoved } from '../../../events.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { ModelEntity, VehicleEntity } from '../../register/index.ts';
import { JobAxleEntity, JobEntity, JobMoveEntity, type JobEntityRow } from '../entities.ts';
import { vehicleFacts } from '../facts.ts';
import { listJobs } from '../queries/jobs.ts';
import { policyOfModel } from '../queries/policy.ts';
import { scopeOf } from '../queries/proposal.ts';
import { bookPeople } from './people.ts';

type Move = z.output<typeof JobMove> & { jobId: string };

/** A job, its row locked until the transaction ends; moves of one job wait for each other. */
export async function lockedJob(em: EntityManager, id: string): Promise<JobEntityRow> {
  await em.execute('select 1 from job where id = ? for update', [id]);
  const job = await em.findOne(JobEntity, { id }, { refresh: true });
  if (!job) throw new ApiError('not_found', 'There is no such job on record.');
  return job;
}

/** Books, moves, begins or calls off a job: one legal move of its states. */
export const moveJob = command({
  name: 'moveJob',
  action: 'work',
  clientId: 'id',
  revisionOf: async (em, { jobId, revision }: Move) => ({
    seen: revision,
    onRecord: (await lockedJob(em, jobId)).revision,
  }),
  run: advanceJob,
});

/** One legal move of a job's states, in the caller's transaction. @param depotId where it is done from now on, if elsewhere */
export async function advanceJob(
  { em, actor, today, audit, emit }: Transaction,
  input: Move,
  depotId?: string,
): Promise<JobRow> {
  const { id, jobId, verb, reason, bay, personIds } = input;
  if (verb !== 'start' && !mayDo(actor.role, 'book'))
    throw new ApiError('forbidden', 'Booking and calling off is for the coordinator.');
  const job = await lockedJob(em, jobId);
  const state = afterMove(job.state as JobState, verb);
  if (!state)
    throw new ApiError('conflict', `This job is ${job.state}; it can’t be moved by “${verb}” any more.`, [
      { field: 'verb', message: `It is ${job.state}.` },
    ]);
  if (verb === 'book' && (input.day ?? '') < today)
    throw invalidField('day', `Today (${today}) or a later day is accepted.`);
  const day = verb === 'book' ? (input.day ?? null) : (job.day ?? null);
  const changed = {
    state,
    day,
    bay: bay ?? job.bay ?? null,
    ...(depotId === undefined ? {} : { depotId }),
    ...(verb === 'start' ? { policy: await policyNow(em, job) } : {}),
    revision: job.revision + 1,
  };
  await em.nativeUpdate(JobEntity, { id: jobId }, changed);
  if (personIds) await bookPeople(em, jobId, personIds);
  await em.insert(JobMoveEntity, {
    id,
    jobId,
    verb: verb === 'book' && job.state === 'booked' ? 'move' : verb,
    fromState: job.state,
    toState: state,
    detail: { day, bay: changed.bay, reason: reason ?? null },
    personId: actor.id,
    movedOn: today,
    at: new Date(),
  });
  await audit(`job: ${verb}`, `vehicle/${job.vehicleId}`, { job: jobId, day, reason });
  await emit(jobMoved({ vehicleIds: [job.vehicleId] }));
  const [row] = await listJobs(em, { id: jobId });
  return row as JobRow;
}

/** The shop's policy as it stands when work begins: the card of a job in work does not move under a hand. */
async function policyNow(em: EntityManager, job: JobEntityRow) {
  const vehicle = await em.findOneOrFail(VehicleEntity, { id: job.vehicleId });
  return policyOfModel(em, await em.findOneOrFail(ModelEntity, { id: vehicle.modelId }));
}

type Change = z.output<typeof ScopeChange> & { jobId: string };

/** Adds something to what is done at an axle, or leaves it out, with the reason; what is mandatory stays. */
export const changeScope = command({
  name: 'changeScope',
  action: 'work',
  clientId: 'id',
  run: async ({ em, actor, today, audit }, input: Change) => {
    const { id, jobId, axle, action, sides, wanted, reason } = input;
    const job = await lockedJob(em, jobId);
    if (!isOpen(job.state as JobState)) throw new ApiError('conflict', `This job is ${job.state}; its scope stands.`);
    const row = await em.findOne(JobAxleEntity, { jobId, axle });
    if (!row) throw invalidField('axle', `Axle ${axle} is not part of this job.`);
    const scope = row.scope as ScopeItem[];
    const declined = row.declined as { action: string; rules: string[]; reason: string }[];
    const had = scope.find((one) => one.action === action);
    if (!wanted && !had) throw invalidField('action', `“${action}” is not in the scope of axle ${axle}.`);
    if (!wanted && had?.mandatory)
      throw invalidField('action', `“${action}” is asked for by law or limit and can’t be left out.`);
    const rest = scope.filter((one) => one.action !== action);
    const follows = wanted ? await followingFrom(em, job, { axle, action, today }) : [];
    const known = new Set([action, ...scope.map((one) => one.action), ...declined.map((one) => one.action)]);
    const also = follows.filter((one) => !known.has(one.action));
    const item: ScopeItem = {
      action,
      sides: wider(had?.sides, sides),
      mandatory: had?.mandatory ?? false,
      rules: had?.rules ?? [],
      reason,
    };
    await em.nativeUpdate(
      JobAxleEntity,
      { jobId, axle },
      {
        scope: wanted ? [...rest, item, ...also] : rest,
        declined: wanted
          ? declined.filter((one) => one.action !== action)
          : [...declined, { action, rules: had?.rules ?? [], reason }],
      },
    );
    await em.insert(JobMoveEntity, {
      id,
      jobId,
      verb: wanted ? 'add' : 'leave out',
      fromState: job.state,
      toState: job.state,
      detail: { axle, action, sides: item.sides, reason, also },
      personId: actor.id,
      movedOn: today,
      at: new Date(),
    });
    await em.nativeUpdate(JobEntity, { id: jobId }, { revision: job.revision + 1 });
    await audit(wanted ? 'added to a job' : 'left out of a job', `vehicle/${job.vehicleId}`, {
      job: jobId,
      axle,
      action,
      reason,
    });
    return { id };
  },
});

/** What the rules ask for once something is done at an axle, that they did not ask for before. */
async function followingFrom(
  em: EntityManager,
  job: JobEntityRow,
  { axle, action, today }: { axle: number; action: JobAction; today: string },
): Promise<ScopeItem[]> {
  const vehicle = await em.findOneOrFail(VehicleEntity, { id: job.vehicleId });
  const facts = (await vehicleFacts(em, vehicle, today)).axles.get(axle);
  if (!facts) return [];
  const before = new Set(decide(facts).scope.map((one) => one.action));
  return scopeOf(decide({ ...facts, asked: [action] })).filter((one) => !before.has(one.action));
}

/** Both wheels where either way of saying it names both, or each names another. */
function wider(had: ScopeItem['sides'] | undefined, asked: ScopeItem['sides']): ScopeItem['sides'] {
  if (had === undefined) return asked;
  if (had === 'both' || asked === 'both') return 'both';
  return had[0] === asked[0] ? asked : 'both';
}
