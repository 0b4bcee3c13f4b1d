import { z } from 'zod';
import { Id, type Role } from './common.ts';

/** Who may call a route: anyone at all, or people of these roles. */
export type Who = 'anyone' | readonly Role[];

export interface Endpoint {
  method: 'get' | 'post' | 'put' | 'delete';
  /** Path with parameters in braces, e.g. `/api/vehicles/{unit}`. */
  path: string;
  who: Who;
  summary: string;
  params?: z.ZodType;
  query?: z.ZodType;
  body?: z.ZodType;
  response: z.ZodType;
  status: number;
  contentType?: string;
}

export const EVERY: readonly Role[] = ['coordinator', 'technician', 'parts keeper', 'viewer'];
export const MEASURING: readonly Role[] = ['coordinator', 'technician'];
export const COORDINATOR: readonly Role[] = ['coordinator'];

export const Done = z.object({ id: Id });
export const listOf = <T extends z.ZodType>(item: T) => z.object({ items: z.array(item) });
export const UnitParam = z.object({ unit: z.string().min(1).max(60) });
export const IdParam = z.object({ id: Id });
export const None = z.null();
