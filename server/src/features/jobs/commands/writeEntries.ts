import type { JobEntries, JobEntry, Written } from '@mile-mark/contract/jobs';
import { torqueInWords } from '@mile-mark/contract/specifications';
import {
  findingOf,
  judgeFluid,
  type Severity,
  skippedBefore,
  statesOf,
  torqueIn,
  torqueToNm,
  type CardStep,
} from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import type { z } from 'zod';
import { command, type Transaction } from '../../../platform/command/command.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { PersonEntity } from '../../people/index.ts';
import { DefectEntity, DefectSettlementEntity, JobEntryEntity } from '../entities.ts';
import { doneSteps, fitsSpecification, jointsOf, loadJob, type JobState } from '../queries/card.ts';
import { lockedJob } from './moveJob.ts';

type Entry = z.output<typeof JobEntry>;
type EntryOf<K extends Entry['kind']> = Extract<Entry, { kind: K }>;

/**
 * Writes on a card: append-only, each entry once by its id, however often it is sent. A figure that does not fit is refused
 * at its field; a step out of order is kept, and said.
 */
export const addJobEntries = command({
  name: 'addJobEntries',
  action: 'work',
  run: async (tx, input: z.output<typeof JobEntries> & { jobId: string }): Promise<Written> => {
    const { em, actor, audit, changedNothing } = tx;
    const locked = await lockedJob(em, input.jobId);
    const fresh = await newEntries(tx, input);
    const kept = input.entries.map(({ id }) => id);
    if (fresh.length === 0) {
      changedNothing();
      return { kept, early: [] };
    }
    if (locked.state !== 'in work')
      throw new ApiError('conflict', `This job is ${locked.state}; nothing more is written on its card.`, [
        { field: 'entries', message: locked.state === 'closed' ? 'A new job takes it up.' : 'Begin the job first.' },
      ]);
    const state = await loadJob(em, input.jobId);
    const done = doneSteps(state);
    const early: Written['early'] = [];
    for (const { entry, field } of fresh) {
      const step = 'step' in entry && entry.step !== undefined ? stepOf(state, entry, field) : undefined;
      const detail = await detailOf(tx, state, entry, field, step);
      if (step && entry.kind !== 'undo' && entry.kind !== 'note') {
        const before = skippedBefore(step, done);
        if (before.length > 0) early.push({ step: step.id, before });
        done.add(step.id);
      }
      if (step && (entry.kind === 'undo' || entry.kind === 'check' || entry.kind === 'level'))
        await noLonger(tx, state, step, entry.kind === 'undo' ? entry.reason : 'looked at again');
      if (step && entry.kind === 'check') await raiseFound(tx, state, step, entry);
      if (step && entry.kind === 'level') await raiseLeak(tx, state, entry);
      await em.insert(JobEntryEntity, {
        id: entry.id,
        jobId: input.jobId,
        kind: entry.kind,
        step: step?.id ?? null,
        detail,
        personId: actor.id,
        doneAt: new Date(entry.doneAt),
        enteredAt: new Date(),
      });
    }
    await audit('wrote on a card', `vehicle/${locked.vehicleId}`, {
      job: input.jobId,
      entries: fresh.map(({ entry }) => entry.id),
    });
    return { kept, early };
  },
});

/** What a check finds that matters is a defect at once: it keeps the job open until the work mends it or somebody settles it. */
async function raiseFound(tx: Transaction, { job }: JobState, step: CardStep, entry: EntryOf<'check'>): Promise<void> {
  const found = step.item && findingOf(step.item, entry.state);
  if (!found || found.severity === 'note') return;
  const { axle = null, side = null, item = '' } = step;
  await raise(tx, job, entry.id, { axle, side, item, state: entry.state, severity: found.severity, note: entry.note });
}

/** A level lower than wear explains is a leak until somebody says what it was. */
async function raiseLeak(tx: Transaction, { job, fluid }: JobState, entry: EntryOf<'level'>): Promise<void> {
  if (!fluid || judgeFluid({ ...fluid, level: entry.level }, fluid.expectedMl).verdict !== 'leak suspected') return;
  const missing = Math.round((1 - entry.level) * fluid.betweenMarksMl);
  const state = `low, leak suspected: ${missing} mL missing, ${Math.round(fluid.expectedMl)} mL explained by wear`;
  await raise(tx, job, entry.id, { axle: null, side: null, item: 'fluid', state, severity: 'before next use' });
}

interface Found {
  axle: number | null;
  side: 'left' | 'right' | null;
  item: string;
  state: string;
  severity: Severity;
  note?: string | undefined;
}

async function raise(tx: Transaction, job: JobState['job'], sourceId: string, found: Found): Promise<void> {
  const by = await tx.em.findOneOrFail(PersonEntity, { id: tx.actor.id });
  await tx.em.insert(DefectEntity, {
    id: randomUUID(),
    vehicleId: job.vehicleId,
    kind: 'finding',
    ...found,
    note: found.note ?? null,
    saidBy: by.name,
    foundOn: tx.today,
    odometerM: null,
    sourceId,
    dueM: null,
    jobId: job.id,
    personId: tx.actor.id,
    at: new Date(),
  });
}

/** Closes the defect of a check that is taken back or made again. */
async function noLonger(tx: Transaction, state: JobState, step: CardStep, reason: string): Promise<void> {
  const sources = (state.signed.get(step.id) ?? [])
    .filter(({ kind }) => kind === 'check' || kind === 'level')
    .map(({ id }) => id);
  const defects = await tx.em.find(DefectEntity, { sourceId: { $in: sources } });
  for (const { id: defectId } of defects) {
    const closed = await tx.em.findOne(DefectSettlementEntity, { defectId, how: 'closed' });
    if (closed) continue;
    await tx.em.insert(DefectSettlementEntity, {
      id: randomUUID(),
      defectId,
      how: 'closed',
      until: null,
      reason: `taken back: ${reason}`,
      jobId: state.job.id,
      personId: tx.actor.id,
      settledOn: tx.today,
      at: new Date(),
    });
  }
}

/** Entries that are not on record yet; one of the same id with another content is a conflict. */
async function newEntries({ em, actor }: Transaction, input: z.output<typeof JobEntries> & { jobId: string }) {
  const known = new Map(
    (await em.find(JobEntryEntity, { id: { $in: input.entries.map(({ id }) => id) } })).map((row) => [row.id, row]),
  );
  const seen = new Set<string>();
  return input.entries.flatMap((entry, index) => {
    const field = `entries.${index}`;
    if (seen.has(entry.id)) throw invalidField(`${field}.id`, 'Each entry has an id of its own.');
    seen.add(entry.id);
    const row = known.get(entry.id);
    if (!row) return [{ entry, field }];
    const same = row.jobId === input.jobId && row.kind === entry.kind && row.personId === actor.id;
    const told = row.detail as Record<string, unknown>;
    const figures = valuesOf(entry);
    if (!same || !isDeepStrictEqual(figures, Object.fromEntries(Object.keys(figures).map((key) => [key, told[key]]))))
      throw new ApiError('conflict', 'This entry is in already, with other content; look at the card again.', [
        { field: `${field}.id`, message: 'A new id is accepted for other content.' },
      ]);
    return [];
  });
}

/** What of an entry is kept as its detail. */
function valuesOf(entry: Entry): Record<string, unknown> {
  const { id: _id, kind: _kind, doneAt: _doneAt, ...rest } = entry as Entry & { step?: string };
  const { step: _step, ...values } = rest as Record<string, unknown>;
  return Object.fromEntries(Object.entries(values).filter(([, value]) => value !== undefined));
}

function stepOf(state: JobState, entry: Entry & { step?: string | undefined }, field: string): CardStep {
  const step = state.steps.find(({ id }) => id === entry.step);
  if (!step) throw invalidField(`${field}.step`, 'This step is not on the card; look at the card again.');
  if (entry.kind !== 'undo' && entry.kind !== 'note' && entry.kind !== step.kind)
    throw invalidField(`${field}.kind`, `This step is signed by “${step.kind}”.`);
  return step;
}

async function detailOf(
  tx: Transaction,
  state: JobState,
  entry: Entry,
  field: string,
  step: CardStep | undefined,
): Promise<Record<string, unknown>> {
  const values = valuesOf(entry);
  if (step && entry.kind === 'torque')
    return { ...values, ...torqueDetail(state, step, entry, { field, today: tx.today }) };
  if (step && entry.kind === 'check') {
    if (!step.item || !statesOf(step.item).includes(entry.state))
      throw invalidField(`${field}.state`, `${(step.item ? statesOf(step.item) : []).join(', ')} are accepted.`);
    return { ...values, item: step.item };
  }
  if (step && entry.kind === 'second') refuseSamePerson(state, step, tx.actor.id, field);
  if (entry.kind === 'undo' && step && !state.signed.has(step.id))
    throw invalidField(`${field}.step`, 'This step is not signed; there is nothing to take back.');
  if (entry.kind === 'hand over') {
    const to = await tx.em.findOne(PersonEntity, { id: entry.toId });
    if (!to) throw invalidField(`${field}.toId`, 'A person on record is accepted.');
    return { ...values, toName: to.name };
  }
  return values;
}

/** A torque is signed only against a released specification, with a calibrated wrench that reaches it. */
function torqueDetail(
  state: JobState,
  step: CardStep,
  { value, unit, toolId, position }: EntryOf<'torque'>,
  { field, today }: { field: string; today: string },
): Record<string, unknown> {
  const joint = jointsOf(state, step).find((one) => one.position === position);
  if (!joint)
    throw invalidField(
      `${field}.step`,
      'Nobody has released a specification for this joint; it can’t be signed. Have it entered and released.',
    );
  const { fits, least, most } = fitsSpecification(joint, value, unit);
  if (!fits) {
    const { torque } = joint.values;
    const asked = torque
      ? `${torqueInWords(torque)}; ${least.toFixed(1)} to ${most.toFixed(1)} ${torque.unit} is accepted`
      : 'unknown';
    throw invalidField(`${field}.value`, `${value} ${unit} is not what the specification asks for: ${asked}.`);
  }
  const tool = state.allTools.find(({ id }) => id === toolId);
  if (tool?.kind !== 'wrench') throw invalidField(`${field}.toolId`, 'A torque wrench on record is accepted.');
  if (tool.calibrationDue === null || tool.calibrationDue < today)
    throw invalidField(`${field}.toolId`, `${tool.name} has no calibration in force; another wrench is accepted.`);
  const own = torqueIn(torqueToNm(value, unit), tool.unit);
  const needsMultiplier = own > tool.most;
  const multiplied = state.allTools.some(({ kind }) => kind === 'multiplier');
  if (own < (tool.least ?? 0) || (needsMultiplier && !multiplied))
    throw invalidField(
      `${field}.toolId`,
      `${tool.name} goes from ${tool.least ?? 0} to ${tool.most} ${tool.unit}; one that reaches ${value} ${unit} is accepted.`,
    );
  return { tool: tool.name, revision: joint.number, joint: joint.joint };
}

function refuseSamePerson(state: JobState, step: CardStep, personId: string, field: string): void {
  const first = state.signed.get(`torque Wheel nut/${step.axle}/${step.side}`)?.at(-1);
  if (!first) throw invalidField(`${field}.step`, 'The wheel nuts are torqued first.');
  if (first.person_id === personId)
    throw invalidField(`${field}.step`, 'A second person signs this: somebody else than who torqued the nuts.');
}
