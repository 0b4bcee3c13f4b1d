import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { LOCAL, ROOT } from './setup.mjs';
import { giveUp, say } from './say.mjs';

const SOURCES = [
  'core/src',
  'contract/src',
  'standins/src',
  'server/src',
  'web',
  'tsconfig.base.json',
  'package-lock.json',
];
const IGNORED = new Set(['node_modules', 'dist', 'dist-types', 'dist-test']);

/** Builds server and interface where their sources changed since the last build. */
export async function ensureBuilt() {
  const stamp = path.join(LOCAL, 'built');
  const now = fingerprint();
  const there = ['server/dist/main.js', 'web/dist/index.html'].every((file) => existsSync(path.join(ROOT, file)));
  if (there && existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  say('Building …');
  const results = await Promise.all([
    run(['tsc', '-b', 'core', 'contract', 'server']),
    run(['vite', 'build', '--logLevel', 'warn'], path.join(ROOT, 'web')),
  ]);
  if (results.some((code) => code !== 0)) giveUp('The build failed; see above.');
  // Which build it is: what devices keep is of one, and told anew by another.
  writeFileSync(path.join(ROOT, 'server/dist/build.txt'), now);
  writeFileSync(stamp, now);
}

function fingerprint() {
  const hash = createHash('sha256');
  const visit = (file) => {
    const stat = statSync(file);
    if (!stat.isDirectory()) {
      hash.update(`${path.relative(ROOT, file)}\n`).update(readFileSync(file));
      return;
    }
    for (const name of readdirSync(file).sort())
      if (!IGNORED.has(name) && !name.endsWith('.test.ts')) visit(path.join(file, name));
  };
  for (const source of SOURCES) visit(path.join(ROOT, source));
  return hash.digest('hex');
}

function run([command, ...args], cwd = ROOT) {
  return new Promise((resolve) => {
    const child = spawn(path.join(ROOT, 'node_modules/.bin', command), args, {
      cwd,
      stdio: ['ignore', 'inherit', 'inherit'],
    });
    child.on('exit', (code) => resolve(code ?? 1));
  });
}
