import { describe, expect, it } from '@jest/globals';
import { type BacktestedReading, classPrior, UNKNOWN_APPRAISER, type VehicleInput } from '@mile-mark/core';
import { residualsOf, validationOf, type Backtested } from './backtest.ts';

/** One reading of a pad 12 mm when new and 3 mm at its limit, of a vehicle whose second route began on 1 March. */
function inputWith({ mm = 9, miles = 20_000, date = '2026-05-01', technician = 'Ashdown' } = {}): VehicleInput {
  return {
    axles: [{ axle: 1, newMm: 12, plateMm: 5, limitMm: 3, prior: classPrior('light') }],
    readings: [
      { id: 'r', date, miles, axle: 1, side: 'left', pad: 'inner', mm, unit: 'mm', resolutionMm: 0.1, technician },
    ],
    fittings: [],
    odometers: [],
    duty: [
      { from: '2025-01-01', severity: 1 },
      { from: '2026-03-01', severity: 2, continues: false },
      { from: '2026-06-01', severity: 2.2, continues: true },
    ],
    appraisers: {},
    unknownAppraiser: UNKNOWN_APPRAISER,
    noise: { perPeriod: 0.1, perPad: 0.1, perDuty: 0.1, newToleranceMm: 0.1 },
    today: '2026-11-20',
  };
}
const cameOut = (more: Partial<BacktestedReading> = {}): BacktestedReading => ({
  id: 'r',
  date: '2026-05-01',
  milesAhead: 3000,
  errorMm: 0.3,
  sdMm: 0.2,
  twoPointErrorMm: 0.5,
  leastSquaresErrorMm: 0.4,
  ...more,
});
const record = { id: 'V', model: { class: 'heavy' } };
/** In which groups a reading of a day falls. */
const groupsOn = (date: string, of: { mm?: number; miles?: number } = {}, errorMm = 0) =>
  residualsOf(record, inputWith({ date, ...of }), [cameOut({ date, errorMm })])[0]?.groups;

describe('the groups in which an error may strain what forecasts assume', () => {
  it('are of the reading, its axle and its vehicle, the error in its standard deviations', () => {
    expect(residualsOf(record, inputWith(), [cameOut()])).toEqual([
      {
        of: 'V/1',
        date: '2026-05-01',
        z: expect.closeTo(1.5, 9),
        groups: {
          technician: 'Ashdown',
          season: 'spring',
          route: 'later on a route',
          age: 'second third',
          odometer: 'under 50,000 mi',
          width: 'heavy',
          run: 'one look and the next',
        },
      },
    ]);
  });

  it('leave out what is not on record any more', () => {
    expect(residualsOf(record, inputWith(), [cameOut({ id: 'gone' })])).toEqual([]);
    expect(residualsOf(record, { ...inputWith(), axles: [] }, [cameOut()])).toEqual([]);
  });

  // Meteorological seasons: winter is December, January and February.
  it('know the seasons by their months', () => {
    const seasons = Array.from({ length: 12 }, (_, k) => groupsOn(`2026-${String(k + 1).padStart(2, '0')}-15`)?.season);
    const [winter, spring, summer, autumn] = ['winter', 'spring', 'summer', 'autumn'];
    expect(seasons).toEqual([
      ...[winter, winter, spring, spring, spring, summer, summer, summer, autumn, autumn, autumn, winter],
    ]);
  });

  it('take sixty days of a route for its first, from the day it begins; its later blocks begin none', () => {
    const routes = ['2026-02-28', '2026-03-01', '2026-04-29', '2026-04-30', '2026-06-02'].map(
      (day) => groupsOn(day)?.route,
    );
    const [first, later] = ['the first 60 days of a route', 'later on a route'];
    expect(routes).toEqual([later, first, first, later, later]);
    // The first duty of all is no other route.
    expect(groupsOn('2025-01-15')?.route).toBe(later);
  });

  it('part a pad’s life in thirds by what was foretold, not by what was read', () => {
    const age = (mm: number, errorMm = 0) => groupsOn('2026-05-01', { mm }, errorMm)?.age;
    expect([age(9.1), age(9), age(6.1), age(6)]).toEqual([
      'first third of the pad',
      'second third',
      'second third',
      'last third',
    ]);
    // Read 9.5 where 8.9 was foretold, and 8.5 where 9.1 was.
    expect([age(9.5, 0.6), age(8.5, -0.6)]).toEqual(['second third', 'first third of the pad']);
  });

  it('part odometers at 50,000 and 150,000 mi', () => {
    const of = (miles: number) => groupsOn('2026-05-01', { miles })?.odometer;
    expect([49_999, 50_000, 149_999, 150_000].map(of)).toEqual([
      'under 50,000 mi',
      '50,000 to 150,000 mi',
      '50,000 to 150,000 mi',
      'over 150,000 mi',
    ]);
  });
});

describe('how a fleet’s readings came out', () => {
  const vehicle = (looks: BacktestedReading[]): Backtested => ({ looks, residuals: [] });
  const labels = (rows: readonly { label: string; readings: number }[]) => rows.map((one) => [one.label, one.readings]);

  it('is told of all, by how far ahead, by quarter and by class, in order', async () => {
    const told = await validationOf(
      [
        vehicle([
          cameOut({ id: 'a', milesAhead: 4000, date: '2026-04-01' }),
          cameOut({ id: 'b', milesAhead: 4001, date: '2026-03-31', errorMm: -0.1 }),
        ]),
        vehicle([
          cameOut({ id: 'c', milesAhead: 8000, date: '2025-12-31', errorMm: 0.2 }),
          cameOut({ id: 'd', milesAhead: 8001, date: '2026-06-30', errorMm: 0.05 }),
        ]),
      ],
      (id) => (id < 'c' ? 'van' : 'heavy'),
    );
    expect(labels(told.byAhead)).toEqual([
      ['up to 4,000 mi', 1],
      ['4,000 to 8,000 mi', 2],
      ['over 8,000 mi', 1],
    ]);
    expect(labels(told.byQuarter)).toEqual([
      ['2025-10', 1],
      ['2026-01', 1],
      ['2026-04', 2],
    ]);
    expect(labels(told.byClass)).toEqual([
      ['heavy', 2],
      ['van', 2],
    ]);
    // .1 and .2 are the middle ones of four errors, whatever their sign; of a normal, half lie within .674 of an sd.
    expect(told.all).toMatchObject({ readings: 4, medianMm: expect.closeTo(0.15, 9), within50: 0.5 });
    expect(told.byClass[0]?.medianMm).toBeCloseTo(0.125, 9);
  });

  it('is nothing where nothing was foretold', async () => {
    expect(await validationOf([], () => 'van')).toMatchObject({ all: null, byAhead: [], byQuarter: [], byClass: [] });
  });
});
