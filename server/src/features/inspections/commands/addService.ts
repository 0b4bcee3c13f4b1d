import type { z } from 'zod';
import type { NewService } from '@mile-mark/contract/inspections';
import { padsFitted } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { invalidField } from '../../../platform/errors.ts';
import {
  lockVehicle,
  ModelAxleEntity,
  parseOdometer,
  refuseAfterDeparture,
  refuseFuture,
  vehicleOfUnit,
} from '../../register/index.ts';
import { ServiceEntity } from '../entities.ts';

/** Records pads or rotors fitted on both sides of an axle. */
export const addService = command({
  name: 'addService',
  action: 'measure',
  clientId: 'id',
  run: async ({ em, actor, today, audit, emit }, input: z.output<typeof NewService>) => {
    const { id, axle, date, fitted } = input;
    refuseFuture(date, today, 'date');
    const vehicle = await vehicleOfUnit(em, input.unit, 'unit');
    const vehicleId = vehicle.id;
    refuseAfterDeparture(vehicle, date, 'date');
    if (!(await em.findOne(ModelAxleEntity, { modelId: vehicle.modelId, axle })))
      throw invalidField('axle', `This model has no axle ${axle}.`);
    await lockVehicle(em, vehicleId);
    const unit = input.odometerUnit ?? 'mi';
    const odometerM = await parseOdometer(em, { typed: input.odometer, unit, vehicleId, date, field: 'odometer' });
    const recorded = { recordedBy: actor.id, recordedAt: new Date() };
    await em.insert(ServiceEntity, { id, vehicleId, axle, fittedOn: date, odometerM, fitted, ...recorded });
    await audit('recorded a service', `vehicle/${vehicleId}`, { axle, fitted });
    await emit(padsFitted({ vehicleIds: [vehicleId] }));
    return { id };
  },
});
