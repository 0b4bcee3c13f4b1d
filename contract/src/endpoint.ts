import { z } from 'zod';
import { Id, type Role } from './common.ts';
import { rolesThat, type Action } from './policy.ts';

/** How large a body may be: a form, a list that is sent as text, a photo, a file. */
export type Room = 'form' | 'list' | 'photo' | 'file';

export interface Endpoint {
  method: 'get' | 'post' | 'put' | 'delete';
  /** Path with parameters in braces, e.g. `/api/vehicles/{unit}`. */
  path: string;
  /** What calling it does, by the policy's name for it; `anyone` needs no sign-in. */
  action: Action | 'anyone';
  summary: string;
  params?: z.ZodType;
  query?: z.ZodType;
  body?: z.ZodType;
  /** What the `id` of its path is of, where it is kept from who works at other depots and its answer does not say so. */
  about?: 'job' | 'photo' | 'job photo' | 'import';
  /** How much room a body gets: that of a form where nothing is said. */
  room?: Room;
  response: z.ZodType;
  status: number;
  contentType?: string;
}

/** The roles that may call a route; undefined where nobody need be signed in. */
export function callersOf({ action }: Pick<Endpoint, 'action'>): readonly Role[] | undefined {
  return action === 'anyone' ? undefined : rolesThat(action);
}

export const Done = z.object({ id: Id });
export const listOf = <T extends z.ZodType>(item: T) => z.object({ items: z.array(item) });
export const UnitParam = z.object({ unit: z.string().min(1).max(60) });
export const IdParam = z.object({ id: Id });
export const None = z.null();
