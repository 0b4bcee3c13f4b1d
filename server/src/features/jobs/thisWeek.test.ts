import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { MileMarks } from '@mile-mark/contract/forecasts';
import type { ThisWeek } from '@mile-mark/contract/jobs';
import { createTestApp, fillSmallFleet, type TestApp, TODAY } from '../../testing/app.ts';
import { readPdf } from '../../testing/pdf.ts';

let test: TestApp;
let coordinator: Awaited<ReturnType<TestApp['as']>>;
let viewer: Awaited<ReturnType<TestApp['as']>>;
let gaugeId: string;
beforeAll(async () => {
  test = await createTestApp();
  ({ gaugeId } = await fillSmallFleet(test));
  coordinator = await test.as('coordinator');
  viewer = await test.as('viewer');
});
afterAll(async () => test.close());

const week = async (query = {}) => (await viewer.get('/api/this-week').query(query).expect(200)).body as ThisWeek;
const print = async (query = {}) => {
  const { body, headers } = await viewer.get('/api/this-week.pdf').query(query).buffer(true).expect(200);
  return { ...(await readPdf(body as Buffer)), headers: headers as Record<string, string> };
};

describe('this week', () => {
  it('holds the marks that are passed or fall within seven days, and no other', async () => {
    const { items } = (await viewer.get('/api/mile-marks').expect(200)).body as MileMarks;
    const { marks, until, today } = await week();
    expect([today, until]).toEqual([TODAY, '2026-11-26']);
    expect(marks).toEqual(items.filter(({ markDate }) => markDate <= '2026-11-26'));
    expect(marks.length).toBeGreaterThan(0);
  });

  it('holds what forbids driving apart, other defects that are due, and what is put off not', async () => {
    const look = {
      inspection: { id: randomUUID(), unit: 'P1', gaugeId, date: TODAY, odometer: '58,600' },
      readings: [],
      findings: [
        { id: randomUUID(), axle: 1, side: 'left', item: 'rotor', state: 'cracked', places: ['outer face'] },
        { id: randomUUID(), axle: 1, side: 'left', item: 'boots', state: 'torn' },
        { id: randomUUID(), axle: 2, side: 'right', item: 'pins', state: 'stiff' },
      ],
    };
    await coordinator.post('/api/readings').send(look).expect(201);
    const found = await week();
    expect(found.forbidding).toMatchObject([{ text: 'rotor cracked', note: 'outer face' }]);
    expect(found.defects.map(({ text }) => text)).toEqual(['boots torn', 'pins stiff']);
    const settle = { id: randomUUID(), how: 'deferred', until: '2026-12-24', reason: 'pads due then' };
    await coordinator
      .post(`/api/defects/${found.defects[1]?.id ?? ''}/settlements`)
      .send(settle)
      .expect(201);
    expect((await week()).defects.map(({ text }) => text)).toEqual(['boots torn']);
  });

  it('counts open questions, and narrows to a depot', async () => {
    const far = { id: randomUUID(), unit: 'P2', gaugeId, date: TODAY, odometer: '83,200' };
    await coordinator
      .post('/api/readings')
      .send({
        inspection: far,
        readings: [
          { id: randomUUID(), axle: 1, side: 'left', pad: 'outer', thickness: '15.9', answer: 'leave_to_coordinator' },
        ],
      })
      .expect(201);
    const open = ((await coordinator.get('/api/questions')).body.items as unknown[]).length;
    expect(open).toBeGreaterThan(0);
    expect((await week()).questions).toBe(open);
    expect((await week({ depot: 'Hill depot' })).questions).toBe(open);
    const nowhere = await week({ depot: 'Moon depot' });
    expect([nowhere.questions, nowhere.marks, nowhere.forbidding, nowhere.defects]).toEqual([0, [], [], []]);
  });

  it('holds jobs that are in work, or booked by its end', async () => {
    const listed = async () => (await week()).jobs.map(({ unit, state, day }) => [unit, state, day]);
    const book = async (unit: string, day?: string) => {
      const id = randomUUID();
      const pads = { action: 'pads', reason: 'the test asks for it' };
      const job = { id, unit, axles: [{ axle: 1, added: [pads] }], ...(day ? { day } : {}) };
      await coordinator.post('/api/jobs').send(job).expect(201);
      return (body: object) =>
        coordinator
          .post(`/api/jobs/${id}/moves`)
          .send({ id: randomUUID(), ...body })
          .expect(201);
    };
    const moveP1 = await book('P1', '2026-11-27');
    const moveP2 = await book('P2');
    expect(await listed()).toEqual([]);
    await moveP2({ verb: 'book', day: '2026-11-26' });
    expect(await listed()).toEqual([['P2', 'booked', '2026-11-26']]);
    await moveP1({ verb: 'start' });
    expect(await listed()).toHaveLength(2);
    expect(await listed()).toContainEqual(['P1', 'in work', '2026-11-27']);
    for (const move of [moveP1, moveP2]) await move({ verb: 'call off', reason: 'the test is over' });
    expect(await listed()).toEqual([]);
  });

  it('holds torque tools whose calibration ends within thirty days', async () => {
    const tool = { kind: 'wrench', depot: 'Hill depot', unit: 'N·m', least: 40, most: 200, graduation: 1 };
    for (const [name, calibrationDue] of [
      ['Half-inch', '2026-12-20'],
      ['Three-quarter', '2026-12-21'],
    ])
      await coordinator
        .post('/api/torque-tools')
        .send({ id: randomUUID(), name, calibrationDue, ...tool })
        .expect(201);
    expect((await week()).calibrate.map(({ name, depot }) => [name, depot])).toEqual([['Half-inch', 'Hill depot']]);
    expect((await week({ depot: 'Moon depot' })).calibrate).toEqual([]);
  });

  it('tells changes of wear until somebody decides, with what to look at', async () => {
    const detail = { factor: { p05: 2.2, p50: 2.6, p95: 3 }, looks: 3, outlived: null, wear: [] };
    await test.orm.em.fork().execute(
      `insert into wear_change (vehicle_id, kind, axle, side, more, since, probability, detail, first_told, last_told)
       select id, 'apart', 1, 'left', 'inner', '2026-10-01', 0.97, ?::jsonb, '2026-11-02', '2026-11-20' from vehicle where unit = 'P1'`,
      [JSON.stringify(detail)],
    );
    const [found] = (await week()).changes;
    expect(found).toMatchObject({ unit: 'P1', axle: 1, side: 'left', since: '2026-10-01', open: true });
    expect((await week({ depot: 'Moon depot' })).changes).toEqual([]);
    const { text } = await print();
    for (const told of ['Changes of wear to decide on: 1', '2.6 times (2.2 to 3.0)', 'Test pins and channels'])
      expect(text).toContain(told);
    await coordinator
      .post(`/api/changes/${found?.id ?? ''}/answers`)
      .send({ id: randomUUID(), answer: 'cause_found', note: 'slide was seized' })
      .expect(201);
    expect((await week()).changes).toEqual([]);
  });

  it('is printed as one page that says the same, in the units of whoever prints it', async () => {
    await viewer.put('/api/me/preferences').send({ distanceUnit: 'km', thicknessUnit: 'in' }).expect(200);
    const { pages, text, headers } = await print();
    expect(headers['content-type']).toContain('application/pdf');
    expect(headers['content-disposition']).toContain('this-week-2026-11-20.pdf');
    expect(pages).toHaveLength(1);
    for (const told of [
      'This week',
      '20 Nov 2026 to 26 Nov 2026',
      'Not to be driven: 1',
      'rotor cracked: outer face',
      'boots torn',
      'local codes',
    ])
      expect(text).toContain(told);
    expect(text).toMatch(/\d km/);
    expect(text).not.toMatch(/\d mi\b|\d mm\b/);
  });
});
