import type { NewComplaint, Settlement } from '@mile-mark/contract/jobs';
import { COMPLAINTS } from '@mile-mark/core';
import type { z } from 'zod';
import { mayDo } from '@mile-mark/contract';
import { jobMoved } from '../../../events.ts';
import { command } from '../../../platform/command/command.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { PersonEntity } from '../../people/index.ts';
import { ModelAxleEntity, parseOdometer, refuseDeparted, vehicleOfUnit } from '../../register/index.ts';
import { DefectEntity, DefectSettlementEntity, JobEntity } from '../entities.ts';

/** Puts a complaint on record; it stays open until somebody closes it with what was found. */
export const addComplaint = command({
  name: 'addComplaint',
  action: 'complain',
  clientId: 'id',
  run: async ({ em, actor, today, audit, emit }, input: z.output<typeof NewComplaint>) => {
    const { id, kind, axle = null, side = null, note } = input;
    const vehicle = await vehicleOfUnit(em, input.unit, 'unit');
    refuseDeparted(vehicle, 'unit');
    if (axle !== null && !(await em.findOne(ModelAxleEntity, { modelId: vehicle.modelId, axle })))
      throw invalidField('axle', `This model has no axle ${axle}.`);
    const odometerM = input.odometer
      ? await parseOdometer(em, {
          typed: input.odometer,
          unit: input.odometerUnit,
          vehicleId: vehicle.id,
          date: today,
          field: 'odometer',
        })
      : null;
    const said = input.saidBy ?? (await em.findOneOrFail(PersonEntity, { id: actor.id })).name;
    const job = await em.findOne(JobEntity, { vehicleId: vehicle.id, state: 'in work' });
    await em.insert(DefectEntity, {
      id,
      vehicleId: vehicle.id,
      kind: 'complaint',
      axle,
      side,
      item: kind,
      state: null,
      severity: COMPLAINTS[kind].severity,
      note: note || null,
      saidBy: said,
      foundOn: today,
      odometerM,
      sourceId: null,
      dueM: null,
      jobId: job?.id ?? null,
      personId: actor.id,
      at: new Date(),
    });
    await audit('put a complaint on record', `vehicle/${vehicle.id}`, { complaint: kind });
    await emit(jobMoved({ vehicleIds: [vehicle.id] }));
    return { id };
  },
});

/** Closes a defect, puts it off, or lets a vehicle be driven although it stands as not to be; always with a reason. */
export const settleDefect = command({
  name: 'settleDefect',
  action: 'work',
  clientId: 'id',
  run: async ({ em, actor, today, audit }, input: z.output<typeof Settlement> & { defectId: string }) => {
    const { id, how, reason, until, defectId } = input;
    const defect = await em.findOne(DefectEntity, { id: defectId });
    if (!defect) throw new ApiError('not_found', 'There is no such defect on record.');
    const forbidsDriving = defect.severity === 'do not drive';
    if ((how === 'lifted' || forbidsDriving) && !mayDo(actor.role, 'decide'))
      throw new ApiError('forbidden', 'What forbids driving is lifted by the coordinator, or by closing its job.');
    if (how === 'deferred' && (until ?? '') <= today)
      throw invalidField('until', `A day after today (${today}) is accepted.`);
    const settled = { until: until ?? null, reason, jobId: null, personId: actor.id, settledOn: today };
    await em.insert(DefectSettlementEntity, { id, defectId, how, ...settled, at: new Date() });
    await audit(`settled a defect: ${how}`, `vehicle/${defect.vehicleId}`, { defect: defectId, reason });
    return { id };
  },
});
