/**
 * npm run backup -- FILE: the whole database in one file, as it stood at one moment, while the server goes on.
 *
 *   --empty, --vehicles N   whose database, as with npm start; or DATABASE_URL
 */
import { existsSync, renameSync, rmSync, statSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { databaseOf, postgres, withDatabase } from './lib/database.mjs';
import { giveUp, say } from './lib/say.mjs';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { empty: { type: 'boolean', default: false }, vehicles: { type: 'string', default: '60' } },
});
const [name] = positionals;
if (!name) giveUp('A file is needed: npm run backup -- mile-mark.dump');
const file = path.resolve(name);
if (existsSync(file)) giveUp(`${file} is there already; another name is accepted. A backup is never written over.`);

await withDatabase(databaseOf({ empty: values.empty, vehicles: Number(values.vehicles) }), (url) => {
  // Under another name until it is whole: what was cut off is never taken for a backup.
  const part = `${file}.part`;
  const made = postgres('pg_dump', url, ['--format=custom', '--no-owner', '--no-privileges', '--file', part]);
  if (made.status !== 0) {
    rmSync(part, { force: true });
    giveUp(`The backup failed:\n${made.stderr}`);
  }
  renameSync(part, file);
  say(
    `${file}: ${(statSync(file).size / 1024 / 1024).toFixed(1)} MB. Keep it as you keep passwords: all accounts are in it.`,
  );
});
