import { afterAll, beforeAll, describe, expect, it, jest } from '@jest/globals';
import { supplierStandIn } from '@mile-mark/standins';
import { randomUUID } from 'node:crypto';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Demand, Order, Part, StockRow } from '@mile-mark/contract/parts';
import { followOrders, kitDays } from '../features/parts/index.ts';
import { TODAY } from './app.ts';
import { createPartsApp, fieldsOf, DEPOT, type PartsApp } from './partsApp.ts';

let app: PartsApp;
beforeAll(async () => {
  app = await createPartsApp();
}, 180_000);
afterAll(async () => app.test.close());

describe('orders', () => {
  const open = (state = 'proposed') => app.items<Order>(`/api/orders?state=${state}`);
  const one = async (id: string) => (await app.items<Order>('/api/orders')).find((order) => order.id === id);
  const approve = (order: Order, over: Record<string, unknown> = {}) =>
    app.keeper.post(`/api/orders/${order.id}/approve`).send({ id: randomUUID(), revision: order.revision, ...over });

  async function supplierOf(options: Partial<Parameters<typeof supplierStandIn>[0]> = {}) {
    return supplierStandIn({ seed: 4, today: () => TODAY, leadDays: 3, ...options });
  }
  /** A proposal with lines, whatever the needs are just then. */
  async function proposal(
    lines = [
      { part: 'PD-OC3-1', units: 2 },
      { part: 'RT-OC3-1', units: 4 },
    ],
    depot = DEPOT,
  ): Promise<Order> {
    await app.sql(`update purchase_order set edited = true where state = 'proposed'`);
    const [there] = (await open()).filter((one) => one.supplier === 'Corvane Brake Supply' && one.depot === depot);
    if (there)
      await app.keeper
        .post(`/api/orders/${there.id}/call-off`)
        .send({ id: randomUUID(), reason: 'for a test' })
        .expect(201);
    const id = randomUUID();
    await app.sql(
      `insert into purchase_order (id, supplier_id, depot_id, state, made_on) select ?, s.id, d.id, 'proposed', ?::date from supplier s, depot d
       where s.name = 'Corvane Brake Supply' and d.name = ?`,
      [id, TODAY, depot],
    );
    await app.keeper.put(`/api/orders/${id}`).send({ revision: 1, lines }).expect(200);
    const order = await one(id);
    if (!order) throw new Error('no proposal');
    return order;
  }

  it('are proposed by supplier and depot, in whole packs, each line with its reasons', async () => {
    // Nothing lies anywhere: what is due soon has to be bought.
    for (const row of await app.items<StockRow>('/api/stock'))
      await app
        .move({
          kind: 'count',
          part: row.part,
          depot: row.depot,
          bin: row.bin,
          counted: 0,
          ...(row.lot === null ? {} : { lot: row.lot }),
        })
        .expect(201);
    await app.plan();
    const proposals = await open();
    expect(proposals.length).toBeGreaterThan(0);
    for (const { lines, totalMinor } of proposals) {
      expect(totalMinor).toBe(lines.reduce((sum, { units, priceMinor }) => sum + units * priceMinor, 0));
      for (const { why, part, units } of lines) {
        expect(why.some((text) => text.startsWith('Reorder point'))).toBe(true);
        if (part.startsWith('RT-')) expect(units % 2).toBe(0);
      }
    }
  });

  it('from proposal to shelf: approved, sent once, promised, received in two parts, then done', async () => {
    const supplier = await supplierOf();
    const order = await proposal();
    await approve(order, { reason: 'for the shelf' }).expect(201);
    await approve(order).expect(409);
    await followOrders(() => app.test.orm.em.fork(), supplier.url);
    await followOrders(() => app.test.orm.em.fork(), supplier.url);
    expect(supplier.orders()).toHaveLength(1);
    const sent = await one(order.id);
    expect(sent?.state).toBe('acknowledged');
    const isOpen = async () => (await open('open')).some(({ id }) => id === order.id);
    expect(await isOpen()).toBe(true);
    expect(sent?.said.filter(({ text }) => text === 'The supplier has the order.')).toHaveLength(1);
    expect(sent?.lines.every(({ promisedOn }) => promisedOn !== null)).toBe(true);

    const receive = (lines: object[], id = randomUUID()) =>
      app.keeper.post(`/api/orders/${order.id}/receipts`).send({ id, lines });
    const [pads, rotors] = ['PD-OC3-1', 'RT-OC3-1'].map((part) => sent?.lines.find((line) => line.part === part));
    const over = await receive([{ lineId: pads?.id, units: 3, bin: 'R-01' }]);
    expect([over.status, fieldsOf(over)]).toEqual([422, ['lines.0.units']]);
    const wrong = await receive([{ lineId: rotors?.id, units: 4, bin: 'R-02', measures: { diameterMm: 290 } }]);
    expect([wrong.status, fieldsOf(wrong)]).toEqual([422, ['lines.0.measures.diameterMm']]);
    const id = randomUUID();
    await receive([{ lineId: pads?.id, units: 1, bin: 'R-01' }], id).expect(201);
    await receive([{ lineId: pads?.id, units: 1, bin: 'R-01' }], id).expect(201);
    expect((await one(order.id))?.lines.find(({ part }) => part === 'PD-OC3-1')?.received).toBe(1);
    await receive([
      { lineId: pads?.id, units: 1, bin: 'R-01' },
      { lineId: rotors?.id, units: 4, bin: 'R-02', measures: { diameterMm: 302 } },
    ]).expect(201);
    expect((await one(order.id))?.state).toBe('received');
    expect(await isOpen()).toBe(false);
    await supplier.close();
  });

  it('tell of each line whether what comes has a last day', async () => {
    const offered = (await app.items<Part>('/api/parts')).filter(
      ({ retired, supersededBy, offers }) =>
        !retired && supersededBy === null && offers.some(({ supplier }) => supplier === 'Corvane Brake Supply'),
    );
    const [goesOff, keeps] = [true, false].map((ends) => offered.find((part) => (part.shelfDays !== null) === ends));
    if (!goesOff || !keeps) throw new Error('the supplier has none of one kind');
    const { lines } = await proposal(
      [goesOff, keeps].map(({ number, offers }) => ({
        part: number,
        units: offers.reduce((units, { pack, least }) => units * pack * least, 1),
      })),
    );
    expect(Object.fromEntries(lines.map(({ part, expires }) => [part, expires]))).toEqual({
      [goesOff.number]: true,
      [keeps.number]: false,
    });
  });

  it('a supplier that never answers loses nothing, and one that took the order in unanswered gets it once', async () => {
    const order = await proposal();
    await approve(order, { reason: 'for the shelf' }).expect(201);
    expect((await followOrders(() => app.test.orm.em.fork(), 'http://127.0.0.1:9')).failed).toBeGreaterThan(0);
    expect((await one(order.id))?.state).toBe('approved');
    const mute = await supplierOf({ failing: 1 });
    await followOrders(() => app.test.orm.em.fork(), mute.url);
    expect([
      (await one(order.id))?.state,
      mute.orders().filter(({ reference }) => reference === order.id).length,
    ]).toEqual(['approved', 1]);
    const well = await supplierOf();
    await Promise.all([
      followOrders(() => app.test.orm.em.fork(), well.url),
      followOrders(() => app.test.orm.em.fork(), well.url),
    ]);
    expect((await one(order.id))?.state).toBe('acknowledged');
    const counted = await app.sql<{ n: number }>(
      'select count(*)::int as n from order_message where order_id = ? group by message_id having count(*) > 1',
      [order.id],
    );
    expect(counted).toEqual([]);
    await mute.close();
    await well.close();
  });

  it('what a supplier says that can’t be read is told once, and stops nothing of the order', async () => {
    const order = await proposal();
    await approve(order, { reason: 'for the shelf' }).expect(201);
    const strange = { id: 'x', kind: 'perhaps\u0000', day: 'soon' };
    const messages = [strange, { id: `${order.id}/taken`, kind: 'acknowledged' }, strange];
    const odd = createServer((request, response) => {
      const body = request.method === 'POST' ? { taken: 'S-1' } : { messages };
      request.resume().on('end', () => response.writeHead(200).end(JSON.stringify(body)));
    });
    await new Promise<void>((resolve) => odd.listen(0, '127.0.0.1', resolve));
    const url = `http://127.0.0.1:${(odd.address() as AddressInfo).port}`;
    for (let k = 0; k < 2; k += 1) expect((await followOrders(() => app.test.orm.em.fork(), url)).failed).toBe(0);
    odd.close();
    const told = await one(order.id);
    expect(told?.state).toBe('acknowledged');
    expect(told?.said.map(({ text }) => text).sort()).toEqual([
      'The supplier has the order.',
      'The supplier said something that can’t be read here: ask there what it is.',
    ]);
  });

  it('what is rejected is said and no longer comes; what is sent instead is received as that', async () => {
    const numberOf = async (part: string) => (await app.partNamed(part))?.offers[0]?.supplierNumber ?? '';
    const supplier = await supplierOf({
      rejects: [await numberOf('RT-OC3-1')],
      instead: { [await numberOf('PD-OC3-1')]: 'PD-OC3-1-M' },
    });
    const order = await proposal();
    await approve(order, { reason: 'for the shelf' }).expect(201);
    await followOrders(() => app.test.orm.em.fork(), supplier.url);
    const sent = await one(order.id);
    const [pads, rotors] = ['PD-OC3-1', 'RT-OC3-1'].map((part) => sent?.lines.find((line) => line.part === part));
    expect([pads?.instead, rotors?.ended]).toEqual(['PD-OC3-1-M', 'rejected']);
    const before = (await app.partNamed('PD-OC3-1-M'))?.onHand ?? 0;
    await app.keeper
      .post(`/api/orders/${order.id}/receipts`)
      .send({ id: randomUUID(), lines: [{ lineId: pads?.id, units: 2, bin: 'R-01' }] })
      .expect(201);
    expect((await app.partNamed('PD-OC3-1-M'))?.onHand).toBe(before + 2);
    expect((await one(order.id))?.state).toBe('received');
    await supplier.close();
  });

  it('a substitute for another axle is said and not believed: the line stands as it was ordered', async () => {
    const numberOf = async (part: string) => (await app.partNamed(part))?.offers[0]?.supplierNumber ?? '';
    const supplier = await supplierOf({ instead: { [await numberOf('PD-OC3-1')]: 'PD-OC3-2' } });
    const order = await proposal();
    await approve(order, { reason: 'for the shelf' }).expect(201);
    await followOrders(() => app.test.orm.em.fork(), supplier.url);
    const sent = await one(order.id);
    expect(sent?.lines.find(({ part }) => part === 'PD-OC3-1')?.instead).toBeNull();
    expect(sent?.said.map(({ text }) => text)).toContain(
      'PD-OC3-1: PD-OC3-2 is to be sent instead, which does not fit wherever PD-OC3-1 does. Refuse it.',
    );
    await supplier.close();
  });

  it('of which nothing more comes: what came stays, the rest is no longer waited for', async () => {
    const supplier = await supplierOf();
    const order = await proposal();
    await approve(order, { reason: 'for the shelf' }).expect(201);
    await followOrders(() => app.test.orm.em.fork(), supplier.url);
    const pads = (await one(order.id))?.lines.find(({ part }) => part === 'PD-OC3-1');
    await app.keeper
      .post(`/api/orders/${order.id}/receipts`)
      .send({ id: randomUUID(), lines: [{ lineId: pads?.id, units: 1, bin: 'R-05' }] })
      .expect(201);
    const callOff = (body: object) =>
      app.keeper.post(`/api/orders/${order.id}/call-off`).send({ id: randomUUID(), ...body });
    expect(fieldsOf(await callOff({ reason: '' }))).toEqual(['reason']);
    await callOff({ reason: 'the supplier closed' }).expect(201);
    const after = await one(order.id);
    expect([after?.state, ...(after?.lines ?? []).map(({ ended, received }) => [ended, received])]).toEqual([
      'received',
      ['short', 1],
      ['short', 0],
    ]);
    await callOff({ reason: 'again' }).expect(409);
    await supplier.close();
  });

  it('each step of an order is told to whoever plans and sends', async () => {
    const order = await proposal();
    const emitted = jest.spyOn(app.test.events, 'emit');
    const told = () => emitted.mock.calls.splice(0).map(([, { name }]) => name);
    await approve(order, { reason: 'for the shelf' }).expect(201);
    expect(told()).toEqual(['order moved']);
    await app.keeper
      .post(`/api/orders/${order.id}/call-off`)
      .send({ id: randomUUID(), reason: 'another way was found' })
      .expect(201);
    expect(told()).toEqual(['order moved']);
    emitted.mockRestore();
  });

  it('a proposal that was called off is left alone for a week, and says so', async () => {
    for (const { id } of await open())
      await app.keeper.post(`/api/orders/${id}/call-off`).send({ id: randomUUID(), reason: 'not now' }).expect(201);
    await app.sql(`update purchase_order set called_off_on = ?::date - 7 where state = 'called off'`, [TODAY]);
    for (const row of (await app.items<StockRow>('/api/stock')).filter(({ units }) => units > 0))
      await app
        .move({
          kind: 'count',
          part: row.part,
          depot: row.depot,
          bin: row.bin,
          counted: 0,
          ...(row.lot === null ? {} : { lot: row.lot }),
        })
        .expect(201);
    // Of empty shelves the kit of no axle is there today, unless its job has all it wants already.
    const days = [...(await kitDays(app.test.orm.em.fork(), TODAY))().values()];
    expect(days.filter((day) => day > 0).length).toBeGreaterThan(0.8 * days.length);
    await app.plan();
    const [proposed] = await open();
    const [line] = proposed?.lines ?? [];
    if (!proposed || !line) throw new Error('nothing is proposed of empty shelves');
    await app.keeper
      .post(`/api/orders/${proposed.id}/call-off`)
      .send({ id: randomUUID(), reason: 'not now' })
      .expect(201);
    await app.plan();
    const again = (await open()).filter(
      ({ depot, supplier }) => depot === proposed.depot && supplier === proposed.supplier,
    );
    expect(again.flatMap(({ lines }) => lines.map(({ part }) => part))).not.toContain(line.part);
    const { why } = (
      await app.keeper.get(`/api/demand?part=${line.part}&depot=${encodeURIComponent(proposed.depot)}`).expect(200)
    ).body as Demand;
    expect(why.at(-1)).toBe('Its proposal was called off; it is proposed again from 27 Nov 2026 on.');
    await app.sql(`update purchase_order set called_off_on = ?::date - 7 where id = ?`, [TODAY, proposed.id]);
    await app.plan();
    expect((await open()).flatMap(({ lines }) => lines.map(({ part }) => part))).toContain(line.part);
  });

  it('pads of the wrong axle are caught before they are ordered', async () => {
    const kits = await app.openKits();
    const padsOf = (depot: string) =>
      new Set(
        kits
          .filter((kit) => kit.depot === depot)
          .flatMap(({ needs }) => needs.filter(({ kind }) => kind === 'brake pad'))
          .flatMap(({ options }) => options.map(({ part }) => part)),
      );
    const other = (number: string) => number.replace(/-(\d)$/, (_all, axle: string) => `-${axle === '1' ? 2 : 1}`);
    const found = kits
      .flatMap((kit) =>
        kit.needs.map((need) => ({ kit, own: need.kind === 'brake pad' ? need.options[0]?.part : undefined })),
      )
      .find(({ kit, own }) => own !== undefined && !padsOf(kit.depot).has(other(own)));
    if (found?.own === undefined) throw new Error('the demo’s jobs need both axles’ pads everywhere');
    const { kit, own } = found;
    for (const number of padsOf(kit.depot)) await app.emptied(kit, number);
    const order = await proposal([{ part: other(own), units: 1 }], kit.depot);
    expect(order.lines[0]?.doubts[0]).toContain('fits another axle');
    const refused = await approve(order);
    expect([refused.status, fieldsOf(refused)]).toEqual([422, ['reason']]);
    const right = await proposal([{ part: own, units: 1 }], kit.depot);
    expect(right.lines[0]?.doubts).toEqual([]);
    await approve(right).expect(201);
  });

  it('are edited by one at a time, in what the supplier sells and in its packs', async () => {
    const order = await proposal();
    const change = (lines: object[], revision = order.revision) =>
      app.keeper.put(`/api/orders/${order.id}`).send({ revision, lines });
    expect(fieldsOf(await change([{ part: 'RT-OC3-1', units: 3 }]))).toEqual(['lines.0.units']);
    expect(fieldsOf(await change([{ part: 'PD-OC3-1-M', units: 1 }]))).toEqual(['lines.0.part']);
    await change([{ part: 'RT-OC3-1', units: 2 }]).expect(200);
    await change([{ part: 'RT-OC3-1', units: 4 }]).expect(409);
    await app.plan();
    expect((await one(order.id))?.lines.map(({ part, units }) => [part, units])).toEqual([['RT-OC3-1', 2]]);
  });
});
