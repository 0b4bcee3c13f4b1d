import { stringify } from 'csv-stringify/sync';
import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { setImmediate } from 'node:timers/promises';
import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';
import { csvFile, MANIFEST, type Manifest, photoFile, READ_ME, rowsFile } from './format.ts';
import { quoted } from '../../platform/db/quoted.ts';
import { formOf, PHOTO_TABLES, recordTables, type Table } from './tables.ts';

/** Rows fetched at a time: a large record is never in memory whole, and others are answered between two parts. */
const ROWS = 500;
/** Files that are not compressed much; a step quicker than the default and nearly as small on this record. */
const LEVEL = 4;

/** Where the bytes of an archive go; settles once it can take more. */
export type Sink = (chunk: Uint8Array) => Promise<void>;

/**
 * Writes the whole record as one ZIP archive, as it was at one moment: a CSV and a JSON file a table, photos, and a
 * description of the format.
 */
export async function writeArchive(em: EntityManager, today: string, sink: Sink): Promise<void> {
  let failed: Error | undefined;
  let out: Uint8Array[] = [];
  const zip = new Zip((error, chunk) => {
    if (error) failed = error;
    out.push(chunk);
  });
  const flush = async () => {
    if (failed) throw failed;
    const ready = out;
    out = [];
    for (const chunk of ready) await sink(chunk);
    // Others are answered between two parts.
    await setImmediate();
  };
  const encoder = new TextEncoder();
  const file = (name: string) => {
    const entry = new ZipDeflate(name, { level: LEVEL });
    zip.add(entry);
    return {
      write: async (text: string) => (entry.push(encoder.encode(text)), flush()),
      end: async () => (entry.push(new Uint8Array(), true), flush()),
    };
  };
  const whole = async (name: string, text: string) => {
    const one = file(name);
    await one.write(text);
    await one.end();
  };
  await em.transactional(
    async (inner) => {
      await inner.execute('set transaction isolation level repeatable read, read only');
      const tables = await recordTables(inner);
      const manifest = await manifestOf(inner, tables, today);
      await whole(MANIFEST, `${JSON.stringify(manifest, null, 1)}\n`);
      await whole('README.txt', READ_ME);
      for (const table of tables) {
        const rows = file(rowsFile(table.name));
        for await (const lines of rowsAsJson(inner, table)) await rows.write(`${lines.join('\n')}\n`);
        await rows.end();
        const csv = file(csvFile(table.name));
        await csv.write(stringify([table.columns.map(({ name }) => name)]));
        for await (const lines of rowsAsJson(inner, table))
          await csv.write(stringify(lines.map((line) => cellsOf(table, line))));
        await csv.end();
      }
      for (const table of PHOTO_TABLES) {
        const ids = await rowsOf(inner, z.object({ id: z.string() }), `select id from ${table} order by id`);
        for (const { id } of ids) {
          const [photo] = await inner.execute<{ jpeg: Uint8Array }[]>(`select jpeg from ${table} where id = ?`, [id]);
          const entry = new ZipPassThrough(photoFile(table, id));
          zip.add(entry);
          entry.push(new Uint8Array(photo?.jpeg ?? []), true);
          await flush();
        }
      }
    },
    { clear: true },
  );
  zip.end();
  await flush();
}

async function manifestOf(em: EntityManager, tables: readonly Table[], today: string): Promise<Manifest> {
  const described: Manifest['tables'] = {};
  for (const { name, columns } of tables) described[name] = { rows: await countOf(em, name), columns };
  const photos = PHOTO_TABLES.reduce((sum, name) => sum + (described[name]?.rows ?? 0), 0);
  return {
    format: 'mile-mark archive',
    version: 1,
    madeOn: today,
    form: await formOf(em),
    tables: described,
    photos,
  };
}

async function countOf(em: EntityManager, table: string): Promise<number> {
  const [row] = await rowsOf(em, z.object({ count: z.int() }), `select count(*)::int as count from ${quoted(table)}`);
  return row?.count ?? 0;
}

/** The rows of a table as JSON texts, in order of their key, some at a time. */
async function* rowsAsJson(em: EntityManager, { name, columns, key }: Table): AsyncGenerator<string[]> {
  const list = columns.map((column) => quoted(column.name)).join(', ');
  const order = key.length > 0 ? ` order by ${key.map(quoted).join(', ')}` : '';
  await em.execute(
    `declare whole_table no scroll cursor for select row_to_json(t)::text as line from (select ${list} from ${quoted(name)}${order}) t`,
  );
  try {
    for (;;) {
      const rows = await rowsOf(em, z.object({ line: z.string() }), `fetch ${ROWS} from whole_table`);
      if (rows.length === 0) return;
      yield rows.map(({ line }) => line);
    }
  } finally {
    await em.execute('close whole_table');
  }
}

/** A row's cells for a spreadsheet. */
function cellsOf({ columns }: Table, line: string): string[] {
  const row = JSON.parse(line) as Record<string, unknown>;
  return columns.map(({ name }) => {
    const value = row[name];
    if (value === null || value === undefined) return '';
    const text = typeof value === 'string' ? value : JSON.stringify(value);
    // What a spreadsheet would take for a formula is kept as text.
    return /^[=+@\t\r]|^-(?![\d.])/.test(text) ? `'${text}` : text;
  });
}
