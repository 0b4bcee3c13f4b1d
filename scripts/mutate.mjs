/**
 * npm run mutate -- core|contract|server [count] [seed] [under]
 *
 * Plants faults one at a time and looks whether the nearest tests notice. Faults are made from the syntax, by pattern: a
 * comparison flipped or moved by its edge, a term added instead of taken away, a condition that always or never holds, a
 * call left out, a figure changed. Which of them are planted is drawn by a seed, so the list is the same each time; `under` keeps them to a folder, such as core/src/inspect.
 * Prints each fault nobody noticed, then a JSON line with the score. Run it in a checkout nobody else works in.
 */
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { startCluster } from './lib/postgres.mjs';
import { giveUp } from './lib/say.mjs';
import { ensureLocal, LOCAL, ROOT } from './lib/setup.mjs';

const [floor = 'core', count = '60', seed = '1', under = ''] = process.argv.slice(2);
/** Where faults are planted, and which tests are nearest to a file. */
const FLOORS = {
  core: { from: 'core/src', tests: (file) => [path.dirname(file), 'core/src/properties.test.ts'] },
  contract: { from: 'contract/src', tests: () => ['contract/src'] },
  server: { from: 'server/src', tests: nearestOfServer },
};
const { from, tests } = FLOORS[floor];

/** Tests of a room that stand in another: what a whole fleet teaches is held against the demo's truth. */
const ALSO = {
  'features/forecasts': ['server/src/demo/fill.test.ts', 'server/src/features/register/duties.test.ts'],
  'features/gauges': ['server/src/demo/fill.test.ts'],
  'features/people': ['server/src/features/register/register.test.ts'],
  'features/telematics': ['server/src/demo/feed.test.ts'],
  'features/parts': ['partsKits', 'partsKitChanges', 'partsOrders', 'partsSheets', 'partsStock'].map(
    (name) => `server/src/testing/${name}.test.ts`,
  ),
  'features/archive': ['server/src/testing/archive.test.ts'],
  'features/plan': ['plan', 'planHours', 'planLend', 'planLocks', 'planWatch', 'planWays'].map(
    (name) => `server/src/testing/${name}.test.ts`,
  ),
  'platform/documents': ['server/src/features/imports/imports.test.ts'],
};

function nearestOfServer(file) {
  const room = /^server\/src\/((features|platform)\/\w+)/.exec(file)?.[1];
  const own = room ? [`server/src/${room}`, ...(ALSO[room] ?? [])] : [path.dirname(file), 'server/src/app.test.ts'];
  // A room whose tests of the whole application have its name needs no others.
  return own.some((one) => one.startsWith('server/src/testing/')) ? own : [...own, 'server/src/testing'];
}

const EDGES = {
  '<': '<=',
  '<=': '<',
  '>': '>=',
  '>=': '>',
  '===': '!==',
  '!==': '===',
  '+': '-',
  '-': '+',
  '*': '/',
  '/': '*',
  '&&': '||',
  '||': '&&',
};
const isFigure = (node) => ts.isNumericLiteral(node) && !ts.isElementAccessExpression(node.parent);

/** Every fault of a file: where it stands, what stands there, what is put instead. */
function faultsOf(file) {
  const text = readFileSync(path.join(ROOT, file), 'utf8');
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
  const faults = [];
  const put = (node, instead, kind) => {
    const { line } = source.getLineAndCharacterOfPosition(node.getStart());
    faults.push({ file, line: line + 1, start: node.getStart(), end: node.getEnd(), instead, kind });
  };
  const visit = (node) => {
    if (ts.isTypeNode(node) || ts.isInterfaceDeclaration(node) || ts.isImportDeclaration(node)) return;
    if (ts.isBinaryExpression(node)) {
      const other = EDGES[node.operatorToken.getText()];
      const joinsText = [node.left, node.right].some(
        (side) => ts.isStringLiteralLike(side) || ts.isTemplateExpression(side),
      );
      if (other && !joinsText) put(node.operatorToken, other, 'operator');
    }
    if (ts.isIfStatement(node))
      for (const always of ['true', 'false']) put(node.expression, always, `always ${always}`);
    if (ts.isConditionalExpression(node)) put(node.condition, `!(${node.condition.getText()})`, 'condition turned');
    if (ts.isExpressionStatement(node) && /^(await )?[\w.]+\(/.test(node.getText())) put(node, ';', 'call left out');
    if (isFigure(node) && Number(node.text) > 1) put(node, String(Number(node.text) * 2 + 1), 'figure changed');
    if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, 'false', 'turned');
    if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, 'true', 'turned');
    ts.forEachChild(node, visit);
  };
  visit(source);
  return faults;
}

/** A repeatable draw (Park and Miller's minimal standard generator, Communications of the ACM 31, 1988). */
function draws(start) {
  let state = start;
  return () => (state = (state * 48_271) % 2_147_483_647) / 2_147_483_647;
}

const files = readdirSync(path.join(ROOT, from), { recursive: true, encoding: 'utf8' })
  .map((name) => path.posix.join(from, name))
  .filter(
    (name) =>
      name.startsWith(under) &&
      name.endsWith('.ts') &&
      !/\.test\.ts$|\/index\.ts$|\.d\.ts$|\/(testing|bench|demo|migrations)\//.test(name),
  )
  .sort();
const all = files.flatMap(faultsOf);
const draw = draws(Number(seed));
const chosen = Array.from(
  { length: Math.min(Number(count), all.length) },
  () => all.splice(Math.floor(draw() * all.length), 1)[0],
);

/** Runs test files; true where all passed. A run that does not end counts as one that failed: a test would hang too. */
function passes(files, extra = [], timeout = 600_000) {
  if (files.length === 0) return true;
  const run = spawnSync(
    path.join(ROOT, 'node_modules/.bin/jest'),
    ['--selectProjects', floor, '--silent', '--forceExit', ...extra, ...files],
    {
      cwd: ROOT,
      stdio: 'ignore',
      timeout,
      env: { ...process.env, ...database, TEST_TIMEOUT_MS: '30000' },
    },
  );
  return run.status === 0;
}

/** The test files that a file's nearest ones resolve to, in two groups: the quick ones are asked first. */
function nearest(file) {
  const under = tests(file);
  const found = timed.filter(({ name }) => under.some((part) => name === part || name.startsWith(`${part}/`)));
  const quick = found.filter(({ seconds }) => seconds < 6).map(({ name }) => name);
  return [quick, found.map(({ name }) => name).filter((name) => !quick.includes(name))];
}

/** Where a fault goes unnoticed because the tests themselves fail, the score would be a lie: they must pass before. */
function time() {
  const report = path.join(LOCAL, `mutate-${floor}.json`);
  const parts = [...new Set(chosen.flatMap(({ file }) => tests(file)))];
  if (!passes(parts, ['--json', '--outputFile', report], 1_200_000))
    giveUp(`The tests of ${floor} fail before any fault is planted.`);
  return JSON.parse(readFileSync(report, 'utf8')).testResults.map(({ name, startTime, endTime }) => ({
    name: path.relative(ROOT, name),
    seconds: (endTime - startTime) / 1000,
  }));
}

ensureLocal();
const cluster = floor === 'server' ? await startCluster('mutate-pg', { throwaway: true }) : undefined;
const database = cluster ? { TEST_DATABASE_URL: cluster.url('postgres') } : {};
const timed = time();
let noticed = 0;
const begun = Date.now();
for (const { file, line, start, end, instead, kind } of chosen) {
  const where = path.join(ROOT, file);
  const before = readFileSync(where, 'utf8');
  const there = before.slice(start, end);
  writeFileSync(where, before.slice(0, start) + instead + before.slice(end));
  let failed;
  try {
    failed = nearest(file).some((group) => !passes(group, ['--bail']));
  } finally {
    writeFileSync(where, before);
  }
  if (failed) noticed += 1;
  else
    process.stdout.write(
      `not noticed: ${file}:${line} ${kind}: ${there.replace(/\s+/g, ' ').slice(0, 80)} → ${instead}\n`,
    );
}
cluster?.stop();
const seconds = Math.round((Date.now() - begun) / 1000);
process.stdout.write(
  `${JSON.stringify({ name: `faults noticed, ${floor}`, value: noticed, of: chosen.length, seconds })}\n`,
);
