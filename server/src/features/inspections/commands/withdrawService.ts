import type { ServiceWithdrawal } from '@mile-mark/contract/inspections';
import type { z } from 'zod';
import { padsFitted } from '../../../events.ts';
import { mustBeOwn } from '../../../platform/auth/own.ts';
import { command } from '../../../platform/command/command.ts';
import { ApiError } from '../../../platform/errors.ts';
import { lockVehicle } from '../../register/index.ts';
import { ServiceEntity, ServiceWithdrawalEntity } from '../entities.ts';

/**
 * Takes back what was recorded as fitted: the axle goes on with the life it had, its mark is computed anew, and the
 * record keeps who withdrew it and why. A job that was closed with it stays closed.
 */
export const withdrawService = command({
  name: 'withdrawService',
  action: 'measure',
  clientId: 'id',
  run: async (
    { em, actor, audit, emit },
    { id, reason, serviceId }: z.output<typeof ServiceWithdrawal> & { serviceId: string },
  ) => {
    const service = await em.findOne(ServiceEntity, { id: serviceId });
    if (!service) throw new ApiError('not_found', 'There is no such service on record.');
    const { vehicleId, axle, fitted, fittedOn } = service;
    await lockVehicle(em, vehicleId);
    if (await em.findOne(ServiceWithdrawalEntity, { serviceId }))
      throw new ApiError('conflict', 'Somebody withdrew this service meanwhile.');
    mustBeOwn(actor, { by: [service.recordedBy], at: service.recordedAt });
    await em.insert(ServiceWithdrawalEntity, { id, serviceId, reason, personId: actor.id, at: new Date() });
    await audit('withdrew a service', `vehicle/${vehicleId}`, { axle, fitted, fittedOn, reason });
    await emit(padsFitted({ vehicleIds: [vehicleId] }));
    return { id };
  },
});
