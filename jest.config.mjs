import { randomBytes } from 'node:crypto';

/** Names what the tests of one run share on their database cluster; whoever runs them in processes of their own hands it on. */
process.env.TEST_RUN ??= randomBytes(4).toString('hex');

/** Jest runs the TypeScript sources as ES modules; the packages of this repository resolve to their sources. */
const project = (name, extra = {}) => ({
  displayName: name,
  rootDir: `${import.meta.dirname}/${name}`,
  testMatch: ['<rootDir>/src/**/*.test.ts'],
  testEnvironment: 'node',
  testEnvironmentOptions: { customExportConditions: ['source', 'node', 'node-addons'] },
  extensionsToTreatAsEsm: ['.ts'],
  transform: {
    '^.+\\.ts$': [
      '@swc/jest',
      { jsc: { parser: { syntax: 'typescript' }, target: 'es2022' }, module: { type: 'es6' } },
    ],
  },
  ...extra,
});

export default {
  projects: [
    ...['core', 'contract', 'standins', 'web'].map((name) => project(name)),
    project('server', { globalTeardown: `${import.meta.dirname}/server/src/testing/dropTemplates.mjs` }),
  ],
  testTimeout: 60_000,
  maxWorkers: 2,
};
