import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { expect, signInAtOnce, startServer, stop, test, type App } from '../support/app.ts';
import { withDatabase } from '../support/databases.ts';

/** A backup of a running installation, put back into an empty database: everything that can be asked of it is equal. */

const OPTIONS = { demo: true, today: '2026-11-20' };
const ROOT = path.resolve(import.meta.dirname, '../..');
const EXPORTS = [
  'mile-marks',
  'readings.csv',
  'vehicles',
  'parts',
  'stock',
  'jobs',
  'people',
  'specifications',
  'audit',
];

const run = (script: string, databaseUrl: string, file: string) =>
  spawnSync(process.execPath, [path.join(ROOT, `scripts/${script}.mjs`), file], {
    encoding: 'utf8',
    env: { ...process.env, DATABASE_URL: databaseUrl },
  });

test('a backup is put back into an empty database, to equal marks and exports; into no other', async ({ page }) => {
  test.setTimeout(600_000);
  const folder = mkdtempSync(path.join(tmpdir(), 'mile-mark-backup-'));
  const file = path.join(folder, 'all.dump');
  const exportsOf = async (app: App) => {
    await signInAtOnce(page, app);
    const answers: Record<string, string> = {};
    for (const name of EXPORTS) {
      const answer = await page.request.get(`${app.url}/api/${name}`);
      if (answer.status() === 200) answers[name] = await answer.text();
    }
    return answers;
  };
  await withDatabase(OPTIONS, async (first) => {
    const app = await startServer(first, OPTIONS);
    const before = await exportsOf(app);
    expect(Object.keys(before)).toEqual(expect.arrayContaining(['mile-marks', 'readings.csv', 'vehicles', 'jobs']));
    expect(before['mile-marks']?.length).toBeGreaterThan(10_000);
    const made = run('backup', first, file);
    expect([made.status, made.stdout]).toEqual([0, expect.stringMatching(/all\.dump: [\d.]+ MB/)]);
    // Never written over; and never put over something.
    expect([run('backup', first, file).status, run('restore', first, file).stderr]).toEqual([
      1,
      expect.stringMatching(/something in this database already/),
    ]);
    await stop(app);

    await withDatabase({ ...OPTIONS, demo: false }, async (second) => {
      const short = path.join(folder, 'short.dump');
      writeFileSync(short, readFileSync(file));
      truncateSync(short, 2000);
      expect(run('restore', second, short).stderr).toMatch(/no backup of Mile Mark|cut off/);
      expect(run('restore', second, path.join(ROOT, 'package.json')).stderr).toMatch(/no backup of Mile Mark/);
      const put = run('restore', second, file);
      expect([put.status, put.stderr]).toEqual([0, '']);
      const again = await startServer(second, OPTIONS);
      const after = await exportsOf(again);
      for (const name of Object.keys(before)) expect([name, after[name] === before[name]]).toEqual([name, true]);
      await stop(again);
    });
  });
  rmSync(folder, { recursive: true });
});
