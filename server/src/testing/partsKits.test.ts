import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { JobKit, ModelKits, Part, PartsDay } from '@mile-mark/contract/parts';
import { createPartsApp, fieldsOf, type Agent, type PartsApp } from './partsApp.ts';

let app: PartsApp;
beforeAll(async () => {
  app = await createPartsApp();
}, 180_000);
afterAll(async () => app.test.close());

describe('the kit of a job', () => {
  it('takes four pads and both rotors, and only parts that fit the vehicle’s model', async () => {
    const parts = new Map((await app.items<Part>('/api/parts')).map((part) => [part.number, part]));
    for (const { model, needs } of await app.openKits())
      for (const { kind, pieces, side, options, axle } of needs) {
        if (kind === 'brake pad') expect(pieces).toBe(side === 'both' ? 4 : 2);
        if (kind === 'rotor' && side === 'both') expect(pieces).toBe(2);
        for (const { part, units } of options) {
          const own = parts.get(part);
          expect(units * (own?.pieces ?? 0)).toBeGreaterThanOrEqual(pieces);
          if (own && own.fits.length > 0)
            expect(own.fits.some((fit) => fit.model === model && (fit.axle === axle || fit.axle === null))).toBe(true);
        }
      }
  });

  it('takes no rotor of another diameter than the vehicle’s model has', async () => {
    const [job] = await app.openKits();
    const model = job?.model ?? '';
    const rotors = async () => {
      const { axles } = (await app.keeper.get('/api/kits').query({ model }).expect(200)).body as ModelKits;
      const lines = axles.find(({ axle }) => axle === 1)?.works.flatMap((work) => work.lines) ?? [];
      return lines.filter(({ kind }) => kind === 'rotor').flatMap(({ options }) => options.map(({ part }) => part));
    };
    const [usual] = await rotors();
    const known = (await app.items<Part>('/api/parts')).find(({ number }) => number === usual);
    const own = known?.measures.diameterMm ?? 0;
    const other = async (rotorMm: number) => {
      const number = `RT-OTHER-${rotorMm}`;
      const fits = [{ model, axle: 1, side: 'both', rotorMm }];
      const offers = [{ supplier: 'Corvane Brake Supply', priceMinor: 9000, currency: 'USD' }];
      const answer = await app.keeper.post('/api/parts').send({
        id: randomUUID(),
        number,
        maker: 'Tarrow',
        name: 'Other rotor',
        kind: 'rotor',
        pieces: 1,
        fits,
        offers,
      });
      expect([answer.status, fieldsOf(answer)]).toEqual([201, []]);
      return number;
    };
    const [fitting, larger] = [await other(own), await other(own + 20)];
    const now = await rotors();
    expect(now).toContain(fitting);
    expect(now).not.toContain(larger);
  });

  it('is complete when all of it lies there, short when one line does not, and says which', async () => {
    const kit = await app.bookedKit();
    await app.stockUp(kit);
    const now = (await app.items<JobKit>(`/api/job-kits?jobId=${kit.jobId}`))[0];
    expect(now?.state).not.toBe('short');
    const pads = kit.needs.find(({ kind }) => kind === 'brake pad');
    for (const { part } of pads?.options ?? []) await app.emptied(kit, part);
    const short = (await app.items<JobKit>(`/api/job-kits?jobId=${kit.jobId}`))[0];
    expect(short?.state).toBe('short');
    expect(short?.needs.filter(({ now: { state } }) => state === 'short').map(({ kind }) => kind)).toContain(
      'brake pad',
    );
    await app.stockUp(kit);
  });

  it('two pickers take the last at the same moment: one gets it, the other is told who has it', async () => {
    const kit = await app.bookedKit();
    const need = kit.needs.find(({ kind }) => kind === 'brake pad');
    const [first] = need?.options ?? [];
    if (!first) throw new Error('no pads');
    await app.emptied(kit, first.part);
    await app
      .move({ kind: 'receive', part: first.part, depot: kit.depot, bin: 'K-02', units: first.units })
      .expect(201);
    const pick = (who: Agent) =>
      who
        .post('/api/stock/picks')
        .send({ id: randomUUID(), jobId: kit.jobId, lines: [{ part: first.part, units: first.units }] });
    const answers = await Promise.all([pick(app.keeper), pick(app.technician)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    const refused = answers.find(({ status }) => status === 409);
    expect(refused?.body.detail).toMatch(/^None of .* is left here; the last went to .* for /);
    const [picked] =
      (await app.items<JobKit>(`/api/job-kits?jobId=${kit.jobId}`))[0]?.needs.filter(
        ({ kind }) => kind === 'brake pad',
      ) ?? [];
    expect(picked?.picked).toBe(first.units);
    // What was picked is not wanted from the shelf again: the plan foretells as much less.
    const foretold = async () => {
      await app.plan();
      const [row] = await app.sql<{ mean: number }>(
        `select coalesce(sum((w->>'mean')::float), 0) as mean from part_plan x join part p on p.id = x.part_id
           join depot d on d.id = x.depot_id, jsonb_array_elements(x.weeks) w
         where p.number = ? and d.name = ?`,
        [first.part, kit.depot],
      );
      return row?.mean ?? 0;
    };
    const whilePicked = await foretold();
    await app
      .move({
        kind: 'return',
        part: first.part,
        depot: kit.depot,
        bin: 'K-02',
        units: first.units,
        jobId: kit.jobId,
      })
      .expect(201);
    expect((await foretold()) - whilePicked).toBeCloseTo(first.units, 6);
    await app
      .move({ kind: 'return', part: first.part, depot: kit.depot, bin: 'K-02', units: 1, jobId: kit.jobId })
      .expect(422);
  });

  it('all of a pick or nothing: one line short leaves the others where they lie', async () => {
    const kit = await app.bookedKit();
    await app.stockUp(kit);
    const lines = kit.needs.flatMap(({ options: [first] }) =>
      first ? [{ part: first.part, units: first.units }] : [],
    );
    const before = await app.sql('select count(*) as n from stock_movement');
    const answer = await app.keeper
      .post('/api/stock/picks')
      .send({ id: randomUUID(), jobId: kit.jobId, lines: [...lines, { part: 'HF-75', units: 400 }] });
    expect(answer.status).toBe(409);
    expect(await app.sql('select count(*) as n from stock_movement')).toEqual(before);
  });

  it('what lies there against the record is taken where it is seen, and is then to be counted', async () => {
    const kit = await app.bookedKit();
    await app
      .move({
        kind: 'receive',
        part: 'HF-75',
        depot: kit.depot,
        bin: 'K-03',
        units: 1,
        expiresOn: '2028-01-01',
      })
      .expect(201);
    await app.emptied(kit, 'HF-75');
    const line = { part: 'HF-75', units: 1 };
    await app.keeper
      .post('/api/stock/picks')
      .send({ id: randomUUID(), jobId: kit.jobId, lines: [line] })
      .expect(409);
    await app.keeper
      .post('/api/stock/picks')
      .send({ id: randomUUID(), jobId: kit.jobId, lines: [{ ...line, seen: true }] })
      .expect(201);
    const day = (await app.keeper.get('/api/parts-day').expect(200)).body as PartsDay;
    const asked = day.toCount.find(({ part }) => part === 'HF-75');
    expect(asked).toMatchObject({ units: -1, depot: kit.depot });
    await app.move({ kind: 'count', part: 'HF-75', depot: kit.depot, bin: asked?.bin ?? '', counted: 2 }).expect(201);
    const after = (await app.keeper.get('/api/parts-day').expect(200)).body as PartsDay;
    expect(after.toCount.some(({ part, bin }) => part === 'HF-75' && bin === asked?.bin)).toBe(false);
  });

  it('what expires first is taken first', async () => {
    const kit = await app.bookedKit();
    await app.emptied(kit, 'FL-4-05');
    for (const [lot, expiresOn] of [
      ['LATE', '2028-05-01'],
      ['SOON', '2026-12-24'],
    ])
      await app
        .move({ kind: 'receive', part: 'FL-4-05', depot: kit.depot, bin: 'K-04', units: 1, lot, expiresOn })
        .expect(201);
    const answer = await app.keeper
      .post('/api/stock/picks')
      .send({ id: randomUUID(), jobId: kit.jobId, lines: [{ part: 'FL-4-05', units: 1 }] })
      .expect(201);
    expect(answer.body.takes).toEqual([expect.objectContaining({ lot: 'SOON', units: 1 })]);
  });

  it('tells a job whose kit another one got', async () => {
    await app.plan();
    const kit = (await app.openKits()).find(({ state }) => state !== 'short');
    if (!kit) throw new Error('no complete kit');
    for (const { part } of kit.needs.find(({ kind }) => kind === 'brake pad')?.options ?? [])
      await app.emptied(kit, part);
    await app.plan();
    const [told] = await app.items<JobKit>(`/api/job-kits?jobId=${kit.jobId}`);
    expect(told?.notices[0]?.text).toContain(`The kit of ${kit.unit} is no longer complete: brake pad`);
  });
});
