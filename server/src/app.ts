import express, { type Express } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { existsSync } from 'node:fs';
import { mountForecasts } from './features/forecasts/index.ts';
import { mountGauges } from './features/gauges/index.ts';
import { mountArchive } from './features/archive/index.ts';
import { mountImports } from './features/imports/index.ts';
import { mountInspections } from './features/inspections/index.ts';
import { mountJobs } from './features/jobs/index.ts';
import { mountPlan } from './features/plan/index.ts';
import { mountParts } from './features/parts/index.ts';
import { DEVICE_COOKIE, isKnownDevice, mountPeople } from './features/people/index.ts';
import { mountRegister } from './features/register/index.ts';
import { mountSpecifications } from './features/specifications/index.ts';
import { mountTelematics } from './features/telematics/index.ts';
import { CONSTRAINTS } from './constraints.ts';
import { serveInterface } from './interface.ts';
import type { Pool } from './platform/compute/pool.ts';
import { ApiError } from './platform/errors.ts';
import type { AppContext } from './platform/http/context.ts';
import { bounded } from './platform/http/bounded.ts';
import { cookieOf } from './platform/http/cookies.ts';
import { sameOriginOnly } from './platform/http/guard.ts';
import { problemHandler, sendProblem } from './platform/http/problem.ts';

/** More requests than this are not worked on at a time. */
const MOST_UNDER_WAY = 100;

/** The whole HTTP application: interface and API. */
export function createApp(context: AppContext & { feedConnected: boolean; pool: Pool }): Express {
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', context.trustProxy);
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          workerSrc: ["'self'"],
          objectSrc: ["'none'"],
          upgradeInsecureRequests: context.secure ? [] : null,
        },
      },
      strictTransportSecurity: context.secure,
    }),
  );
  app.use('/api', bounded(MOST_UNDER_WAY));
  app.use('/api', sameOriginOnly);
  // A password is not guessed by trying.
  const slowed = rateLimit({
    windowMs: 5 * 60_000,
    limit: 20,
    skipSuccessfulRequests: true,
    // By address many are told apart by nothing: a device on which somebody signed in before is not kept out for others.
    skip: (request) => isKnownDevice(context.orm.em.fork(), cookieOf(request, DEVICE_COOKIE)).catch(() => false),
    standardHeaders: 'draft-7',
    legacyHeaders: false,
    handler: (_request, response) => sendProblem(response, 'too_many'),
  });
  app.post(['/api/session', '/api/first-account', '/api/password-resets'], slowed);
  app.put('/api/me/password', slowed);

  mountPeople(app, context);
  mountRegister(app, context);
  mountGauges(app, context);
  mountInspections(app, context);
  mountTelematics(app, context, context.feedConnected);
  mountForecasts(app, context);
  mountSpecifications(app, context);
  mountJobs(app, context);
  mountParts(app, context);
  mountPlan(app, context);
  const long = { ...context, orm: context.longOrm ?? context.orm };
  mountImports(app, long);
  mountArchive(app, long);
  app.use('/api', () => {
    throw new ApiError('not_found');
  });
  if (context.webFolder && existsSync(context.webFolder)) serveInterface(app, context.webFolder);
  app.use(problemHandler(context.logger, CONSTRAINTS));
  return app;
}
