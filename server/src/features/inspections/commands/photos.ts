import type { z } from 'zod';
import type { NewPhoto } from '@mile-mark/contract/inspections';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError, invalidField } from '../../../platform/errors.ts';
import { InspectionEntity, PhotoEntity } from '../entities.ts';

const MOST_BYTES = 1_500_000;

/** Keeps a photo of an inspection. The browser has shrunk it and left out EXIF (place, device); this is checked. */
export const addPhoto = command({
  name: 'addPhoto',
  action: 'measure',
  clientId: 'id',
  run: async ({ em, actor, audit }, input: z.output<typeof NewPhoto>) => {
    const { id, axle = null, side = null, takenAt } = input;
    const jpeg = Buffer.from(input.jpegBase64, 'base64');
    if (jpeg.length > MOST_BYTES) throw invalidField('jpegBase64', 'A photo of at most 1.5 MB is accepted.');
    const wrong = faultOfJpeg(jpeg);
    if (wrong) throw invalidField('jpegBase64', wrong);
    const inspection = await em.findOne(InspectionEntity, { id: input.inspectionId });
    if (!inspection) throw invalidField('inspectionId', 'There is no such inspection on record yet; send it first.');
    const { vehicleId } = inspection;
    const own = { id, inspectionId: inspection.id, vehicleId, axle, side, takenAt: new Date(takenAt), jpeg };
    await em.insert(PhotoEntity, { ...own, enteredBy: actor.id, enteredAt: new Date() });
    await audit('kept a photo', `vehicle/${vehicleId}`, { photo: id });
    return { id };
  },
});

const MARKER = { start: 0xd8, scan: 0xda, app1: 0xe1 };

/** What is wrong with a photo, in words: not a JPEG, or one that carries EXIF. */
export function faultOfJpeg(bytes: Buffer): string | undefined {
  if (bytes.length < 4 || bytes[0] !== 0xff || bytes[1] !== MARKER.start) return 'A JPEG picture is accepted.';
  for (let at = 2; at + 4 <= bytes.length;) {
    if (bytes[at] !== 0xff) return 'A JPEG picture is accepted.';
    const marker = bytes[at + 1];
    if (marker === MARKER.scan) return undefined;
    if (marker === MARKER.app1) return 'A picture without EXIF is accepted; it may tell where it was taken.';
    at += 2 + bytes.readUInt16BE(at + 2);
  }
  return 'The picture is cut short.';
}

export async function photoOf(em: EntityManager, id: string): Promise<Buffer> {
  const photo = await em.findOne(PhotoEntity, { id });
  if (!photo) throw new ApiError('not_found', 'There is no such photo on record.');
  return Buffer.from(photo.jpeg);
}
