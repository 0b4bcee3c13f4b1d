import { randomBytes } from 'node:crypto';
import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './support/chromium.mjs';

/** Names what the workers of one run share on their database cluster. */
process.env.TEST_RUN ??= randomBytes(4).toString('hex');

export default defineConfig({
  testDir: './tests',
  globalTeardown: '../server/src/testing/dropTemplates.mjs',
  // Builders' machines stall: what is broken fails all the same, only later.
  timeout: 240_000,
  expect: { timeout: 40_000 },
  workers: 2,
  // A machine that stalls may fail a test that waits for it: once more, with an application anew. `npm test` names it.
  retries: 1,
  forbidOnly: true,
  outputDir: '../test-results',
  reporter: [['line'], ['json']],
  use: {
    actionTimeout: 60_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: CHROMIUM,
    // What moves by itself is painted by the processor here: half of what a walk takes.
    contextOptions: { reducedMotion: 'reduce' },
    screenshot: 'only-on-failure',
  },
});
