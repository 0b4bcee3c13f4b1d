import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { MileMarks, VehicleDetail } from '@mile-mark/contract/forecasts';
import type { NewInspection } from '@mile-mark/contract/inspections';
import { createTestApp, fillSmallFleet, type TestApp, TODAY } from '../../testing/app.ts';

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

type Part = Partial<NewInspection['inspection']>;
const inspection = (thickness: string | number = '8.5', part: Part = {}): NewInspection => ({
  inspection: { id: randomUUID(), unit: 'P1', gaugeId, date: '2026-02-20', odometer: '39,863 mi', ...part },
  readings: (['left', 'right'] as const).flatMap((side) =>
    (['inner', 'outer'] as const).map((pad) => ({ id: randomUUID(), axle: 1, side, pad, thickness })),
  ),
});
const marks = async () => (await coordinator.get('/api/mile-marks').expect(200)).body as MileMarks;
const vehicle = async (unit = 'P1') =>
  (await coordinator.get(`/api/vehicles/${unit}`).expect(200)).body as VehicleDetail;

describe('an inspection', () => {
  it('goes in, moves the mark, and is on record with who did it', async () => {
    const before = (await marks()).items.find(({ unit, axle }) => unit === 'P1' && axle === 1);
    expect(before?.evidence.readings).toBe(0);
    const entry = inspection('8,5');
    const answer = await technician.post('/api/readings').send(entry).expect(201);
    expect(answer.body.readings).toHaveLength(4);
    expect(answer.body.readings[0].mm).toBe(8.5);
    const after = (await marks()).items.find(({ unit, axle }) => unit === 'P1' && axle === 1);
    expect(after?.evidence).toMatchObject({ readings: 4, technicians: 1, lastDate: '2026-02-20' });
    expect(after?.markOdometerMi).not.toBe(before?.markOdometerMi);
    expect(after?.serviceLimitMm).toBe(2.75);
    const [deed] = await test.orm.em
      .fork()
      .execute<{ action: string; name: string }[]>(
        `select a.action, p.name from audit a join person p on p.id = a.person_id where a.detail->>'inspection' = ?`,
        [entry.inspection.id],
      );
    expect(deed).toEqual({ action: 'entered an inspection', name: 'The technician' });
  });

  it('is asked for its day where the device’s clock was set meanwhile, by more than a day either way', async () => {
    const send = (entry: NewInspection, deviceDay: string) =>
      technician.post('/api/readings').query({ deviceDay }).send(entry);
    const day = (days: number) => new Date(Date.parse(TODAY) + days * 86_400_000).toISOString().slice(0, 10);
    for (const [k, days] of [-2, 2, -400].entries()) {
      const refused = await send(inspection(8.4 - k / 10, { date: '2026-02-21' }), day(days)).expect(422);
      expect(refused.body.errors).toEqual([
        {
          field: 'inspection.date',
          message: expect.stringContaining(`by it today is ${day(days)}, here it is ${TODAY}`),
        },
      ]);
    }
    const entry = inspection(8.3, { date: '2026-02-21' });
    await send(entry, day(1)).expect(201);
    // An answer that was lost, asked for again when the clock is another: it is on record, and said so.
    await send(entry, day(-30)).expect(201);
    await send(inspection(8.2, { date: '2026-02-21', odometer: '39,870 mi' }), day(-1)).expect(201);
    await technician.post('/api/readings').query({ deviceDay: 'yesterday' }).send(inspection(8.1)).expect(422);
  });

  it('keeps what was typed, in its unit', async () => {
    const entry = inspection('11/32', { date: '2026-02-22', odometer: '64 300 km' });
    await technician.post('/api/readings').send(entry).expect(201);
    const kept = (await vehicle()).readings.find(({ id }) => id === entry.readings[0]?.id);
    expect(kept).toMatchObject({
      typed: '11/32',
      mm: 8.731,
      odometerMi: Math.round(64_300 / 1.609344),
      technician: 'The technician',
    });
  });

  it('answers a repeat as it did the first time, also at the same moment', async () => {
    const entry = inspection('8.4', { date: '2026-03-02', odometer: 40_400 });
    const [first, second] = await Promise.all([
      technician.post('/api/readings').send(entry),
      technician.post('/api/readings').send(entry),
    ]);
    const third = await technician.post('/api/readings').send(entry);
    expect([first.status, second.status, third.status]).toEqual([201, 201, 201]);
    expect(second.body).toEqual(first.body);
    expect(third.body).toEqual(first.body);
    const [rows] = await test.orm.em
      .fork()
      .execute<{ count: number }[]>('select count(*)::int as count from reading where inspection_id = ?', [
        entry.inspection.id,
      ]);
    expect(rows?.count).toBe(4);
  });

  it('refuses other content under the same id, and the same content under another', async () => {
    const entry = inspection('8.3', { date: '2026-03-09', odometer: 40_900 });
    await technician.post('/api/readings').send(entry).expect(201);
    const other = { ...entry, inspection: { ...entry.inspection, note: 'another' } };
    expect((await technician.post('/api/readings').send(other)).body).toMatchObject({
      status: 409,
      errors: [{ field: 'inspection.id' }],
    });
    const twin = {
      inspection: { ...entry.inspection, id: randomUUID() },
      readings: entry.readings.map((reading) => ({ ...reading, id: randomUUID() })),
    };
    expect((await technician.post('/api/readings').send(twin)).status).toBe(409);
  });

  it('of two people of the same vehicle on one day is two sets of readings', async () => {
    const one = inspection('8.2', { date: '2026-03-16', odometer: 41_400 });
    const two = inspection('8.2', { date: '2026-03-16', odometer: 41_400, technicianId: test.idOf('coordinator') });
    const answers = await Promise.all([
      technician.post('/api/readings').send(one),
      coordinator.post('/api/readings').send(two),
    ]);
    expect(answers.map(({ status }) => status)).toEqual([201, 201]);
  });

  it('tells a suspicion and keeps the reading and its answer', async () => {
    const entry = inspection('8.1', { date: '2026-03-30', odometer: 42_400 });
    const [first] = entry.readings;
    if (first) Object.assign(first, { thickness: '13.9', answer: 'measured_twice' });
    const { body } = await technician.post('/api/readings').send(entry).expect(201);
    expect(body.readings[0].suspicion.kind).toBe('plate');
    const kept = (await vehicle()).readings.find(({ id }) => id === first?.id);
    expect(kept).toMatchObject({ mm: 13.9, answer: 'measured_twice', suspicion: { kind: 'plate' } });
    expect(kept?.weight).toBeLessThan(0.02);
  });
});

describe('bad input is refused at its field', () => {
  const cases: [string, NewInspection, string, RegExp][] = [
    ['a thickness of −1', inspection('−1'), 'readings.0.thickness', /below zero/],
    ['85 for 8,5', inspection('85'), 'readings.0.thickness', /8\.5/],
    ['11/23', inspection('11/23'), 'readings.0.thickness', /32nds/],
    ['a formula', inspection('=HYPERLINK("x")'), 'readings.0.thickness', /not a thickness/],
    ['a blank', inspection(' '), 'readings.0.thickness', /needed/],
    [
      'an odometer that falls',
      inspection('8.5', { date: '2026-04-30', odometer: '30000' }),
      'inspection.odometer',
      /doesn't fall/,
    ],
    [
      'kilometres typed as miles',
      inspection('8.5', { date: '2026-04-30', odometer: '72420' }),
      'inspection.odometer',
      /kilometres/,
    ],
    ['a date in the future', inspection('8.5', { date: '2026-11-21' }), 'inspection.date', /future/],
    ['a date that is none', inspection('8.5', { date: '2026-02-30' }), 'inspection.date', /calendar/],
    ['an unknown unit', inspection('8.5', { unit: 'V99' }), 'inspection.unit', /V99/],
    ['an unknown gauge', inspection('8.5', { gaugeId: randomUUID() }), 'inspection.gaugeId', /gauge/],
    [
      'someone who does not measure',
      inspection('8.5', { technicianId: randomUUID() }),
      'inspection.technicianId',
      /technician/,
    ],
    [
      'an axle the model lacks',
      { ...inspection(), readings: [{ id: randomUUID(), axle: 3, side: 'left', pad: 'inner', thickness: '8' }] },
      'readings.0.axle',
      /1, 2/,
    ],
    ['no readings', { ...inspection(), readings: [] }, 'readings', /needed/],
  ];
  it.each(cases)('%s', async (_name, entry, field, message) => {
    // The table is made before the gauge is: an entry without one gets it here.
    const fixed = { ...entry, inspection: { ...entry.inspection, gaugeId: entry.inspection.gaugeId ?? gaugeId } };
    const answer = await technician.post('/api/readings').send(fixed);
    expect(answer.status).toBe(422);
    expect(answer.type).toBe('application/problem+json');
    const error = (answer.body.errors as { field: string; message: string }[]).find((one) => one.field === field);
    expect(error?.message).toMatch(message);
  });

  it('says that an id must be one', async () => {
    const entry = inspection();
    expect(
      (await technician.post('/api/readings').send({ ...entry, inspection: { ...entry.inspection, id: '7' } })).body
        .errors[0].field,
    ).toBe('inspection.id');
  });
});

describe('a correction', () => {
  const enter = async (date: string, odometer: number) => {
    const entry = inspection('8.0', { date, odometer });
    await technician.post('/api/readings').send(entry).expect(201);
    return entry.readings[0]?.id as string;
  };

  it('supersedes, with a reason, and both stay to be seen', async () => {
    const old = await enter('2026-05-04', 44_000);
    const id = randomUUID();
    await technician
      .post(`/api/readings/${old}/corrections`)
      .send({ id, thickness: '7.9', reason: 'read the wrong pad' })
      .expect(201);
    const { readings } = await vehicle();
    expect(readings.find((one) => one.id === old)).toMatchObject({ mm: 8, supersededBy: id });
    expect(readings.find((one) => one.id === id)).toMatchObject({
      mm: 7.9,
      supersedes: old,
      reason: 'read the wrong pad',
    });
  });

  it('can withdraw, and is refused without a reason or twice', async () => {
    const old = await enter('2026-05-18', 45_000);
    const refused = await technician.post(`/api/readings/${old}/corrections`).send({ id: randomUUID(), reason: '' });
    expect(refused.body.errors[0].field).toBe('reason');
    await technician
      .post(`/api/readings/${old}/corrections`)
      .send({ id: randomUUID(), reason: 'wrong vehicle' })
      .expect(201);
    const again = await technician
      .post(`/api/readings/${old}/corrections`)
      .send({ id: randomUUID(), reason: 'wrong vehicle' });
    expect(again.status).toBe(409);
  });

  it('of another technician’s reading is the coordinator’s', async () => {
    const entry = inspection('8.0', { date: '2026-06-01', odometer: 46_000, technicianId: test.idOf('coordinator') });
    await coordinator.post('/api/readings').send(entry).expect(201);
    const path = `/api/readings/${entry.readings[0]?.id ?? ''}/corrections`;
    expect((await technician.post(path).send({ id: randomUUID(), thickness: '7.7', reason: 'mistaken' })).status).toBe(
      403,
    );
    await coordinator.post(path).send({ id: randomUUID(), thickness: '7.7', reason: 'mistaken' }).expect(201);
  });
});

describe('pads fitted', () => {
  it('begin a new life: the mark stands on the vehicle’s rate until measured', async () => {
    const before = (await vehicle()).axleDetails[0]?.mark;
    await technician
      .post('/api/services')
      .send({ id: randomUUID(), unit: 'p1', axle: 1, date: '2026-08-03', odometer: '49,000 mi', fitted: 'pads' })
      .expect(201);
    const after = (await vehicle()).axleDetails[0]?.mark;
    expect(after?.evidence).toMatchObject({ readings: 0 });
    expect(after?.evidence.earlierReadings).toBeGreaterThan(10);
    expect(after?.markOdometerMi).toBeGreaterThan(before?.markOdometerMi ?? 0);
  });

  it('twice on one day, or at an odometer that falls, are refused', async () => {
    const again = await technician
      .post('/api/services')
      .send({ id: randomUUID(), unit: 'P1', axle: 1, date: '2026-08-03', odometer: '49,000 mi', fitted: 'pads' });
    expect(again.status).toBe(409);
    const falls = await technician
      .post('/api/services')
      .send({ id: randomUUID(), unit: 'P1', axle: 2, date: '2026-09-03', odometer: '40,000 mi', fitted: 'pads' });
    expect(falls.body.errors[0].field).toBe('odometer');
  });
});

describe('a duty that changes', () => {
  it('bends the forecast from its day and leaves the past', async () => {
    const before = (await vehicle('P2')).axleDetails[0]?.mark;
    await coordinator
      .post('/api/vehicles/P2/duty-periods')
      .send({ id: randomUUID(), duty: 'Street delivery', from: '2026-11-01' })
      .expect(201);
    const after = await vehicle('P2');
    expect(after.dutyPeriods).toMatchObject([
      { to: '2026-11-01', severity: 1 },
      { from: '2026-11-01', to: null },
    ]);
    expect(after.axleDetails[0]?.mark?.medianOdometerMi).not.toBe(before?.medianOdometerMi);
    const twice = await coordinator
      .post('/api/vehicles/P2/duty-periods')
      .send({ id: randomUUID(), duty: 'herd rounds', from: '2026-11-01' });
    expect(twice.status).toBe(409);
  });
});
