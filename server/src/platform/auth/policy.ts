import { mayDo, rolesThat, type Action, type Role } from '@mile-mark/contract';
import { ApiError } from '../errors.ts';

/** Who acts: passed to every command, so that routes, jobs and imports are covered by the same policy. */
export interface Actor {
  id: string;
  name: string;
  role: Role;
  /** To what places they are limited, by id; none where nothing is kept from them. */
  limitedTo?: readonly string[];
}

/** Throws `forbidden` unless the policy lets the actor's role do this. */
export function mustBeAllowed(actor: Actor, action: Action): void {
  if (!mayDo(actor.role, action)) throw new ApiError('forbidden', `This is for: ${rolesThat(action).join(', ')}.`);
}
