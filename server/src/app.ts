import express, { type Express, type RequestHandler } from 'express';
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

const MB = 1024 * 1024;
/** A file comes as base64, a third longer, with room for the rest of the request. */
const FILE_BODY = { bytes: 16 * MB, field: 'file', megabytes: 10 };
const PHOTO_BODY = { bytes: 2.5 * MB, field: 'jpegBase64', megabytes: 1.5 };
const ANY_BODY = { bytes: MB, field: 'body', megabytes: 1 };

/** More requests than this are not worked on at a time. */
const MOST_UNDER_WAY = 100;

/** Reads a JSON body of some size; what is larger is refused with what would be accepted. */
function json({ bytes, ...accepted }: typeof ANY_BODY): RequestHandler[] {
  const tell: RequestHandler = (_request, response, next) => {
    response.locals.accepted = accepted;
    next();
  };
  return [tell, express.json({ limit: bytes })];
}

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
  app.use(['/api/imports', '/api/library/imports'], json(FILE_BODY));
  app.use(['/api/photos', '/api/job-photos'], json(PHOTO_BODY));
  app.use('/api', json(ANY_BODY));

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
  mountImports(app, context);
  mountArchive(app, context);
  app.use('/api', () => {
    throw new ApiError('not_found');
  });
  if (context.webFolder && existsSync(context.webFolder)) serveInterface(app, context.webFolder);
  app.use(problemHandler(context.logger, CONSTRAINTS));
  return app;
}
