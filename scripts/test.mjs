/**
 * npm test: sets up what is missing, then type check, lint, unit tests, server tests against a real PostgreSQL
 * and interface tests in Chromium. Closes with a line `N passed, N failed`.
 *
 *   npm test -- types|lint|unit|server|e2e    one part only
 */
import { spawn } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import path from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { checkNode, ensureLocal, ensureModules, ensurePackages, LOCAL, ROOT } from './lib/setup.mjs';
import { say } from './lib/say.mjs';

checkNode();
ensureLocal();
const only = process.argv.slice(2).filter((name) => !name.startsWith('-'));
const wanted = (name) => only.length === 0 || only.includes(name);
ensurePackages(['postgresql', 'chromium']);
ensureModules();
const { ensureBuilt } = await import('./lib/build.mjs');
const { startCluster } = await import('./lib/postgres.mjs');

const totals = { passed: 0, failed: 0 };
/** What failed, and how: repeated at the end, where who reads only that finds it. */
const faults = [];
const bin = (name) => path.join(ROOT, 'node_modules/.bin', name);

function run(name, command, args, env = {}) {
  return new Promise((resolve) => {
    say(`\n── ${name}`);
    const started = Date.now();
    const child = spawn(command, args, {
      cwd: ROOT,
      stdio: ['ignore', 'inherit', 'inherit'],
      env: { ...process.env, ...env },
    });
    child.on('exit', (code) => {
      say(`── ${name}: ${code === 0 ? 'passed' : 'FAILED'} in ${Math.round((Date.now() - started) / 1000)} s`);
      resolve(code ?? 1);
    });
  });
}

/** A check without tests of its own counts as one. */
async function check(name, command, args) {
  const code = await run(name, command, args);
  totals[code === 0 ? 'passed' : 'failed'] += 1;
}

/** Adds what a runner's report says; a run without a report, or one that failed without a failed test, is a failure. */
function count(report, code, read) {
  if (!existsSync(report)) {
    totals.failed += 1;
    return;
  }
  const { passed, failed } = read(JSON.parse(readFileSync(report, 'utf8')));
  totals.passed += passed;
  totals.failed += failed;
  if (code !== 0 && failed === 0) totals.failed += 1;
}

async function jest(projects, env = {}) {
  const name = projects.join(', ');
  const report = path.join(LOCAL, `jest-${projects[0]}.json`);
  rmSync(report, { force: true });
  const code = await run(
    `${name} tests`,
    bin('jest'),
    ['--selectProjects', ...projects, '--json', '--outputFile', report, '--silent'],
    env,
  );
  count(report, code, ({ numPassedTests, numFailedTests, numFailedTestSuites, testResults }) => {
    for (const { name: file, status, message } of testResults)
      if (status === 'failed') faults.push({ title: path.relative(ROOT, file), error: message });
    return { passed: numPassedTests, failed: Math.max(numFailedTests, numFailedTestSuites) };
  });
}

/** Interface tests that failed at a try, with how: also one that passed at the second is a fault to look into. */
function failedTries(suites) {
  return suites.flatMap(({ specs = [], suites: inner = [] }) => [
    ...specs.flatMap(({ title, tests }) =>
      tests.flatMap(({ status, results }) =>
        results
          .filter((result) => result.error !== undefined)
          .map(({ error }) => ({
            title: status === 'flaky' ? `passed at the second try only: ${title}` : title,
            error: `${error.message ?? ''}\n${error.snippet ?? ''}`,
          })),
      ),
    ),
    ...failedTries(inner),
  ]);
}

// Two at a time, as a machine that builds has two cores: ESLint takes as long as all the others.
await Promise.all([
  wanted('lint') && check('eslint', bin('eslint'), ['.', '--max-warnings', '0']),
  (async () => {
    if (wanted('types')) await check('types', bin('tsc'), ['-b']);
    if (!wanted('lint')) return;
    await check('prettier', bin('prettier'), ['--check', '--log-level', 'warn', '.']);
    await check('knip', bin('knip'), []);
  })(),
]);
if (wanted('unit')) await jest(['core', 'contract', 'standins', 'web']);
if (wanted('server') || wanted('e2e')) {
  const cluster = await startCluster('test-pg', { throwaway: true });
  const env = { TEST_DATABASE_URL: cluster.url('postgres') };
  try {
    if (wanted('server')) await jest(['server'], env);
    if (wanted('e2e')) {
      await ensureBuilt();
      const report = path.join(LOCAL, 'playwright.json');
      rmSync(report, { force: true });
      const code = await run('interface tests', bin('playwright'), ['test', '--config', 'e2e/playwright.config.ts'], {
        ...env,
        PLAYWRIGHT_JSON_OUTPUT_FILE: report,
      });
      count(report, code, ({ stats, suites }) => {
        faults.push(...failedTries(suites));
        return { passed: stats.expected + stats.flaky, failed: stats.unexpected };
      });
    }
  } finally {
    cluster.stop();
  }
}
for (const { title, error } of faults)
  say(`\n✗ ${title}\n${stripVTControlCharacters(error).trim().split('\n').slice(0, 30).join('\n')}`);
say(`\n${totals.passed} passed, ${totals.failed} failed`);
process.exit(totals.failed === 0 ? 0 : 1);
