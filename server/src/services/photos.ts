import type { z } from 'zod';
import type { NewPhoto } from '@mile-mark/contract';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import { InspectionEntity } from '../db/entities.ts';
import type { EntityManager } from '../db/orm.ts';
import { Refusal, refuseField } from '../errors.ts';
import { recordDeed } from './audit.ts';

const MOST_BYTES = 1_500_000;

/** Keeps a photo of an inspection. The browser has shrunk it and left out EXIF (place, device); this is checked. */
export async function addPhoto(
  em: EntityManager,
  actor: Actor,
  input: z.output<typeof NewPhoto>,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'measure');
  const jpeg = Buffer.from(input.jpegBase64, 'base64');
  if (jpeg.length > MOST_BYTES) throw refuseField('jpegBase64', 'A photo of at most 1.5 MB is accepted.');
  const wrong = faultOfJpeg(jpeg);
  if (wrong) throw refuseField('jpegBase64', wrong);
  const inspection = await em.findOne(InspectionEntity, { id: input.inspectionId });
  if (!inspection) throw refuseField('inspectionId', 'There is no such inspection on record yet; send it first.');
  await em.transactional(async (inner) => {
    const added = await inner.execute<{ id: string }[]>(
      `insert into photo (id, inspection_id, vehicle_id, axle, side, taken_at, jpeg, entered_by)
       values (?, ?, ?, ?, ?, ?, decode(?, 'base64'), ?) on conflict (id) do nothing returning id`,
      [
        input.id,
        inspection.id,
        inspection.vehicleId,
        input.axle ?? null,
        input.side ?? null,
        input.takenAt,
        input.jpegBase64,
        actor.id,
      ],
    );
    if (added.length > 0)
      await recordDeed(inner, actor.id, 'kept a photo', `vehicle/${inspection.vehicleId}`, { photo: input.id });
  });
  return { id: input.id };
}

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
  const [row] = await em.execute<{ jpeg: Buffer }[]>('select jpeg from photo where id = ?', [id]);
  if (!row) throw new Refusal('not_found', 'There is no such photo on record.');
  return row.jpeg;
}
