import { z } from 'zod';
import type { NewPhoto } from '@mile-mark/contract/inspections';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { NoPicture, redrawn } from '../../../platform/documents/picture.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { InspectionEntity, PhotoEntity } from '../entities.ts';

const MOST_BYTES = 1_500_000;

/** Keeps a photo of an inspection. The browser has shrunk it and left out EXIF (place, device); it is drawn anew. */
export const addPhoto = command({
  name: 'addPhoto',
  action: 'measure',
  clientId: 'id',
  run: async ({ em, actor, today, audit }, input: z.output<typeof NewPhoto>) => {
    const { id, axle = null, side = null, takenAt } = input;
    refuseNotTakenYet(takenAt, today);
    const jpeg = await pictureOf(input.jpegBase64);
    const inspection = await em.findOne(InspectionEntity, { id: input.inspectionId });
    if (!inspection) throw invalidField('inspectionId', 'There is no such inspection on record yet; send it first.');
    const { vehicleId } = inspection;
    if (axle !== null) await refuseNoAxle(em, vehicleId, axle);
    const own = { id, inspectionId: inspection.id, vehicleId, axle, side, takenAt: new Date(takenAt), jpeg };
    await em.insert(PhotoEntity, { ...own, enteredBy: actor.id, enteredAt: new Date() });
    await audit('kept a photo', `vehicle/${vehicleId}`, { photo: id });
    return { id };
  },
});

async function refuseNoAxle(em: EntityManager, vehicleId: string, axle: number): Promise<void> {
  const rows = await rowsOf(
    em,
    z.object({ axle: z.number() }),
    'select a.axle from vehicle v join model_axle a on a.model_id = v.model_id where v.id = ? order by a.axle',
    [vehicleId],
  );
  const axles = rows.map((row) => row.axle);
  if (!axles.includes(axle))
    throw invalidField('axle', `This vehicle has no axle ${axle} on record; ${axles.join(', ')} are accepted.`);
}

/**
 * A photo as it is kept: drawn anew, so that a file carries nothing but what is seen.
 *
 * @throws ApiError `invalid` at jpegBase64 where it is too large or no picture
 */
export async function pictureOf(jpegBase64: string): Promise<Buffer> {
  const jpeg = Buffer.from(jpegBase64, 'base64');
  if (jpeg.length > MOST_BYTES) throw invalidField('jpegBase64', 'A photo of at most 1.5 MB is accepted.');
  try {
    return await redrawn(jpeg);
  } catch (error) {
    if (error instanceof NoPicture) throw invalidField('jpegBase64', error.message);
    throw error;
  }
}

/** How far a device's clock may be ahead, ms. */
const CLOCK_AHEAD_MS = 24 * 3600 * 1000;

/** @throws ApiError `invalid` at takenAt where a photo is said to be taken in days to come */
export function refuseNotTakenYet(takenAt: string, today: string): void {
  if (Date.parse(takenAt) > Math.max(Date.now(), Date.parse(today)) + CLOCK_AHEAD_MS)
    throw invalidField('takenAt', 'That is in days to come; a photo was taken at some time until now.');
}

export async function photoOf(em: EntityManager, id: string): Promise<Buffer> {
  const photo = await em.findOne(PhotoEntity, { id });
  if (!photo) throw new ApiError('not_found', 'There is no such photo on record.');
  return Buffer.from(photo.jpeg);
}
