import type { ReadingInput } from './types.ts';

/** Key of the hand that took a reading: technician and gauge where both are told apart, else the technician. */
export function handKeyOf({ hand, technician }: Pick<ReadingInput, 'hand' | 'technician'>): string {
  return hand ?? technician;
}
