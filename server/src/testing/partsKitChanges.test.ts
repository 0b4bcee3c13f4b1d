import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { AxleKit, Demand, JobKit, ModelKits, Part, PartsTerms } from '@mile-mark/contract/parts';
import type { JobCard } from '@mile-mark/contract/jobs';
import { createPartsApp, fieldsOf, DEPOT, type Agent, type PartsApp } from './partsApp.ts';

let app: PartsApp;
beforeAll(async () => {
  app = await createPartsApp();
}, 180_000);
afterAll(async () => app.test.close());

const VAN = 'Ostrey Carrier 35';
const TANKER = 'Veldring 26 tanker';
const kitsOf = async (model: string) =>
  (await app.keeper.get(`/api/kits?model=${encodeURIComponent(model)}`).expect(200)).body as ModelKits;
/** The version that somebody sees; of a model that is not there, the first. */
const versionOf = async (model: string) => {
  const { body } = await app.keeper.get(`/api/kits?model=${encodeURIComponent(model)}`);
  return (body as Partial<ModelKits>).version ?? 1;
};
const change = async (over: Record<string, unknown> = {}, who: Agent = app.keeper) => {
  const model = (over.model as string | undefined) ?? VAN;
  return who.post('/api/kits/changes').send({
    id: randomUUID(),
    version: await versionOf(model),
    model,
    axle: 1,
    kind: 'brake hose',
    action: 'pads',
    quantity: 1,
    reason: 'the hoses of these years crack',
    ...over,
  });
};
const kindsWith = (kits: ModelKits, axle: number, action = 'pads') =>
  kits.axles
    .find((one) => one.axle === axle)
    ?.works.find((work) => work.action === action)
    ?.lines.map(({ kind }) => kind) ?? [];
const demandOf = async (part: string) =>
  (await app.keeper.get(`/api/demand?part=${part}&depot=${encodeURIComponent(DEPOT)}`).expect(200)).body as Demand;

describe('the kits of a model', () => {
  it('stand axle by axle and work by work, four pads and both rotors, each line from a number that fits', async () => {
    const { axles } = await kitsOf(VAN);
    for (const { axle, works } of axles) {
      expect(works[0]).toMatchObject({ action: 'pads', chance: null });
      const all = works.flatMap(({ lines }) => lines);
      expect(all.filter(({ kind }) => kind === 'brake pad').map(({ pieces }) => pieces)).toEqual([4]);
      expect(all.find(({ kind }) => kind === 'rotor')?.pieces).toBe(2);
      const parts = new Map((await app.items<Part>('/api/parts')).map((part) => [part.number, part]));
      for (const { options } of all)
        for (const { part } of options) {
          const fits = parts.get(part)?.fits ?? [];
          expect(fits.length === 0 || fits.some((fit) => fit.model === VAN && fit.axle === axle)).toBe(true);
        }
      for (const { chance } of works.slice(1))
        expect([(chance?.low ?? 1) <= (chance?.mean ?? 0), (chance?.mean ?? 1) <= (chance?.high ?? 0)]).toEqual([
          true,
          true,
        ]);
    }
  });

  it('take what the shop says from the next version on: on the job, on its card, in demand, and in the story', async () => {
    const kit = (await app.openKits()).find(
      ({ model, jobState, needs }) =>
        model !== TANKER && jobState !== 'in work' && needs.some(({ kind }) => kind === 'brake pad'),
    );
    const pads = kit?.needs.find(({ kind }) => kind === 'brake pad');
    if (!kit || !pads || pads.axle === null) throw new Error('no hydraulic job waits for pads');
    const { model } = kit;
    const { axle } = pads;
    const before = await kitsOf(model);
    expect((await change({ model, axle })).status).toBe(201);
    const after = await kitsOf(model);
    expect(after.version).toBe(before.version + 1);
    expect(kindsWith(after, axle)).toContain('brake hose');
    expect(kindsWith(after, 3 - axle)).not.toContain('brake hose');
    expect(after.changes[0]).toMatchObject({ version: after.version, kind: 'brake hose', quantity: 1, counts: true });
    const [now] = await app.items<JobKit>(`/api/job-kits?jobId=${kit.jobId}`);
    expect(now?.version).toBe(after.version);
    const hoses = now?.needs.find(({ kind, axle: at }) => kind === 'brake hose' && at === axle);
    expect(hoses?.pieces).toBe(2);
    const card = (await app.technician.get(`/api/jobs/${kit.jobId}/card`).expect(200)).body as JobCard;
    expect(card.needs.kit).toContainEqual(expect.objectContaining({ part: 'brake hose', axle, quantity: 2 }));
    const mean = async (part: string | undefined) =>
      (await demandOf(part ?? '')).items.reduce((sum, week) => sum + week.mean, 0);
    const seldom = await mean(hoses?.options[0]?.part);
    await app.plan();
    const often = await mean(hoses?.options[0]?.part);
    // Two a job that fits new pads, where some jobs took one before.
    expect(often).toBeGreaterThan(1.8 * (await mean(pads.options[0]?.part)));
    expect(seldom).toBeLessThan(0.3 * often);
    expect((await change({ model, axle, quantity: null, reason: 'new hoses are on all of them' })).status).toBe(201);
    expect(kindsWith(await kitsOf(model), axle)).not.toContain('brake hose');
    expect((await kitsOf(model)).version).toBe(after.version + 1);
  });

  it('stay for work in progress as they were when it began', async () => {
    const working = (await app.openKits()).find(({ jobState }) => jobState === 'in work');
    if (!working) throw new Error('no job is in work');
    const kinds = (kit: JobKit | undefined) => kit?.needs.map(({ kind, axle, pieces }) => [kind, axle, pieces]);
    const axle = working.needs.find(({ kind }) => kind === 'brake pad')?.axle;
    const more = { model: working.model, axle, kind: 'clip set', action: 'pads', quantity: 4, reason: 'for a test' };
    expect((await change(more)).status).toBe(201);
    const [now] = await app.items<JobKit>(`/api/job-kits?jobId=${working.jobId}`);
    expect([kinds(now), now?.version]).toEqual([kinds(working), working.version]);
    const card = (await app.technician.get(`/api/jobs/${working.jobId}/card`).expect(200)).body as JobCard;
    expect(card.needs.kit.find(({ part }) => part === 'clip set')?.quantity).not.toBe(8);
    expect((await change({ ...more, quantity: null })).status).toBe(201);
  });

  it.each([
    ['three pads an axle', { kind: 'brake pad', quantity: 1.5 }, 'quantity', /whole number/],
    ['two pads an axle', { kind: 'brake pad', quantity: 1 }, 'quantity', /four pads/],
    ['an odd washer', { kind: 'sealing washer', quantity: 3 }, 'quantity', /0, 2 or 4 a wheel/],
    ['less than nothing', { quantity: -1 }, 'quantity', /Nought/],
    ['a hose at an air brake', { model: TANKER }, 'kind', /air brake/],
    ['an axle that is not there', { axle: 4 }, 'axle', /has no axle 4/],
    ['a model that is not there', { model: 'Nothing 9' }, 'model', /no model/],
    ['no reason', { reason: ' ' }, 'reason', /reason/],
    ['as usual, where it is', { kind: 'caliper', quantity: null }, 'quantity', /as usual already/],
  ])('refuse %s, and say what is accepted', async (_what, over, field, message) => {
    const answer = await change(over);
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
    expect(answer.body.errors[0].message).toMatch(message);
  });

  it('are changed by one at a time, once, and by those who keep parts', async () => {
    const { version } = await kitsOf(TANKER);
    const body = {
      id: randomUUID(),
      version,
      model: TANKER,
      axle: 1,
      kind: 'brake cleaner',
      action: 'pads',
      quantity: 600,
      reason: 'milk dries hard',
    };
    const both = await Promise.all([
      app.keeper.post('/api/kits/changes').send(body),
      app.keeper.post('/api/kits/changes').send({ ...body, id: randomUUID(), quantity: 700 }),
    ]);
    expect(both.map(({ status }) => status).sort()).toEqual([201, 409]);
    const first = both.find(({ status }) => status === 201);
    const sent = first === both[0] ? body : undefined;
    if (sent) expect((await app.keeper.post('/api/kits/changes').send(sent)).status).toBe(201);
    expect((await kitsOf(TANKER)).version).toBe(version + 1);
    expect((await change({}, app.technician)).status).toBe(403);
    expect((await change({}, app.viewer)).status).toBe(403);
  });
});

describe('consumables', () => {
  it('are of an amount, and a bottle serves as many jobs as its content goes round', async () => {
    const cleaner = (await app.openKits()).flatMap(({ needs }) => needs.filter(({ kind }) => kind === 'brake cleaner'));
    expect(cleaner.length).toBeGreaterThan(1);
    for (const { amount, options } of cleaner) {
      const content = (await app.partNamed(options[0]?.part ?? ''))?.content ?? 0;
      expect([content > 0, options[0]?.units]).toEqual([true, Math.ceil((amount ?? 0) / content)]);
    }
  });

  it('have a content, and counted parts have none', async () => {
    const part = await app.partNamed('PD-OC3-1');
    if (!part) throw new Error('the demo has no pads');
    const { number, maker, name, kind, pieces, revision, fits, offers } = part;
    const answer = await app.keeper.put(`/api/parts/${part.id}`).send({
      number,
      maker,
      name,
      kind,
      pieces,
      revision,
      content: 500,
      fits: fits.map(({ model, axle, side }) => ({ model, axle, side })),
      offers: offers.map(({ supplier, priceMinor, currency }) => ({ supplier, priceMinor, currency })),
    });
    expect([answer.status, fieldsOf(answer)]).toEqual([422, ['content']]);
  });
});

describe('what orders rest on', () => {
  const terms = async () => (await app.keeper.get('/api/parts-terms').expect(200)).body as PartsTerms;
  const put = async (over: Record<string, unknown>, who: Agent = app.keeper) => {
    const { service, holdingShare, revision } = await terms();
    return who.put('/api/parts-terms').send({ revision, service, holdingShare, budget: null, ...over });
  };
  const proposed = async () => {
    await app.plan();
    const orders = await app.items<{ totalMinor: number; lines: { why: string[] }[] }>('/api/orders?state=proposed');
    return {
      total: orders.reduce((sum, { totalMinor }) => sum + totalMinor, 0),
      why: orders.flatMap(({ lines }) => lines.flatMap(({ why }) => why)),
    };
  };

  it('a higher service level never lowers a reorder point, and lifts some', async () => {
    const points = async () => {
      await app.plan();
      return app.sql<{ part_id: string; depot_id: string; reorder_point: number }>(
        'select part_id, depot_id, reorder_point from part_plan order by part_id, depot_id',
      );
    };
    const before = await points();
    expect((await put({ service: 0.99 })).status).toBe(200);
    const after = await points();
    expect(after).toHaveLength(before.length);
    const lifted = after.map((row, i) => row.reorder_point - (before[i]?.reorder_point ?? 0));
    expect(Math.min(...lifted)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...lifted)).toBeGreaterThan(0);
    expect((await put({ service: 0.95 })).status).toBe(200);
  });

  it('a budget bounds what is proposed, says so at the line, and a spent one leaves nothing', async () => {
    await app.sql('delete from order_line where order_id in (select id from purchase_order where not edited)');
    const free = await proposed();
    expect(free.total).toBeGreaterThan(10_000);
    const minor = Math.round(free.total / 2);
    expect((await put({ budget: { minor, currency: 'USD' } })).status).toBe(200);
    const bounded = await proposed();
    expect(bounded.total).toBeLessThanOrEqual(minor);
    expect(bounded.total).toBeGreaterThan(0);
    expect((await put({ budget: { minor: 1, currency: 'USD' } })).status).toBe(200);
    expect((await proposed()).total).toBe(0);
    expect((await put({ budget: null })).status).toBe(200);
    expect((await proposed()).total).toBe(free.total);
  });

  it.each([
    ['no share', { service: 95 }, 'service'],
    ['nothing', { holdingShare: 0 }, 'holdingShare'],
    ['a currency that nobody sells in', { budget: { minor: 100, currency: 'XTS' } }, 'budget.currency'],
  ])('refuse %s', async (_what, over, field) => {
    const answer = await put(over);
    expect([answer.status, fieldsOf(answer)]).toEqual([422, [field]]);
  });

  it('are changed by those who keep parts, on what they saw', async () => {
    const { revision } = await terms();
    expect((await put({ service: 0.96 })).status).toBe(200);
    expect((await put({ service: 0.97, revision })).status).toBe(409);
    expect((await put({}, app.technician)).status).toBe(403);
    expect(await terms()).toMatchObject({ service: 0.96, revision: revision + 1, by: expect.any(String) });
  });
});

describe('an axle without a job', () => {
  it('has the kit that it will want at its mark, and what to order by when; nothing once it lies there', async () => {
    const units = await app.sql<{ unit: string }>(
      `select v.unit from vehicle v where exists (select 1 from forecast f where f.vehicle_id = v.id and f.mark is not null)
         and not exists (select 1 from job j where j.vehicle_id = v.id and j.state in ('proposed', 'booked', 'in work')) order by v.unit limit 4`,
    );
    expect(units).toHaveLength(4);
    for (const { unit } of units) {
      const [kit] = await app.items<AxleKit>(`/api/axle-kits?unit=${unit}`);
      if (!kit) throw new Error(`${unit} has no axle kit`);
      const [{ depot } = { depot: '' }] = await app.sql<{ depot: string }>(
        'select d.name as depot from vehicle v join depot d on d.id = v.depot_id where v.unit = ?',
        [unit],
      );
      const numbers = new Set(kit.orders.map(({ part }) => part));
      for (const part of await app.items<Part>('/api/parts'))
        if (part.fits.length === 0 || numbers.has(part.number))
          await app
            .move({
              kind: 'receive',
              part: part.number,
              depot,
              bin: 'A-01',
              units: 300,
              ...(part.shelfDays ? { expiresOn: '2028-01-01', lot: 'A' } : {}),
            })
            .expect(201);
      const after = (await app.items<AxleKit>(`/api/axle-kits?unit=${unit}`)).find(({ axle }) => axle === kit.axle);
      expect([after?.orders, after?.state === 'short']).toEqual([[], false]);
      for (const { by, leadDays } of kit.orders) {
        expect(by <= kit.day).toBe(true);
        expect(leadDays).toBeGreaterThan(0);
      }
    }
    expect((await app.keeper.get('/api/axle-kits?unit=X99')).status).toBe(422);
  });
});
