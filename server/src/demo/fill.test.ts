import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import type { WearChange } from '@mile-mark/contract/forecasts';
import { randomUUID } from 'node:crypto';
import { WearChangeAnswerEntity } from '../features/forecasts/entities.ts';
import { refreshFleet, refreshVehicles } from '../features/forecasts/jobs/refresh.ts';
import { listChanges } from '../features/forecasts/queries/changes.ts';
import { mileMarks } from '../features/forecasts/queries/marks.ts';
import { validation } from '../features/forecasts/queries/validation.ts';
import { vehicleDetail } from '../features/forecasts/queries/vehicle.ts';
import { withoutPooling } from '../features/forecasts/queries/withoutPooling.ts';
import { listAppraisers } from '../features/gauges/queries/appraisers.ts';
import { ServiceEntity } from '../features/inspections/entities.ts';
import type { Orm } from '../platform/db/orm.ts';
import { localComputer, createDemoDatabase } from '../testing/app.ts';
import { DEMO_TODAY, DEPOTS, GAUGES, TECHNICIANS } from './cast.ts';

/** The whole fleet is learnt and forecast in one thread, beside whatever else the machine does. */
const PATIENCE_MS = 300_000;

let orm: Orm;
let close: () => Promise<void>;

beforeAll(async () => {
  ({ orm, close } = await createDemoDatabase(60));
  await refreshFleet(orm.em.fork(), localComputer(), DEMO_TODAY);
}, PATIENCE_MS);
afterAll(async () => close());

const one = async <T>(sql: string) => (await orm.em.fork().execute<T[]>(sql))[0] as T;

describe('the demo fleet', () => {
  it('has sixty vehicles at three depots, measured by six people for eighteen months', async () => {
    const counts = await one<{ vehicles: number; depots: number; appraisers: number; first: string; last: string }>(
      `select (select count(*)::int from vehicle) vehicles, (select count(distinct depot_id)::int from vehicle) depots,
         count(distinct technician_id)::int appraisers, min(measured_on)::text first, max(measured_on)::text last from inspection`,
    );
    expect(counts).toMatchObject({ vehicles: 60, depots: DEPOTS.length, appraisers: TECHNICIANS.length });
    expect(counts.first < '2025-07-15' && counts.last > '2026-10-20').toBe(true);
  });

  it('has a mark for every axle, some passed, some near, most ahead, the nearest first', async () => {
    const { items } = await mileMarks(orm.em.fork(), DEMO_TODAY);
    const axles = await one<{ count: number }>(
      `select count(*)::int as count from vehicle v join model_axle a on a.model_id = v.model_id`,
    );
    expect(items).toHaveLength(axles.count);
    const passed = items.filter(({ markDate }) => markDate < DEMO_TODAY).length;
    expect(passed).toBeGreaterThan(0);
    expect(passed).toBeLessThan(items.length / 4);
    expect(items.map(({ markDate }) => markDate)).toEqual(items.map(({ markDate }) => markDate).sort());
  });

  // The truth stands in the cast; what the fleet taught must find it: which gauge reads high, and which is coarse.
  it('has a gauge that reads high, found as the gauge’s and not as anybody’s', async () => {
    const rows = await orm.em
      .fork()
      .execute<{ name: string; bias_mm: number; bias_sd_mm: number }[]>(
        `select g.name, h.bias_mm, h.bias_sd_mm from appraiser_share h join gauge g on g.id = h.subject_id where h.kind = 'gauge' order by h.bias_mm desc`,
      );
    expect(rows[0]?.name).toBe(GAUGES.digital3.name);
    expect((rows[0]?.bias_mm ?? 0) - (rows[1]?.bias_mm ?? 0)).toBeGreaterThan(0.2);
    const people = await orm.em
      .fork()
      .execute<{ bias_mm: number }[]>(`select bias_mm from appraiser_share where kind = 'technician'`);
    for (const { bias_mm } of people) expect(Math.abs(bias_mm)).toBeLessThan(rows[0]?.bias_mm ?? 0);
  });

  // Shares as the table has them; repeatability of several appraisers together by their readings, its interval by their
  // precisions (inverse variances of independent estimates add up).
  it('tells technicians and gauges by themselves, with intervals that narrow as appraisers are put together', async () => {
    const em = orm.em.fork();
    const { id } = await one<{ id: string }>(`select id from person where role = 'coordinator'`);
    const told = await listAppraisers(em, { id, name: 'Maren', role: 'coordinator' });
    const rows = await em.execute<{ technician_id: string; repeatability_log_sd: number }[]>(
      'select technician_id, repeatability_log_sd from appraiser where readings > 0',
    );
    const shares = await em.execute<{ subject_id: string; bias_mm: number }[]>(
      `select subject_id, bias_mm from appraiser_share where kind = 'technician'`,
    );
    for (const person of told.technicians) {
      expect(person.biasMm).toBe(shares.find(({ subject_id }) => subject_id === person.id)?.bias_mm);
      const own = rows.filter(({ technician_id }) => technician_id === person.id);
      const precision = own.reduce((sum, row) => sum + row.repeatability_log_sd ** -2, 0);
      expect(person.repeatabilityToMm / person.repeatabilityMm).toBeCloseTo(Math.exp(1.645 / Math.sqrt(precision)), 6);
    }
    expect(new Set(told.technicians.map(({ biasMm }) => biasMm)).size).toBeGreaterThan(1);
  });

  it('has appraisers whose bias and repeatability are learnt near the truth', async () => {
    const rows = await orm.em
      .fork()
      .execute<{ technician: string; gauge: string; bias_mm: number; bias_sd_mm: number; repeatability_mm: number }[]>(
        `select p.name as technician, g.name as gauge, h.bias_mm, h.bias_sd_mm, h.repeatability_mm
         from appraiser h join person p on p.id = h.technician_id join gauge g on g.id = h.gauge_id where h.readings >= 200`,
      );
    expect(rows.length).toBeGreaterThanOrEqual(TECHNICIANS.length);
    for (const row of rows) {
      const person = TECHNICIANS.find(({ name }) => name === row.technician);
      const gauge = Object.values(GAUGES).find(({ name }) => name === row.gauge);
      const truth = (person?.biasMm ?? NaN) + (gauge?.biasMm ?? NaN);
      expect(Math.abs(row.bias_mm - truth)).toBeLessThan(0.15);
      expect(Math.abs(row.repeatability_mm - (person?.repeatabilityMm ?? NaN))).toBeLessThan(0.12);
    }
  });

  it('has vehicles on whose marks pooling matters', async () => {
    const [vehicle] = await orm.em.fork().execute<{ unit: string }[]>(
      `select v.unit from reading r join inspection i on i.id = r.inspection_id join gauge g on g.id = i.gauge_id join vehicle v on v.id = r.vehicle_id
       where g.name = '${GAUGES.digital3.name}' and r.axle = 1 and not exists (select 1 from inspection n where n.vehicle_id = v.id and n.measured_on > i.measured_on)
         and not exists (select 1 from service s where s.vehicle_id = v.id and s.axle = 1 and s.fitted_on >= i.measured_on) limit 1`,
    );
    const { axles } = await withoutPooling(orm.em.fork(), vehicle?.unit ?? '', DEMO_TODAY);
    const { items } = await mileMarks(orm.em.fork(), DEMO_TODAY);
    const pooled = items.find((one) => one.unit === vehicle?.unit && one.axle === 1);
    // A gauge that reads half a millimetre high promises later dates than are true.
    expect((axles[0]?.medianDate ?? '') > (pooled?.medianDate ?? '9')).toBe(true);
    expect(axles[0]?.gauge).toBe(GAUGES.digital3.name);
  });

  it('tells how its forecasts came out: nearer than the simple methods, the intervals held', async () => {
    const { all, byAhead } = await validation(orm.em.fork());
    expect(all?.readings).toBeGreaterThan(1500);
    expect(all?.medianMm ?? 9).toBeLessThan(0.8 * (all?.leastSquaresMedianMm ?? 0));
    expect(all?.medianMm ?? 9).toBeLessThan(0.8 * (all?.twoPointMedianMm ?? 0));
    // Four standard errors, counting vehicles: readings of one vehicle err together.
    expect(Math.abs((all?.within80 ?? 0) - 0.8)).toBeLessThan(4 * Math.sqrt((0.8 * 0.2) / 60));
    expect(byAhead.reduce((sum, { readings }) => sum + readings, 0)).toBe(all?.readings);
  });

  it('has a seized slide and a route that changed, found where they are, and little else', async () => {
    const changes = (await listChanges(orm.em.fork())).filter(({ open }) => open);
    expect(changes).toContainEqual(
      expect.objectContaining({ unit: 'P06', kind: 'apart', axle: 1, side: 'right', more: 'inner' }),
    );
    const route = changes.find(({ unit }) => unit === 'V08');
    // It began on 2026-04-20; the look after which it began is named. It wears a little over twice as much.
    expect(route).toMatchObject({ kind: 'route' });
    expect((route?.since ?? '9') <= '2026-04-20').toBe(true);
    expect(route?.factor.p05).toBeGreaterThan(1.6);
    expect(changes.filter(({ unit }) => !['P06', 'V15', 'V08'].includes(unit)).length).toBeLessThanOrEqual(1);
  });

  it(
    'moves no mark when it is refreshed again, five times',
    async () => {
      const marks = () =>
        orm.em.fork().execute<object[]>('select vehicle_id, axle, mark from forecast order by vehicle_id, axle');
      const before = await marks();
      expect(before.length).toBeGreaterThan(100);
      for (let round = 0; round < 5; round += 1) {
        await refreshFleet(orm.em.fork(), localComputer(), DEMO_TODAY);
        expect(await marks()).toEqual(before);
      }
    },
    PATIENCE_MS,
  );

  it('names, where its figures are wide, what may have changed and is not sure', async () => {
    const units = await orm.em
      .fork()
      .execute<{ unit: string }[]>(
        `select v.unit from vehicle v join vehicle_forecast f on f.vehicle_id = v.id where jsonb_exists(f.detail, 'suspected')`,
      );
    for (const { unit } of units) {
      const { suspected, changes } = await vehicleDetail(orm.em.fork(), unit, DEMO_TODAY);
      expect(suspected?.probability).toBeLessThan(0.9);
      // Never beside the same one told.
      expect(changes.some(({ open, kind, axle }) => open && kind === suspected?.kind && axle === suspected.axle)).toBe(
        false,
      );
    }
    expect(units.length).toBeGreaterThan(0);
  });

  it('holds forecasts of half a year and a year ago against the looks since, class by class', async () => {
    const { calibrations, strains } = await validation(orm.em.fork());
    expect(calibrations.map(({ class: name, distance }) => `${name} ${distance}`)).toEqual([
      'heavy near',
      'heavy far',
      'pickup near',
      'pickup far',
      'van near',
      'van far',
    ]);
    for (const { looks, axles, factor } of calibrations) {
      expect(looks).toBeGreaterThanOrEqual(axles);
      expect(factor).toBeGreaterThanOrEqual(1);
      expect(factor).toBeLessThan(1.3);
    }
    // The demo's truth obeys what forecasts assume; people are named, not numbered.
    expect(strains.filter(({ strained }) => strained)).toEqual([]);
    const people = strains.filter(({ assumption }) => assumption === 'technician').map(({ group }) => group);
    expect(people.sort()).toEqual(TECHNICIANS.map(({ name }) => name).sort());
  });

  it('asks for the cause of a seized slide after new pads, and lets it go when one is on record', async () => {
    const em = orm.em.fork();
    const slide = (await listChanges(em)).find(({ kind }) => kind === 'apart') as WearChange;
    const { id: vehicleId } = await one<{ id: string }>(`select id from vehicle where unit = '${slide.unit}'`);
    const { id: person } = await one<{ id: string }>('select id from person order by name limit 1');
    const { odometer_m: odometer } = await one<{ odometer_m: number }>(
      `select max(odometer_m)::int as odometer_m from reading where vehicle_id = '${vehicleId}'`,
    );
    const now = async () => {
      await refreshVehicles(orm.em.fork(), localComputer(), [vehicleId], DEMO_TODAY);
      return (await listChanges(orm.em.fork())).find(({ id }) => id === slide.id) as WearChange;
    };
    const recorded = { recordedBy: person, recordedAt: new Date() };
    const fitted = { id: randomUUID(), vehicleId, axle: slide.axle ?? 1, fittedOn: DEMO_TODAY, odometerM: odometer };
    await em.insert(ServiceEntity, { ...fitted, fitted: 'pads', ...recorded });
    const after = await now();
    expect(after).toMatchObject({ until: DEMO_TODAY, open: true });
    expect(after.outlived).toBeCloseTo(0.5, 1);
    await em.insert(WearChangeAnswerEntity, {
      id: randomUUID(),
      changeId: slide.id,
      answer: 'cause_found',
      note: 'lower pin dry, freed and greased',
      personId: person,
      at: new Date(),
    });
    expect(await now()).toMatchObject({ until: DEMO_TODAY, open: false, outlived: 0 });
  });
});
