import type { Express } from 'express';
import pressedStatic from 'express-static-gzip';
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { ROUTES } from '@mile-mark/contract/routes';
import { z } from 'zod';
import { SESSION_COOKIE } from './features/people/index.ts';

/** The build's list of its files: what each is made of, and what it loads. */
const Manifest = z.record(
  z.string(),
  z.object({ file: z.string(), imports: z.array(z.string()).optional(), css: z.array(z.string()).optional() }),
);
type Manifest = z.infer<typeof Manifest>;

/** What a page will ask for before it shows anything: the screen's code and what the API is asked first. */
const STARTS: Readonly<Record<string, { screen: string; asks: readonly string[] }>> = {
  '/': {
    screen: 'src/screens/forecasts/ahead/Ahead.tsx',
    asks: [ROUTES.sessionState.path, ROUTES.mileMarks.path],
  },
  '/measure': {
    screen: 'src/screens/inspections/measure/Measure.tsx',
    // The vehicles are on the device already, but for what changed since.
    asks: [ROUTES.sessionState.path],
  },
};

/** Serves the interface as it was built; every path that is no file is a page of it. */
export function serveInterface(app: Express, folder: string): void {
  const heads = headsOf(manifestOf(folder));
  // The build pressed its files; brotli is the smaller form of those that a browser takes.
  const pressed = { index: false, enableBrotli: true, orderPreference: ['br'] };
  const kept = { immutable: true, maxAge: '1y', fallthrough: false };
  app.use('/assets', pressedStatic(path.join(folder, 'assets'), { ...pressed, serveStatic: kept }));
  app.use(pressedStatic(folder, pressed));
  app.get('/{*any}', (request, response) => {
    response.setHeader('Cache-Control', 'no-cache');
    const head = heads.get(request.path);
    if (head && request.headers.cookie?.includes(`${SESSION_COOKIE}=`)) response.setHeader('Link', head);
    response.sendFile(path.join(folder, 'index.html'));
  });
}

function manifestOf(folder: string): Manifest {
  const file = path.join(folder, '.vite', 'manifest.json');
  return existsSync(file) ? Manifest.parse(JSON.parse(readFileSync(file, 'utf8'))) : {};
}

/**
 * What the answer with a page tells the browser to fetch beside it, so that neither the screen's code nor the first
 * answers wait until the code before them is there and has run. A `Link` header a path (RFC 8288).
 */
function headsOf(manifest: Manifest): ReadonlyMap<string, string> {
  return new Map(
    Object.entries(STARTS).map(([address, { screen, asks }]) => [
      address,
      [
        ...asks.map((ask) => `<${ask}>; rel=preload; as=fetch; crossorigin=anonymous`),
        ...chunksOf(manifest, screen).map((file) => `</${file}>; rel=modulepreload`),
      ].join(', '),
    ]),
  );
}

/** The files of a screen's code: its own and all it loads with it. */
function chunksOf(manifest: Manifest, screen: string): string[] {
  const found = new Set<string>();
  const visit = (key: string) => {
    const chunk = manifest[key];
    if (!chunk || found.has(chunk.file)) return;
    found.add(chunk.file);
    chunk.imports?.forEach(visit);
  };
  visit(screen);
  return [...found];
}
