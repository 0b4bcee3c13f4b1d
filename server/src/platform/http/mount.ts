import { randomUUID } from 'node:crypto';
import type { Express, Request, Response } from 'express';
import type { Logger } from 'pino';
import { z } from 'zod';
import { callersOf, ENDPOINTS, type Endpoint, type EndpointName } from '@mile-mark/contract';
import type { KeptHandler } from '../answers/kept.ts';
import type { Actor } from '../auth/policy.ts';
import { outside, refuseOutside, within, type Reach } from '../auth/reach.ts';
import type { EntityManager } from '../db/orm.ts';
import { ApiError } from '../errors.ts';
import { readBody } from './body.ts';
import type { AppContext, Call } from './context.ts';
import { cookieOf } from './cookies.ts';
import { prepareAnswer, type Prepared } from './prepared.ts';
import { readable, refuseUnreadable } from './text.ts';

type BodyOf<N extends EndpointName> = (typeof ENDPOINTS)[N] extends { body: infer B extends z.ZodType }
  ? z.output<B>
  : undefined;
type ParamsOf<N extends EndpointName> = (typeof ENDPOINTS)[N] extends { params: infer P extends z.ZodType }
  ? z.output<P>
  : undefined;
type QueryOf<N extends EndpointName> = (typeof ENDPOINTS)[N] extends { query: infer Q extends z.ZodType }
  ? z.output<Q>
  : undefined;
type AnswerOf<N extends EndpointName> = z.input<(typeof ENDPOINTS)[N]['response']>;

type Handler<N extends EndpointName> = ((
  call: Call<BodyOf<N>, ParamsOf<N>, QueryOf<N>>,
  response: Response,
) => Promise<AnswerOf<N> | Prepared>) &
  Partial<Pick<KeptHandler<BodyOf<N>, ParamsOf<N>, QueryOf<N>>, 'rests'>>;

/**
 * Mounts one endpoint of the contract: who may call it is checked first, then the body is read, parameters, query
 * and body are parsed, and the handler is called.
 */
export function mount<N extends EndpointName>(app: Express, context: AppContext, name: N, handler: Handler<N>): void {
  const endpoint: Endpoint = ENDPOINTS[name];
  const path = endpoint.path.replace(/\{(\w+)\}/g, ':$1');
  app[endpoint.method](path, async (request: Request, response: Response) => {
    const told = tellOf(request, response, { endpoint, logger: context.logger });
    const em = context.orm.em.fork();
    const token = cookieOf(request, context.sessionCookie);
    // Asked with who calls, as one question; what is not to be read is refused below.
    const stands = token ? standsFor(em, endpoint, handler, request) : undefined;
    // Where anyone may call, nobody is looked for: such a route answers also while the database is away.
    const actor = callersOf(endpoint) ? await context.actorOf(em, token) : null;
    told.person = actor?.id;
    refuseCaller(endpoint, actor);
    const reach = actor ? await context.reachOf(em, actor) : undefined;
    const sent = endpoint.body ? await readBody(request, response, endpoint.room ?? 'form') : undefined;
    refuseUnreadable(request.params, request.query, sent);
    const params = (endpoint.params ? endpoint.params.parse(request.params) : undefined) as ParamsOf<N>;
    const body = (endpoint.body ? endpoint.body.parse(sent ?? {}) : undefined) as BodyOf<N>;
    const query = (endpoint.query ? endpoint.query.parse(request.query) : undefined) as QueryOf<N>;
    if (reach) await refuseWhatIsOutside(em, reach, endpoint, { body, params, query });
    const answer = await handler(callOf(context, em, token, actor, { body, params, query, reach, stands }), response);
    if (response.headersSent) return;
    send(request, response, endpoint, reach ? await cutTo(reach, answer) : answer);
  });
}

/** How what a kept answer rests on stands; undefined where the answer is not kept, or its path is not to be read. */
function standsFor<N extends EndpointName>(
  em: EntityManager,
  endpoint: Endpoint,
  handler: Handler<N>,
  request: Request,
): Promise<string> | undefined {
  if (!handler.rests) return undefined;
  const params = endpoint.params?.safeParse(request.params);
  if (params?.success === false || !readable(request.params)) return undefined;
  const stands = handler.rests(params?.data as ParamsOf<N>).stands(em);
  // Who may not call never asks how it went.
  stands.catch(() => undefined);
  return stands;
}

/** Writes down, when a request is answered, what was asked for by its route and how it went. */
function tellOf(
  request: Request,
  response: Response,
  { endpoint, logger }: { endpoint: Endpoint; logger: Logger },
): { person?: string | undefined } {
  const told: { person?: string | undefined } = {};
  const [id, begun] = [randomUUID(), performance.now()];
  response.setHeader('X-Request-Id', id);
  response.on('finish', () => {
    const { statusCode: status } = response;
    const level = status >= 500 ? 'error' : request.method === 'GET' ? 'debug' : 'info';
    const ms = Math.round(performance.now() - begun);
    logger[level]({ request: id, method: endpoint.method, route: endpoint.path, status, ms, ...told }, 'answered');
  });
  return told;
}

function refuseCaller(endpoint: Endpoint, actor: Actor | null): void {
  const callers = callersOf(endpoint);
  if (!callers) return;
  if (!actor) throw new ApiError('unauthenticated');
  if (!callers.includes(actor.role)) throw new ApiError('forbidden', `This is for: ${callers.join(', ')}.`);
}

/** Refuses what names, in its path, its query or its body, something that is out of the caller's reach. */
async function refuseWhatIsOutside(
  em: EntityManager,
  reach: Reach,
  { about, contentType, query: knows }: Endpoint,
  sent: { body: unknown; params: unknown; query: unknown },
): Promise<void> {
  refuseOutside(reach, sent.params);
  refuseOutside(reach, sent.query);
  refuseOutside(reach, sent.body);
  const { id } = (sent.params ?? {}) as { id?: string };
  if (about && id !== undefined && !(await reach.holds(em, `${about}/${id}`))) throw outside(reach);
  // A paper of everything can't be cut to what is theirs: a part of it is asked for.
  const shape = contentType && knows instanceof z.ZodObject ? knows.shape : {};
  const open = reach.names.find(({ key }) => key in shape && !(sent.query as Record<string, unknown>)[key]);
  if (open) throw outside(reach, open.key);
}

/** An answer cut to what is within reach; a prepared one is made anew under a tag of its own. */
async function cutTo(reach: Reach, answer: unknown): Promise<unknown> {
  if (isPrepared(answer)) return prepareAnswer(await cutTo(reach, JSON.parse(answer.prepared)));
  const left = within(answer, reach);
  if (left === undefined && answer !== undefined) throw outside(reach);
  return left;
}

function callOf<Body, Params, Query>(
  context: AppContext,
  em: Call<Body, Params, Query>['em'],
  token: string | undefined,
  maybeActor: Actor | null,
  input: {
    body: Body;
    params: Params;
    query: Query;
    reach: Reach | undefined;
    stands: Promise<string> | undefined;
  },
): Call<Body, Params, Query> {
  const actor = () => {
    if (!maybeActor) throw new ApiError('unauthenticated');
    return maybeActor;
  };
  return {
    ...input,
    em,
    context,
    token,
    get actor() {
      return actor();
    },
    run: async (command, content) => {
      const { events, today } = context;
      const output = await command.run({ em, actor: actor(), today: today(), events, reach: input.reach }, content);
      // What was written stands, whether or not everybody could be told at once; the sweep tells the rest.
      await events.deliver().catch((error: unknown) => context.logger.error({ err: error }, 'telling of events'));
      return output;
    },
  };
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
