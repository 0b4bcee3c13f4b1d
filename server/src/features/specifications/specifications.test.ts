import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type supertest from 'supertest';
import type {
  BenchOfVehicle,
  ChangedSince,
  Coverage,
  LibraryModel,
  Revision,
  Specification,
} from '@mile-mark/contract/specifications';
import { createTestApp, fillSmallFleet, type TestApp, TODAY } from '../../testing/app.ts';
import { jointKindId } from './shippedJoints.ts';

type Client = ReturnType<typeof supertest.agent>;
let test: TestApp;
let coordinator: Client;
let technician: Client;
let model: LibraryModel;

const SOURCE = { document: 'Hauler workshop manual', page: '12', revision: 'A', date: '2025-01-10' };
const BRACKET = jointKindId('Bracket bolt');
const NUT = jointKindId('Wheel nut');

beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  coordinator = await test.as('coordinator');
  technician = await test.as('technician');
  const { body } = await coordinator.get('/api/library').expect(200);
  model = (body as { items: LibraryModel[] }).items[0] as LibraryModel;
});
afterAll(async () => test.close());

const torque = (rest: object = {}) => ({ unit: 'lbf·ft', nominal: 130, ...rest });
const joint = (rest: object = {}, values: object = {}) => ({
  id: randomUUID(),
  modelId: model.id,
  axle: 1,
  jointKindId: BRACKET,
  position: '',
  source: SOURCE,
  values: {
    about: 'joint',
    fastener: { thread: 'M14x1.5', headKind: 'hex', headSize: '21 mm', count: 2 },
    torque: torque(),
    preparation: 'medium thread locker',
    oneTimeUse: false,
    ...values,
  },
  ...rest,
});
const enter = (client: Client, body: object) => client.post('/api/specifications').send(body);
const release = (client: Client, id: string, typed: object | null, rest: object = {}) =>
  client
    .post(`/api/specification-revisions/${id}/releases`)
    .send({ id: randomUUID(), typed: { about: 'joint', torque: typed }, ...rest });
const fieldOf = (answer: { body: unknown }) =>
  ((answer.body as { errors?: { field: string }[] }).errors ?? []).map(({ field }) => field);
const bench = async (unit = 'P1') =>
  (await technician.get(`/api/vehicles/${unit}/bench`).expect(200)).body as BenchOfVehicle;
const open = async (client: Client) =>
  ((await client.get('/api/specifications/open').expect(200)).body as { items: Specification[] }).items;
/** Enters and releases, and gives the revision's id. */
async function released(body: ReturnType<typeof joint>, typed: object | null): Promise<string> {
  await enter(coordinator, body).expect(201);
  const answer = await release(technician, body.id, typed).expect(200);
  expect(answer.body).toMatchObject({ released: true });
  return body.id;
}

describe('what is entered', () => {
  it.each([
    ['a torque below zero', {}, { torque: torque({ nominal: -5 }) }, 'values.torque.nominal'],
    ['a torque without a unit', {}, { torque: { nominal: 130 } }, 'values.torque.unit'],
    ['least above most', {}, { torque: torque({ nominal: null, least: 140, most: 120 }) }, 'values.least'],
    [
      'a socket that no fastener of the thread has',
      {},
      { fastener: { thread: 'M14x1.5', headKind: 'hex', headSize: '13 mm' } },
      'values.headSize',
    ],
    ['a torque on a joint that is not there', {}, { absent: true }, 'values.absent'],
    ['an axle the model does not have', { axle: 5 }, {}, 'axle'],
    ['a joint of another kind of brake', { jointKindId: jointKindId('Carrier bolt') }, {}, 'jointKindId'],
    ['a joint that is not on the list', { jointKindId: randomUUID() }, {}, 'jointKindId'],
    ['values of an axle for a joint', { values: { about: 'axle', padMinMm: 2 } }, {}, 'values.about'],
    ['a document of tomorrow', { source: { ...SOURCE, date: '2026-11-21' } }, {}, 'source.date'],
    ['no page', { source: { ...SOURCE, page: '' } }, {}, 'source.page'],
  ])('refuses %s, naming the field', async (_what, rest, values, field) => {
    const answer = await enter(coordinator, joint(rest, values));
    expect(answer.status).toBe(422);
    expect(fieldOf(answer)).toContain(field);
    expect((await open(coordinator)).length).toBe(0);
  });

  it('questions a torque far outside the usual, and takes it once confirmed', async () => {
    const odd = joint({ position: 'odd' }, { torque: torque({ nominal: 700 }) });
    const asked = await enter(coordinator, odd);
    expect([asked.status, fieldOf(asked)]).toEqual([422, ['values.nominal']]);
    await enter(coordinator, { ...odd, confirmed: ['torque_unusual'] }).expect(201);
    await coordinator
      .post(`/api/specification-revisions/${odd.id}/withdrawal`)
      .send({ reason: 'a trial only' })
      .expect(201);
  });

  it('refuses limits that contradict the axle', async () => {
    const sheet = (values: object) => joint({ jointKindId: null, values: { about: 'axle', ...values } });
    expect(fieldOf(await enter(coordinator, sheet({ padMinMm: 11 })))).toEqual(['values.padMinMm']);
    expect(fieldOf(await enter(coordinator, sheet({ rotorDiscardMm: 32 })))).toEqual(['values.rotorDiscardMm']);
    expect(fieldOf(await enter(coordinator, sheet({ rotorDiscardMm: 30, rotorMachineToMm: 29 })))).toEqual([
      'values.rotorMachineToMm',
    ]);
  });
});

describe('two people', () => {
  it('release nothing that only one has typed', async () => {
    const own = joint({ position: 'upper' });
    await enter(coordinator, own).expect(201);
    expect((await bench()).model.axles[0]?.joints).toEqual([]);
    // The technician does not see the figures, whichever way they ask; whoever entered does.
    const [waiting] = await open(technician);
    expect(waiting?.open).toMatchObject({
      blind: true,
      mine: false,
      values: { torque: null, preparation: 'medium thread locker' },
    });
    const history = (await technician.get(`/api/specifications/${waiting?.id}/revisions`).expect(200)).body as {
      items: Revision[];
    };
    expect(JSON.stringify([waiting, history])).not.toContain('130');
    expect((await open(coordinator))[0]?.open).toMatchObject({ blind: false, values: { torque: { nominal: 130 } } });

    expect((await release(coordinator, own.id, torque())).status).toBe(403);
    const wrong = (await release(technician, own.id, torque({ nominal: 135 })).expect(200)).body as object;
    expect(wrong).toEqual({ released: false, differing: ['nominal'], conflict: null });
    expect((await release(technician, own.id, null).expect(200)).body).toMatchObject({
      differing: ['unit', 'nominal'],
    });
    expect((await bench()).model.axles[0]?.joints).toEqual([]);
    // The mismatch is shown to whoever entered, with both figures; to the other only what they typed.
    expect((await open(coordinator))[0]?.open?.attempts[0]?.differing).toEqual([
      { field: 'nominal', entered: '130', typed: '135' },
    ]);
    expect((await open(technician))[0]?.open?.attempts[0]?.differing).toEqual([
      { field: 'nominal', entered: null, typed: '135' },
    ]);

    expect((await release(technician, own.id, torque()).expect(200)).body).toMatchObject({ released: true });
    expect((await bench()).model.axles[0]?.joints).toMatchObject([
      { joint: 'Bracket bolt', position: 'upper', values: { torque: { nominal: 130 } } },
    ]);
    expect((await release(technician, own.id, torque())).status).toBe(409);
    // Entering it again, as a device does whose answer was lost, adds nothing even now.
    await enter(coordinator, own).expect(201);
    expect((await open(coordinator)).some(({ position }) => position === 'upper')).toBe(false);
  });

  it('stop somebody who guesses: after three different figures another must look', async () => {
    const own = joint({ position: 'guess' });
    await enter(coordinator, own).expect(201);
    for (const nominal of [100, 110, 120])
      expect((await release(technician, own.id, torque({ nominal })).expect(200)).body).toMatchObject({
        released: false,
      });
    const fourth = await release(technician, own.id, torque());
    expect(fourth.status).toBe(409);
    expect((fourth.body as { detail: string }).detail).toContain('typed it differently 3 times');
    await coordinator
      .post(`/api/specification-revisions/${own.id}/withdrawal`)
      .send({ reason: 'to be read again' })
      .expect(201);
  });

  it('never half-release: a repeat of the request answers as the first did', async () => {
    const own = joint({ position: 'repeat' });
    await enter(coordinator, own).expect(201);
    await enter(coordinator, own).expect(201);
    const attempt = { id: randomUUID(), typed: { about: 'joint', torque: torque() } };
    const send = () => technician.post(`/api/specification-revisions/${own.id}/releases`).send(attempt);
    const answers = await Promise.all([send(), send(), send()]);
    expect(answers.map(({ status, body }) => [status, (body as { released: boolean }).released])).toEqual([
      [200, true],
      [200, true],
      [200, true],
    ]);
    const [{ releases } = { releases: 0 }] = await test.orm.em
      .fork()
      .execute<{ releases: number }[]>(
        'select count(*)::int as releases from specification_release where revision_id = ?',
        [own.id],
      );
    expect(releases).toBe(1);
  });

  it('are demanded by the database too, and nothing released is rewritten', async () => {
    const em = test.orm.em.fork();
    const [row] = await em.execute<{ revision_id: string }[]>('select revision_id from specification_release limit 1');
    await expect(
      em.execute('update specification_revision set page = ? where id = ?', ['13', row?.revision_id]),
    ).rejects.toThrow();
    await expect(
      em.execute('delete from specification_release where revision_id = ?', [row?.revision_id]),
    ).rejects.toThrow();
    const own = joint({ position: 'alone' });
    await enter(coordinator, own).expect(201);
    await release(technician, own.id, null).expect(200);
    await expect(
      em.execute(
        `insert into specification_release (revision_id, attempt_id, entered_by, released_by, released_on, detail)
         select r.id, a.id, r.entered_by, r.entered_by, now()::date, r.detail from specification_revision r
         join specification_attempt a on a.revision_id = r.id where r.id = ?`,
        [own.id],
      ),
    ).rejects.toThrow(/specification_two_people/);
  });

  it('can’t leave two revisions of a joint open, even at once', async () => {
    const both = [joint({ position: 'twice' }), joint({ position: 'twice' })];
    const answers = await Promise.all(both.map((body) => enter(coordinator, body)));
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    const refused = answers.find(({ status }) => status === 409);
    expect((refused?.body as { detail: string }).detail).toContain('waits to be released');
  });
});

describe('a stated pair that contradicts itself', () => {
  const pair = { statedToo: { unit: 'N·m', value: 210 } };

  it('is settled by whoever releases, with how that is known; what was entered stays', async () => {
    const own = joint({ position: 'pair' }, { torque: torque(pair) });
    await enter(coordinator, own).expect(201);
    const first = await release(technician, own.id, torque(pair)).expect(200);
    expect(first.body).toMatchObject({
      released: false,
      differing: [],
      conflict: { first: '130 lbf·ft', statedToo: '210 N·m' },
    });
    expect((first.body as { conflict: { percent: number } }).conflict.percent).toBeCloseTo(
      100 * (210 / (130 * 1.3558179483314) - 1),
      6,
    );
    expect((await release(technician, own.id, torque(pair), { settled: { holds: 'statedToo', why: '' } })).status).toBe(
      422,
    );
    const settled = { holds: 'statedToo', why: 'Table on page 3 says 210 N·m' };
    expect((await release(technician, own.id, torque(pair), { settled }).expect(200)).body).toMatchObject({
      released: true,
    });
    const there = (await bench()).model.axles[0]?.joints.find(({ position }) => position === 'pair');
    expect(there?.values.torque).toMatchObject({ unit: 'N·m', nominal: 210, statedToo: null });
  });

  it('of one figure against a range is sent back', async () => {
    const ranged = torque({ ...pair, least: 120, most: 140 });
    const own = joint({ position: 'range' }, { torque: ranged });
    await enter(coordinator, own).expect(201);
    const settled = { holds: 'statedToo', why: 'the table says so' };
    const answer = await release(technician, own.id, ranged, { settled });
    expect([answer.status, fieldOf(answer)]).toEqual([422, ['settled.holds']]);
    expect((await open(coordinator)).some(({ position }) => position === 'range')).toBe(true);
    await release(technician, own.id, ranged, { settled: { ...settled, holds: 'first' } }).expect(200);
  });
});

describe('a released figure that changes', () => {
  it('flags the jobs done on the old one, once, until they are settled', async () => {
    await released(joint({ jointKindId: NUT }), torque());
    const service = { id: randomUUID(), unit: 'P1', axle: 1, date: TODAY, odometer: '40,000 mi', fitted: 'pads' };
    await technician.post('/api/services').send(service).expect(201);
    const flags = async () =>
      ((await coordinator.get('/api/changed-specifications').expect(200)).body as { items: ChangedSince[] }).items;
    expect(await flags()).toEqual([]);

    const note = joint({ jointKindId: NUT }, { note: 'Only a note' });
    await released(note, torque());
    expect(await flags()).toEqual([]);
    // The same from the same page adds nothing.
    const again = await enter(coordinator, joint({ jointKindId: NUT }, { note: 'Only a note' }));
    expect([again.status, fieldOf(again)]).toEqual([422, ['values']]);

    const second = await released(
      joint({ jointKindId: NUT }, { torque: torque({ nominal: 155 }) }),
      torque({ nominal: 155 }),
    );
    const [flag, ...more] = await flags();
    expect(more).toEqual([]);
    expect(flag).toMatchObject({
      revisionId: second,
      serviceId: service.id,
      unit: 'P1',
      joint: 'Wheel nut',
      doneAgainOn: null,
      changes: [{ field: 'Torque', from: '130 lbf·ft', to: '155 lbf·ft' }],
    });
    const answer = { revisionId: second, serviceId: service.id, answer: 'checked', note: '155 reached' };
    await technician.post('/api/changed-specifications/answers').send(answer).expect(201);
    await technician.post('/api/changed-specifications/answers').send(answer).expect(201);
    expect(
      (await coordinator.post('/api/changed-specifications/answers').send({ ...answer, answer: 'redone' })).status,
    ).toBe(409);
    expect(await flags()).toEqual([]);
    // A job done now was done on the new figure: the next change flags both.
    const later = { ...service, id: randomUUID(), unit: 'P2', odometer: '60,000 mi' };
    await technician.post('/api/services').send(later).expect(201);
    await released(joint({ jointKindId: NUT }, { torque: torque({ nominal: 140 }) }), torque({ nominal: 140 }));
    expect((await flags()).map(({ unit }) => unit).sort()).toEqual(['P1', 'P2']);
  });

  it('can be taken back at once by the coordinator only; the joint is unknown then, and stays on record', async () => {
    const id = await released(
      joint(
        { jointKindId: jointKindId('Bleeder screw') },
        { fastener: { thread: 'M8' }, torque: torque({ nominal: 8 }) },
      ),
      torque({ nominal: 8 }),
    );
    const back = (client: Client) =>
      client.post(`/api/specification-revisions/${id}/withdrawal`).send({ reason: 'wrong page' });
    expect((await back(technician)).status).toBe(403);
    await back(coordinator).expect(201);
    await back(coordinator).expect(201);
    const axle = (await bench()).model.axles[0];
    expect(axle?.unknown).toContain('Bleeder screw');
    expect(axle?.joints.map((one) => one.joint)).not.toContain('Bleeder screw');
    const { items } = (await coordinator.get(`/api/models/${model.id}/specifications`).expect(200)).body as {
      items: Specification[];
    };
    const own = items.find((one) => one.joint?.name === 'Bleeder screw');
    const history = (await coordinator.get(`/api/specifications/${own?.id}/revisions`).expect(200)).body as {
      items: Revision[];
    };
    expect(history.items).toMatchObject([{ id, state: 'withdrawn', withdrawn: { reason: 'wrong page' } }]);
  });
});

describe('limits of an axle', () => {
  it('count for forecasts once a second person has typed them', async () => {
    const values = { about: 'axle', padMinMm: 3, rotorDiscardMm: 30.2, runoutMm: 0.05 };
    const own = joint({ jointKindId: null, values });
    await enter(coordinator, own).expect(201);
    const limits = async () => {
      const { items } = (await coordinator.get('/api/models').expect(200)).body as {
        items: { axles: { padMakerMinMm: number; rotorDiscardMm: number; rotorMachineToMm: number }[] }[];
      };
      return items[0]?.axles[0];
    };
    expect(await limits()).toMatchObject({ padMakerMinMm: 2, rotorDiscardMm: 30 });
    const type = (typed: object) =>
      technician
        .post(`/api/specification-revisions/${own.id}/releases`)
        .send({ id: randomUUID(), typed: { about: 'axle', ...typed } });
    expect((await type({ padMinMm: 3, rotorDiscardMm: 30 }).expect(200)).body).toMatchObject({
      differing: ['rotorDiscardMm', 'runoutMm'],
    });
    expect((await type(values).expect(200)).body).toMatchObject({ released: true });
    expect(await limits()).toMatchObject({ padMakerMinMm: 3, rotorDiscardMm: 30.2, rotorMachineToMm: 30.4 });
    expect((await bench()).model.axles[0]?.sheet?.values).toMatchObject({ runoutMm: 0.05, fluidGrade: null });

    // A sister variant has the list's figures: specifications are never copied.
    const sister = {
      id: randomUUID(),
      name: 'Fenby Hauler 6x2',
      fitment: { drive: '6x2', wheelbaseMm: null, builtFrom: null, builtTo: null, axleOption: null },
    };
    await coordinator.post(`/api/models/${model.id}/variants`).send(sister).expect(201);
    const { items } = (await coordinator.get('/api/models').expect(200)).body as {
      items: { id: string; axles: object[] }[];
    };
    expect(items.find(({ id }) => id === sister.id)?.axles[0]).toMatchObject({ padMakerMinMm: 2, rotorDiscardMm: 30 });

    // Taken back, the list's figures count again, and what rests on them is to be computed anew.
    const takeBack = (reason: string) =>
      coordinator.post(`/api/specification-revisions/${own.id}/withdrawal`).send({ reason }).expect(201);
    const inputs = async () =>
      (
        await test.orm.em
          .fork()
          .execute<{ input_rev: number }[]>('select input_rev from vehicle where model_id = ? order by unit', [
            model.id,
          ])
      ).map((row) => Number(row.input_rev));
    const before = await inputs();
    await takeBack('of another axle');
    expect(await limits()).toMatchObject({ padMakerMinMm: 2, rotorDiscardMm: 30 });
    expect((await bench()).model.axles[0]?.sheet).toBeNull();
    expect(await inputs()).toEqual(before.map((rev) => rev + 1));
    await takeBack('once more');
    expect(await inputs()).toEqual(before.map((rev) => rev + 1));
  });

  it('leave the model list’s own figures as they are', async () => {
    const values = { about: 'axle', padMinMm: 3.5 };
    const own = joint({ jointKindId: null, values });
    await enter(coordinator, own).expect(201);
    await technician
      .post(`/api/specification-revisions/${own.id}/releases`)
      .send({ id: randomUUID(), typed: values })
      .expect(200);
    const em = test.orm.em.fork();
    const before = await em.execute(
      'select pad_maker_min_um, rotor_discard_um from model_axle order by model_id, axle',
    );
    expect(before[0]).toMatchObject({ pad_maker_min_um: 2000, rotor_discard_um: 30_000 });
  });
});

describe('torque tools and coverage', () => {
  const wrench = (rest: object = {}) => ({
    id: randomUUID(),
    kind: 'wrench',
    name: `Wrench ${randomUUID().slice(0, 4)}`,
    depot: 'Hill depot',
    unit: 'lbf·ft',
    least: 26,
    most: 130,
    graduation: 1,
    lengthMm: 430,
    calibrationDue: '2027-01-01',
    ...rest,
  });
  const unreachable = async () =>
    ((await coordinator.get('/api/specification-coverage').expect(200)).body as Coverage).unreachable.filter(
      ({ joint: name }) => name === 'Wheel nut',
    );

  it.each([
    [{ least: 140 }, 'least'],
    [{ graduation: 50 }, 'graduation'],
    [{ unit: 'psi' }, 'unit'],
    [{ most: 30_000 }, 'most'],
    [{ depot: 'Nowhere' }, 'depot'],
    [{ lengthMm: 5 }, 'lengthMm'],
  ])('refuses a wrench with %j', async (rest, field) => {
    const answer = await coordinator.post('/api/torque-tools').send(wrench(rest));
    expect([answer.status, fieldOf(answer)]).toEqual([422, [field]]);
  });

  it('says that no bench reaches a torque, what is needed, and why a tool is blocked', async () => {
    const [none] = await unreachable();
    expect(none).toMatchObject({ depot: 'Hill depot', torque: '140 lbf·ft', overdue: null, vehicles: 2 });
    const short = wrench({ name: 'Short' });
    await coordinator.post('/api/torque-tools').send(short).expect(201);
    expect((await unreachable())[0]?.need).toContain('ends at 176 N·m');
    const long = wrench({ name: 'Long', most: 250, least: 50, calibrationDue: '2026-11-19' });
    await coordinator.post('/api/torque-tools').send(long).expect(201);
    expect((await unreachable())[0]?.overdue).toEqual({ tool: 'Long', due: '2026-11-19' });
    const calibrate = (due: string) =>
      coordinator.post(`/api/torque-tools/${long.id}/calibrations`).send({ id: randomUUID(), doneOn: TODAY, due });
    expect((await calibrate(TODAY)).status).toBe(422);
    await calibrate('2027-11-20').expect(201);
    expect(await unreachable()).toEqual([]);
    await coordinator.put(`/api/torque-tools/${long.id}`).send({ depot: 'Hill depot', retired: true }).expect(200);
    expect(await unreachable()).toHaveLength(1);
  });

  it('lists a released joint whose document states no torque, and leaves one out that is not there', async () => {
    const lacking = async () =>
      ((await coordinator.get('/api/specification-coverage').expect(200)).body as Coverage).lacking
        .filter(({ axle }) => axle === 2)
        .map((one) => one.joint);
    const hose = jointKindId('Hose joint');
    await released(joint({ axle: 2, jointKindId: hose }, { torque: null }), null);
    expect(await lacking()).toContain('Hose joint: its torque');
    expect(await lacking()).not.toContain('Hose joint');
    await released(joint({ axle: 2, jointKindId: hose }, { torque: null, absent: true }), null);
    expect((await lacking()).filter((name) => name.startsWith('Hose joint'))).toEqual([]);
    expect((await bench()).model.axles[1]?.joints.map((one) => one.joint)).not.toContain('Hose joint');
  });

  it('lists what every such axle has and nobody released, by the nearest mark', async () => {
    const { lacking } = (await coordinator.get('/api/specification-coverage').expect(200)).body as Coverage;
    const first = lacking.filter(({ axle }) => axle === 1).map((one) => one.joint);
    expect(first).toContain('Hose joint');
    expect(first).not.toContain('Wheel nut');
    expect(first).not.toContain('Rotor retaining screw');
    expect(first).not.toContain('Carrier bolt');
    expect(lacking.filter(({ axle }) => axle === 2).map((one) => one.joint)).toContain('Limits, fluid, bed-in');
  });
});

describe('variants', () => {
  it('have the same axles and specifications of their own', async () => {
    const fitment = {
      drive: '4x2',
      wheelbaseMm: 3100,
      builtFrom: '2023-01-01',
      builtTo: '2024-12-31',
      axleOption: 'light',
    };
    const id = randomUUID();
    const add = (body: object) => coordinator.post(`/api/models/${model.id}/variants`).send(body);
    expect(fieldOf(await add({ id, name: 'Fenby Hauler', fitment }))).toEqual(['name']);
    expect(fieldOf(await add({ id, name: 'Other', fitment: { ...fitment, builtTo: '2022-01-01' } }))).toEqual([
      'fitment.builtTo',
    ]);
    await add({ id, name: 'Fenby Hauler 4x2', fitment }).expect(201);
    await coordinator.put('/api/vehicles/P2/model').send({ model: 'Fenby Hauler 4x2' }).expect(200);
    const sheet = await bench('P2');
    expect(sheet.model).toMatchObject({ name: 'Fenby Hauler 4x2', fitment });
    expect(sheet.model.axles[0]?.joints).toEqual([]);
    expect(sheet.model.axles[0]?.unknown).toContain('Wheel nut');
    // The job done on P2 before it was known to be this variant still counts for what it was done on.
    const { items } = (await coordinator.get('/api/changed-specifications').expect(200)).body as {
      items: ChangedSince[];
    };
    expect(items.map(({ unit }) => unit)).toContain('P2');
    expect((await coordinator.put('/api/vehicles/P2/model').send({ model: 'Nothing' })).status).toBe(422);
  });
});
