import type { ArchiveTaken } from '@mile-mark/contract/archive';
import { z } from 'zod';
import { command } from '../../platform/command/command.ts';
import type { EntityManager } from '../../platform/db/orm.ts';
import { noteChangeOfAll } from '../../platform/answers/answers.ts';
import { quoted } from '../../platform/db/quoted.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { ApiError } from '../../platform/errors.ts';
import { PersonEntity, type PersonRow } from '../people/index.ts';
import { photoFile, rowsFile } from './format.ts';
import { type Archive, readArchive, refusedArchive } from './readArchive.ts';
import { formOf, PHOTO_TABLES, recordTables, type Table } from './tables.ts';

/** What a record begins with; where one of them has a row, there is a record already. */
const RECORD = ['vehicle', 'model', 'depot', 'duty', 'reading', 'part', 'job', 'specification', 'gauge_study'];
const ROWS_AT_ONCE = 1000;
/** Opens nothing: no password has such a hash. Who had an account has one again once they set a password. */
const NO_PASSWORD = 'none';

/**
 * Takes an archive into an installation with nothing on record, in one transaction: what stands afterwards is what stood
 * where it was made. Whoever does it becomes the person of the archive who has their e-mail address, where there is one,
 * and keeps their password and sign-in.
 */
export const takeInArchive = command({
  name: 'takeInArchive',
  action: 'administer',
  contentOf: () => null,
  run: async ({ em, actor, audit }, { bytes }: { bytes: Uint8Array }): Promise<ArchiveTaken> => {
    const archive = await readArchive(bytes);
    const tables = await recordTables(em);
    await mayBeTakenIn(em, actor.id, archive, tables);
    const me = await em.findOneOrFail(PersonEntity, { id: actor.id }, { refresh: true });
    em.clear();
    const checks = await loosen(em, tables);
    for (const table of tables) if (table.name !== 'person') await em.execute(`delete from ${quoted(table.name)}`);
    const own = await sayingWhere('person', () => takeInPeople(em, archive, tables, me));
    let rows = own.people;
    for (const table of tables)
      if (table.name !== 'person')
        rows += await sayingWhere(table.name, () => takeInTable(em, table, linesOf(archive, table.name), archive));
    await refuseMissing(em, archive, tables);
    await sayingWhere('the record', () => tighten(em, tables, checks));
    await continueCounting(em, tables);
    // What notes changes was off meanwhile.
    await noteChangeOfAll(em);
    const { madeOn, photos } = archive.manifest;
    await audit('took in an archive', `person/${own.id}`, { madeOn, rows }, own.id);
    return { tables: tables.length, rows, photos, accounts: own.accounts };
  },
});

/** What the database says of a row that is not what it should be: its state begins with the class of such errors. */
const OfData = z.looseObject({ code: z.string().regex(/^(22|23)/), message: z.string() });

/** Tells what the database refuses of an archive as a refusal of it, with where it was. */
async function sayingWhere<T>(where: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof SyntaxError)
      throw refusedArchive(`In ${where} of the archive a line is no JSON; it was changed.`);
    const said = OfData.safeParse(error).data;
    if (!said) throw error;
    throw refusedArchive(
      `In ${where} of the archive a row does not fit the others; it was changed or is not whole (${said.message.slice(-160)}).`,
    );
  }
}

/** Number of the lock under which a record is taken in. */
const ARCHIVE_LOCK = 460_062;

async function mayBeTakenIn(
  em: EntityManager,
  me: string,
  { manifest }: Archive,
  tables: readonly Table[],
): Promise<void> {
  await em.execute('select pg_advisory_xact_lock(?)', [ARCHIVE_LOCK]);
  const there = RECORD.map((table) => `exists (select 1 from ${table})`).join(' or ');
  const [found] = await rowsOf(
    em,
    z.object({ record: z.boolean(), people: z.boolean() }),
    `select ${there} as record, exists (select 1 from person where id <> ?) as people`,
    [me],
  );
  if (found?.record || found?.people)
    throw new ApiError(
      'conflict',
      'There is a record here already. An archive goes into an installation with nothing on record and nobody but you.',
    );
  const form = await formOf(em);
  if (manifest.form !== form)
    throw refusedArchive(
      `This archive is of another version (${manifest.form}; here is ${form}). Take it in with that version, then bring that one up to date.`,
    );
  const missing = tables.filter(({ name }) => !manifest.tables[name]);
  if (missing.length > 0)
    throw refusedArchive(
      `The archive lacks ${missing.map(({ name }) => name).join(', ')}; the whole archive is accepted.`,
    );
}

/** Rows may come in any order and are as they were: references are held against each other at the end. */
async function loosen(em: EntityManager, tables: readonly Table[]): Promise<{ table: string; name: string }[]> {
  for (const { name } of tables) await em.execute(`alter table ${quoted(name)} disable trigger user`);
  const references = await rowsOf(
    em,
    z.object({ table: z.string(), name: z.string() }),
    `select r.relname as "table", c.conname as name from pg_constraint c join pg_class r on r.oid = c.conrelid
       join pg_namespace n on n.oid = r.relnamespace
     where c.contype = 'f' and n.nspname = 'public' and not c.condeferrable`,
  );
  for (const { table, name } of references)
    await em.execute(`alter table ${quoted(table)} alter constraint ${quoted(name)} deferrable initially deferred`);
  // Those that could be put off before are put off by this.
  await em.execute('set constraints all deferred');
  return references;
}

async function tighten(
  em: EntityManager,
  tables: readonly Table[],
  references: readonly { table: string; name: string }[],
): Promise<void> {
  await em.execute('set constraints all immediate');
  for (const { table, name } of references)
    await em.execute(`alter table ${quoted(table)} alter constraint ${quoted(name)} not deferrable`);
  for (const { name } of tables) await em.execute(`alter table ${quoted(name)} enable trigger user`);
}

/** The rows of a table as JSON texts. */
function linesOf(archive: Archive, table: string): string[] {
  return new TextDecoder()
    .decode(archive.file(rowsFile(table)))
    .split('\n')
    .filter(Boolean);
}

async function takeInTable(em: EntityManager, table: Table, lines: string[], archive: Archive): Promise<number> {
  const names = table.columns.map(({ name }) => quoted(name)).join(', ');
  const photo = (PHOTO_TABLES as readonly string[]).includes(table.name);
  const columns = photo ? `${names}, jpeg` : names;
  for (let at = 0; at < lines.length; at += ROWS_AT_ONCE) {
    const part = lines.slice(at, at + ROWS_AT_ONCE);
    const rows = photo ? part.map((line) => withPhoto(line, table.name, archive)) : part;
    await em.execute(
      `insert into ${quoted(table.name)} (${columns}) overriding system value
       select ${columns} from jsonb_populate_recordset(null::${quoted(table.name)}, ?::jsonb)`,
      [`[${rows.join(',')}]`],
    );
  }
  return lines.length;
}

function withPhoto(line: string, table: string, archive: Archive): string {
  const row = JSON.parse(line) as { id: string };
  const jpeg = Buffer.from(archive.file(photoFile(table, row.id)));
  if (jpeg.length === 0) throw refusedArchive(`The archive lacks the photo ${row.id}; the whole archive is accepted.`);
  return JSON.stringify({ ...row, jpeg: `\\x${jpeg.toString('hex')}` });
}

const Archived = z.looseObject({ id: z.uuid(), name: z.string(), email: z.string().nullable(), role: z.string() });

/** People, of whom one is who takes them in; the others have an account again once they set a password. */
async function takeInPeople(
  em: EntityManager,
  archive: Archive,
  tables: readonly Table[],
  me: PersonRow,
): Promise<{ id: string; people: number; accounts: number }> {
  const table = tables.find(({ name }) => name === 'person');
  if (!table) throw new Error('there is no table of people');
  const people = linesOf(archive, 'person').map((line) => Archived.parse(JSON.parse(line)));
  const same = (one: z.output<typeof Archived>) => one.email?.toLowerCase() === me.email?.toLowerCase();
  const self = people.find(same);
  const namesake = people.find((one) => !same(one) && one.name.toLowerCase() === me.name.toLowerCase());
  if (namesake)
    throw new ApiError(
      'conflict',
      `The archive has a ${namesake.name} with ${namesake.email ?? 'no'} address. Make the first account with the address of the archive, or by another name.`,
    );
  const rows = people.map((one) => ({
    ...one,
    password_hash: one.email === null ? null : NO_PASSWORD,
    ...(one.id === self?.id ? { password_hash: me.passwordHash, role: 'coordinator', left_on: null } : {}),
  }));
  const columns = [...table.columns.map(({ name }) => quoted(name)), 'password_hash'].join(', ');
  if (self) {
    // Their place is free before they take it: address and name stand once.
    await em.execute(`update person set email = null, password_hash = null, name = ? where id = ?`, [me.id, me.id]);
  }
  await em.execute(
    `insert into person (${columns}) select ${columns} from jsonb_populate_recordset(null::person, ?::jsonb)`,
    [JSON.stringify(rows)],
  );
  if (self) {
    await em.execute('update session set person_id = ? where person_id = ?', [self.id, me.id]);
    await em.execute('update known_device set person_id = ? where person_id = ?', [self.id, me.id]);
    await em.execute('delete from password_reset where person_id = ? or made_by = ?', [me.id, me.id]);
    await em.execute('delete from person where id = ?', [me.id]);
  }
  const accounts = rows.filter((one) => one.password_hash === NO_PASSWORD).length;
  return { id: self?.id ?? me.id, people: people.length, accounts };
}

/** Refuses an archive whose tables do not hold what its manifest says: something of it was lost. */
async function refuseMissing(em: EntityManager, { manifest }: Archive, tables: readonly Table[]): Promise<void> {
  for (const { name } of tables) {
    if (name === 'person') continue;
    const [row] = await rowsOf(em, z.object({ count: z.int() }), `select count(*)::int as count from ${quoted(name)}`);
    const wanted = manifest.tables[name]?.rows;
    if (row?.count !== wanted)
      throw refusedArchive(
        `Of ${name} the archive holds ${row?.count ?? 0} rows and says ${wanted ?? 0}; it is not whole.`,
      );
  }
}

/** What is counted goes on after the highest that was taken in. */
async function continueCounting(em: EntityManager, tables: readonly Table[]): Promise<void> {
  for (const { name, columns } of tables)
    for (const column of columns) {
      const [row] = await rowsOf(
        em,
        z.object({ sequence: z.string().nullable() }),
        'select pg_get_serial_sequence(?, ?) as sequence',
        [quoted(name), column.name],
      );
      if (!row?.sequence) continue;
      const of = `select max(${quoted(column.name)}) from ${quoted(name)}`;
      await em.execute(`select setval('${row.sequence}', greatest((${of}), 1), (${of}) is not null)`);
    }
}
