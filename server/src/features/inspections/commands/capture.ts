import type { NewInspection } from '@mile-mark/contract/inspections';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { type ModelAxleRow, type VehicleRow } from '../../register/index.ts';
import { FindingEntity, RotorMeasurementEntity, UnseenPadEntity } from '../entities.ts';

type Entry = z.output<typeof NewInspection>;

/** Refuses what was found, measured or not seen on an axle that the model lacks. */
export function refuseUnknownAxles(entry: Entry, axles: readonly ModelAxleRow[]): void {
  const known = axles.map(({ axle }) => axle);
  for (const field of ['unseen', 'findings', 'rotors'] as const)
    (entry[field] ?? []).forEach(({ axle }, index) => {
      if (!known.includes(axle))
        throw invalidField(
          `${field}.${index}.axle`,
          `This model has no axle ${axle}; ${known.join(', ')} are accepted.`,
        );
    });
}

/**
 * Pads fitted after the device last saw the vehicle: its readings may be of the old pads, and were judged against
 * them. Refused until somebody has seen it; nothing is dropped and nothing written over.
 */
export async function refuseChangedMeanwhile(em: EntityManager, vehicle: VehicleRow, entry: Entry): Promise<void> {
  const { seenAt, acknowledged } = entry.inspection;
  if (!seenAt || acknowledged) return;
  const fitted = await rowsOf(
    em,
    z.object({ axle: z.number(), fitted_on: z.string(), fitted: z.string(), name: z.string() }),
    `select s.axle, s.fitted_on::text, s.fitted, p.name from service s join person p on p.id = s.recorded_by
     where s.vehicle_id = ? and s.fitted <> 'rotors' and s.recorded_at > ?::timestamptz order by s.recorded_at`,
    [vehicle.id, seenAt],
  );
  if (fitted.length === 0) return;
  throw new ApiError(
    'changed_meanwhile',
    `Meanwhile ${fitted.map((one) => `${one.name} recorded ${one.fitted} fitted on axle ${one.axle} (${one.fitted_on})`).join(', ')}.`,
    [{ field: 'inspection.seenAt', message: 'Say whether the readings are to be taken all the same.' }],
  );
}

/** Saves what an inspection found besides thicknesses: pads not seen, findings, rotors. */
export async function saveBesides(
  em: EntityManager,
  vehicle: VehicleRow,
  { inspection, unseen, findings, rotors }: Entry,
): Promise<void> {
  const own = { inspectionId: inspection.id, vehicleId: vehicle.id };
  await em.insertMany(
    UnseenPadEntity,
    (unseen ?? []).map((one) => ({ ...one, ...own })),
  );
  await em.insertMany(
    FindingEntity,
    (findings ?? []).map(({ places = [], degree = null, note = null, ...one }) => ({
      ...one,
      ...own,
      places,
      degree,
      note,
    })),
  );
  await em.insertMany(
    RotorMeasurementEntity,
    (rotors ?? []).map(({ studs, ...one }) => ({ ...one, ...own, studs: studs ?? null })),
  );
}
