import type { NewJob, ScopeItem } from '@mile-mark/contract/jobs';
import { decide } from '@mile-mark/core';
import { randomUUID } from 'node:crypto';
import type { z } from 'zod';
import { jobMoved } from '../../../events.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import { invalidField } from '../../../platform/errors.ts';
import { lockVehicle, refuseDeparted, vehicleOfUnit } from '../../register/index.ts';
import { JobAxleEntity, JobEntity, JobMoveEntity } from '../entities.ts';
import { vehicleFacts, type VehicleFacts } from '../facts.ts';
import { becauseOf, scopeOf } from '../queries/proposal.ts';
import { bookPeople } from './people.ts';

type Input = z.output<typeof NewJob>;

/**
 * Puts a visit on record, proposed or booked, in the caller's transaction.
 *
 * @param depotId where it is done; its own depot, where none is given
 */
export async function enterJob(
  { em, actor, today, audit, emit }: Transaction,
  input: Input,
  depotId?: string,
): Promise<{ id: string }> {
  const { id, day = null, bay = null, personIds = [] } = input;
  const vehicle = await vehicleOfUnit(em, input.unit, 'unit');
  refuseDeparted(vehicle, 'unit');
  if (day !== null && day < today) throw invalidField('day', `Today (${today}) or a later day is accepted.`);
  await lockVehicle(em, vehicle.id);
  const facts = await vehicleFacts(em, vehicle, today);
  const axles = input.axles.map((asked, index) => scopeAsked(asked, facts, `axles.${index}`));
  const state = day === null ? 'proposed' : 'booked';
  await em.insert(JobEntity, {
    id,
    vehicleId: vehicle.id,
    depotId: depotId ?? vehicle.depotId,
    state,
    day,
    bay,
    odometerM: null,
    policy: null,
    why: axles.map(({ axle, because }) => ({ axle, because })),
    createdBy: actor.id,
    createdOn: today,
    createdAt: new Date(),
    closedOn: null,
    revision: 1,
  });
  await em.insertMany(
    JobAxleEntity,
    axles.map(({ axle, scope, declined }) => ({ jobId: id, axle, scope, declined })),
  );
  await bookPeople(em, id, personIds);
  const move = { jobId: id, personId: actor.id, movedOn: today, at: new Date() };
  const detail = { day, bay, axles: axles.map(({ axle, scope, declined }) => ({ axle, scope, declined })) };
  await em.insert(JobMoveEntity, {
    id: randomUUID(),
    verb: 'propose',
    fromState: null,
    toState: state,
    detail,
    ...move,
  });
  await audit(`${state === 'booked' ? 'booked' : 'proposed'} a job`, `vehicle/${vehicle.id}`, { job: id, day, bay });
  await emit(jobMoved({ vehicleIds: [vehicle.id] }));
  return { id };
}

/** Proposes or books a visit: what the rules ask for, but for what is left out or added with a reason. */
export const addJob = command({ name: 'addJob', action: 'book', clientId: 'id', run: enterJob });

/** An axle's scope: proposed by the rules, less what is declined (never what is mandatory), what is added, and what goes with it. */
function scopeAsked({ axle, added, declined }: Input['axles'][number], facts: VehicleFacts, field: string) {
  const own = facts.axles.get(axle);
  if (!own) throw invalidField(`${field}.axle`, `This model has no axle ${axle}.`);
  const decision = decide({ ...own, asked: added.map(({ action }) => action) });
  const proposed = scopeOf(decision);
  declined.forEach(({ action }, index) => {
    const item = proposed.find((one) => one.action === action);
    if (!item) throw invalidField(`${field}.declined.${index}.action`, `No rule asks for “${action}” here.`);
    if (item.mandatory)
      throw invalidField(
        `${field}.declined.${index}.action`,
        `“${action}” is asked for by law or limit and can’t be left out.`,
      );
  });
  const left = new Set(declined.map(({ action }) => action));
  const extra = added
    .filter(({ action }) => !proposed.some((one) => one.action === action && !left.has(action)))
    .map(({ action, sides, reason }): ScopeItem => ({ action, sides, mandatory: false, rules: [], reason }));
  return {
    axle,
    scope: [...proposed.filter(({ action }) => !left.has(action)), ...extra],
    declined: declined.map(({ action, reason }) => ({
      action,
      reason,
      rules: proposed.find((one) => one.action === action)?.rules ?? [],
    })),
    because: becauseOf(decision),
  };
}
