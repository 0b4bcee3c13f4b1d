import { failureInWords } from '@mile-mark/contract/words';
import type { NewInstrument } from '@mile-mark/contract/register';
import { dateOfDay, dayNumber, metresToMiles, parseDistance } from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { odometerCorrected } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { InstrumentChangeEntity, OdometerEntity, OdometerWithdrawalEntity } from '../entities.ts';
import { lockVehicle, odometersOnRecord, parseOdometer, refuseFuture } from '../lookups.ts';
import { lockedVehicle } from '../revision.ts';

const OLD_INSTRUMENT = 'old instrument';
const dayBefore = (day: string) => dateOfDay(dayNumber(day) - 1);

/** Says that a vehicle's instrument was replaced: from that day on its odometer is read on the new one. */
export const replaceInstrument = command({
  name: 'replaceInstrument',
  action: 'register',
  clientId: 'id',
  run: async (
    { em, actor, today, audit, emit },
    { id, unit, on, oldShowed, newShows, odometerUnit = 'mi' }: z.output<typeof NewInstrument> & { unit: string },
  ) => {
    // Where the old one was read today, the new one is read from tomorrow.
    refuseFuture(on, dateOfDay(dayNumber(today) + 1), 'on');
    const { id: vehicleId } = await lockedVehicle(em, unit);
    if (await em.findOne(InstrumentChangeEntity, { vehicleId, replacedOn: on, withdrawnAt: null }))
      throw invalidField('on', `An instrument of that day is on record already; take that back first.`);
    const parsed = parseDistance(newShows, { unit: odometerUnit });
    if (!parsed.ok) throw invalidField('newShows', failureInWords(parsed.failure));
    const newM = Math.round(parsed.value.metres);
    const known = await odometersOnRecord(em, vehicleId);
    const after = known.find(({ date }) => date >= on);
    if (after) throw invalidField('on', `The old one was read on ${after.date}; a later day is accepted.`);
    const last = known.at(-1);
    const showed = parseDistance(oldShowed, { unit: odometerUnit });
    if (last && showed.ok && Math.round(showed.value.metres) < last.metres)
      throw invalidField(
        'oldShowed',
        `It showed ${Math.round(metresToMiles(last.metres)).toLocaleString('en-US')} mi on ${last.date} already; that or more is accepted.`,
      );
    const oldM = await parseOdometer(em, {
      typed: oldShowed,
      unit: odometerUnit,
      vehicleId,
      date: dayBefore(on),
      field: 'oldShowed',
    });
    await em.insert(InstrumentChangeEntity, {
      ...{ id, vehicleId, replacedOn: on, oldM, newM },
      personId: actor.id,
      at: new Date(),
    });
    // What it showed last is an odometer as any other, of the last day that was its own.
    await em.insert(OdometerEntity, {
      ...{ id: randomUUID(), vehicleId, readOn: dayBefore(on), odometerM: oldM, source: OLD_INSTRUMENT },
      enteredBy: actor.id,
      enteredAt: new Date(),
    });
    await audit('replaced an instrument', `vehicle/${vehicleId}`, { on, oldM, newM });
    await emit(odometerCorrected({ vehicleIds: [vehicleId] }));
    return { id };
  },
});

/** Takes back that an instrument was replaced, while nothing was read on the new one. */
export const undoInstrument = command({
  name: 'undoInstrument',
  action: 'register',
  run: async ({ em, actor, audit, emit }, { id }: { id: string }) => {
    const known = await em.findOne(InstrumentChangeEntity, { id });
    if (known) await lockVehicle(em, known.vehicleId);
    const change = await em.findOne(InstrumentChangeEntity, { id, withdrawnAt: null }, { refresh: true });
    if (!change) throw new ApiError('not_found', 'There is no such instrument on record; somebody took it back.');
    const { vehicleId, replacedOn, oldM, newM } = change;
    const since = (await odometersOnRecord(em, vehicleId)).find(({ date }) => date >= replacedOn);
    if (since) throw new ApiError('conflict', `The new instrument was read on ${since.date}; take that back first.`);
    const at = new Date();
    await em.nativeUpdate(
      InstrumentChangeEntity,
      { id, withdrawnAt: null },
      { withdrawnBy: actor.id, withdrawnAt: at },
    );
    const shown = { vehicleId, readOn: dayBefore(replacedOn), odometerM: oldM, source: OLD_INSTRUMENT };
    for (const { id: odometerId } of await em.find(OdometerEntity, shown))
      if (!(await em.findOne(OdometerWithdrawalEntity, { odometerId })))
        await em.insert(OdometerWithdrawalEntity, {
          ...{ id: randomUUID(), odometerId, reason: 'the instrument was taken back' },
          personId: actor.id,
          at,
        });
    await audit('took an instrument back', `vehicle/${vehicleId}`, { id, on: replacedOn, oldM, newM });
    await emit(odometerCorrected({ vehicleIds: [vehicleId] }));
    return { id };
  },
});
