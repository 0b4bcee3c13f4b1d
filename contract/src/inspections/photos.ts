import { z } from 'zod';
import { Id, Side } from '../common.ts';

export const NewPhoto = z.object({
  id: Id,
  inspectionId: Id,
  axle: z.int().min(1).max(6).optional(),
  side: Side.optional(),
  takenAt: z.iso.datetime({ offset: true }),
  /** JPEG without EXIF, at most 1.5 MB, base64. */
  jpegBase64: z.string().min(100).max(2_100_000, 'A photo of at most 1.5 MB is accepted.'),
});
export type NewPhoto = z.infer<typeof NewPhoto>;

export const PhotoSeen = z.object({
  id: Id,
  date: z.string(),
  axle: z.int().nullable(),
  side: Side.nullable(),
  technician: z.string(),
});
