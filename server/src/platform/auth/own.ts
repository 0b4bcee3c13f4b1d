import { mayDo } from '@mile-mark/contract';
import { ApiError } from '../errors.ts';
import type { Actor } from './policy.ts';

/** For as long a person takes back what they entered themselves, ms. */
const OWN_MS = 24 * 3600_000;

/** Refuses whoever may not take back what this person entered then: its author within a day, the coordinator always. */
export function mustBeOwn(actor: Actor, entered: { by: readonly string[]; at: Date }): void {
  if (mayDo(actor.role, 'correctOthers')) return;
  if (!entered.by.includes(actor.id))
    throw new ApiError('forbidden', 'One takes back what one entered or measured oneself; the coordinator any.');
  if (Date.now() - entered.at.getTime() > OWN_MS)
    throw new ApiError('forbidden', 'It was entered more than a day ago; from then on the coordinator takes it back.');
}
