import type { Logger } from 'pino';
import type { Actor } from '../auth/policy.ts';
import type { Orm, EntityManager } from '../db/orm.ts';
import type { RefreshQueue } from '../jobs/queue.ts';

/** What the application is wired from; made once in main (and in tests). */
export interface AppContext {
  orm: Orm;
  logger: Logger;
  queue: RefreshQueue;
  /** Today's date, fixed or the clock's. */
  today: () => string;
  demo: boolean;
  /** Whether a telematics feed is configured. */
  feedConnected: boolean;
  /** Cookies only over TLS. */
  secure: boolean;
  webFolder: string | undefined;
  version: string;
}

/** What a handler gets: parsed input, who calls, and an entity manager of its own. */
export interface Call<Body, Params> {
  body: Body;
  params: Params;
  em: EntityManager;
  context: AppContext;
  token: string | undefined;
  /** Who calls; throws where nobody is signed in. */
  actor: Actor;
  maybeActor: Actor | null;
}
