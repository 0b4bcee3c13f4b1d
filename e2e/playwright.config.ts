import { randomBytes } from 'node:crypto';
import { defineConfig } from '@playwright/test';
import { CHROMIUM } from './support/chromium.mjs';

/** Names what the workers of one run share on their database cluster. */
process.env.TEST_RUN ??= randomBytes(4).toString('hex');

export default defineConfig({
  testDir: './tests',
  globalTeardown: '../server/src/testing/dropTemplates.mjs',
  timeout: 120_000,
  expect: { timeout: 20_000 },
  workers: 2,
  // A machine that stalls may fail a test that waits for it: once more, with an application anew. `npm test` names it.
  retries: 1,
  forbidOnly: true,
  outputDir: '../test-results',
  reporter: [['line'], ['json']],
  use: {
    actionTimeout: 30_000,
    viewport: { width: 1280, height: 800 },
    launchOptions: CHROMIUM,
    screenshot: 'only-on-failure',
  },
});
