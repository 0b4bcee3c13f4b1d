import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { strFromU8, strToU8, unzipSync, type Unzipped, zipSync } from 'fflate';
import { parse } from 'csv-parse/sync';
import type { IncomingMessage } from 'node:http';
import supertest from 'supertest';
import type { Trail } from '@mile-mark/contract/archive';
import { refreshFleet } from '../features/forecasts/jobs/refresh.ts';
import { createTestApp, localComputer, PASSWORD, type TestApp, TODAY } from './app.ts';

/** The whole record out of one installation and into another: nothing is lost, and every mark is the same. */

type Agent = ReturnType<typeof supertest.agent>;
let full: TestApp;
let coordinator: Agent;
let bytes: Buffer;
let files: Unzipped;

const whole = (response: IncomingMessage, done: (error: Error | null, body: Buffer) => void) => {
  const parts: Buffer[] = [];
  response.on('data', (part: Buffer) => parts.push(part));
  response.on('end', () => done(null, Buffer.concat(parts)));
};
const sql = <T>(test: TestApp, text: string, values: unknown[] = []) => test.orm.em.fork().execute<T[]>(text, values);
const send = (agent: Agent, archive: Uint8Array) =>
  agent.post('/api/archive').set('content-type', 'application/zip').send(Buffer.from(archive));

/** An installation in which nobody is but whoever made the first account. */
async function emptyApp(email = 'new@dairy.example', name = 'Nia Frost'): Promise<{ test: TestApp; agent: Agent }> {
  const test = await createTestApp();
  await sql(test, 'delete from person');
  const agent = supertest.agent(test.app);
  await agent.post('/api/first-account').send({ name, email, password: PASSWORD }).expect(201);
  return { test, agent };
}

/** Bytes that a reader from front to back takes for the end of a file of the archive ("PK", 7, 8) are among them. */
const PHOTO = Buffer.from([
  0xff, 0xd8, 0xff, 0xe0, 1, 2, 0x50, 0x4b, 7, 8, 0, 0, 0, 0, 6, 0, 0, 0, 6, 0, 0, 0, 3, 0xff, 0xd9,
]);

beforeAll(async () => {
  full = await createTestApp({ demo: { vehicles: 12, marks: 'learnt' } });
  coordinator = await full.as('coordinator');
  await sql(
    full,
    `insert into photo (id, inspection_id, vehicle_id, jpeg, entered_by, taken_at) select gen_random_uuid(), i.id, i.vehicle_id, ?, i.entered_by, now()
     from inspection i limit 1`,
    [PHOTO],
  );
  // What a spreadsheet would take for a formula.
  await sql(
    full,
    `insert into audit (action, at, detail, subject) values ('entered an inspection', now(), '{}', '=2+3')`,
  );
  const answer = await coordinator
    .get('/api/archive')
    .buffer(true)
    .parse(whole as never)
    .expect(200);
  bytes = answer.body as Buffer;
  files = unzipSync(bytes);
}, 300_000);
afterAll(async () => full.close());

const manifest = () =>
  JSON.parse(strFromU8(files['manifest.json'] as Uint8Array)) as {
    tables: Record<string, { rows: number; columns: { name: string }[] }>;
    photos: number;
  };
const rows = (table: string) =>
  strFromU8(files[`record/${table}.jsonl`] as Uint8Array)
    .split('\n')
    .filter(Boolean);
const cellOf = (value: unknown): string =>
  typeof value === 'string' ? value.replace(/^(?==)/, "'") : value === null ? '' : JSON.stringify(value);
describe('the archive', () => {
  it('holds every row of the record, once as JSON and once for a spreadsheet, and the photos', async () => {
    const { tables, photos } = manifest();
    expect(Object.keys(tables)).toEqual(
      expect.arrayContaining(['vehicle', 'reading', 'job', 'specification', 'audit']),
    );
    for (const [table, { columns }] of Object.entries(tables)) {
      const [{ count } = { count: -1 }] = await sql<{ count: number }>(
        full,
        `select count(*)::int as count from ${table}`,
      );
      expect([table, rows(table).length]).toEqual([table, count]);
      const csv = parse(Buffer.from(files[`tables/${table}.csv`] as Uint8Array), {});
      expect([table, csv.length]).toEqual([table, count + 1]);
      expect(csv[0]).toEqual(columns.map(({ name }) => name));
      const values = rows(table).map((line) => Object.values(JSON.parse(line) as object));
      expect(csv.slice(1)).toEqual(values.map((row) => row.map(cellOf)));
    }
    expect(strFromU8(files['tables/audit.csv'] as Uint8Array)).toContain(",'=2+3");
    expect(photos).toBe(1);
    const [[, photo] = []] = Object.entries(files).filter(([name]) => name.startsWith('photos/'));
    expect(Buffer.from(photo ?? []).equals(PHOTO)).toBe(true);
    expect(strFromU8(files['README.txt'] as Uint8Array)).toContain('one JSON object a line');
  });

  it('holds no password, no sign-in and no link', async () => {
    const hashes = await sql<{ secret: string }>(
      full,
      `select password_hash as secret from person where password_hash is not null union all select token_hash from session
       union all select token_hash from calendar_link`,
    );
    expect(hashes.length).toBeGreaterThan(0);
    const texts = Object.values(files)
      .map((file) => strFromU8(file))
      .join('\n');
    for (const { secret } of hashes) expect(texts.includes(secret)).toBe(false);
    expect(texts).not.toContain('password_hash');
  });

  it('is the coordinator’s alone', async () => {
    const technician = await full.as('technician');
    expect((await technician.get('/api/archive')).status).toBe(403);
    expect((await send(technician, bytes)).status).toBe(403);
    expect((await technician.get('/api/trail')).status).toBe(403);
    expect((await send(supertest.agent(full.app), bytes)).status).toBe(401);
  });
});

describe('taken into an empty installation', () => {
  let empty: Awaited<ReturnType<typeof emptyApp>>;
  beforeAll(async () => {
    empty = await emptyApp();
    expect(await vehiclesInBay()).toBe(0);
    const { body } = await send(empty.agent, bytes).expect(200);
    expect(body).toMatchObject({ photos: 1 });
  }, 120_000);
  afterAll(async () => empty.test.close());

  const vehiclesInBay = async () =>
    ((await empty.agent.get('/api/bay').expect(200)).body as { vehicles: object[] }).vehicles.length;

  it('what was told of the empty place is told anew', async () => {
    expect(await vehiclesInBay()).toBeGreaterThan(5);
  });

  it('every table is what it was, byte for byte', async () => {
    const again = unzipSync(
      (
        await empty.agent
          .get('/api/archive')
          .buffer(true)
          .parse(whole as never)
          .expect(200)
      ).body as Buffer,
    );
    for (const table of Object.keys(manifest().tables)) {
      const now = strFromU8(again[`record/${table}.jsonl`] as Uint8Array);
      // Who took it in stands beside, with that deed.
      const mine = now.split('\n').filter((line) => line && !/Nia Frost|took in an archive|signed in/.test(line));
      const were = rows(table).filter((line) => !/signed in/.test(line));
      expect([table, mine]).toEqual([table, were]);
    }
  });

  it('every mark is the same, and the next one too', async () => {
    const marksOf = async (agent: Agent) => {
      const { items } = (await agent.get('/api/mile-marks').expect(200)).body as { items: object[] };
      return items;
    };
    const before = await marksOf(coordinator);
    expect(before.length).toBeGreaterThan(20);
    expect(await marksOf(empty.agent)).toEqual(before);
    for (const { orm } of [full, empty.test]) await refreshFleet(orm.em.fork(), localComputer(), '2026-11-27');
    const [after, afterThere] = [await marksOf(coordinator), await marksOf(empty.agent)];
    expect(after).not.toEqual(before);
    expect(afterThere).toEqual(after);
  }, 240_000);

  it('the record goes on: references and rules hold, counting goes on after the highest', async () => {
    const gone = sql(empty.test, 'delete from model where id = (select model_id from vehicle limit 1)');
    await expect(gone).rejects.toThrow(/foreign key/);
    await expect(sql(empty.test, 'update reading set axle = 2')).rejects.toThrow(/append-only/);
    for (const [table, column] of [
      ['job_entry', 'serial'],
      ['stock_movement', 'serial'],
      ['audit', 'id'],
    ]) {
      const [counted] = await sql<{ top: number; next: number }>(
        empty.test,
        `select max(${column})::int as top, nextval(pg_get_serial_sequence('${table}', '${column}'))::int as next from ${table}`,
      );
      expect(counted?.next).toBeGreaterThan(counted?.top ?? Infinity);
    }
    // Every reference is held as firmly as where the archive came from.
    const held = (of: TestApp) =>
      sql(of, `select conname, condeferrable, condeferred from pg_constraint where contype = 'f' order by 1, 2, 3`);
    expect(await held(empty.test)).toEqual(await held(full));
  });

  it('nobody’s old password opens anything; each gets a link', async () => {
    const [person] = await sql<{ id: string; email: string }>(
      empty.test,
      `select id, email from person where role = 'technician' and email is not null limit 1`,
    );
    const asThem = (password: string) =>
      supertest.agent(empty.test.app).post('/api/session').send({ email: person?.email, password });
    for (const word of [PASSWORD, 'none', '']) expect((await asThem(word)).status).not.toBe(200);
    const { body } = await empty.agent
      .post(`/api/people/${person?.id ?? ''}/reset-links`)
      .send({})
      .expect(201);
    const token = (body as { path: string }).path.split('#')[1];
    await supertest
      .agent(empty.test.app)
      .post('/api/password-resets')
      .send({ token, password: 'milk at last' })
      .expect(200);
  });

  it('it goes in once', async () => {
    expect((await send(empty.agent, bytes)).status).toBe(409);
  });
});

describe('who takes it in', () => {
  it('becomes the person with their address, signed in as they are', async () => {
    const [me] = await sql<{ id: string; email: string; name: string }>(
      full,
      `select id, email, name from person where role = 'coordinator' and email is not null order by name limit 1`,
    );
    const empty = await emptyApp(me?.email.toUpperCase(), 'Somebody');
    try {
      await send(empty.agent, bytes).expect(200);
      const { body } = await empty.agent.get('/api/session').expect(200);
      expect(body.me).toMatchObject({ id: me?.id, name: me?.name, role: 'coordinator' });
      const again = supertest.agent(empty.test.app);
      await again.post('/api/session').send({ email: me?.email, password: PASSWORD }).expect(200);
      const [{ count } = { count: 0 }] = await sql<{ count: number }>(
        empty.test,
        'select count(*)::int as count from person',
      );
      expect(count).toBe(rows('person').length);
    } finally {
      await empty.test.close();
    }
  }, 60_000);
});

describe('what is no whole archive is refused, and nothing is left of it', () => {
  let empty: Awaited<ReturnType<typeof emptyApp>>;
  beforeAll(async () => {
    empty = await emptyApp();
  }, 60_000);
  afterAll(async () => empty.test.close());

  const zip = (change: (own: Unzipped) => void) => {
    const own = { ...files };
    change(own);
    return zipSync(own, { level: 1 });
  };
  const changed = (table: string, change: (lines: string[]) => string[]) => (own: Unzipped) => {
    own[`record/${table}.jsonl`] = strToU8(change(rows(table)).join('\n'));
  };
  const BROKEN: [string, () => Uint8Array][] = [
    ['no archive', () => strToU8('date,unit,odometer\n')],
    ['another archive', () => zipSync({ 'xl/workbook.xml': strToU8('<x/>') })],
    ['one that breaks off', () => bytes.subarray(0, Math.floor(bytes.length / 2))],
    [
      'one of another version',
      () =>
        zip((own) => {
          own['manifest.json'] = strToU8(JSON.stringify({ ...manifest(), form: 'Migration20991231' }));
        }),
    ],
    [
      'one without a table',
      () =>
        zip((own) => {
          delete own['record/reading.jsonl'];
        }),
    ],
    ['one with a row lost', () => zip(changed('reading', (lines) => lines.slice(1)))],
    [
      'one with a vehicle lost that readings name',
      () =>
        zip((own) => {
          changed('vehicle', (lines) => lines.slice(1))(own);
          const { tables, ...rest } = manifest();
          tables.vehicle = { ...tables.vehicle, rows: (tables.vehicle?.rows ?? 1) - 1 } as (typeof tables)['vehicle'];
          own['manifest.json'] = strToU8(JSON.stringify({ ...rest, tables }));
        }),
    ],
    ['one with a row twice', () => zip(changed('vehicle', (lines) => [...lines, lines[0] ?? '']))],
    [
      'one with a figure that is none',
      () =>
        zip(changed('reading', ([first = '', ...lines]) => [first.replace(/"axle":\d/, '"axle":"front"'), ...lines])),
    ],
    [
      'one without its photo',
      () =>
        zip((own) => {
          for (const name of Object.keys(own)) if (name.startsWith('photos/')) delete own[name];
        }),
    ],
  ];
  it.each(BROKEN)(
    '%s',
    async (_what, archive) => {
      const { status, body } = await send(empty.agent, archive());
      expect([status, (body as { errors?: { field: string }[] }).errors?.[0]?.field]).toEqual([422, 'file']);
      for (const table of ['vehicle', 'reading', 'person', 'model']) {
        const [{ count } = { count: -1 }] = await sql<{ count: number }>(
          empty.test,
          `select count(*)::int as count from ${table}`,
        );
        expect([table, count]).toEqual([table, table === 'person' ? 1 : 0]);
      }
      expect((await empty.agent.get('/api/session')).body.me).not.toBeNull();
    },
    60_000,
  );
});

describe('the trail', () => {
  it('says who did what, of a vehicle or by a person, the next page after the last', async () => {
    const read = async (query: object) => (await coordinator.get('/api/trail').query(query).expect(200)).body as Trail;
    const move = { id: '7d1f6f5e-8a30-4c53-9a55-4b8f6d0a6f11', depot: 'Creamery yard', on: TODAY };
    const [other] = await sql<{ unit: string; depot: string }>(
      full,
      `select v.unit, d.name as depot from vehicle v join depot d on d.id = v.depot_id where d.name <> 'Creamery yard' limit 1`,
    );
    const unit = other?.unit ?? '';
    await coordinator.post(`/api/vehicles/${unit}/moves`).send(move).expect(201);
    const own = await read({ unit });
    expect(own.items[0]).toMatchObject({
      by: 'The coordinator',
      action: 'moved a vehicle',
      subject: unit,
      unit,
      detail: { to: 'Creamery yard', on: TODAY },
    });
    expect(own.items.every((deed) => deed.unit === unit)).toBe(true);
    const mine = await read({ by: full.idOf('coordinator') });
    expect(new Set(mine.items.map(({ by }) => by))).toEqual(new Set(['The coordinator']));
    const all = await read({});
    expect(all.items.some(({ action }) => action === 'signed in')).toBe(false);
    expect((await read({ signIns: 'yes' })).items.some(({ action }) => action === 'signed in')).toBe(true);
    const last = all.items.at(-1)?.id ?? '';
    const next = await read({ before: last });
    const ids = [...all.items, ...next.items].map(({ id }) => Number(id));
    expect(ids).toEqual([...new Set(ids)].sort((a, b) => b - a));
    expect((await coordinator.get('/api/trail').query({ unit: 'NOPE' })).status).toBe(422);
  });
});
