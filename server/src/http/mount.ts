import type { Express, Request, Response } from 'express';
import type { z } from 'zod';
import { ENDPOINTS, type Endpoint, type EndpointName, type Role } from '@mile-mark/contract';
import { personOfToken, SESSION_COOKIE } from '../auth/sessions.ts';
import type { Actor } from '../auth/policy.ts';
import type { Prepared } from '../services/fleet.ts';
import type { AppContext, Call } from './context.ts';
import { Refusal } from '../errors.ts';

type BodyOf<N extends EndpointName> = (typeof ENDPOINTS)[N] extends { body: infer B extends z.ZodType }
  ? z.output<B>
  : undefined;
type ParamsOf<N extends EndpointName> = (typeof ENDPOINTS)[N] extends { params: infer P extends z.ZodType }
  ? z.output<P>
  : undefined;
type AnswerOf<N extends EndpointName> = z.input<(typeof ENDPOINTS)[N]['response']>;

export type Handler<N extends EndpointName> = (
  call: Call<BodyOf<N>, ParamsOf<N>>,
  response: Response,
) => Promise<AnswerOf<N> | Prepared>;

/**
 * Mounts one endpoint of the contract: who may call it is checked first, then parameters and body are
 * parsed, then the handler is called.
 */
export function mount<N extends EndpointName>(app: Express, context: AppContext, name: N, handler: Handler<N>): void {
  const endpoint: Endpoint = ENDPOINTS[name];
  const path = endpoint.path.replace(/\{(\w+)\}/g, ':$1');
  app[endpoint.method](path, async (request: Request, response: Response) => {
    const em = context.orm.em.fork();
    const token = tokenOf(request);
    const person = await personOfToken(em, token);
    const actor: Actor | null = person && { id: person.id, name: person.name, role: person.role as Role };
    if (endpoint.who !== 'anyone') {
      if (!actor) throw new Refusal('unauthenticated');
      if (!endpoint.who.includes(actor.role)) {
        throw new Refusal('forbidden', `This is for: ${endpoint.who.join(', ')}.`);
      }
    }
    const params = (endpoint.params ? endpoint.params.parse(request.params) : undefined) as ParamsOf<N>;
    const body = (endpoint.body ? endpoint.body.parse(request.body ?? {}) : undefined) as BodyOf<N>;
    const call: Call<BodyOf<N>, ParamsOf<N>> = {
      body,
      params,
      em,
      context,
      token,
      maybeActor: actor,
      get actor() {
        if (!actor) throw new Refusal('unauthenticated');
        return actor;
      },
    };
    const answer = await handler(call, response);
    if (response.headersSent) return;
    send(request, response, endpoint, answer);
  });
}

function send(request: Request, response: Response, endpoint: Endpoint, answer: unknown): void {
  response.status(endpoint.status);
  response.setHeader('Cache-Control', 'no-cache');
  if (endpoint.status === 204) response.end();
  else if (isPrepared(answer)) {
    response.setHeader('ETag', answer.tag);
    if (request.headers['if-none-match'] === answer.tag) response.status(304).end();
    else if (request.acceptsEncodings('gzip')) {
      response.setHeader('Content-Encoding', 'gzip');
      response.setHeader('Vary', 'Accept-Encoding');
      response.type('application/json').end(answer.compressed);
    } else response.type('application/json').end(answer.prepared);
  } else if (endpoint.contentType) response.type(endpoint.contentType).send(answer);
  else response.json(answer);
}

function isPrepared(answer: unknown): answer is Prepared {
  return typeof answer === 'object' && answer !== null && 'prepared' in answer;
}

function tokenOf(request: Request): string | undefined {
  for (const part of (request.headers.cookie ?? '').split(';')) {
    const [name, value] = part.trim().split('=');
    if (name === SESSION_COOKIE && value) return value;
  }
  return undefined;
}
