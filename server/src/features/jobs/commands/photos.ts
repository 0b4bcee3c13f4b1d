import type { NewJobPhoto } from '@mile-mark/contract/jobs';
import type { z } from 'zod';
import { command } from '../../../platform/command/command.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { ApiError } from '../../../platform/errors.ts';
import { pictureOf, refuseNotTakenYet } from '../../inspections/index.ts';
import { JobPhotoEntity } from '../entities.ts';
import { lockedJob } from './moveJob.ts';

/** Keeps a photo of a step; the device has shrunk it and left out where it was taken, and this is checked. */
export const addJobPhoto = command({
  name: 'addJobPhoto',
  action: 'work',
  clientId: 'id',
  run: async ({ em, actor, today, audit }, { id, jobId, step, takenAt, jpegBase64 }: z.output<typeof NewJobPhoto>) => {
    refuseNotTakenYet(takenAt, today);
    const jpeg = await pictureOf(jpegBase64);
    const job = await lockedJob(em, jobId);
    if (job.state !== 'in work') throw new ApiError('conflict', `This job is ${job.state}; no photo is added to it.`);
    const own = { id, jobId, step, takenAt: new Date(takenAt), jpeg, personId: actor.id };
    await em.insert(JobPhotoEntity, { ...own, enteredAt: new Date() });
    await audit('kept a photo of a step', `vehicle/${job.vehicleId}`, { job: jobId, photo: id });
    return { id };
  },
});

export async function jobPhotoOf(em: EntityManager, id: string): Promise<Buffer> {
  const photo = await em.findOne(JobPhotoEntity, { id });
  if (!photo) throw new ApiError('not_found', 'There is no such photo on record.');
  return Buffer.from(photo.jpeg);
}
