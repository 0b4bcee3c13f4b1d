/**
 * npm run openapi
 *
 * Writes docs/openapi.json, the description of the API that other tools are built on. A test holds the code against it,
 * so that nothing of what a route accepts, answers or allows changes without somebody reading the difference.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { ensureBuilt } from './lib/build.mjs';
import { ensureModules, ROOT } from './lib/setup.mjs';

ensureModules();
await ensureBuilt();
const { openApiDocument } = await import('@mile-mark/contract/openapi');
const { version } = JSON.parse(readFileSync(path.join(ROOT, 'package.json'), 'utf8'));
writeFileSync(path.join(ROOT, 'docs/openapi.json'), `${JSON.stringify(openApiDocument(version), null, 1)}\n`);
