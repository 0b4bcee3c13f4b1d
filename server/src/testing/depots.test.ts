import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import { callersOf, type Endpoint, ENDPOINTS, type Role } from '@mile-mark/contract';
import type { MileMark } from '@mile-mark/contract/forecasts';
import type { Person, SessionState } from '@mile-mark/contract/people';
import type { Plan } from '@mile-mark/contract/plan';
import { TODAY } from './app.ts';
import { createPlanApp, type PlanApp } from './planApp.ts';

/**
 * A technician or a parts keeper may be limited to depots. Every route that reads is called by both, and its answer
 * searched for what is at other depots; every way to write is tried on it.
 */

const DEPOT = 'Creamery yard';
type Agent = PlanApp['technician'];
let app: PlanApp;
let published: Plan;
const limited = new Map<Role, Agent>();
let others: { id: string; unit: string; depot: string }[];
let own: string[];
const person = async (role: Role): Promise<Person> => {
  const { items } = (await app.coordinator.get('/api/people').expect(200)).body as { items: Person[] };
  const found = items.find(({ id }) => id === app.test.idOf(role));
  if (!found) throw new Error(`there is no ${role}`);
  return found;
};
const limit = async (role: Role, depots: string[]) => {
  const { id, name, email, depots: seen } = await person(role);
  return app.coordinator
    .put(`/api/people/${id}`)
    .send({ name, role, email, depots, seen: { name, role, email, depots: seen } });
};
const agentOf = (role: Role): Agent => {
  const agent = limited.get(role);
  if (!agent) throw new Error(`nobody signed in as ${role}`);
  return agent;
};

beforeAll(async () => {
  app = await createPlanApp({ ways: true });
  await app.publish(await app.propose({ seconds: 4 })).expect(201);
  const [plan] = await app.sql<{ id: string }>(`select id from plan where state = 'published'`);
  published = await app.planOf(plan?.id ?? '');
  for (const role of ['technician', 'parts keeper'] as const) {
    await limit(role, [DEPOT]).then((answer) => expect([answer.status, answer.body]).toMatchObject([200, {}]));
    limited.set(role, await app.test.as(role));
  }
  const guests = published.items.filter(({ depot }) => depot === DEPOT).map(({ unit }) => unit);
  const all = await app.sql<{ id: string; unit: string; depot: string }>(
    'select v.id, v.unit, d.name as depot from vehicle v join depot d on d.id = v.depot_id order by v.unit',
  );
  const jobs = await app.sql<{ unit: string }>(
    `select v.unit from job j join vehicle v on v.id = j.vehicle_id join depot d on d.id = j.depot_id
     where d.name = ? and j.state in ('proposed', 'booked', 'in work')`,
    [DEPOT],
  );
  const done = new Set([...guests, ...jobs.map(({ unit }) => unit)]);
  others = all.filter(({ unit, depot }) => depot !== DEPOT && !done.has(unit));
  own = all.filter((one) => !others.includes(one)).map(({ unit }) => unit);
}, 240_000);
afterAll(async () => app.test.close());

const READING = Object.entries<Endpoint>(ENDPOINTS).filter(
  ([, endpoint]) =>
    endpoint.method === 'get' &&
    (['technician', 'parts keeper'] as const).some((role) => callersOf(endpoint)?.includes(role)),
);
const firstOther = () => {
  const [other] = others;
  if (!other) throw new Error('there is no vehicle of another depot');
  return other;
};
/** An id of something, where it can be at another depot, for a path. */
const ID_OF: Record<string, string> = {
  jobs: 'select id from job where vehicle_id = ?',
  depots: `select id from depot where name <> '${DEPOT}' and ?::uuid is not null limit 1`,
  models: 'select model_id as id from vehicle where id = ?',
  plans: `select id from plan where state = 'published' and ?::uuid is not null`,
};
const ASKED: Record<string, Record<string, string>> = {
  modelKits: { model: 'Ostrey Carrier 35' },
  demand: { part: 'PD-OC3-1', depot: DEPOT },
  dayBoard: { depot: DEPOT },
  axleKits: { unit: 'own' },
  thisWeekPdf: { depot: DEPOT },
  dutyPreview: { duty: 'herd rounds', from: TODAY },
};
const unitsIn = (text: string | undefined): string[] => [...new Set(text?.match(/\b[PVT]\d\d\b/g) ?? [])];

describe('who is limited', () => {
  it('is a technician or a parts keeper, to depots that are on record', async () => {
    expect((await person('technician')).depots).toEqual([DEPOT]);
    const { me } = (await agentOf('technician').get('/api/session').expect(200)).body as SessionState;
    expect(me?.depots).toEqual([DEPOT]);
    const viewer = await limit('viewer', [DEPOT]);
    expect([viewer.status, viewer.body.errors]).toEqual([
      422,
      [{ field: 'depots', message: expect.stringContaining('technician or a parts keeper') }],
    ]);
    const nowhere = await limit('technician', ['The moon']);
    expect([nowhere.status, nowhere.body.errors]).toEqual([
      422,
      [{ field: 'depots', message: expect.stringContaining(DEPOT) }],
    ]);
    expect((await person('technician')).depots).toEqual([DEPOT]);
  });

  it('may come with limits; a change is told who changed them meanwhile, and another role ends them', async () => {
    const id = randomUUID();
    const made = { id, name: 'Una Fallow', role: 'technician', depots: ['northfold'] };
    await app.coordinator.post('/api/people').send(made).expect(201);
    const { items } = (await app.coordinator.get('/api/people').expect(200)).body as { items: Person[] };
    expect(items.find((one) => one.id === id)?.depots).toEqual(['Northfold']);
    const stands = { name: 'Una Fallow', role: 'technician', email: null };
    const change = (to: object, seen: string[]) =>
      app.coordinator.put(`/api/people/${id}`).send({ ...stands, ...to, seen: { ...stands, depots: seen } });
    await change({ depots: [DEPOT] }, []).expect(409);
    await change({ depots: [DEPOT] }, ['Northfold']).expect(200);
    const viewer = await change({ role: 'viewer' }, [DEPOT]);
    expect([viewer.status, viewer.body.depots]).toEqual([200, []]);
  });
});

describe('what is at other depots', () => {
  it.each(READING)('is not in what %s answers', async (name, endpoint) => {
    const { id, unit } = firstOther();
    const table = /\/(\w+)\/\{id\}/.exec(endpoint.path)?.[1] ?? '';
    const [row] = ID_OF[table] ? await app.sql<{ id: string }>(ID_OF[table], [id]) : [];
    const foreign = new Set(others.map((one) => one.unit));
    for (const role of callersOf(endpoint) ?? []) {
      if (role !== 'technician' && role !== 'parts keeper') continue;
      for (const at of [unit, own[0] ?? '']) {
        const path = endpoint.path.replace('{unit}', at).replace('{id}', row?.id ?? randomUUID());
        const { unit: asked, ...query } = ASKED[name] ?? {};
        const answer = await agentOf(role)
          .get(path)
          .query(asked ? { unit: own[0], ...query } : query);
        if (path.includes(`/${unit}`)) expect([answer.status, answer.body.errors?.[0]?.field]).toEqual([403, 'unit']);
        expect(unitsIn(answer.status === 403 ? '' : answer.text).filter((one) => foreign.has(one))).toEqual([]);
        // What is left is still what the contract says.
        if (answer.status === 200 && answer.type === 'application/json')
          expect(endpoint.response.safeParse(answer.body).error).toBeUndefined();
      }
    }
  });

  it('is there for who is not limited, so that it would be found', async () => {
    for (const path of ['/api/mile-marks', '/api/vehicles', '/api/bay', '/api/readings.csv', '/api/jobs'])
      expect([path, unitsIn((await app.coordinator.get(path).expect(200)).text).length > own.length]).toEqual([
        path,
        true,
      ]);
  });

  it('leaves all that is theirs, and what another depot does of it', async () => {
    const { items } = (await agentOf('technician').get('/api/mile-marks').expect(200)).body as { items: MileMark[] };
    expect([...new Set(items.map(({ unit }) => unit))].sort()).toEqual([...own].sort());
    const lent = published.items.find(({ lentFrom }) => lentFrom === DEPOT);
    const guest = published.items.find(({ depot, lentFrom }) => depot === DEPOT && lentFrom !== null);
    if (!guest) throw new Error('nobody is done here who is not from here');
    for (const item of [guest, ...(lent ? [lent] : [])])
      await agentOf('technician').get(`/api/vehicles/${item.unit}`).expect(200);
    const plan = (await agentOf('technician').get(`/api/plans/${published.id}`).expect(200)).body as Plan;
    expect(plan.items.map(({ unit }) => unit)).toContain(guest.unit);
    expect(plan.items.every(({ unit }) => own.includes(unit))).toBe(true);
  });

  it('is told apart by its tag: what a browser has of it is known again, and is nobody else’s', async () => {
    const [whole, cut] = [
      await app.coordinator.get('/api/mile-marks').expect(200),
      await agentOf('technician').get('/api/mile-marks').expect(200),
    ];
    expect(cut.headers.etag).not.toBe(whole.headers.etag);
    await agentOf('technician')
      .get('/api/mile-marks')
      .set('if-none-match', cut.headers.etag ?? '')
      .expect(304);
    await agentOf('technician')
      .get('/api/mile-marks')
      .set('if-none-match', whole.headers.etag ?? '')
      .expect(200);
  });

  it('asks for one of theirs where a paper is of all, and refuses another’s', async () => {
    const of = (depot?: string) =>
      agentOf('technician')
        .get('/api/this-week.pdf')
        .query(depot ? { depot } : {});
    expect([(await of()).status, (await of('Northfold')).status, (await of(DEPOT)).status]).toEqual([403, 403, 200]);
  });
});

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
  type Try = { role: Role; send: () => Promise<{ status: number; body: { errors?: { field: string }[] } }> };
  const post =
    (role: Role, path: string, body: object): Try['send'] =>
    async () =>
      agentOf(role).post(path).send(body);
  const one = async (sql: string): Promise<string> => (await app.sql<{ id: string }>(sql))[0]?.id ?? id();
  const foreign = (column: string) =>
    `${column} in (select id from vehicle where unit in (${others.map(({ unit }) => `'${unit}'`).join()}))`;
  const tries: [string, () => Promise<Try & { field?: string }>][] = [
    [
      'a look',
      async () => {
        const body = look(firstOther().unit);
        body.inspection.gaugeId = await one('select id from gauge limit 1');
        return { role: 'technician', send: post('technician', '/api/readings', body), field: 'inspection.unit' };
      },
    ],
    [
      'pads fitted, typed in small letters',
      async () => ({
        role: 'technician',
        send: post('technician', '/api/services', {
          ...{ id: id(), unit: ` ${firstOther().unit.toLowerCase()}`, axle: 1, date: TODAY },
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
          unit: firstOther().unit,
          kind: 'squeal',
          saidBy: 'a driver',
        }),
        field: 'unit',
      }),
    ],
    [
      'a correction of a reading',
      async () => {
        const reading = await one(
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
        const job = await one(
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
        const job = await one(
          `select id from job where ${foreign('vehicle_id')} and state in ('booked', 'in work') limit 1`,
        );
        const bin = await one(
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
        const [last] = await app.sql<{ unit: string; mi: number; um: number; gauge: string }>(
          `select v.unit, round((f.detail->>'odometerNowMi')::float8)::int as mi, r.thickness_um as um, g.name as gauge
           from reading r join vehicle v on v.id = r.vehicle_id join vehicle_forecast f on f.vehicle_id = v.id
             join inspection i on i.id = r.inspection_id join gauge g on g.id = i.gauge_id
           where ${foreign('v.id')} and r.axle = 1 and r.side = 'left' and r.pad = 'inner' and r.thickness_um is not null
             and not exists (select 1 from service s where s.vehicle_id = v.id and s.axle = 1 and s.fitted_on >= r.measured_on)
             and r.measured_on < ?::date order by r.measured_on desc limit 1`,
          [TODAY],
        );
        if (!last) throw new Error('nobody measured at another depot');
        const row = [last.unit, TODAY, last.mi, 1, 'left', 'inner', last.um / 1000 - 0.1, 'The technician', last.gauge];
        const text = `unit,date,odometer_mi,axle,side,pad,thickness_mm,technician,gauge\n${row.join()}\n`;
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

  it('while the same is taken at theirs, and anywhere once nothing limits them', async () => {
    const at = async (unit: string) => {
      const body = look(unit);
      body.inspection.gaugeId = await one('select id from gauge limit 1');
      const [now] = await app.sql<{ mi: number }>(
        `select (f.detail->>'odometerNowMi')::float8 as mi from vehicle_forecast f join vehicle v on v.id = f.vehicle_id where v.unit = ?`,
        [unit],
      );
      body.inspection.odometer = String(Math.round(now?.mi ?? 0));
      return (await agentOf('technician').post('/api/readings').send(body)).status;
    };
    const home =
      (
        await app.sql<{ unit: string }>(
          `select v.unit from vehicle v join depot d on d.id = v.depot_id where d.name = ? order by 1`,
          [DEPOT],
        )
      )[0]?.unit ?? '';
    expect(await at(home)).not.toBe(403);
    expect(await at(firstOther().unit)).toBe(403);
    await limit('technician', []).then(({ status }) => expect(status).toBe(200));
    expect(await at(firstOther().unit)).not.toBe(403);
    const { items } = (await agentOf('technician').get('/api/mile-marks').expect(200)).body as { items: MileMark[] };
    expect(items.some(({ unit }) => unit === firstOther().unit)).toBe(true);
  });
});
