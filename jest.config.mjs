import { randomBytes } from 'node:crypto';
import { fileURLToPath } from 'node:url';

/** Names what the tests of one run share on their database cluster; whoever runs them in processes of their own hands it on. */
process.env.TEST_RUN ??= randomBytes(4).toString('hex');
const LOADED = `--import ${new URL('testing/modules.mjs', import.meta.url).href}`;
const options = process.env.NODE_OPTIONS ?? '';
/** Told to the processes that run the tests. */
if (!options.includes(LOADED)) process.env.NODE_OPTIONS = `${options} --no-warnings ${LOADED}`.trim();

const at = (file) => fileURLToPath(new URL(file, import.meta.url));

/**
 * Tests run in two processes that keep what they have loaded: a file's own copy of every module would take longer than its
 * tests. What a file leaves behind in a module, the next one meets.
 */
const project = (name, extra = {}) => ({
  displayName: name,
  rootDir: at(name),
  testMatch: ['<rootDir>/src/**/*.test.ts'],
  runner: at('testing/runner.mjs'),
  setupFilesAfterEnv: [at('testing/timeouts.mjs')],
  extensionsToTreatAsEsm: ['.ts'],
  transform: {},
  ...extra,
});

export default {
  projects: [
    ...['core', 'contract', 'standins', 'web'].map((name) => project(name)),
    project('server', { globalTeardown: at('server/src/testing/dropTemplates.mjs') }),
  ],
  maxWorkers: 2,
};
