import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Bay } from '@mile-mark/contract/inspections';
import {
  type DutyPreview,
  type ForecastInput,
  MARK_CAUSES,
  type VehicleDetail,
  type WearChange,
  type WhyMark,
} from '@mile-mark/contract/forecasts';
import type { DutyInUse, Model, SettingsView } from '@mile-mark/contract/register';
import { forecastVehicle, type RiskPolicy, type VehicleInput } from '@mile-mark/core';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
import { VehicleEntity } from './entities.ts';
import { keepChanges } from '../forecasts/commands/keepChanges.ts';

let test: TestApp;
let unit: string;
let vehicleId: string;
let coordinator: Awaited<ReturnType<TestApp['as']>>;
beforeAll(async () => {
  test = await createTestApp();
  await fillSmallFleet(test);
  coordinator = await test.as('coordinator');
  const [row] = await test.orm.em
    .fork()
    .execute<{ id: string; unit: string }[]>('select id, unit from vehicle order by unit limit 1');
  unit = row?.unit ?? '';
  vehicleId = row?.id ?? '';
});
afterAll(async () => test.close());

const duty = (more: object = {}) => ({
  id: randomUUID(),
  name: `Duty ${randomUUID().slice(0, 8)}`,
  stopsPerMile: 3,
  mphBeforeStop: 28,
  payloadShare: 0.6,
  descentMPerMile: 12,
  retarderShare: 0.1,
  towedKg: 0,
  milesPerDay: 70,
  ...more,
});
const detail = async (of = unit) => (await coordinator.get(`/api/vehicles/${of}`).expect(200)).body as VehicleDetail;
/** The other vehicle, with new pads: its marks lie ahead. */
const OTHER = 'P2';

beforeAll(async () => {
  for (const axle of [1, 2])
    await coordinator
      .post('/api/services')
      .send({ id: randomUUID(), unit: OTHER, axle, date: '2026-09-20', odometer: '79,000 mi', fitted: 'pads' })
      .expect(201);
});

describe('a duty', () => {
  it('is put on record once, with slowdowns and where it comes from, and then used', async () => {
    const own = duty({
      slowdownsPerMile: 2,
      slowdownFromMph: 40,
      slowdownToMph: 20,
      source: 'trace',
      sourceNote: 'round.csv',
    });
    await coordinator.post('/api/duties').send(own).expect(201);
    await coordinator.post('/api/duties').send(own).expect(201);
    const before = (await detail()).axleDetails[0]?.workPerMileKj ?? 0;
    await coordinator
      .post(`/api/vehicles/${unit}/duty-periods`)
      .send({ id: randomUUID(), duty: own.name, from: '2026-11-01' })
      .expect(201);
    const found = ((await coordinator.get('/api/duties').expect(200)).body as { items: DutyInUse[] }).items.filter(
      ({ name }) => name === own.name,
    );
    expect(found).toMatchObject([{ vehicles: 1, source: 'trace', sourceNote: 'round.csv', slowdownFromMph: 40 }]);
    const after = await detail();
    const period = after.dutyPeriods.at(-1);
    expect(period?.slowdownsKjPerMile).toBeGreaterThan(0);
    expect(after.axleDetails[0]?.workPerMileKj).not.toBe(before);
    expect(after.axleDetails[0]?.temperature?.meanC).toBeGreaterThan(15);
  });

  it.each([
    [
      'a name twice',
      async () => ({ name: ((await coordinator.get('/api/duties')).body as { items: DutyInUse[] }).items[0]?.name }),
      'name',
    ],
    ['negative stops', async () => ({ stopsPerMile: -1 }), 'stopsPerMile'],
    ['a slowdown that ends faster', async () => ({ slowdownFromMph: 20, slowdownToMph: 30 }), 'slowdownToMph'],
    ['a retarder that takes all', async () => ({ retarderShare: 1 }), 'retarderShare'],
  ])('is refused at its field: %s', async (_name, change, field) => {
    const { status, body } = await coordinator.post('/api/duties').send(duty(await change()));
    expect(status).toBe(422);
    expect(body.errors[0].field).toBe(field);
  });

  it('that is thought of says where the marks would go and saves nothing; begun, they go there; taken back, they return', async () => {
    const own = duty({ stopsPerMile: 6, milesPerDay: 60 });
    await coordinator.post('/api/duties').send(own).expect(201);
    const marks = async () =>
      (await detail(OTHER)).axleDetails.map(({ mark }) => [mark?.markDate, mark?.markOdometerMi]);
    const before = await marks();
    const periods = (await detail(OTHER)).dutyPeriods;
    const query = { duty: own.name.toUpperCase(), from: '2026-11-18', milesPerDay: '120' };
    const viewer = await test.as('viewer');
    const preview = (await viewer.get(`/api/vehicles/${OTHER}/duty-preview`).query(query).expect(200))
      .body as DutyPreview;
    expect(preview.axles.map(({ now }) => [now.date, now.odometerMi])).toEqual(before);
    expect(preview.axles.every(({ now, then }) => then.date < now.date)).toBe(true);
    expect([await marks(), (await detail(OTHER)).dutyPeriods]).toEqual([before, periods]);

    const id = randomUUID();
    const begin = { id, duty: own.name, from: '2026-11-18', milesPerDay: 120 };
    await coordinator.post(`/api/vehicles/${OTHER}/duty-periods`).send(begin).expect(201);
    expect(await marks()).toEqual(preview.axles.map(({ then }) => [then.date, then.odometerMi]));
    await viewer.delete(`/api/duty-periods/${id}`).expect(403);
    await coordinator.delete(`/api/duty-periods/${id}`).expect(200);
    expect([await marks(), (await detail(OTHER)).dutyPeriods]).toEqual([before, periods]);
    await coordinator.delete(`/api/duty-periods/${id}`).expect(404);
  });

  it.each([
    ['a duty nobody knows', { duty: 'moon rounds', from: '2026-11-18' }, 'duty'],
    ['a day that is none', { duty: 'herd rounds', from: '18/11' }, 'from'],
    ['miles that are none', { duty: 'herd rounds', from: '2026-11-18', milesPerDay: 'far' }, 'milesPerDay'],
  ])('is not previewed with %s', async (_, query, field) => {
    const refused = await coordinator.get(`/api/vehicles/${unit}/duty-preview`).query(query);
    expect([refused.status, refused.body.errors?.[0]?.field]).toEqual([422, field]);
  });

  it('that is the only one, or not the last, is not taken back', async () => {
    const [first, second] = (await detail()).dutyPeriods;
    expect((await coordinator.delete(`/api/duty-periods/${first?.id ?? ''}`)).status).toBe(409);
    await coordinator.delete(`/api/duty-periods/${second?.id ?? ''}`).expect(200);
    expect((await coordinator.delete(`/api/duty-periods/${first?.id ?? ''}`)).status).toBe(409);
  });

  it('credits a vehicle without a retarder with its engine only', async () => {
    const { modelId } = await test.orm.em.fork().findOneOrFail(VehicleEntity, { id: vehicleId });
    const own = duty({ stopsPerMile: 4, retarderShare: 0.45 });
    await coordinator.post('/api/duties').send(own).expect(201);
    const id = randomUUID();
    await coordinator
      .post(`/api/vehicles/${unit}/duty-periods`)
      .send({ id, duty: own.name, from: '2026-11-19' })
      .expect(201);
    const work = async () => (await detail()).axleDetails[0]?.workPerMileKj ?? 0;
    const without = await work();
    const model = ((await coordinator.get('/api/models').expect(200)).body.items as Model[]).find(
      (one) => one.id === modelId,
    );
    const { axles: _, ...build } = model as Model;
    await coordinator
      .put(`/api/models/${modelId}/build`)
      .send({ ...build, axles: [], retarder: true })
      .expect(200);
    // What is left to the brakes is 55 of what it was, out of 80.
    expect((await work()) / without).toBeCloseTo(0.55 / 0.8, 6);
    await coordinator.delete(`/api/duty-periods/${id}`).expect(200);
  });

  it('is for the coordinator to state', async () => {
    await (await test.as('technician')).post('/api/duties').send(duty()).expect(403);
  });
});

describe('what forecasts assume', () => {
  it('can be changed by the coordinator, and marks follow', async () => {
    const before = await detail();
    const mark = (of: VehicleDetail) => of.axleDetails[0]?.mark?.markOdometerMi ?? 0;
    const settings = {
      riskTarget: 0.3,
      riskTargetHeavy: 0.3,
      marginShare: 0.25,
      costs: {
        currency: 'USD',
        light: { plannedMinor: 30_000, failureMinor: 31_000 },
        heavy: { plannedMinor: 90_000, failureMinor: 91_000 },
      },
    };
    const { body } = await coordinator.put('/api/settings').send(settings).expect(200);
    expect(body as SettingsView).toMatchObject(settings);
    expect(mark(await detail())).toBeGreaterThan(mark(before));
    const dear = {
      ...settings,
      costs: {
        ...settings.costs,
        light: { plannedMinor: 30_000, failureMinor: 3_000_000 },
        heavy: { plannedMinor: 30_000, failureMinor: 3_000_000 },
      },
    };
    await coordinator.put('/api/settings').send(dear).expect(200);
    const ruled = (await detail()).axleDetails.map(({ decision }) => decision);
    for (const one of ruled)
      if (one && one.costMarkMi !== null && one.costMarkMi < one.riskMarkMi) expect(one.ruledBy).toBe('cost');
    await coordinator
      .put('/api/settings')
      .send({ ...settings, riskTarget: 0.05, riskTargetHeavy: 0.05 })
      .expect(200);
    const wrong = { ...settings, costs: { ...settings.costs, light: { plannedMinor: 30_000, failureMinor: 1 } } };
    expect((await coordinator.put('/api/settings').send(wrong)).status).toBe(422);
    await (await test.as('technician')).put('/api/settings').send(settings).expect(403);
  });
});

describe('why a mark stands where it stands', () => {
  it('walks from a month ago to today’s mark, and ends there', async () => {
    await coordinator
      .put('/api/settings')
      .send({ riskTarget: 0.05, riskTargetHeavy: 0.05, marginShare: 0.25 })
      .expect(200);
    const why = (await coordinator.get(`/api/vehicles/${unit}/why`).expect(200)).body as WhyMark;
    expect(why).toMatchObject({ unit, afterwards: true });
    const { axleDetails } = await detail();
    for (const { axle, steps } of why.axles) {
      expect(steps.map(({ cause }) => cause)).toEqual([...MARK_CAUSES]);
      const mark = axleDetails.find((one) => one.axle === axle)?.mark;
      expect(steps.at(-1)?.to).toEqual({ date: mark?.markDate, odometerMi: mark?.markOdometerMi });
    }
  });

  it('tells a softer route that drives twice as far by its two causes, each with its own sign', async () => {
    const soft = duty({ stopsPerMile: 1, payloadShare: 0.4, descentMPerMile: 4, milesPerDay: 70 });
    await coordinator.post('/api/duties').send(soft).expect(201);
    const begin = { id: randomUUID(), duty: soft.name, from: '2026-11-05', milesPerDay: 190 };
    await coordinator.post(`/api/vehicles/${OTHER}/duty-periods`).send(begin).expect(201);
    const why = (await coordinator.get(`/api/vehicles/${OTHER}/why`).expect(200)).body as WhyMark;
    for (const { from, steps } of why.axles) {
      const dateAt = (cause: string) => steps.find((one) => one.cause === cause)?.to.date ?? '';
      const before = (cause: string) => steps[steps.findIndex((one) => one.cause === cause) - 1]?.to.date ?? from.date;
      expect(dateAt('pace') < before('pace')).toBe(true);
      expect(dateAt('severity') > before('severity')).toBe(true);
    }
    await coordinator.delete(`/api/duty-periods/${begin.id}`).expect(200);
  });

  it('hands out all that the forecast rests on: the same computation elsewhere gives the same mark', async () => {
    const found = (await coordinator.get(`/api/vehicles/${unit}/forecast-input`).expect(200)).body as ForecastInput;
    const { axles } = forecastVehicle(found.input as VehicleInput, found.policy as RiskPolicy);
    const { axleDetails } = await detail();
    for (const { axle, markDate } of axles)
      expect(markDate).toBe(axleDetails.find((one) => one.axle === axle)?.mark?.markDate);
  });
});

describe('a change of wear', () => {
  const change = {
    kind: 'apart' as const,
    axle: 1,
    side: 'left' as const,
    more: 'inner' as const,
    since: '2026-06-01',
    probability: 0.97,
    factor: { p05: 2, p50: 2.6, p95: 3.2 },
    looks: 2,
    wear: [{ side: 'left' as const, pad: 'inner' as const, mm: 5, usualMm: 2 }],
  };
  const keep = (changes: Parameters<typeof keepChanges>[1][number]['changes'], today = '2026-11-20') =>
    test.orm.em.fork().transactional(async (em) => keepChanges(em, [{ vehicleId, changes }], today));
  const own = async () =>
    ((await coordinator.get('/api/changes').expect(200)).body as { items: WearChange[] }).items.filter(
      (one) => one.unit === unit,
    );

  it('stays one finding while readings move its beginning, goes where they no longer show it, and comes back', async () => {
    await keep([change]);
    await keep([{ ...change, since: '2026-05-12', probability: 0.99 }]);
    const [found, ...others] = await own();
    expect(others).toEqual([]);
    expect(found).toMatchObject({ since: '2026-05-12', probability: 0.99, open: true, firstTold: '2026-11-20' });
    await keep([], '2026-11-21');
    expect((await own())[0]).toMatchObject({ open: false, goneOn: '2026-11-21' });
    // The day it went is kept: a later look that does not show it either does not move it.
    await keep([], '2026-11-25');
    expect((await own())[0]).toMatchObject({ open: false, goneOn: '2026-11-21' });
    await keep([{ ...change, until: '2026-11-22' }], '2026-11-22');
    expect(await own()).toMatchObject([{ open: false, goneOn: null, until: '2026-11-22' }]);
    // After new pads a like change is another one.
    await keep(
      [
        { ...change, until: '2026-11-22' },
        { ...change, since: '2026-11-23' },
      ],
      '2026-12-30',
    );
    expect((await own()).map(({ since, open }) => [since, open])).toEqual([
      ['2026-11-23', true],
      ['2026-06-01', false],
    ]);
  });

  it('is decided by the coordinator, with what was found, once', async () => {
    const id = (await own()).find(({ open }) => open)?.id ?? '';
    const send = (body: object, by = coordinator) =>
      by.post(`/api/changes/${id}/answers`).send({ id: randomUUID(), ...body });
    expect((await send({ answer: 'cause_found' })).body.errors[0].field).toBe('note');
    await send({ answer: 'look' }, await test.as('technician')).expect(403);
    await send({ answer: 'look' }).expect(201);
    // It reaches whoever stands in the bay, and goes with the answer.
    const asked = async () =>
      ((await coordinator.get('/api/bay').expect(200)).body as Bay).vehicles
        .flatMap(({ axles }) => axles.flatMap((axle) => axle.asked ?? []))
        .map(({ what, by }) => `${what} ${by}`);
    expect(await asked()).toContain('look The coordinator');
    const answer = { id: randomUUID(), answer: 'nothing_found', note: 'pins free, piston free' };
    await coordinator.post(`/api/changes/${id}/answers`).send(answer).expect(201);
    await coordinator.post(`/api/changes/${id}/answers`).send(answer).expect(201);
    await send({ answer: 'cause_found', note: 'other' }).expect(409);
    expect(await asked()).toEqual([]);
    const found = (await own()).find((one) => one.id === id);
    expect(found).toMatchObject({
      open: false,
      answers: [{ answer: 'look' }, { answer: 'nothing_found', by: 'The coordinator' }],
    });
    const unknown = { ...answer, id: randomUUID() };
    await coordinator.post(`/api/changes/${randomUUID()}/answers`).send(unknown).expect(404);
  });
});
