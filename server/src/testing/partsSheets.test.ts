import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { ImportPreview, ImportResult } from '@mile-mark/contract/imports';
import type { Order, Part, StockRow } from '@mile-mark/contract/parts';
import { followOrders } from '../features/parts/index.ts';
import { type Agent, createPartsApp, DEPOT, type PartsApp } from './partsApp.ts';

/** Lists with slips in them, a row a slip: each refused or questioned at its column; nothing lost, nothing changed silently. */

let app: PartsApp;
beforeAll(async () => {
  app = await createPartsApp();
}, 180_000);
afterAll(async () => app.test.close());

const look = async (text: string) =>
  (await app.keeper.post('/api/imports').send({ dryRun: true, fileName: 'x.csv', text }).expect(200))
    .body as ImportPreview;
const take = (text: string, more: object = {}, who: Agent = app.keeper) =>
  who.post('/api/imports').send({ id: randomUUID(), fileName: 'x.csv', text, ...more });
const reasonsOf = ({ rows, header }: ImportPreview) =>
  rows.flatMap(({ reasons }) =>
    reasons.map(({ column, message }) => ({ at: column === null ? null : header[column], message })),
  );

const PARTS = 'Part number;Name;Kind;Maker;Pieces;Model;Axle;Side;Supplier;Price;Currency;Pack\n';
const GOOD = [
  'LX-1',
  'Pad set, long life',
  'brake pads',
  'Marrowby Friction',
  '4',
  'Ostrey Carrier 35',
  '1',
  '',
  'Corvane Brake Supply',
  '51,20',
  'USD',
  '1',
];
const line = (change: Partial<Record<number, string>> = {}) =>
  `${GOOD.map((cell, i) => change[i] ?? cell).join(';')}\n`;

describe('a parts list', () => {
  it('is known by its columns, and goes in once: the part, two axles that it fits, its price', async () => {
    const text = PARTS + line() + line({ 6: '2' });
    const seen = await look(text);
    expect([seen.understanding.kind, seen.counts, seen.records]).toEqual([
      'parts',
      { accepted: 2, questioned: 0, refused: 0, already: 0 },
      2,
    ]);
    await take(text).expect(200);
    const [part] = (await app.items<Part>('/api/parts')).filter(({ number }) => number === 'LX-1');
    expect(part).toMatchObject({ kind: 'brake pad', pieces: 4, maker: 'Marrowby Friction' });
    expect(part?.fits.map(({ model, axle }) => [model, axle])).toEqual([
      ['Ostrey Carrier 35', 1],
      ['Ostrey Carrier 35', 2],
    ]);
    expect(part?.offers).toEqual([
      expect.objectContaining({ priceMinor: 5120, currency: 'USD', pack: 1, leadDays: 3 }),
    ]);
    const again = (await take(text).expect(200)).body as ImportResult;
    expect([again.counts.already, again.records]).toEqual([2, 0]);
  });

  it.each([
    ['Kind', 2, 'gasket', /is not a kind/],
    ['Pieces', 4, '3', /comes by 1, 2, 4/],
    ['Model', 5, 'Nothing 9', /no model/],
    ['Model', 5, '', /An axle without its model/],
    ['Axle', 6, '5', /has no axle 5/],
    ['Side', 7, 'middle', /is not a side/],
    ['Supplier', 8, 'Nobody', /no supplier/],
    ['Supplier', 8, '', /A price without who asks it/],
    ['Price', 9, '0', /out of range/],
    ['Price', 9, 'dear', /not a number/],
    ['Currency', 10, '', /has a currency/],
    ['Currency', 10, 'EUR', /sells in USD/],
    ['Pack', 11, '0', /out of range/],
    ['Maker', 3, '', /is blank/],
  ])('with a wrong %s (column %i: “%s”) is refused there', async (at, column, value, message) => {
    const found = reasonsOf(await look(PARTS + line({ 0: 'LX-9', [column]: value })));
    expect(found.some((one) => one.at === at && message.test(one.message))).toBe(true);
  });

  it('that contradicts the record is refused, not written over it', async () => {
    await take(PARTS + line()).expect(200);
    const other = await look(PARTS + line({ 1: 'Something else' }) + line({ 9: '49,00' }));
    expect(reasonsOf(other).map(({ at }) => at)).toEqual(['Part number', 'Price']);
    expect(other.records).toBe(0);
  });

  it('is for whoever keeps parts', async () => {
    await take(PARTS + line({ 0: 'LX-7' }), {}, app.technician).expect(403);
    await take(
      'unit,model,depot,duty,duty_from,odometer\nP99,Ostrey Carrier 35,Northfold,Farm rounds,2026-01-01,10\n',
    ).expect(403);
  });
});

describe('a stock list', () => {
  const STOCK = 'part,depot,bin,qty,lot,use by\n';
  const inBin = async (bin: string) =>
    (await app.items<StockRow>(`/api/stock?depot=${encodeURIComponent(DEPOT)}`)).filter((one) => one.bin === bin);

  it('fills empty bins; the same list again is already in', async () => {
    const text = `${STOCK}BC-500,${DEPOT},s-01,7,,\nFL-4-05,${DEPOT},s-02,3,B7,2027-05-01\n`;
    const seen = await look(text);
    expect([seen.understanding.kind, seen.counts.accepted]).toEqual(['stock', 2]);
    await take(text).expect(200);
    expect(await inBin('S-01')).toEqual([expect.objectContaining({ part: 'BC-500', units: 7 })]);
    expect(await inBin('S-02')).toEqual([expect.objectContaining({ units: 3, lot: 'B7', expiresOn: '2027-05-01' })]);
    expect((await look(text)).counts.already).toBe(2);
  });

  it('that differs from the record waits for a word, then counts', async () => {
    await take(`${STOCK}BC-500,${DEPOT},s-03,7,,\n`).expect(200);
    const text = `${STOCK}BC-500,${DEPOT},s-03,4,,\n`;
    const seen = await look(text);
    expect([seen.counts.questioned, seen.rows[0]?.taken, reasonsOf(seen)[0]?.message]).toEqual([
      1,
      false,
      'By the record 7 lie there; taken, this counts 4.',
    ]);
    await take(text).expect(200);
    expect((await inBin('S-03'))[0]?.units).toBe(7);
    await take(text, { choices: { '2': 'take' } }).expect(200);
    expect((await inBin('S-03'))[0]?.units).toBe(4);
    const moved = await app.sql<{ kind: string; units: number; counted: number }>(
      `select m.kind, m.units, m.counted from stock_movement m join bin b on b.id = m.bin_id where b.code = 'S-03' order by m.serial`,
    );
    expect(moved).toEqual([
      { kind: 'count', units: 7, counted: 7 },
      { kind: 'count', units: -3, counted: 4 },
    ]);
  });

  it.each([
    ['a part nobody has', `XX-1,${DEPOT},s-09,1,,`, 'part', /no part XX-1/],
    ['a depot nobody has', 'BC-500,Nowhere,s-09,1,,', 'depot', /no depot/],
    ['half a unit', `BC-500,${DEPOT},s-09,1.5,,`, 'qty', /whole number/],
    ['less than nothing', `BC-500,${DEPOT},s-09,-2,,`, 'qty', /0 to 100,000/],
    ['a lot without its day', `FL-4-05,${DEPOT},s-09,1,B9,`, 'use by', /expires: the last day/],
    ['a day that is none', `FL-4-05,${DEPOT},s-09,1,B9,31.02.2027`, 'use by', /./],
    ['no bin', `BC-500,${DEPOT},,1,,`, 'bin', /is blank/],
  ])('with %s is refused there', async (_what, row, at, message) => {
    const found = reasonsOf(await look(`${STOCK}${row}\n`));
    expect(found.some((one) => one.at === at && message.test(one.message))).toBe(true);
  });

  it('with a bin twice is refused the second time', async () => {
    const row = `BC-500,${DEPOT},s-08,2,,\n`;
    expect(reasonsOf(await look(STOCK + row + row))[0]?.message).toContain('stand in line 2 already');
  });
});

describe('a list of orders placed elsewhere', () => {
  const HEAD = 'Order number,Supplier,Depot,Part,Quantity,Price,Currency,Ordered on,Promised for\n';
  const ROW = ['A-77', 'Corvane Brake Supply', DEPOT, 'PD-OC3-1', '2', '69.00', 'USD', '2026-11-18', '2026-11-24'];
  const row = (over: Partial<Record<number, string>> = {}) => `${ROW.map((cell, i) => over[i] ?? cell).join(',')}\n`;
  const orders = async () =>
    (await app.items<Order>('/api/orders')).filter(({ reference, outside }) => outside && reference === 'A-77');

  it('goes in once as an order on its way, is not asked after, and is received as any other', async () => {
    const text = HEAD + row() + row({ 3: 'CL-OC3-1', 4: '4', 5: '15.50' });
    expect((await look(text)).understanding.kind).toBe('orders');
    await take(text).expect(200);
    const [order] = await orders();
    expect(order).toMatchObject({ state: 'sent', supplier: 'Corvane Brake Supply', totalMinor: 2 * 6900 + 4 * 1550 });
    expect(order?.lines.map(({ part, units, promisedOn }) => [part, units, promisedOn])).toEqual([
      ['CL-OC3-1', 4, '2026-11-24'],
      ['PD-OC3-1', 2, '2026-11-24'],
    ]);
    const again = (await take(text).expect(200)).body as ImportResult;
    expect([again.counts.already, again.records, (await orders()).length]).toEqual([2, 0, 1]);
    // Nobody is asked about it: where nothing answers, nothing fails.
    expect(await followOrders(() => app.test.orm.em.fork(), 'http://127.0.0.1:9')).toEqual({ failed: 0, said: 0 });
    await app.keeper
      .post(`/api/orders/${order?.id}/receipts`)
      .send({
        id: randomUUID(),
        lines: order?.lines.map(({ id, units }) => ({ lineId: id, units, bin: 'R-01' })),
      })
      .expect(201);
    expect((await orders())[0]?.state).toBe('received');
    const more = await look(HEAD + row({ 3: 'WS-OC3-1-L', 4: '1' }));
    expect(reasonsOf(more)).toEqual([{ at: 'Order number', message: expect.stringMatching(/is received/) }]);
  });

  it.each([
    ['Supplier', 1, 'Nobody', /no supplier/],
    ['Depot', 2, 'Nowhere', /no depot/],
    ['Part', 3, 'NO-1', /no part NO-1/],
    ['Quantity', 4, '0', /out of range/],
    ['Quantity', 4, '3', /On record with 2/],
    ['Price', 5, '-1', /out of range/],
    ['Currency', 6, 'EUR', /sells in USD/],
    ['Currency', 6, '', /sells in USD/],
    ['Ordered on', 7, '2027-01-01', /in the future/],
    ['Promised for', 8, '2026-11-01', /before it was ordered/],
  ])('refuses a wrong %s', async (at, column, cell, message) => {
    const seen = await look(HEAD + row({ [column]: cell }));
    expect(reasonsOf(seen)).toEqual([{ at, message: expect.stringMatching(message) }]);
    expect(seen.counts.refused).toBe(1);
  });

  it('is for those who keep parts', async () => {
    await take(HEAD + row({ 0: 'A-78' }), {}, app.technician).expect(403);
  });
});

describe('taken back whole', () => {
  const back = (id: string) =>
    app.keeper.post(`/api/imports/${id}/withdrawals`).send({ id: randomUUID(), reason: 'the list of another shop' });
  const taken = async (text: string, more: object = {}) =>
    ((await take(text, more).expect(200)).body as ImportResult).id;

  it('a parts list leaves neither part, place nor price; one that is stocked since stays, and says so', async () => {
    const part = async () => (await app.items<Part>('/api/parts')).find(({ number }) => number === 'LX-9');
    const id = await taken(PARTS + line({ 0: 'LX-9' }) + line({ 0: 'LX-9', 6: '2' }));
    expect((await part())?.fits).toHaveLength(2);
    await back(id).expect(201);
    expect(await part()).toBeUndefined();
    const again = await taken(PARTS + line({ 0: 'LX-9' }));
    await taken(`part,depot,bin,qty,lot,use by\nLX-9,${DEPOT},t-09,1,,\n`);
    const refused = await back(again);
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      expect.stringMatching(/part LX-9 has (movements of )?stock on record/),
    ]);
    expect(await part()).toBeDefined();
  });

  it('a stock list is followed by counts of what stood there; where something moved since, it says where', async () => {
    const units = async (bin: string) =>
      (await app.items<StockRow>(`/api/stock?depot=${encodeURIComponent(DEPOT)}`))
        .filter((one) => one.bin === bin)
        .reduce((sum, one) => sum + one.units, 0);
    const head = 'part,depot,bin,qty,lot,use by\n';
    await taken(`${head}BC-500,${DEPOT},t-01,7,,\n`);
    const id = await taken(`${head}BC-500,${DEPOT},t-01,4,,\nBC-500,${DEPOT},t-02,2,,\n`, {
      choices: { '2': 'take' },
    });
    expect([await units('T-01'), await units('T-02')]).toEqual([4, 2]);
    await back(id).expect(201);
    expect([await units('T-01'), await units('T-02')]).toEqual([7, 0]);
    const first = await taken(`${head}BC-500,${DEPOT},t-03,5,,\n`);
    await taken(`${head}BC-500,${DEPOT},t-03,6,,\n`, { choices: { '2': 'take' } });
    const refused = await back(first);
    expect([refused.status, refused.body.detail]).toEqual([409, expect.stringMatching(/BC-500.*another movement/)]);
    expect(await units('T-03')).toBe(6);
  });

  it('a list of orders leaves none; one that was received since stays', async () => {
    const head = 'Order number,Supplier,Depot,Part,Quantity,Price,Currency,Ordered on,Promised for\n';
    const row = (order: string) =>
      `${order},Corvane Brake Supply,${DEPOT},PD-OC3-1,2,69.00,USD,2026-11-18,2026-11-24\n`;
    const order = async (name: string) =>
      (await app.items<Order>('/api/orders')).find(({ reference }) => reference === name);
    await back(await taken(head + row('B-1'))).expect(201);
    expect(await order('B-1')).toBeUndefined();
    const id = await taken(head + row('B-2'));
    const placed = await order('B-2');
    await app.keeper
      .post(`/api/orders/${placed?.id}/receipts`)
      .send({
        id: randomUUID(),
        lines: placed?.lines.map((one) => ({ lineId: one.id, units: one.units, bin: 'R-02' })),
      })
      .expect(201);
    const refused = await back(id);
    expect(refused.status).toBe(409);
    expect(refused.body.detail).toMatch(/order B-2 was changed since|has movements of stock/);
    expect((await order('B-2'))?.state).toBe('received');
  });
});
