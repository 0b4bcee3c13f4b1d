import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { randomUUID } from 'node:crypto';
import type { VehicleDetail } from '@mile-mark/contract/forecasts';
import { createTestApp, fillSmallFleet, type TestApp } from '../../testing/app.ts';

let test: TestApp;
let coordinator: Awaited<ReturnType<TestApp['as']>>;
let gaugeId: string;
let detail: VehicleDetail;

const enter = (date: string, odometer: number, thickness: Record<string, number>, technicianId?: string) =>
  coordinator
    .post('/api/readings')
    .send({
      inspection: { id: randomUUID(), unit: 'P1', gaugeId, date, odometer, ...(technicianId ? { technicianId } : {}) },
      readings: Object.entries(thickness).map(([place, mm]) => {
        const [axle, side, pad] = place.split(' ');
        return { id: randomUUID(), axle: Number(axle), side, pad, thickness: mm };
      }),
    })
    .expect(201);

beforeAll(async () => {
  test = await createTestApp();
  ({ gaugeId } = await fillSmallFleet(test));
  coordinator = await test.as('coordinator');
  await coordinator
    .post('/api/services')
    .send({ id: randomUUID(), unit: 'P1', axle: 1, date: '2026-01-12', odometer: '37,000 mi', fitted: 'pads' })
    .expect(201);
  await enter('2026-03-02', 40_000, {
    '1 left inner': 10.4,
    '1 left outer': 10.4,
    '1 right inner': 10.3,
    '1 right outer': 10.4,
    '2 left inner': 7,
  });
  await enter(
    '2026-06-01',
    46_000,
    { '1 left inner': 9.2, '1 left outer': 9.3, '1 right inner': 15.0, '1 right outer': 9.2 },
    test.idOf('technician'),
  );
  detail = (await coordinator.get('/api/vehicles/p1').expect(200)).body as VehicleDetail;
});
afterAll(async () => test.close());

describe('a vehicle’s page', () => {
  const axle = (number: number) => detail.axleDetails.find((one) => one.axle === number);

  it('has the pads of each axle, estimated near what was read', () => {
    expect(axle(1)?.pads).toHaveLength(4);
    for (const pad of axle(1)?.pads ?? []) {
      expect(pad.meanMm).toBeLessThan(9.3);
      expect(pad.meanMm).toBeGreaterThan(5);
      expect(pad.sdMm).toBeLessThan(1.5);
    }
  });

  it('tells the pooled value of each pad by how many, and the readings’ shares, together one', () => {
    const pad = axle(1)?.pads.find(({ side, pad: which }) => side === 'left' && which === 'inner');
    expect(pad?.pooled).toMatchObject({ readings: 2, technicians: 2 });
    const own = detail.readings.filter((one) => one.axle === 1 && one.side === 'left' && one.pad === 'inner');
    expect(own.reduce((sum, { weight }) => sum + (weight ?? 0), 0)).toBeCloseTo(1, 6);
  });

  it('lets the backing plate weigh next to nothing, and keeps it to be seen', () => {
    const plate = detail.readings.find(({ mm }) => mm === 15);
    expect(plate).toMatchObject({ suspicion: { kind: 'plate' }, technician: 'The technician' });
    expect(plate?.weight).toBeLessThan(0.02);
    expect(plate?.expectedMm).toBeLessThan(10.5);
  });

  it('says what odometer was expected only where one was doubted', () => {
    expect(detail.readings.map(({ odometerExpectedMi }) => odometerExpectedMi)).toEqual(
      detail.readings.map(() => null),
    );
  });

  it('draws wear lines from the fitting on, thinner with every mile', () => {
    for (const { trace } of axle(1)?.pads ?? []) {
      expect(trace[0]).toMatchObject({ date: '2026-01-12', meanMm: 11 });
      expect(trace.map(({ miles }) => miles)).toEqual([...trace.map(({ miles }) => miles)].sort((a, b) => a - b));
      expect(trace.at(-1)?.meanMm).toBeLessThan(11);
    }
  });

  it('has work, severity and limit with their sources', () => {
    expect(axle(1)?.workPerMileKj).toBeGreaterThan(axle(2)?.workPerMileKj ?? Infinity);
    expect(detail.dutyPeriods[0]).toMatchObject({ severity: 1, duty: { name: 'herd rounds' } });
    expect(detail.dutyPeriods[0]?.towingKjPerMile).toBeGreaterThan(0);
    expect(axle(1)?.limit).toMatchObject({ limitMm: 2.75, ruling: { kind: 'margin' } });
    expect(axle(1)?.limit.candidates.map(({ kind }) => kind)).toEqual(['margin', 'maker', 'policy']);
    expect(detail.referenceDuty).toBe('herd rounds');
  });

  it('knows how far it drives: odometer and duty together', () => {
    expect(detail.milesPerDay?.basis).toBe('both');
    expect(detail.odometerNowMi).toBeGreaterThan(46_000);
    expect(detail.refresh.pending).toBe(0);
  });

  it('is refused for a vehicle there is not', async () => {
    expect((await coordinator.get(`/api/vehicles/${encodeURIComponent("P1'; drop table reading; --")}`)).status).toBe(
      404,
    );
    expect((await coordinator.get('/api/vehicles/P1')).status).toBe(200);
  });
});

describe('all readings as CSV', () => {
  it('have who, what was typed and what supersedes what', async () => {
    const plate = detail.readings.find(({ mm }) => mm === 15);
    const id = randomUUID();
    await coordinator
      .post(`/api/readings/${plate?.id ?? ''}/corrections`)
      .send({ id, thickness: '9.2', reason: '=plate was included' })
      .expect(201);
    const { text, headers } = await coordinator.get('/api/readings.csv').expect(200);
    expect(headers['content-type']).toContain('text/csv');
    const lines = text.trim().split('\r\n');
    expect(lines).toHaveLength(1 + 9 + 1);
    const corrected = lines.find((line) => line.startsWith(id));
    expect(corrected).toContain(`,${plate?.id ?? ''},`);
    expect(corrected).toContain(`'=plate was included`);
    expect(lines.find((line) => line.startsWith(plate?.id ?? '-'))).toContain(id);
  });
});

describe('sessions that are over', () => {
  it('open nothing', async () => {
    const viewer = await test.as('viewer');
    await viewer.get('/api/vehicles').expect(200);
    await test.orm.em
      .fork()
      .execute(`update session set expires_at = now() - interval '1 second' where person_id = ?`, [
        test.idOf('viewer'),
      ]);
    await viewer.get('/api/vehicles').expect(401);
  });
});
