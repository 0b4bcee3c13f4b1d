import type { Logger } from 'pino';
import type { Answers } from '../answers/answers.ts';
import type { Actor } from '../auth/policy.ts';
import type { Reach } from '../auth/reach.ts';
import type { Command } from '../command/command.ts';
import type { EntityManager, Orm } from '../db/orm.ts';
import type { EventBus } from '../events/bus.ts';
import type { Jobs } from '../jobs/registry.ts';

/** What the application is wired from; made once in main (and in tests). */
export interface AppContext {
  orm: Orm;
  /** Connections for requests that are long work; those of all others where there are none of their own. */
  longOrm?: Orm | undefined;
  logger: Logger;
  events: EventBus;
  /** Answers as they were last made. */
  answers: Answers;
  jobs: Pick<Jobs, 'ask' | 'state'>;
  /** Who stands behind a session's token; null where nobody does. */
  actorOf: (em: EntityManager, token: string | undefined) => Promise<Actor | null>;
  /** How far somebody reaches; undefined where nothing is kept from them. */
  reachOf: (em: EntityManager, actor: Actor) => Promise<Reach | undefined>;
  /** Name of the cookie that carries the token. */
  sessionCookie: string;
  /** Today's date, fixed or the clock's. */
  today: () => string;
  demo: boolean;
  /** How many proxies before it say truly whom they speak for. */
  trustProxy: number;
  /** Cookies only over TLS. */
  secure: boolean;
  webFolder: string | undefined;
  version: string;
  /** A word for what was built: another one may say other things of the same record. */
  build: string;
}

/** What a handler gets: parsed input, who calls, and an entity manager of its own. */
export interface Call<Body, Params, Query = undefined> {
  body: Body;
  params: Params;
  query: Query;
  em: EntityManager;
  context: AppContext;
  token: string | undefined;
  /** How what the answer rests on stands, where that is known before it is known who asks. */
  stands?: Promise<string> | undefined;
  /** Who calls; throws where nobody is signed in. */
  actor: Actor;
  /** How far they reach, where they are limited: what is told otherwise than as JSON is cut by it in its handler. */
  reach: Reach | undefined;
  /** Runs a command for the caller; whoever subscribed to what it did has been told when it answers. */
  run: <Input, Output>(command: Command<Input, Output>, input: Input) => Promise<Output>;
}
