import express, { type Express } from 'express';
import { rateLimit } from 'express-rate-limit';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { mountCapture } from '../routes/capture.ts';
import { mountFleet } from '../routes/fleet.ts';
import { mountImports } from '../routes/imports.ts';
import { mountPeople } from '../routes/people.ts';
import { mountReadings } from '../routes/readings.ts';
import { mountRegister } from '../routes/register.ts';
import { mountSpecifications } from '../routes/specifications.ts';
import type { AppContext } from './context.ts';
import { Refusal } from '../errors.ts';
import { sameOriginOnly } from './guard.ts';
import { problemHandler, sendProblem } from './problem.ts';

/** Base64 of the largest file an import takes, with room for the rest of the request. */
const IMPORT_BODY_BYTES = 16 * 1024 * 1024;

/** Base64 of the largest photo, with room for the rest of the request. */
const PHOTO_BODY_BYTES = 2.5 * 1024 * 1024;

/** The whole HTTP application: interface and API. */
export function createApp(context: AppContext): Express {
  const app = express();
  app.disable('x-powered-by');
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
  app.use(pinoHttp({ logger: context.logger, autoLogging: false }));
  app.use('/api', sameOriginOnly);
  app.post(
    ['/api/session', '/api/first-account'],
    rateLimit({
      windowMs: 5 * 60_000,
      limit: 20,
      skipSuccessfulRequests: true,
      standardHeaders: 'draft-7',
      legacyHeaders: false,
      handler: (_request, response) => sendProblem(response, 'too_many'),
    }),
  );
  app.use('/api/imports', express.json({ limit: IMPORT_BODY_BYTES }));
  app.use('/api/library/imports', express.json({ limit: IMPORT_BODY_BYTES }));
  app.use('/api/photos', express.json({ limit: PHOTO_BODY_BYTES }));
  app.use('/api', express.json({ limit: 1024 * 1024 }));

  mountPeople(app, context);
  mountRegister(app, context);
  mountSpecifications(app, context);
  mountFleet(app, context);
  mountReadings(app, context);
  mountCapture(app, context);
  mountImports(app, context);
  app.use('/api', () => {
    throw new Refusal('not_found');
  });
  if (context.webFolder && existsSync(context.webFolder)) serveInterface(app, context.webFolder);
  app.use(problemHandler(context.logger));
  return app;
}

function serveInterface(app: Express, folder: string): void {
  app.use(
    '/assets',
    express.static(path.join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }),
  );
  app.use(express.static(folder, { index: false }));
  app.get('/{*any}', (_request, response) => {
    response.setHeader('Cache-Control', 'no-cache');
    response.sendFile(path.join(folder, 'index.html'));
  });
}
