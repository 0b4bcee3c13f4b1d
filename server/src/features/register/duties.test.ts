import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { Bay } from '@mile-mark/contract/inspections';
import type { ForecastInput, VehicleDetail, WearChange, WhyMark } from '@mile-mark/contract/forecasts';
import type { DutyInUse, SettingsView } from '@mile-mark/contract/register';
import { forecastVehicle, type RiskPolicy, type VehicleInput } from '@mile-mark/core';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';
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
const detail = async () => (await coordinator.get(`/api/vehicles/${unit}`).expect(200)).body as VehicleDetail;

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
      expect(steps.map(({ cause }) => cause)).toEqual(['fleet', 'policy', 'miles', 'duty', 'readings', 'pads']);
      const mark = axleDetails.find((one) => one.axle === axle)?.mark;
      expect(steps.at(-1)?.to).toEqual({ date: mark?.markDate, odometerMi: mark?.markOdometerMi });
    }
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
