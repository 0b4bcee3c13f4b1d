import { randomUUID } from 'node:crypto';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { InspectionEntity } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal } from '../errors.ts';
import { recordDeed } from './audit.ts';
import { bumpInputs, parseOdometer } from './lookups.ts';

/**
 * Enters an inspection anew at another odometer: a new inspection and new readings supersede the old ones, with a
 * reason; what was entered first stays on record.
 */
export async function correctOdometer(
  em: EntityManager,
  actor: Actor,
  inspectionId: string,
  input: { id: string; odometer: string; reason: string },
): Promise<{ id: string; vehicleId: string }> {
  mustBeAllowed(actor, 'register');
  const old = await em.findOne(InspectionEntity, { id: inspectionId });
  if (!old) throw new Refusal('not_found', 'There is no such inspection on record.');
  const done = await em.findOne(InspectionEntity, { id: input.id });
  if (done) return { id: done.id, vehicleId: done.vehicleId };
  return em.transactional(async (inner) => {
    await bumpInputs(inner, [old.vehicleId]);
    const odometerM = await parseOdometer(inner, {
      typed: input.odometer,
      unit: 'mi',
      vehicleId: old.vehicleId,
      date: old.measuredOn,
      field: 'odometer',
      except: { date: old.measuredOn, metres: old.odometerM },
    });
    await inner.insert(InspectionEntity, {
      id: input.id,
      vehicleId: old.vehicleId,
      technicianId: old.technicianId,
      gaugeId: old.gaugeId,
      measuredOn: old.measuredOn,
      odometerM,
      odometerTyped: input.odometer,
      note: old.note ?? null,
      enteredBy: actor.id,
      enteredAt: new Date(),
      supersedesId: old.id,
      reason: input.reason,
    });
    const live = await inner.execute<{ id: string }[]>(
      `select id from reading r where inspection_id = ? and not exists (select 1 from reading later where later.supersedes_id = r.id)`,
      [old.id],
    );
    for (const { id } of live)
      await inner.execute(
        `insert into reading (id, inspection_id, vehicle_id, technician_id, measured_on, odometer_m, axle, side, pad, thickness_um,
           typed, unit, answer, supersedes_id, reason, entered_by)
         select ?, ?, vehicle_id, technician_id, measured_on, ?, axle, side, pad, thickness_um, typed, unit, answer, id, ?, ?
         from reading where id = ?`,
        [randomUUID(), input.id, odometerM, input.reason, actor.id, id],
      );
    await recordDeed(inner, actor.id, 'corrected an odometer', `vehicle/${old.vehicleId}`, {
      inspection: old.id,
      by: input.id,
      reason: input.reason,
    });
    return { id: input.id, vehicleId: old.vehicleId };
  });
}
