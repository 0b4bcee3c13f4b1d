/**
 * npm run glossary
 *
 * Writes docs/glossary.md from the texts with which the interface explains its terms; a test holds the two equal.
 */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { ensureBuilt } from './lib/build.mjs';
import { ensureModules, ROOT } from './lib/setup.mjs';

ensureModules();
await ensureBuilt();
const { glossaryMarkdown } = await import('@mile-mark/contract/words');
writeFileSync(path.join(ROOT, 'docs/glossary.md'), glossaryMarkdown());
