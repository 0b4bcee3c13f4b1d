import type { Role } from '@mile-mark/contract';
import { Refusal } from '../errors.ts';

/** Who acts: passed to every service verb, so that routes, jobs and imports are covered by the same policy. */
export interface Actor {
  id: string;
  name: string;
  role: Role;
}

const MAY = {
  administer: ['coordinator'],
  measure: ['coordinator', 'technician'],
  register: ['coordinator'],
  specify: ['coordinator', 'technician'],
} as const satisfies Record<string, readonly Role[]>;

/** Throws `forbidden` unless the actor's role may do this. */
export function mustBeAllowed(actor: Actor, what: keyof typeof MAY): void {
  const roles: readonly Role[] = MAY[what];
  if (!roles.includes(actor.role)) throw new Refusal('forbidden', `This is for: ${roles.join(', ')}.`);
}
