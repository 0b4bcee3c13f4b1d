import type { DutyCorrection } from '@mile-mark/contract/register';
import type { z } from 'zod';
import { dutyBegun } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { DutyCorrectionEntity, DutyPeriodEntity, type DutyPeriodRow } from '../entities.ts';
import { lockVehicle, namedId } from '../lookups.ts';

/** A stretch of duty with those before and after it. */
interface Stretch {
  own: DutyPeriodRow;
  before: DutyPeriodRow | undefined;
  after: DutyPeriodRow | undefined;
}

/**
 * Corrects a stretch of duty, wherever it lies, or withdraws it. Its neighbours reach as far as it leaves them; what it
 * said is kept with who changed it and why.
 */
export const correctDuty = command({
  name: 'correctDuty',
  action: 'register',
  clientId: 'id',
  run: async (
    { em, actor, audit, emit },
    { id, periodId, instead, reason }: z.output<typeof DutyCorrection> & { periodId: string },
  ) => {
    const stretch = await lockedStretch(em, periodId);
    const { vehicleId, dutyId, fromDate, toDate, milesPerDay } = stretch.own;
    const said = { vehicleId, dutyId, fromDate, toDate: toDate ?? null, milesPerDay: milesPerDay ?? null };
    await em.insert(DutyCorrectionEntity, { id, ...said, reason, personId: actor.id, at: new Date() });
    if (instead) await correct(em, stretch, await namedId(em, 'duty', instead.duty), instead.from);
    else await withdraw(em, stretch);
    const detail = { id: periodId, from: fromDate, reason, ...(instead ? { instead } : {}) };
    await audit(instead ? 'corrected a duty' : 'withdrew a duty', `vehicle/${vehicleId}`, detail);
    await emit(dutyBegun({ vehicleIds: [vehicleId] }));
    return { id };
  },
});

async function lockedStretch(em: EntityManager, id: string): Promise<Stretch> {
  const gone = () =>
    new ApiError('not_found', 'There is no such duty of a vehicle on record; somebody withdrew it meanwhile.');
  const found = await em.findOne(DutyPeriodEntity, { id });
  if (!found) throw gone();
  const { vehicleId } = found;
  await lockVehicle(em, vehicleId);
  const all = await em.find(DutyPeriodEntity, { vehicleId }, { orderBy: { fromDate: 'asc' }, refresh: true });
  const at = all.findIndex((one) => one.id === id);
  const own = all[at];
  if (!own) throw gone();
  return { own, before: all[at - 1], after: all[at + 1] };
}

async function withdraw(em: EntityManager, { own, before, after }: Stretch): Promise<void> {
  if (!before && !after)
    throw new ApiError('conflict', 'It is the only duty of this vehicle; say which it is instead of withdrawing it.');
  await em.nativeDelete(DutyPeriodEntity, { id: own.id });
  if (before) await em.nativeUpdate(DutyPeriodEntity, { id: before.id }, { toDate: own.toDate ?? null });
  else if (after) await em.nativeUpdate(DutyPeriodEntity, { id: after.id }, { fromDate: own.fromDate });
}

async function correct(em: EntityManager, { own, before, after }: Stretch, dutyId: string, from: string) {
  if (before && from <= before.fromDate)
    throw invalidField('instead.from', `The duty before began on ${before.fromDate}; a later day is accepted.`);
  if (after && from >= after.fromDate)
    throw invalidField('instead.from', `The next duty begins on ${after.fromDate}; an earlier day is accepted.`);
  // Miles a day were this vehicle's under that duty; under another they are what it states.
  const milesPerDay = dutyId === own.dutyId ? (own.milesPerDay ?? null) : null;
  const first = () => em.nativeUpdate(DutyPeriodEntity, { id: own.id }, { dutyId, fromDate: from, milesPerDay });
  const other = async () => {
    if (before?.toDate === own.fromDate) await em.nativeUpdate(DutyPeriodEntity, { id: before.id }, { toDate: from });
  };
  // Two duties never hold on one day, not even between two statements: the one that gives way goes first.
  if (from > own.fromDate) {
    await first();
    await other();
  } else {
    await other();
    await first();
  }
}
