import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Demand, Part, StockRow } from '@mile-mark/contract/parts';
import { TODAY } from './app.ts';
import { createPartsApp, fieldsOf, DEPOT, type PartsApp } from './partsApp.ts';

let app: PartsApp;
beforeAll(async () => {
  app = await createPartsApp();
}, 180_000);
afterAll(async () => app.test.close());

const NEW = (over: Record<string, unknown> = {}) => ({
  id: randomUUID(),
  number: `T-${randomUUID().slice(0, 8)}`,
  maker: 'Ostrel Works',
  name: 'Pad set',
  kind: 'brake pad',
  pieces: 4,
  fits: [{ model: 'Ostrey Carrier 35', axle: 1 }],
  offers: [{ supplier: 'Corvane Brake Supply', priceMinor: 5000, currency: 'USD' }],
  ...over,
});

describe('the catalogue', () => {
  it('takes a part in, and the same request again changes nothing', async () => {
    const part = NEW({ measures: { diameterMm: 302 }, shelfDays: 100 });
    await app.keeper.post('/api/parts').send(part).expect(201);
    await app.keeper.post('/api/parts').send(part).expect(201);
    const there = (await app.items<Part>('/api/parts')).filter(({ number }) => number === part.number.toUpperCase());
    expect(there).toEqual([
      expect.objectContaining({ pieces: 4, revision: 1, measures: { diameterMm: 302 }, shelfDays: 100 }),
    ]);
    expect(there[0]?.fits).toEqual([{ model: 'Ostrey Carrier 35', axle: 1, side: 'both', rotorMm: null }]);
  });

  it.each([
    ['a set of three pads', { pieces: 3 }, 'pieces'],
    [
      'a pack of nothing',
      { offers: [{ supplier: 'Corvane Brake Supply', priceMinor: 5000, currency: 'USD', pack: 0 }] },
      'offers.0.pack',
    ],
    [
      'a price without a currency',
      { offers: [{ supplier: 'Corvane Brake Supply', priceMinor: 5000 }] },
      'offers.0.currency',
    ],
    [
      'a price in another currency than its supplier’s',
      { offers: [{ supplier: 'Corvane Brake Supply', priceMinor: 5000, currency: 'EUR' }] },
      'offers.0.currency',
    ],
    [
      'a supplier nobody knows',
      { offers: [{ supplier: 'Nobody', priceMinor: 5000, currency: 'USD' }] },
      'offers.0.supplier',
    ],
    ['a model nobody has', { fits: [{ model: 'Nothing 9' }] }, 'fits.0.model'],
    ['an axle that the model has not', { fits: [{ model: 'Ostrey Carrier 35', axle: 5 }] }, 'fits.0.axle'],
    ['pads of no vehicle', { fits: [] }, 'fits'],
    ['a number that is taken', { number: 'PD-OC3-1' }, 'number'],
    ['a successor nobody has', { supersededBy: 'XX-1' }, 'supersededBy'],
  ])('refuses %s at its field', async (_what, over, field) => {
    const answer = await app.keeper.post('/api/parts').send(NEW(over));
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
  });

  it('refuses a part that takes its own place, and two that take each other’s', async () => {
    const [a, b] = [NEW(), NEW()];
    const own = await app.keeper.post('/api/parts').send({ ...a, supersededBy: a.number });
    expect([own.status, fieldsOf(own)]).toEqual([422, ['supersededBy']]);
    await app.keeper.post('/api/parts').send(b).expect(201);
    await app.keeper
      .post('/api/parts')
      .send({ ...a, supersededBy: b.number })
      .expect(201);
    const circle = await app.keeper
      .put(`/api/parts/${b.id}`)
      .send({ ...b, id: undefined, supersededBy: a.number, revision: 1 });
    expect([circle.status, fieldsOf(circle)]).toEqual([422, ['supersededBy']]);
    expect(circle.body.detail).toContain('goes round in a circle');
  });

  it('is changed by one at a time', async () => {
    const part = NEW();
    await app.keeper.post('/api/parts').send(part).expect(201);
    const change = { ...part, id: undefined, name: 'Another name' };
    await app.keeper
      .put(`/api/parts/${part.id}`)
      .send({ ...change, revision: 1 })
      .expect(200);
    await app.keeper
      .put(`/api/parts/${part.id}`)
      .send({ ...change, revision: 1 })
      .expect(409);
  });

  it('is read by everybody and kept by few', async () => {
    await app.viewer.get('/api/parts').expect(200);
    await app.viewer.post('/api/parts').send(NEW()).expect(403);
    await app.technician.post('/api/parts').send(NEW()).expect(403);
    await app
      .move({ kind: 'receive', part: 'BC-500', depot: DEPOT, bin: 'Z-01', units: 1 }, app.technician)
      .expect(403);
  });
});

describe('suppliers', () => {
  const NEW_ONE = { name: 'Alder Wharf Parts', currency: 'EUR', leadDays: 4, orderCostMinor: 900, freightMinor: 1200 };

  it('are put on record once, and changed', async () => {
    const id = randomUUID();
    for (let sent = 0; sent < 2; sent += 1)
      await app.keeper
        .post('/api/suppliers')
        .send({ id, ...NEW_ONE })
        .expect(201);
    await app.keeper
      .put(`/api/suppliers/${id}`)
      .send({ ...NEW_ONE, leadDays: 6, freightFreeMinor: 30_000 })
      .expect(200);
    const there = await app.items<{ id: string; leadDays: number; freightFreeMinor: number | null }>('/api/suppliers');
    expect(there.filter((one) => one.id === id)).toEqual([
      expect.objectContaining({ leadDays: 6, freightFreeMinor: 30_000, currency: 'EUR' }),
    ]);
    await app.viewer
      .post('/api/suppliers')
      .send({ id: randomUUID(), ...NEW_ONE })
      .expect(403);
  });

  it.each([
    ['a name that is taken', { name: 'corvane brake supply' }, 'name'],
    ['no currency', { currency: '' }, 'currency'],
    ['half a day', { leadDays: 0.5 }, 'leadDays'],
    ['no days', { leadDays: null }, 'leadDays'],
    ['a cost under nought', { orderCostMinor: -1 }, 'orderCostMinor'],
  ])('refuse %s', async (_what, over, field) => {
    const answer = await app.keeper
      .post('/api/suppliers')
      .send({ id: randomUUID(), ...NEW_ONE, name: 'Another', ...over });
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
  });

  it('keep their currency while parts are priced in it', async () => {
    const [corvane] = (await app.items<{ id: string; name: string; leadDays: number }>('/api/suppliers')).filter(
      ({ name }) => name === 'Corvane Brake Supply',
    );
    const change = await app.keeper
      .put(`/api/suppliers/${corvane?.id ?? ''}`)
      .send({ ...NEW_ONE, name: 'Corvane Brake Supply', currency: 'EUR' });
    expect([change.status, fieldsOf(change)]).toEqual([422, ['currency']]);
  });
});

describe('stock', () => {
  const at = { part: 'BC-500', depot: DEPOT, bin: 'z-09' };
  const inBin = async () =>
    (await app.items<StockRow>(`/api/stock?depot=${encodeURIComponent(DEPOT)}`)).filter(
      ({ bin, part }) => bin === 'Z-09' && part === 'BC-500',
    );

  it('is the sum of what moved: received, moved on, scrapped, counted', async () => {
    const received = await app.move({ kind: 'receive', ...at, units: 9 }).expect(201);
    await app.move({ kind: 'transfer', ...at, units: 2, toDepot: 'Northfold', toBin: 'Z-01' }).expect(201);
    await app.move({ kind: 'scrap', ...at, units: 1, note: 'dented' }).expect(201);
    expect((await inBin())[0]?.units).toBe(6);
    const counted = await app.move({ kind: 'count', ...at, counted: 4 }).expect(201);
    expect(counted.body).toMatchObject({ difference: -2, onHand: received.body.onHand - 5 });
    expect((await inBin())[0]?.units).toBe(4);
    const [sum] = await app.sql<{ wrong: number }>(
      `select count(*)::int as wrong from (select part_id, bin_id, coalesce(lot, '') as lot, sum(units) as units from stock_movement group by 1, 2, 3) m
       full join stock_level l using (part_id, bin_id, lot) where m.units is distinct from l.units`,
    );
    expect(sum?.wrong).toBe(0);
  });

  it('moves once, however often it is sent', async () => {
    const body = { id: randomUUID(), kind: 'receive', ...at, units: 5 };
    const [first, again] = [await app.move(body), await app.move(body)];
    expect(again.body).toEqual(first.body);
    await app.move({ ...body, units: 6 }).expect(409);
    expect((await inBin())[0]?.units).toBe(9);
  });

  it('never goes under what lies there', async () => {
    const answer = await app.move({ kind: 'scrap', ...at, units: 500, note: 'all of it' });
    expect([answer.status, fieldsOf(answer)]).toEqual([409, ['units']]);
    expect(answer.body.detail).toContain('Count it first');
  });

  it.each([
    ['a lot that has expired', { part: 'FL-4-05', expiresOn: '2026-11-19' }, 'expiresOn'],
    ['a lot that expires, without its day', { part: 'FL-4-05' }, 'expiresOn'],
    ['a part nobody has', { part: 'XX-99' }, 'part'],
    ['a depot nobody has', { depot: 'Nowhere' }, 'depot'],
    ['half a unit', { units: 0.5 }, 'units'],
  ])('refuses %s', async (_what, over, field) => {
    const answer = await app.move({ kind: 'receive', ...at, units: 1, ...over });
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
  });

  it('can’t be changed behind the record’s back', async () => {
    await expect(app.sql('update stock_movement set units = 1')).rejects.toThrow();
    await expect(app.sql('delete from stock_movement')).rejects.toThrow();
  });

  it('of a bin belongs to its depot: the same code elsewhere is another bin', async () => {
    const before = (await inBin())[0]?.units;
    await app.move({ kind: 'receive', ...at, depot: 'Northfold', units: 3 }).expect(201);
    expect((await inBin())[0]?.units).toBe(before);
  });
});

describe('demand', () => {
  it('of a depot and part names each week with its mean and quantiles, and why', async () => {
    const [plan_] = await app.sql<{ part: string; depot: string }>(
      `select p.number as part, d.name as depot from part_plan x join part p on p.id = x.part_id join depot d on d.id = x.depot_id
       where p.kind = 'brake pad' order by (x.lead->>'mean')::float desc limit 1`,
    );
    const demand = (
      await app.keeper
        .get(`/api/demand?part=${plan_?.part ?? ''}&depot=${encodeURIComponent(plan_?.depot ?? '')}`)
        .expect(200)
    ).body as Demand;
    expect(demand.items).toHaveLength(26);
    for (const { mean, quantiles } of demand.items) {
      expect(quantiles['0.05']).toBeLessThanOrEqual(quantiles['0.5']);
      expect(quantiles['0.5']).toBeLessThanOrEqual(quantiles['0.95']);
      expect(mean).toBeGreaterThanOrEqual(0);
    }
    expect(demand.reorderPoint).toBe(demand.lead.quantiles['0.95']);
    expect(demand.why.join(' ')).toContain(`Reorder point ${demand.reorderPoint}`);
  });

  it('over all weeks comes to the axles that are due within them', async () => {
    const [{ due = 0 } = {}] = await app.sql<{ due: number }>(
      `select count(*)::int as due from forecast where mark is not null and (mark->>'markDate')::date < ?::date + 182`,
      [TODAY],
    );
    const [{ wanted = 0 } = {}] = await app.sql<{ wanted: number }>(
      `select sum((w->>'mean')::float) as wanted from part_plan x join part p on p.id = x.part_id, jsonb_array_elements(x.weeks) w where p.kind = 'brake pad'`,
    );
    expect(Math.abs(wanted / due - 1)).toBeLessThan(0.25);
  });

  it('of a part nobody has is refused at its field', async () => {
    const answer = await app.keeper.get('/api/demand?part=XX-1&depot=Northfold');
    expect([answer.status, fieldsOf(answer)]).toEqual([422, ['part']]);
  });
});

describe('what part numbers did', () => {
  interface Row {
    part: string;
    model: string;
    axle: number;
    sets: number;
    failures: number;
    rate: { value: number; low: number; high: number } | null;
  }
  const records = () => app.items<Row>('/api/part-records');

  it('stands by number, model and axle, with an interval that holds its mean', async () => {
    const all = await records();
    expect(all.length).toBeGreaterThan(3);
    for (const { rate, sets } of all) {
      if (sets < 2) expect(rate).toBeNull();
      if (rate) expect(rate.low < rate.value && rate.value < rate.high).toBe(true);
    }
  });

  it('counts no set that was put back, and no finding but lifted or cracked linings as a failure', async () => {
    const setsOf = async () => (await records()).reduce((sum, { sets }) => sum + sets, 0);
    const failures = async () => (await records()).reduce((sum, one) => sum + one.failures, 0);
    const before = await setsOf();
    const [pick] = await app.sql<{
      job_id: string;
      vehicle_id: string;
      axle: number;
      number: string;
      depot: string;
      code: string;
    }>(
      `select s.job_id, j.vehicle_id, a.axle, p.number, d.name as depot, b.code from stock_movement s join part p on p.id = s.part_id
         join job j on j.id = s.job_id and j.state = 'closed' join job_axle a on a.job_id = j.id join bin b on b.id = s.bin_id
         join depot d on d.id = b.depot_id join part_fit f on f.part_id = p.id and f.axle = a.axle
       where s.kind = 'pick' and (select count(*) from job_axle x where x.job_id = j.id) = 1
         and not exists (select 1 from service e where e.vehicle_id = j.vehicle_id and e.axle = a.axle and e.fitted_on > j.closed_on)
       order by s.serial desc limit 1`,
    );
    expect(pick).toBeDefined();
    const find = async (state: string) =>
      app.sql(
        `insert into finding (id, inspection_id, vehicle_id, axle, side, item, state)
         select gen_random_uuid(), i.id, i.vehicle_id, ?, 'left', 'lining', ? from inspection i where i.vehicle_id = ? order by measured_on desc limit 1`,
        [pick?.axle, state, pick?.vehicle_id],
      );
    await find('uneven');
    expect(await failures()).toBe(0);
    await app
      .move({ kind: 'return', part: pick?.number, depot: pick?.depot, bin: pick?.code, units: 1, jobId: pick?.job_id })
      .expect(201);
    expect(await setsOf()).toBe(before - 1);
  });
});
