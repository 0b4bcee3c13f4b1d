import { LockMode } from '@mikro-orm/core';
import type { NewCalibration, NewTorqueTool, ToolChange } from '@mile-mark/contract/specifications';
import { z } from 'zod';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { idByName, refuseFuture } from '../../register/index.ts';
import { ToolCalibrationEntity, TorqueToolEntity } from '../entities.ts';

async function namedDepot(em: EntityManager, name: string): Promise<string> {
  const id = await idByName(em, 'depot', name);
  if (!id) throw invalidField('depot', `There is no depot “${name}” on record; one of the list is accepted.`);
  return id;
}

/** Puts a torque tool on record. */
export const addTorqueTool = command({
  name: 'addTorqueTool',
  action: 'equip',
  clientId: 'id',
  run: async ({ em, actor, audit }, input: NewTorqueTool) => {
    const { id, name, kind, unit, most, drive } = input;
    const [there] = await rowsOf(
      em,
      z.object({ id: z.string() }),
      'select id from torque_tool where lower(name) = lower(?)',
      [name],
    );
    if (there) throw invalidField('name', `There is a tool “${name}” already; another name is accepted.`);
    const depotId = await namedDepot(em, input.depot);
    await em.insert(TorqueToolEntity, {
      id,
      name,
      kind,
      unit,
      most,
      drive,
      depotId,
      retired: false,
      revision: 1,
      ...ownOf(input),
    });
    if (input.kind !== 'adapter' && input.calibrationDue)
      await em.insert(ToolCalibrationEntity, {
        id: crypto.randomUUID(),
        toolId: id,
        due: input.calibrationDue,
        personId: actor.id,
        at: new Date(),
      });
    await audit('put a torque tool on record', `torque-tool/${id}`, { name });
    return { id };
  },
});

/** What only one kind of tool has. */
function ownOf(input: NewTorqueTool) {
  const none = {
    type: null,
    least: null,
    graduation: null,
    lengthMm: null,
    extensionMm: null,
    endSize: null,
    ratio: null,
  };
  if (input.kind === 'multiplier') return { ...none, ratio: input.ratio };
  if (input.kind === 'adapter') return { ...none, extensionMm: input.extensionMm, endSize: input.endSize };
  const { type, least, graduation, lengthMm } = input;
  return { ...none, type, least, graduation, lengthMm };
}

type ChangedTool = z.output<typeof ToolChange> & { toolId: string };

/** Moves a tool to another depot, or retires it. */
export const changeTorqueTool = command({
  name: 'changeTorqueTool',
  action: 'equip',
  revisionOf: async (em, { toolId, revision }: ChangedTool) => {
    const tool = await em.findOne(TorqueToolEntity, { id: toolId }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!tool) throw new ApiError('not_found', 'There is no such torque tool on record.');
    return { seen: revision, onRecord: tool.revision };
  },
  run: async ({ em, audit }, { toolId, depot, retired }: ChangedTool) => {
    const depotId = await namedDepot(em, depot);
    const { revision } = await em.findOneOrFail(TorqueToolEntity, { id: toolId });
    await em.nativeUpdate(TorqueToolEntity, { id: toolId }, { depotId, retired, revision: revision + 1 });
    await audit('changed a torque tool', `torque-tool/${toolId}`, { depot, retired });
    return { id: toolId };
  },
});

/** Records a calibration; the newest tells when the next is due. */
export const addCalibration = command({
  name: 'addCalibration',
  action: 'equip',
  clientId: 'id',
  run: async ({ em, actor, today, audit }, input: z.output<typeof NewCalibration> & { toolId: string }) => {
    const { toolId, id, doneOn, due } = input;
    refuseFuture(doneOn, today, 'doneOn');
    const tool = await em.findOne(TorqueToolEntity, { id: toolId }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!tool) throw new ApiError('not_found', 'There is no such torque tool on record.');
    if (tool.kind === 'adapter') throw invalidField('doneOn', 'An adapter has no scale; it is not calibrated.');
    await em.insert(ToolCalibrationEntity, { id, toolId, doneOn, due, personId: actor.id, at: new Date() });
    await audit('recorded a calibration', `torque-tool/${toolId}`, { doneOn, due });
    return { id };
  },
});
