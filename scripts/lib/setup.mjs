import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { giveUp, say } from './say.mjs';

export const ROOT = path.resolve(import.meta.dirname, '../..');
export const LOCAL = path.join(ROOT, '.local');

/** Node 20.19 or a later 20: what the pinned packages were tried on. */
export function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major !== 20 || minor < 19)
    giveUp(`Mile Mark runs on Node.js 20 (20.19 or later); this is ${process.versions.node}.`);
}

/** Where Debian puts PostgreSQL's programs; the newest version found. */
export function postgresBin() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return undefined;
  const versions = readdirSync(base)
    .filter((name) => existsSync(path.join(base, name, 'bin', 'initdb')))
    .sort((a, b) => Number(b) - Number(a));
  return versions[0] ? path.join(base, versions[0], 'bin') : undefined;
}

const PRESENT = {
  postgresql: () => postgresBin() !== undefined,
  chromium: () => existsSync('/usr/bin/chromium'),
};

/** Installs Debian packages that are missing, as root or through sudo; says what to do where neither is possible. */
export function ensurePackages(names) {
  const missing = names.filter((name) => !PRESENT[name]());
  if (missing.length === 0) return;
  const root = process.getuid?.() === 0;
  const sudo = !root && spawnSync('sudo', ['-n', 'true']).status === 0;
  if (!root && !sudo)
    giveUp(
      `Missing from this machine: ${missing.join(', ')}.\nInstall with:  sudo apt-get install ${missing.join(' ')}\nand start again.`,
    );
  say(`Installing ${missing.join(', ')} from Debian …`);
  const run = (command, args) =>
    spawnSync(root ? command : 'sudo', root ? args : ['-E', command, ...args], {
      stdio: ['ignore', 'ignore', 'pipe'],
      encoding: 'utf8',
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive', UCF_FORCE_CONFFOLD: '1' },
    });
  if (missing.includes('postgresql')) {
    // Debian's package would start a cluster of its own on 5432; ours is private.
    run('mkdir', ['-p', '/etc/postgresql-common']);
    run('sh', [
      '-c',
      'test -e /etc/postgresql-common/createcluster.conf || echo "create_main_cluster = false" > /etc/postgresql-common/createcluster.conf',
    ]);
  }
  run('apt-get', ['update', '-q']);
  const result = run('apt-get', ['install', '-y', '-q', '--no-install-recommends', ...missing]);
  if (result.status !== 0 || missing.some((name) => !PRESENT[name]())) {
    giveUp(`apt could not install ${missing.join(', ')}:\n${result.stderr}\nInstall it by hand and start again.`);
  }
}

/** Installs npm packages where the lock file changed since they were last installed. */
export function ensureModules() {
  const lock = createHash('sha256')
    .update(readFileSync(path.join(ROOT, 'package-lock.json')))
    .digest('hex');
  const stamp = path.join(ROOT, 'node_modules', '.mile-mark-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('Installing npm packages …');
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (result.status !== 0) giveUp('npm ci failed; see above.');
  writeFileSync(stamp, lock);
}

/** Makes the folder in which everything of this machine lives (ignored by git). */
export function ensureLocal() {
  mkdirSync(LOCAL, { recursive: true });
}
