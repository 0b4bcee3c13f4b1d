import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { NewInspection, OwnInspection, Question, SettledQuestion } from '@mile-mark/contract/inspections';
import type { Defect } from '@mile-mark/contract/jobs';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
import { greyPicture } from '../../testing/picture.ts';

let test: TestApp;
let gaugeId: string;
let technician: Awaited<ReturnType<TestApp['as']>>;
let coordinator: Awaited<ReturnType<TestApp['as']>>;

beforeAll(async () => {
  test = await createTestApp();
  ({ gaugeId } = await fillSmallFleet(test));
  technician = await test.as('technician');
  coordinator = await test.as('coordinator');
});
afterAll(async () => test.close());

type Agent = typeof technician;

async function look(
  unit: string,
  date: string,
  odometer: string,
  findings: Omit<NonNullable<NewInspection['findings']>[number], 'id' | 'axle' | 'side'>[] = [],
  who: Agent = technician,
): Promise<string> {
  const id = randomUUID();
  const place = { axle: 1, side: 'left' } as const;
  const sent = await who.post('/api/readings').send({
    inspection: { id, unit, gaugeId, date, odometer },
    readings: [
      { id: randomUUID(), ...place, pad: 'outer', thickness: '8.4' },
      { id: randomUUID(), ...place, pad: 'inner', thickness: '8.1 mm', answer: 'measured_twice' },
    ],
    findings: findings.map((one) => ({ id: randomUUID(), ...place, ...one })),
    rotors: [{ id: randomUUID(), ...place, thicknessUm: [31_500], runoutUm: [], hubRunoutUm: [] }],
    unseen: [{ id: randomUUID(), axle: 2, side: 'right', pad: 'inner' }],
  });
  expect([sent.status, sent.body.errors]).toEqual([201, undefined]);
  return id;
}
const own = async (who = technician) =>
  (await who.get('/api/inspections/own').expect(200)).body.items as OwnInspection[];
const vehicle = async (unit: string) =>
  (await coordinator.get(`/api/vehicles/${unit}`).expect(200)).body as VehicleDetail;
const defects = async (unit: string) =>
  ((await coordinator.get('/api/defects').expect(200)).body.items as Defect[]).filter((one) => one.unit === unit);
const takeBack = (who: Agent, id: string, body: Record<string, unknown> = {}) =>
  who.post(`/api/inspections/${id}/withdrawals`).send({ id: randomUUID(), reason: 'wrong vehicle', ...body });
const live = ({ readings }: VehicleDetail) =>
  readings.filter(({ mm, supersededBy }) => mm !== null && supersededBy === null);

describe('an inspection entered at the wrong vehicle', () => {
  it('is moved whole: readings as typed, findings, rotor, photo and odometer; the first vehicle stands as before', async () => {
    const before = await vehicle('P1');
    const id = await look('P1', '2026-03-02', '84,000 km', [
      { item: 'rotor', state: 'grooved', places: ['outer face'], degree: 'slight', note: 'two rings' },
      { item: 'rotor', state: 'heavy lip' },
    ]);
    await technician
      .post('/api/photos')
      .send({
        id: randomUUID(),
        inspectionId: id,
        axle: 1,
        side: 'left',
        takenAt: '2026-03-02T09:00:00Z',
        jpegBase64: (await greyPicture()).toString('base64'),
      })
      .expect(201);
    const [told] = await own();
    expect(told).toMatchObject({
      id,
      unit: 'P1',
      readings: 2,
      findings: 2,
      rotors: 1,
      photos: 1,
      forbids: false,
      withdrawn: null,
    });

    await takeBack(technician, id, { moveTo: 'p2' }).expect(201);

    const [moved, old] = await own();
    expect(old).toMatchObject({ id, unit: 'P1', readings: 2, withdrawn: { movedTo: 'P2', reason: 'wrong vehicle' } });
    expect(moved).toMatchObject({
      unit: 'P2',
      readings: 2,
      findings: 2,
      rotors: 1,
      photos: 1,
      odometerMi: 52_195,
      withdrawn: null,
    });
    const after = await vehicle('P1');
    expect(live(after)).toEqual(live(before));
    expect([after.findings, after.rotors, after.photos, after.unseen]).toEqual([
      before.findings,
      before.rotors,
      before.photos,
      before.unseen,
    ]);
    expect(after.odometerNowMi).toBe(before.odometerNowMi);
    const there = await vehicle('P2');
    expect(live(there).map(({ mm, typed, answer, odometerMi }) => ({ mm, typed, answer, odometerMi }))).toEqual(
      expect.arrayContaining([
        { mm: 8.4, typed: '8.4', answer: null, odometerMi: 52_195 },
        { mm: 8.1, typed: '8.1 mm', answer: 'measured_twice', odometerMi: 52_195 },
      ]),
    );
    expect(there.findings).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ state: 'grooved', places: ['outer face'], degree: 'slight', note: 'two rings' }),
        expect.objectContaining({ state: 'heavy lip', places: [], degree: null, note: null }),
      ]),
    );
    expect(there.photos).toHaveLength(1);
    expect(after.readings.filter(({ reason }) => reason === 'wrong vehicle')).toHaveLength(2);
  });

  it('asks for another odometer where the one typed does not fit, and takes nothing back until then', async () => {
    const id = await look('P1', '2026-03-10', '41,000');
    const refused = await takeBack(technician, id, { moveTo: 'P2' });
    expect(refused.status).toBe(422);
    expect(refused.body.errors[0]).toMatchObject({ field: 'inspection.odometer' });
    expect((await own()).find((one) => one.id === id)?.withdrawn).toBeNull();
    await takeBack(technician, id, { moveTo: 'P2', odometer: '53,000' }).expect(201);
    expect((await own())[0]).toMatchObject({ unit: 'P2', odometerMi: 53_000 });
  });

  it.each([
    ['the vehicle it is of already', { moveTo: 'P1' }, 'moveTo'],
    ['a vehicle nobody knows', { moveTo: 'Q9' }, 'moveTo'],
    ['no reason', { reason: ' ' }, 'reason'],
    ['an odometer with no vehicle', { odometer: '41,000' }, 'odometer'],
  ])('is not taken with %s', async (_, body, field) => {
    const id = await look('P1', '2026-03-12', '41,100');
    const refused = await takeBack(technician, id, body);
    expect([refused.status, refused.body.errors?.[0]?.field]).toEqual([422, field]);
    await takeBack(technician, id).expect(201);
  });
});

describe('an inspection withdrawn whole', () => {
  it('no longer holds the odometer: a lower one is taken afterwards', async () => {
    const id = await look('P1', '2026-04-01', '48,000');
    await technician
      .post('/api/readings')
      .send({
        inspection: { id: randomUUID(), unit: 'P1', gaugeId, date: '2026-04-03', odometer: '42,000' },
        readings: [{ id: randomUUID(), axle: 1, side: 'left', pad: 'outer', thickness: '8.2' }],
      })
      .expect(422);
    await takeBack(technician, id, { reason: 'typed the trailer’s odometer' }).expect(201);
    await look('P1', '2026-04-03', '42,000');
  });

  it('goes with those it supersedes: findings hang on the first, readings on the last', async () => {
    const id = await look('P1', '2026-04-10', '42,500', [{ item: 'boots', state: 'torn', places: ['piston'] }]);
    const anew = randomUUID();
    await coordinator
      .post(`/api/inspections/${id}/odometer`)
      .send({ id: anew, odometer: '42,510', reason: 'misread' })
      .expect(201);
    expect((await vehicle('P1')).findings.some(({ date }) => date === '2026-04-10')).toBe(true);
    expect((await takeBack(coordinator, id)).status).toBe(409);
    await takeBack(coordinator, anew).expect(201);
    const after = await vehicle('P1');
    expect(after.findings.some(({ date }) => date === '2026-04-10')).toBe(false);
    expect(live(after).some(({ date }) => date === '2026-04-10')).toBe(false);
  });

  it('is taken back once: the second of two at once is told', async () => {
    const id = await look('P1', '2026-04-20', '43,000');
    const answers = await Promise.all([takeBack(technician, id), takeBack(coordinator, id)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
  });

  it('is its author’s for a day; somebody else’s is the coordinator’s', async () => {
    const theirs = await look('P1', '2026-04-24', '43,200', [], coordinator);
    expect((await takeBack(technician, theirs)).status).toBe(403);
    await takeBack(coordinator, theirs).expect(201);
    const old = await look('P1', '2026-04-25', '43,250');
    await test.orm.em
      .fork()
      .execute(
        `set session_replication_role = replica; update inspection set entered_at = entered_at - interval '25 hours' where id = '${old}'; set session_replication_role = default`,
      );
    const late = await takeBack(technician, old);
    expect([late.status, late.body.detail]).toEqual([403, expect.stringContaining('more than a day ago')]);
    await takeBack(coordinator, old).expect(201);
    for (const role of ['viewer', 'parts keeper'] as const) {
      const other = await test.as(role);
      await other.get('/api/inspections/own').expect(403);
      expect((await takeBack(other, old)).status).toBe(403);
    }
  });
});

describe('a finding taken back', () => {
  const findingOn = async (date: string) => {
    const found = (await vehicle('P1')).findings.find((one) => one.date === date);
    if (!found) throw new Error(`no finding on ${date}`);
    return found.id;
  };
  const withdraw = (who: Agent, id: string) =>
    who.post(`/api/findings/${id}/withdrawals`).send({ id: randomUUID(), reason: 'the wrong row was touched' });

  it('closes the defect it raised, with who and why; once', async () => {
    await look('P1', '2026-05-01', '44,000', [{ item: 'boots', state: 'torn' }]);
    expect(await defects('P1')).toMatchObject([{ text: 'boots torn', severity: 'before next use' }]);
    const id = await findingOn('2026-05-01');
    await withdraw(technician, id).expect(201);
    expect(await defects('P1')).toEqual([]);
    expect((await withdraw(technician, id)).status).toBe(409);
  });

  it('that forbids driving is the coordinator’s; moved, it forbids the other vehicle and frees the first', async () => {
    const id = await look('P1', '2026-05-10', '44,300', [{ item: 'rotor', state: 'cracked' }]);
    expect((await own())[0]).toMatchObject({ id, forbids: true });
    expect((await withdraw(technician, await findingOn('2026-05-10'))).status).toBe(403);
    expect((await takeBack(technician, id)).status).toBe(403);
    await takeBack(technician, id, { moveTo: 'P2', odometer: '55,000' }).expect(201);
    expect(await defects('P1')).toEqual([]);
    const forbidding = async () => (await defects('P2')).filter(({ severity }) => severity === 'do not drive');
    expect(await forbidding()).toMatchObject([{ text: 'rotor cracked' }]);
    const [moved] = await own();
    await takeBack(coordinator, (moved as OwnInspection).id, { reason: 'seen again: no crack' }).expect(201);
    expect(await forbidding()).toEqual([]);
  });

  it('a pad under the law’s minimum goes on forbidding until the coordinator takes its figure back', async () => {
    const id = await look('P1', '2026-05-10', '44,310');
    const reading = (await vehicle('P1')).readings.find((one) => one.inspectionId === id && one.mm === 8.4)?.id ?? '';
    await test.orm.em.fork().execute(
      `insert into defect (id, vehicle_id, kind, axle, side, item, state, severity, said_by, found_on, source_id, person_id)
       select gen_random_uuid(), vehicle_id, 'limit', 1, 'left', 'pads', 'outer pad 1.0 mm', 'do not drive', 'x', measured_on, id, technician_id
       from reading where id = ?`,
      [reading],
    );
    const forbids = async () => (await defects('P1')).some(({ kind }) => kind === 'limit');
    expect((await takeBack(technician, id)).status).toBe(403);
    const correct = (who: Agent, of: string) =>
      who.post(`/api/readings/${of}/corrections`).send({ id: randomUUID(), thickness: '8.3', reason: 'misread' });
    await correct(technician, reading).expect(201);
    expect(await forbids()).toBe(true);
    const open = (await defects('P1')).find(({ kind }) => kind === 'limit');
    const settle = { id: randomUUID(), how: 'closed', reason: 'measured again: 8.3 mm' };
    await technician
      .post(`/api/defects/${open?.id ?? ''}/settlements`)
      .send(settle)
      .expect(403);
    await coordinator
      .post(`/api/defects/${open?.id ?? ''}/settlements`)
      .send(settle)
      .expect(201);
    expect(await forbids()).toBe(false);
  });

  it('a sheet with a reading withdrawn before is moved without it', async () => {
    const id = await look('P1', '2026-05-11', '44,320');
    const gone = (await vehicle('P1')).readings.find((one) => one.inspectionId === id && one.mm === 8.4);
    await technician
      .post(`/api/readings/${gone?.id ?? ''}/corrections`)
      .send({ id: randomUUID(), reason: 'plate was in it' })
      .expect(201);
    await takeBack(technician, id, { moveTo: 'P2', odometer: '55,100' }).expect(201);
    expect((await own())[0]).toMatchObject({ unit: 'P2', readings: 1 });
  });

  it('is refused where places or states contradict the catalogue', async () => {
    const bad = (findings: object[]) =>
      technician.post('/api/readings').send({
        inspection: { id: randomUUID(), unit: 'P1', gaugeId, date: '2026-05-12', odometer: '44,400' },
        readings: [],
        findings: findings.map((one) => ({ id: randomUUID(), axle: 1, side: 'left', ...one })),
      });
    expect((await bad([{ item: 'hub', state: 'rusty', places: ['outer face'] }])).body.errors[0].field).toBe(
      'findings.0.places',
    );
    expect(
      (
        await bad([
          { item: 'rotor', state: 'smooth' },
          { item: 'rotor', state: 'cracked' },
        ])
      ).body.errors[0].field,
    ).toBe('findings');
    await bad([{ item: 'wheel', state: 'lock key missing', note: 'asked the driver' }]).expect(201);
    expect(await defects('P1')).toMatchObject([{ text: 'wheel lock key missing', severity: 'watch' }]);
  });
});

describe('an answer taken back', () => {
  const questions = async () => (await coordinator.get('/api/questions').expect(200)).body.items as Question[];
  /** A reading with the backing plate in it; its id. */
  const doubtful = async (date: string, odometer: number) => {
    const id = randomUUID();
    const entry = {
      inspection: { id: randomUUID(), unit: 'P1', gaugeId, date, odometer },
      readings: [{ id, axle: 1, side: 'left', pad: 'outer', thickness: '15.9', answer: 'leave_to_coordinator' }],
    };
    await technician.post('/api/readings').send(entry).expect(201);
    return id;
  };

  it('settled can be opened again: a figure that was corrected or withdrawn stands again as it was typed', async () => {
    const undo = (answerId: string, who = coordinator) =>
      who.post(`/api/answers/${answerId}/undo`).send({ id: randomUUID() });
    const settled = async () =>
      (await coordinator.get('/api/questions/settled').expect(200)).body.items as SettledQuestion[];
    const answers = [
      { date: '2026-06-01', odometer: 45_000, answer: 'it_is_so' },
      { date: '2026-06-02', odometer: 45_050, answer: 'measure_again' },
      { date: '2026-06-03', odometer: 45_100, answer: 'withdraw' },
      { date: '2026-06-04', odometer: 45_150, answer: 'correct', value: '8.0' },
    ];
    for (const { date, odometer, ...body } of answers) {
      const subject = await doubtful(date, odometer);
      const was = (await vehicle('P1')).readings.find((one) => one.id === subject);
      const id = randomUUID();
      await coordinator
        .post(`/api/questions/${subject}/answers`)
        .send({ id, ...body })
        .expect(201);
      expect((await settled())[0]).toMatchObject({ answerId: id, unit: 'P1', answer: body.answer, undoable: true });
      expect((await questions()).some((one) => one.id === subject)).toBe(false);
      await undo(id, technician).expect(403);
      await undo(id).expect(201);
      expect((await undo(id)).status).toBe(409);
      expect((await settled()).some(({ answerId }) => answerId === id)).toBe(false);
      const open = (await questions()).filter((one) => one.date === date && one.typed === '15.9');
      expect(open).toMatchObject([{ mm: was?.mm, typed: was?.typed, answer: was?.answer ?? null }]);
      await coordinator
        .post(`/api/questions/${open[0]?.id ?? ''}/answers`)
        .send({ id: randomUUID(), answer: 'withdraw' })
        .expect(201);
    }
    await undo(randomUUID()).expect(404);
  });
});
