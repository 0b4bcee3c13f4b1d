import type { z } from 'zod';
import type { Endpoint, ENDPOINTS, EndpointName } from '@mile-mark/contract';
import { ROUTES } from '@mile-mark/contract/routes';
import { call } from './client.ts';

type Endpoints = typeof ENDPOINTS;
export type ParamsOf<N extends EndpointName> = Endpoints[N] extends { params: infer P extends z.ZodType }
  ? z.input<P>
  : undefined;
export type BodyOf<N extends EndpointName> = Endpoints[N] extends { body: infer B extends z.ZodType }
  ? z.input<B>
  : undefined;
export type QueryOf<N extends EndpointName> = Endpoints[N] extends { query: infer Q extends z.ZodType }
  ? z.input<Q>
  : undefined;
export type AnswerOf<N extends EndpointName> = z.output<Endpoints[N]['response']>;

type Part<Key extends string, Value> = undefined extends Value ? { [K in Key]?: undefined } : { [K in Key]: Value };
/** What a route is called with: parameters of its path and a body, where it has them. */
export type InputOf<N extends EndpointName> = Part<'params', ParamsOf<N>> &
  Part<'body', BodyOf<N>> & { query?: QueryOf<N> };

/** The address of a route, its parameters filled in. */
export function pathOf<N extends EndpointName>(name: N, params?: ParamsOf<N>): string {
  const given = (params ?? {}) as Record<string, string | number>;
  return ROUTES[name].path.replace(/\{(\w+)\}/g, (_, key: string) => encodeURIComponent(String(given[key] ?? '')));
}

/**
 * Calls a route of the contract by its name: path, method, what goes in and what comes back are the contract's.
 *
 * @throws as `call` does
 */
export function request<N extends EndpointName>(name: N, input: InputOf<N>): Promise<AnswerOf<N>> {
  const { method }: Pick<Endpoint, 'method'> = ROUTES[name];
  const verb = method.toUpperCase() as Uppercase<Endpoint['method']>;
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(input.query ?? {}))
    if (typeof value === 'string' || typeof value === 'number') query.set(key, String(value));
  const path = `${pathOf(name, input.params as ParamsOf<N>)}${query.size > 0 ? `?${query.toString()}` : ''}`;
  return call<AnswerOf<N>>(verb, path, input.body);
}
