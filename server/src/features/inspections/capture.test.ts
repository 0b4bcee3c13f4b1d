import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import sharp from 'sharp';
import { greyPicture } from '../../testing/picture.ts';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import type { Bay, NewInspection, Question } from '@mile-mark/contract/inspections';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
import { PersonEntity } from '../people/index.ts';

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

const inspection = (
  date: string,
  odometer: number | string,
  thickness: string | null = '8.5',
  more: Partial<NewInspection> = {},
): NewInspection => ({
  inspection: { id: randomUUID(), unit: 'P1', gaugeId, date, odometer },
  readings:
    thickness === null
      ? []
      : (['left', 'right'] as const).flatMap((side) =>
          (['inner', 'outer'] as const).map((pad) => ({ id: randomUUID(), axle: 1, side, pad, thickness })),
        ),
  ...more,
});
const post = (entry: NewInspection) => technician.post('/api/readings').send(entry);
const vehicle = async () => (await coordinator.get('/api/vehicles/P1').expect(200)).body as VehicleDetail;
const bay = async () => (await technician.get('/api/bay').expect(200)).body as Bay;
const questions = async (who = coordinator) => (await who.get('/api/questions').expect(200)).body.items as Question[];

describe('what an inspection finds besides thickness', () => {
  it('goes in with it and is shown: pads not seen, findings, rotors', async () => {
    const entry = inspection('2026-02-20', '39,863 mi', '8.5', {
      unseen: [{ id: randomUUID(), axle: 2, side: 'left', pad: 'inner' }],
      findings: [{ id: randomUUID(), axle: 1, side: 'right', item: 'boots', state: 'torn' }],
      rotors: [
        {
          id: randomUUID(),
          axle: 1,
          side: 'left',
          thicknessUm: [31200, null, 31100],
          runoutUm: [0, 10, 20, 30, 40, 30, 20, 10],
          studs: 5,
        },
      ],
    });
    await post(entry).expect(201);
    const found = await vehicle();
    expect(found.findings).toMatchObject([
      { axle: 1, side: 'right', item: 'boots', state: 'torn', date: '2026-02-20' },
    ]);
    expect(found.unseen).toMatchObject([{ axle: 2, pad: 'inner' }]);
    expect(found.rotors).toMatchObject([{ axle: 1, thicknessUm: [31200, null, 31100], studs: 5, odometerMi: 39863 }]);
    // Sent again after a cut network it adds nothing.
    await post(entry).expect(201);
    expect((await vehicle()).findings).toHaveLength(1);
  });

  it('may come without a thickness, but not with nothing at all', async () => {
    const findings = [{ id: randomUUID(), axle: 1, side: 'left', item: 'pins', state: 'stiff' }] as const;
    await post(inspection('2026-02-24', 40_100, null, { findings: [...findings] })).expect(201);
    expect((await post(inspection('2026-02-25', 40_150, null))).status).toBe(422);
  });

  it.each([
    [
      'an axle that the model lacks',
      { unseen: [{ id: randomUUID(), axle: 3, side: 'left', pad: 'inner' }] },
      'unseen.0.axle',
    ],
    [
      'a state that is none',
      { findings: [{ id: randomUUID(), axle: 1, side: 'left', item: 'pins', state: 'rusty' }] },
      'findings.0.state',
    ],
    [
      'five points of runout',
      { rotors: [{ id: randomUUID(), axle: 1, side: 'left', runoutUm: [1, 2, 3, 4, 5] }] },
      'rotors.0.runoutUm',
    ],
    [
      'a rotor of a metre',
      { rotors: [{ id: randomUUID(), axle: 1, side: 'left', thicknessUm: [1_000_000] }] },
      'rotors.0.thicknessUm.0',
    ],
  ])('is refused at its field: %s', async (_name, more, field) => {
    const answer = await post(inspection('2026-02-26', 40_200, '8.4', more as Partial<NewInspection>));
    expect(answer.status).toBe(422);
    expect((answer.body.errors as { field: string }[]).map((error) => error.field)).toContain(field);
  });
});

describe('a vehicle that changed meanwhile', () => {
  it('is a conflict to be seen, and goes in when the technician says so', async () => {
    const { at } = await bay();
    await coordinator
      .post('/api/services')
      .send({ id: randomUUID(), unit: 'P1', axle: 1, date: '2026-03-10', odometer: '41,000 mi', fitted: 'pads' })
      .expect(201);
    const entry = inspection('2026-03-12', 41_200, '10.8');
    entry.inspection.seenAt = at;
    const refused = await post(entry);
    expect(refused.status).toBe(409);
    expect(refused.body).toMatchObject({ type: 'urn:mile-mark:problem:changed_meanwhile' });
    expect(refused.body.detail).toContain('pads fitted on axle 1 (2026-03-10)');
    const [none] = await test.orm.em
      .fork()
      .execute<{ count: number }[]>('select count(*)::int as count from inspection where id = ?', [
        entry.inspection.id,
      ]);
    expect(none?.count).toBe(0);
    await post({ ...entry, inspection: { ...entry.inspection, acknowledged: true } }).expect(201);
    // A device that has seen the new pads is not asked.
    const later = inspection('2026-03-16', 41_500, '10.7');
    later.inspection.seenAt = (await bay()).at;
    await post(later).expect(201);
  });

  it('is no conflict for two devices that measure it at once: both are readings', async () => {
    const { at } = await bay();
    const [one, two] = [inspection('2026-03-20', 41_800, '10.6'), inspection('2026-03-20', 41_800, '10.4')];
    one.inspection.seenAt = at;
    two.inspection.seenAt = at;
    const answers = await Promise.all([post(one), coordinator.post('/api/readings').send(two)]);
    expect(answers.map(({ status }) => status)).toEqual([201, 201]);
  });
});

describe('the bay’s bundle', () => {
  it('has what capture needs, and of appraisers only one’s own for a technician', async () => {
    const { vehicles, gauges, people, appraisers } = await bay();
    const found = vehicles.find(({ unit }) => unit === 'P1');
    expect(found?.axles[0]?.pads).toHaveLength(4);
    expect(found?.axles[0]).toMatchObject({ newMm: 11, plateMm: 5.8, fittedOn: '2026-03-10', rotorDiscardMm: 30 });
    expect(found?.last).toMatchObject({ date: '2026-03-20' });
    expect(gauges.map(({ id }) => id)).toContain(gaugeId);
    expect(people.length).toBeGreaterThanOrEqual(2);
    for (const { technicianId } of appraisers) expect(technicianId).toBe(test.idOf('technician'));
    await (await test.as('viewer')).get('/api/bay').expect(403);
  });
});

describe('questions', () => {
  it('are told to a technician only where they are their own', async () => {
    const other = randomUUID();
    const row = { name: 'Another technician', role: 'technician', distanceUnit: 'mi', thicknessUnit: 'mm' };
    await test.orm.em.fork().insert(PersonEntity, { id: other, ...row, createdAt: new Date() });
    const entry = inspection('2026-04-02', '66,000 mi', '10.2');
    Object.assign(entry.inspection, { unit: 'P2', technicianId: other });
    const [wrong] = entry.readings;
    Object.assign(wrong ?? {}, { thickness: '15.9', answer: 'leave_to_coordinator' });
    await coordinator.post('/api/readings').send(entry).expect(201);
    const told = async (who: typeof coordinator) => (await questions(who)).map((one) => one.id);
    expect(await told(coordinator)).toContain(wrong?.id);
    expect(await told(technician)).not.toContain(wrong?.id);
  });

  const doubtful = async (date: string, odometer: number) => {
    const entry = inspection(date, odometer, '10.2');
    const [first] = entry.readings;
    if (!first) throw new Error('no reading');
    Object.assign(first, { thickness: '15.9', answer: 'leave_to_coordinator' });
    await post(entry).expect(201);
    return first.id;
  };

  it('wait in a list with their arithmetic, and each is settled once, with who and when', async () => {
    const id = await doubtful('2026-04-02', 42_500);
    const open = (await questions()).find((one) => one.id === id);
    expect(open).toMatchObject({
      unit: 'P1',
      mm: 15.9,
      answer: 'leave_to_coordinator',
      suspicion: { kind: 'plate' },
      past: false,
    });
    expect((await questions(technician)).some((one) => one.id === id)).toBe(true);
    const answer = { id: randomUUID(), answer: 'correct', value: '10.1', unit: 'mm' };
    await technician.post(`/api/questions/${id}/answers`).send(answer).expect(403);
    await coordinator.post(`/api/questions/${id}/answers`).send(answer).expect(201);
    await coordinator.post(`/api/questions/${id}/answers`).send(answer).expect(201);
    await coordinator
      .post(`/api/questions/${id}/answers`)
      .send({ ...answer, id: randomUUID() })
      .expect(409);
    expect((await questions()).some((one) => one.id === id)).toBe(false);
    const { readings } = await vehicle();
    expect(readings.find((one) => one.id === id)).toMatchObject({
      mm: 15.9,
      settled: { answer: 'correct', by: 'The coordinator' },
    });
    expect(readings.find((one) => one.supersedes === id)).toMatchObject({ mm: 10.1 });
  });

  it('settled as “it is so” make the figure count as regular', async () => {
    const id = await doubtful('2026-04-09', 43_000);
    const before = (await vehicle()).readings.find((one) => one.id === id);
    await coordinator.post(`/api/questions/${id}/answers`).send({ id: randomUUID(), answer: 'it_is_so' }).expect(201);
    const after = (await vehicle()).readings.find((one) => one.id === id);
    expect(before?.carried?.regular ?? 1).toBeLessThan(0.1);
    expect(after?.carried?.regular).toBe(1);
    expect(after?.suspicion).toBeNull();
    await coordinator.post(`/api/readings/${id}/corrections`).send({ id: randomUUID(), reason: 'was wrong after all' });
  });

  it('to be measured again are asked for in the bay until somebody does', async () => {
    const id = await doubtful('2026-04-16', 43_500);
    await coordinator
      .post(`/api/questions/${id}/answers`)
      .send({ id: randomUUID(), answer: 'measure_again' })
      .expect(201);
    const asked = async () => (await bay()).vehicles.find(({ unit }) => unit === 'P1')?.axles[0]?.asked;
    expect(await asked()).toMatchObject({ what: 'measure again', on: expect.any(String), pad: expect.any(String) });
    await post(inspection('2026-04-23', 44_000, '10.0')).expect(201);
    expect(await asked()).toBeNull();
  });

  it('need a value to correct to, and one that exists', async () => {
    const id = await doubtful('2026-04-30', 44_500);
    const send = (body: object) => coordinator.post(`/api/questions/${id}/answers`).send({ id: randomUUID(), ...body });
    expect((await send({ answer: 'correct' })).body.errors[0].field).toBe('value');
    expect((await send({ answer: 'correct', value: 'thick' })).status).toBe(422);
    // The refused correction left nothing half done.
    expect((await questions()).some((one) => one.id === id)).toBe(true);
    await send({ answer: 'withdraw', note: 'wrong vehicle' }).expect(201);
    expect(
      (await coordinator.post(`/api/questions/${randomUUID()}/answers`).send({ id: randomUUID(), answer: 'it_is_so' }))
        .status,
    ).toBe(404);
  });
});

describe('an odometer that runs ahead', () => {
  it('is taken with the technician’s word, asked of the coordinator, and mended in one step', async () => {
    const entry = inspection('2026-05-10', 52_000, '9.6');
    entry.inspection.odometerAnswer = 'leave_to_coordinator';
    await post(entry).expect(201);
    const open = (await questions()).find((one) => one.id === entry.inspection.id);
    expect(open).toMatchObject({ about: 'odometer', odometerMi: 52_000, answer: 'leave_to_coordinator' });
    expect(open?.pace?.expectedMi).toBeLessThan(46_500);
    const body = { id: randomUUID(), answer: 'correct', value: '45,200 mi', note: 'a 5 for a 2' };
    await coordinator.post(`/api/questions/${entry.inspection.id}/answers`).send(body).expect(201);
    const { readings } = await vehicle();
    const mended = readings.filter((one) => one.supersedes !== null && one.date === '2026-05-10');
    expect(mended).toHaveLength(4);
    for (const one of mended) expect(one).toMatchObject({ odometerMi: 45_200, mm: 9.6, reason: 'a 5 for a 2' });
    // The wrong odometer no longer stands in the way of the next one.
    await post(inspection('2026-05-17', 45_700, '9.5')).expect(201);
  });

  it('corrected directly needs a reason and must not fall', async () => {
    const entry = inspection('2026-06-10', 47_000, '9.2');
    await post(entry).expect(201);
    const path = `/api/inspections/${entry.inspection.id}/odometer`;
    const send = (body: object) => coordinator.post(path).send({ id: randomUUID(), ...body });
    expect((await send({ odometer: '46,900 mi', reason: '' })).status).toBe(422);
    await coordinator
      .post(`/api/inspections/${randomUUID()}/odometer`)
      .send({ id: randomUUID(), odometer: '46,900 mi', reason: 'misread' })
      .expect(404);
    expect((await send({ odometer: '20,000 mi', reason: 'misread' })).body.errors[0].field).toBe('odometer');
    const id = randomUUID();
    await send({ id, odometer: '46,900 mi', reason: 'misread' }).expect(201);
    await send({ id, odometer: '46,900 mi', reason: 'misread' }).expect(201);
    expect((await send({ odometer: '46,800 mi', reason: 'misread' })).status).toBe(409);
    await technician.post(path).send({ id: randomUUID(), odometer: '46,900 mi', reason: 'misread' }).expect(403);
  });
});

describe('a photo', () => {
  it('is kept once with its inspection, drawn anew, and given back', async () => {
    const entry = inspection('2026-07-01', 48_500, '9.0');
    await post(entry).expect(201);
    const body = {
      id: randomUUID(),
      inspectionId: entry.inspection.id,
      axle: 1,
      side: 'left',
      takenAt: '2026-07-01T08:00:00Z',
      jpegBase64: (await greyPicture()).toString('base64'),
    };
    await technician.post('/api/photos').send(body).expect(201);
    await technician.post('/api/photos').send(body).expect(201);
    expect((await vehicle()).photos).toHaveLength(1);
    const given = await technician.get(`/api/photos/${body.id}`).expect(200);
    expect(given.type).toBe('image/jpeg');
    expect(await sharp(given.body as Buffer).metadata()).toMatchObject({ format: 'jpeg', width: 32, height: 24 });
    await technician.get(`/api/photos/${randomUUID()}`).expect(404);
    const early = await technician.post('/api/photos').send({ ...body, id: randomUUID(), inspectionId: randomUUID() });
    expect(early.body.errors[0].field).toBe('inspectionId');
    const refused = async (other: object) => {
      const { body: told } = await technician
        .post('/api/photos')
        .send({ ...body, id: randomUUID(), ...other })
        .expect(422);
      return (told as { errors: { field: string; message: string }[] }).errors[0];
    };
    const exif = Buffer.concat([await greyPicture(), Buffer.from('Exif\0\0')]).toString('base64');
    expect((await refused({ jpegBase64: exif }))?.message).toContain('without EXIF');
    const none = Buffer.from('no picture at all, '.repeat(20)).toString('base64');
    expect(await refused({ jpegBase64: none })).toMatchObject({ field: 'jpegBase64' });
    expect((await refused({ axle: 5 }))?.message).toContain('no axle 5 on record; 1, 2 are accepted');
    expect(await refused({ takenAt: '2149-07-01T08:00:00Z' })).toMatchObject({ field: 'takenAt' });
    expect((await vehicle()).photos).toHaveLength(1);
  });
});
