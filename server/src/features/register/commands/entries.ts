import { failureInWords } from '@mile-mark/contract/words';
import type { z } from 'zod';
import type { NewDuty, NewDutyPeriod, NewLimit, NewVehicle } from '@mile-mark/contract/register';
import { parseDistance } from '@mile-mark/core';
import { dutyBegun, limitEntered, vehicleEntered } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { invalidField } from '../../../platform/errors.ts';
import { DutyEntity, LimitRuleEntity, OdometerEntity, VehicleEntity } from '../entities.ts';
import {
  idByName,
  lockVehicle,
  namedId,
  normaliseUnit,
  refuseAfterDeparture,
  refuseFuture,
  vehicleOfUnit,
} from '../lookups.ts';
import { openDepot } from './moveVehicle.ts';
import { endDutyBegun, startDuty } from '../startDuty.ts';

/** Puts a duty on record. It is never changed afterwards: what vehicles drove under it stays what it was. */
export const addDuty = command({
  name: 'addDuty',
  action: 'register',
  clientId: 'id',
  run: async ({ em, actor, audit }, input: z.output<typeof NewDuty>) => {
    const { id, name, source } = input;
    if (await idByName(em, 'duty', name))
      throw invalidField('name', `There is a duty “${name}” already; another name is accepted.`);
    await em.insert(DutyEntity, { ...input, sourceNote: input.sourceNote ?? null, madeBy: actor.id });
    await audit('put a duty on record', `duty/${id}`, { name, source });
    return { id };
  },
});

/** Enters a limit; every forecast may hang on it. */
export const addLimit = command({
  name: 'addLimit',
  action: 'register',
  clientId: 'id',
  run: async ({ em, actor, audit, emit }, input: z.output<typeof NewLimit>) => {
    const { leastMm, aboveGvwrKg = null, upToGvwrKg = null, ...rest } = input;
    const leastUm = Math.round(leastMm * 1000);
    await em.insert(LimitRuleEntity, { ...rest, leastUm, aboveGvwrKg, upToGvwrKg, checkedBy: actor.name });
    await audit('entered a limit', `limit/${input.id}`, input);
    await emit(limitEntered({}));
    return { id: input.id };
  },
});

export const addVehicle = command({
  name: 'addVehicle',
  action: 'register',
  clientId: 'id',
  run: async ({ em, actor, today, audit, emit }, input: z.output<typeof NewVehicle>) => {
    const { id } = input;
    refuseFuture(input.dutyFrom, today, 'dutyFrom');
    const odometer = parseDistance(input.odometer, { unit: input.odometerUnit ?? 'mi' });
    if (!odometer.ok) throw invalidField('odometer', failureInWords(odometer.failure));
    const modelId = await namedId(em, 'model', input.model);
    const { id: depotId } = await openDepot(em, input.depot, 'depot');
    const dutyId = await namedId(em, 'duty', input.duty);
    await em.insert(VehicleEntity, { id, unit: normaliseUnit(input.unit), modelId, depotId, inputRev: 1 });
    await startDuty(em, { id: crypto.randomUUID(), vehicleId: id, dutyId, from: input.dutyFrom });
    await em.insert(OdometerEntity, {
      id: crypto.randomUUID(),
      vehicleId: id,
      readOn: input.dutyFrom,
      odometerM: Math.round(odometer.value.metres),
      source: 'start of record',
      enteredBy: actor.id,
      enteredAt: new Date(),
    });
    await audit('entered a vehicle', `vehicle/${id}`, { unit: input.unit });
    await emit(vehicleEntered({ vehicleIds: [id] }));
    return { id };
  },
});

/** Begins another duty on a day; the past keeps its own. */
export const changeDuty = command({
  name: 'changeDuty',
  action: 'register',
  clientId: 'id',
  run: async ({ em, audit, emit }, input: z.output<typeof NewDutyPeriod> & { unit: string }) => {
    const { id, from, duty, unit, milesPerDay } = input;
    const vehicle = await vehicleOfUnit(em, unit, 'unit');
    refuseAfterDeparture(vehicle, from, 'from');
    await lockVehicle(em, vehicle.id);
    await startDuty(em, { id, vehicleId: vehicle.id, dutyId: await namedId(em, 'duty', duty), from, milesPerDay });
    await audit('began a duty', `vehicle/${vehicle.id}`, { id, duty, from, milesPerDay });
    await emit(dutyBegun({ vehicleIds: [vehicle.id] }));
    return { id };
  },
});

/** Takes back the duty that a vehicle began last. */
export const undoDuty = command({
  name: 'undoDuty',
  action: 'register',
  run: async ({ em, audit, emit }, { id }: { id: string }) => {
    const { vehicleId, from } = await endDutyBegun(em, id);
    await audit('took back a duty', `vehicle/${vehicleId}`, { id, from });
    await emit(dutyBegun({ vehicleIds: [vehicleId] }));
    return { id };
  },
});
