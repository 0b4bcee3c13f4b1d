/**
 * npm run restore -- FILE: puts a backup into a database that has nothing in it. A backup of an earlier version is brought up
 * to this one when the server starts; one of a later version is refused.
 *
 *   --empty, --vehicles N   whose database, as with npm start; or DATABASE_URL
 */
import { existsSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { databaseOf, postgres, withDatabase } from './lib/database.mjs';
import { ROOT } from './lib/setup.mjs';
import { giveUp, say } from './lib/say.mjs';

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { empty: { type: 'boolean', default: false }, vehicles: { type: 'string', default: '60' } },
});
const [name] = positionals;
if (!name) giveUp('A file is needed: npm run restore -- mile-mark.dump');
const file = path.resolve(name);
if (!existsSync(file)) giveUp(`There is no file ${file}.`);

/** Names of the changes of the tables' form that this version knows. */
const known = readdirSync(path.join(ROOT, 'server/src/migrations'))
  .filter((one) => one.startsWith('Migration'))
  .map((one) => one.replace(/\.ts$/, ''));

await withDatabase(databaseOf({ empty: values.empty, vehicles: Number(values.vehicles) }), (url) => {
  const told = postgres('pg_restore', url, ['--data-only', '--table=migration', '--file=-', file]);
  if (told.status !== 0) giveUp(`${file} is no backup of Mile Mark, or it is cut off:\n${told.stderr}`);
  const made = [...told.stdout.matchAll(/Migration\d+\w*/g)].map(([one]) => one);
  if (made.length === 0) giveUp(`${file} is no backup of Mile Mark: it says of no version which it is of.`);
  const later = made.find((one) => !known.includes(one));
  if (later) giveUp(`The backup is of a later version of Mile Mark (${later}); restore it with that one.`);
  const there = postgres('psql', url, [
    '-Atqc',
    `select count(*) from pg_tables where schemaname not in ('pg_catalog', 'information_schema')`,
  ]);
  if (there.status !== 0) giveUp(`The database does not answer:\n${there.stderr}`);
  if (there.stdout.trim() !== '0')
    giveUp('There is something in this database already. A backup goes into an empty one; nothing was changed.');
  const put = postgres('pg_restore', url, [
    '--no-owner',
    '--no-privileges',
    '--single-transaction',
    '--exit-on-error',
    `--dbname=${decodeURIComponent(new URL(url).pathname.slice(1))}`,
    file,
  ]);
  if (put.status !== 0) giveUp(`The backup could not be put in; nothing was changed:\n${put.stderr}`);
  say(`${file} is restored. Start the server: it brings an earlier version up to this one.`);
});
