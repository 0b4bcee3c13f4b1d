import { randomUUID } from 'node:crypto';
import type { DistanceUnit } from '@mile-mark/core';
import { odometerCorrected } from '../../../events.ts';
import { command, type Transaction } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError } from '../../../platform/errors.ts';
import { lockVehicle, parseOdometer } from '../../register/index.ts';
import { InspectionEntity, ReadingEntity, type InspectionRow, type ReadingRow } from '../entities.ts';

interface OdometerCorrection {
  id: string;
  inspectionId: string;
  odometer: string;
  odometerUnit?: DistanceUnit | undefined;
  reason: string;
}

/**
 * Enters an inspection anew at another odometer: a new inspection and new readings supersede the old ones, with a
 * reason; what was entered first stays on record.
 */
export const correctOdometer = command({
  name: 'correctOdometer',
  action: 'decide',
  clientId: 'id',
  run: async (tx, input: OdometerCorrection) => {
    const vehicleId = await supersedeOdometer(tx, input);
    await tx.emit(odometerCorrected({ vehicleIds: [vehicleId] }));
    return { id: input.id };
  },
});

/** @returns the vehicle whose record it changed */
export async function supersedeOdometer(tx: Transaction, input: OdometerCorrection): Promise<string> {
  const { em, actor, audit } = tx;
  const { id, odometer, reason } = input;
  const old = await em.findOne(InspectionEntity, { id: input.inspectionId });
  if (!old) throw new ApiError('not_found', 'There is no such inspection on record.');
  const { vehicleId } = old;
  await lockVehicle(em, vehicleId);
  const odometerM = await parseOdometer(em, {
    typed: odometer,
    unit: input.odometerUnit ?? 'mi',
    vehicleId,
    date: old.measuredOn,
    field: 'odometer',
    except: { date: old.measuredOn, metres: old.odometerM },
  });
  const entered = { enteredBy: actor.id, enteredAt: new Date(), reason };
  await em.insert(InspectionEntity, {
    id,
    ...sameVisit(old),
    note: old.note ?? null,
    odometerM,
    odometerTyped: odometer,
    supersedesId: old.id,
    ...entered,
  });
  const live = await liveReadings(em, old.id);
  await em.insertMany(
    ReadingEntity,
    live.map((reading) => ({
      ...samePlace(reading),
      id: randomUUID(),
      inspectionId: id,
      odometerM,
      supersedesId: reading.id,
      ...entered,
    })),
  );
  await audit('corrected an odometer', `vehicle/${vehicleId}`, { inspection: old.id, by: id, reason });
  return vehicleId;
}

const sameVisit = ({ vehicleId, technicianId, gaugeId, measuredOn }: InspectionRow) => ({
  vehicleId,
  technicianId,
  gaugeId,
  measuredOn,
});

function samePlace({ vehicleId, technicianId, measuredOn, axle, side, pad, ...figures }: ReadingRow) {
  const { thicknessUm = null, typed, unit, answer = null } = figures;
  return { vehicleId, technicianId, measuredOn, axle, side, pad, thicknessUm, typed, unit, answer };
}

/** Readings of an inspection that no other supersedes. */
export async function liveReadings(em: EntityManager, inspectionId: string): Promise<ReadingRow[]> {
  const own = await em.find(ReadingEntity, { inspectionId });
  const later = await em.find(ReadingEntity, { supersedesId: { $in: own.map(({ id }) => id) } });
  const superseded = new Set(later.map(({ supersedesId }) => supersedesId));
  return own.filter(({ id }) => !superseded.has(id));
}
