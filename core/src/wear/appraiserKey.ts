import type { ReadingInput } from './types.ts';

/** Key of the appraiser that took a reading: technician and gauge where both are told apart, else the technician. */
export function appraiserKeyOf({ appraiser, technician }: Pick<ReadingInput, 'appraiser' | 'technician'>): string {
  return appraiser ?? technician;
}
