import { failureInWords } from '@mile-mark/contract/words';
import type { z } from 'zod';
import { mayDo } from '@mile-mark/contract';
import type { Correction } from '@mile-mark/contract/inspections';
import { parseThickness, type ThicknessUnit } from '@mile-mark/core';
import { readingCorrected } from '../../../events.ts';
import type { Actor } from '../../../platform/auth/policy.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { lockVehicle, ModelAxleEntity, VehicleEntity } from '../../register/index.ts';
import { ReadingEntity, type ReadingRow } from '../entities.ts';
import { impossibleThickness } from '../thickness.ts';

type ReadingCorrection = z.output<typeof Correction> & { readingId: string };

/** Supersedes a reading by another value, or withdraws it; the old one stays on record. */
export const correctReading = command({
  name: 'correctReading',
  action: 'measure',
  clientId: 'id',
  run: async (tx, input: ReadingCorrection) => {
    const vehicleId = await supersedeReading(tx, input);
    await tx.emit(readingCorrected({ vehicleIds: [vehicleId] }));
    return { id: input.id };
  },
});

/** @returns the vehicle whose record it changed */
export async function supersedeReading({ em, actor, audit }: Transaction, input: ReadingCorrection): Promise<string> {
  const { id, reason } = input;
  const old = await em.findOne(ReadingEntity, { id: input.readingId });
  if (!old) throw new ApiError('not_found', 'There is no such reading on record.');
  if (old.thicknessUm == null) throw invalidField('id', 'This reading was withdrawn; measure again instead.');
  if (!isOwn(actor, old) && !mayDo(actor.role, 'correctOthers'))
    throw new ApiError('forbidden', 'A technician corrects own readings; the coordinator any.');
  const replacement = input.thickness === undefined ? null : await parseReplacement(em, old, input);
  const { inspectionId, vehicleId, technicianId, measuredOn, odometerM, axle, side, pad } = old;
  await lockVehicle(em, vehicleId);
  await em.insert(ReadingEntity, {
    ...{ id, inspectionId, vehicleId, technicianId, measuredOn, odometerM, axle, side, pad, reason },
    thicknessUm: replacement?.um ?? null,
    typed: replacement?.typed ?? '',
    unit: replacement?.unit ?? old.unit,
    supersedesId: old.id,
    enteredBy: actor.id,
    enteredAt: new Date(),
  });
  const detail = { reading: old.id, by: id, reason };
  await audit(replacement ? 'corrected a reading' : 'withdrew a reading', `vehicle/${vehicleId}`, detail);
  return vehicleId;
}

const isOwn = (actor: Actor, { technicianId, enteredBy }: ReadingRow): boolean =>
  actor.id === technicianId || actor.id === enteredBy;

async function parseReplacement(
  em: EntityManager,
  old: ReadingRow,
  input: z.output<typeof Correction>,
): Promise<{ um: number; typed: string; unit: ThicknessUnit }> {
  const typed = String(input.thickness);
  const parsed = parseThickness(typed, { unit: input.thicknessUnit ?? (old.unit as ThicknessUnit) });
  if (!parsed.ok) throw invalidField('thickness', failureInWords(parsed.failure));
  const { modelId } = await em.findOneOrFail(VehicleEntity, { id: old.vehicleId });
  const axle = await em.findOne(ModelAxleEntity, { modelId, axle: old.axle });
  const impossible = axle && impossibleThickness(parsed.value.mm, typed, axle);
  if (impossible) throw invalidField('thickness', impossible);
  return { um: Math.round(parsed.value.mm * 1000), typed, unit: parsed.value.unit };
}
