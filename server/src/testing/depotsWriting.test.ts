import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Role } from '@mile-mark/contract';
import type { MileMark } from '@mile-mark/contract/forecasts';
import { TODAY } from './app.ts';
import { createDepotsApp, DEPOT, type DepotsApp } from './depotsApp.ts';

/** Who is limited to depots writes nothing at others, in whatever way it is tried. */

let app: DepotsApp;
beforeAll(async () => {
  app = await createDepotsApp();
}, 240_000);
afterAll(async () => app.test.close());

/** What stands of the record, so that a refusal is seen to have written nothing. */
const record = async () =>
  app.sql(
    `select (select count(*) from audit where action <> 'signed in') as audits, (select count(*) from reading) as readings,
       (select count(*) from inspection) as inspections, (select count(*) from service) as services,
       (select count(*) from defect) as defects, (select count(*) from job_entry) as entries,
       (select count(*) from stock_movement) as movements, (select count(*) from outbox) as told`,
  );

describe('nothing is written', () => {
  const id = randomUUID;
  const look = (unit: string) => ({
    inspection: {
      ...{ id: id(), unit, gaugeId: '', date: TODAY, odometer: '90000', odometerUnit: 'mi', acknowledged: true },
    },
    readings: [{ id: id(), axle: 1, side: 'left', pad: 'inner', thickness: '7.1', thicknessUnit: 'mm' }],
  });
  /** A row of readings as it would be taken, of a vehicle of some. */
  const sheetOf = async (which: string): Promise<string> => {
    const [last] = await app.sql<{ unit: string; mi: number; um: number; gauge: string }>(
      `select v.unit, round((f.detail->>'odometerNowMi')::float8)::int as mi, r.thickness_um as um, g.name as gauge
       from reading r join vehicle v on v.id = r.vehicle_id join vehicle_forecast f on f.vehicle_id = v.id
         join inspection i on i.id = r.inspection_id join gauge g on g.id = i.gauge_id
       where ${which} and r.axle = 1 and r.side = 'left' and r.pad = 'inner' and r.thickness_um is not null
         and not exists (select 1 from service s where s.vehicle_id = v.id and s.axle = 1 and s.fitted_on >= r.measured_on)
         and r.measured_on < ?::date order by r.measured_on desc limit 1`,
      [TODAY],
    );
    if (!last) throw new Error('nobody measured there');
    const row = [
      last.unit,
      TODAY,
      last.mi,
      1,
      'left',
      'inner',
      last.um / 1000 - 0.1,
      'The technician',
      `"${last.gauge}"`,
    ];
    return `unit,date,odometer_mi,axle,side,pad,thickness_mm,technician,gauge\n${row.join()}\n`;
  };
  type Try = { role: Role; send: () => Promise<{ status: number; body: { errors?: { field: string }[] } }> };
  const post =
    (role: Role, path: string, body: object): Try['send'] =>
    async () =>
      app.agentOf(role).post(path).send(body);
  const foreign = (column: string) =>
    `${column} in (select id from vehicle where unit in (${app.others.map(({ unit }) => `'${unit}'`).join()}))`;
  const tries: [string, () => Promise<Try & { field?: string }>][] = [
    [
      'a look',
      async () => {
        const body = look(app.other.unit);
        body.inspection.gaugeId = await app.one('select id from gauge limit 1');
        return { role: 'technician', send: post('technician', '/api/readings', body), field: 'inspection.unit' };
      },
    ],
    [
      'pads fitted, typed in small letters',
      async () => ({
        role: 'technician',
        send: post('technician', '/api/services', {
          ...{ id: id(), unit: ` ${app.other.unit.toLowerCase()}`, axle: 1, date: TODAY },
          ...{ odometer: '90000', odometerUnit: 'mi', fitted: 'pads' },
        }),
        field: 'unit',
      }),
    ],
    [
      'a complaint',
      async () => ({
        role: 'parts keeper',
        send: post('parts keeper', '/api/defects', {
          id: id(),
          unit: app.other.unit,
          kind: 'squeal',
          saidBy: 'a driver',
        }),
        field: 'unit',
      }),
    ],
    [
      'a correction of a reading',
      async () => {
        const reading = await app.one(
          `select r.id from reading r where ${foreign('r.vehicle_id')} order by r.measured_on desc limit 1`,
        );
        // As if they had just entered it: what is one's own is taken back, but at one's own depot.
        await app.sql('alter table reading disable trigger user');
        await app.sql('update reading set entered_by = ?, entered_at = now() where id = ?', [
          app.test.idOf('technician'),
          reading,
        ]);
        await app.sql('alter table reading enable trigger user');
        const body = { id: id(), thickness: '6.5', thicknessUnit: 'mm', reason: 'misread' };
        return { role: 'technician', send: post('technician', `/api/readings/${reading}/corrections`, body) };
      },
    ],
    [
      'on the card of a job',
      async () => {
        const job = await app.one(
          `select id from job where ${foreign('vehicle_id')} and state in ('booked', 'in work') limit 1`,
        );
        const send = post('technician', `/api/jobs/${job}/moves`, { id: id(), verb: 'start', revision: 1 });
        return { role: 'technician', send };
      },
    ],
    [
      'parts received',
      async () => ({
        role: 'parts keeper',
        send: post('parts keeper', '/api/stock/movements', {
          ...{ id: id(), kind: 'receive', part: 'PD-OC3-1', depot: 'Northfold', bin: 'A-01', units: 2 },
        }),
        field: 'depot',
      }),
    ],
    [
      'parts picked',
      async () => {
        const job = await app.one(
          `select id from job where ${foreign('vehicle_id')} and state in ('booked', 'in work') limit 1`,
        );
        const bin = await app.one(
          `select b.code as id from bin b join depot d on d.id = b.depot_id where d.name = 'Northfold' limit 1`,
        );
        const lines = [{ part: 'PD-OC3-1', bin, units: 1 }];
        return { role: 'technician', send: post('technician', '/api/stock/picks', { id: id(), jobId: job, lines }) };
      },
    ],
    [
      'an order approved',
      async () => {
        const order = id();
        await app.sql(
          `insert into purchase_order (id, supplier_id, depot_id, state, made_on)
           select ?, s.id, d.id, 'proposed', ?::date from supplier s, depot d where d.name = 'Northfold' limit 1`,
          [order, TODAY],
        );
        const send = post('parts keeper', `/api/orders/${order}/call-off`, { id: id(), reason: 'not ours' });
        return { role: 'parts keeper', send };
      },
    ],
    [
      'a file of readings',
      async () => {
        const text = await sheetOf(foreign('v.id'));
        return { role: 'technician', send: post('technician', '/api/imports', { id: id(), fileName: 'r.csv', text }) };
      },
    ],
  ];

  it.each(tries)('of another depot: %s', async (_name, make) => {
    const { send, field } = await make();
    const before = await record();
    const { status, body } = await send();
    expect([status, body.errors?.[0]?.field]).toEqual([403, field]);
    expect(await record()).toEqual(before);
  });

  it('while files and parts of theirs are taken, and nobody else’s files are shown to them', async () => {
    const text = await sheetOf(`v.unit = '${app.home.unit}'`);
    const file = { id: id(), fileName: 'own.csv', text };
    const taken = await app.technician.post('/api/imports').send(file);
    expect([taken.status, taken.body.records, taken.body.errors]).toEqual([200, 1, undefined]);
    const dropped = await app.technician
      .post('/api/imports/drafts')
      .query({ id: id(), fileName: 'own.csv' })
      .set('content-type', 'application/octet-stream')
      .send(Buffer.from(text));
    expect(dropped.status).toBe(201);
    const foreignFile = id();
    await app.coordinator
      .post('/api/imports')
      .send({ ...file, id: foreignFile, fileName: 'theirs.csv' })
      .expect(200);
    await app.technician.get(`/api/imports/${foreignFile}`).expect(403);
    const names = (of: 'imports' | 'imports/drafts') =>
      app.technician
        .get(`/api/${of}`)
        .then(({ body }) => (body as { items: { fileName: string }[] }).items.map((one) => one.fileName));
    expect([...new Set([...(await names('imports')), ...(await names('imports/drafts'))])]).toEqual(['own.csv']);
    await app.keeper
      .post('/api/stock/movements')
      .send({ id: id(), kind: 'receive', part: 'PD-OC3-1', depot: DEPOT, bin: 'A-01', units: 2 })
      .expect(201);
  });

  it('while the same is taken at theirs, and anywhere once nothing limits them', async () => {
    const at = async (unit: string) => {
      const body = look(unit);
      body.inspection.gaugeId = await app.one('select id from gauge limit 1');
      const [now] = await app.sql<{ mi: number }>(
        `select (f.detail->>'odometerNowMi')::float8 as mi from vehicle_forecast f join vehicle v on v.id = f.vehicle_id where v.unit = ?`,
        [unit],
      );
      body.inspection.odometer = String(Math.round(now?.mi ?? 0));
      return (await app.technician.post('/api/readings').send(body)).status;
    };
    expect(await at(app.home.unit)).not.toBe(403);
    expect(await at(app.other.unit)).toBe(403);
    await app.limit('technician', []).then(({ status }) => expect(status).toBe(200));
    expect(await at(app.other.unit)).not.toBe(403);
    const { items } = (await app.technician.get('/api/mile-marks').expect(200)).body as { items: MileMark[] };
    expect(items.some(({ unit }) => unit === app.other.unit)).toBe(true);
  });
});
