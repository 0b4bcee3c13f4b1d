import { describe, expect, it } from '@jest/globals';
import type { MileMark, WearChange } from '@mile-mark/contract/forecasts';
import { jobSignsOf, lanesOf, marksByWeek, nearestAxle, rowsOf, signsOf } from './lanes.ts';
import { PASSED_PX, roadScale } from './scale.ts';

const TODAY = '2026-11-20';

function mark(unit: string, axle: number, markDate: string, more: Partial<MileMark> = {}): MileMark {
  return {
    unit,
    axle,
    depot: 'Northfold',
    class: 'van',
    model: 'Ostrey Carrier 35',
    thinnestMm: 6,
    newMm: 12,
    serviceLimitMm: 3,
    odometerNowMi: 50_000,
    milesPerDay: 70,
    markOdometerMi: 60_000,
    markDate,
    ruledBy: 'risk',
    nextInspectionDue: markDate,
    medianOdometerMi: 65_000,
    medianDate: '2027-06-01',
    interval80: { fromMi: 61_000, toMi: 70_000, fromDate: '2027-05-20', toDate: '2027-06-20' },
    worth: { laterMi: 0, width80Mi: 4000, width80AfterMi: 3000 },
    probabilityBelowNow: 0.001,
    evidence: { readings: 12, technicians: 3, lastDate: '2026-11-01', earlierReadings: 4 },
    ...more,
  };
}
const ANY = { depot: '', vehicleClass: '', due: 'any', find: '', week: '' } as const;

describe('the lanes of the road', () => {
  const items = [
    mark('V2', 2, '2027-03-01'),
    mark('V2', 1, '2027-01-01'),
    mark('V1', 1, '2026-11-10'),
    mark('T1', 1, '2026-12-10', { depot: 'Creamery yard', class: 'heavy' }),
  ];

  it('are one a vehicle, nearest mark first, axles in order', () => {
    const lanes = lanesOf(items, ANY, TODAY);
    expect(lanes.map(({ unit }) => unit)).toEqual(['V1', 'T1', 'V2']);
    expect(lanes[2]?.marks.map(({ axle }) => axle)).toEqual([1, 2]);
    expect(lanes[2] && nearestAxle(lanes[2])).toBe(1);
  });

  it.each([
    [{ depot: 'Northfold' }, ['V1', 'V2']],
    [{ vehicleClass: 'heavy' }, ['T1']],
    [{ find: ' v' }, ['V1', 'V2']],
    [{ due: 'passed' as const }, ['V1']],
    [{ due: '4 weeks' as const }, ['V1', 'T1']],
    [{ due: '3 months' as const }, ['V1', 'T1', 'V2']],
  ])('filtered by %j are %j', (filter, units) => {
    expect(lanesOf(items, { ...ANY, ...filter }, TODAY).map(({ unit }) => unit)).toEqual(units);
  });

  it('stand under their depots, that of the nearest mark first, which tell how many axles are near', () => {
    const rows = rowsOf(lanesOf(items, ANY, TODAY), TODAY);
    expect(
      rows.map((row) => (row.kind === 'depot' ? `${row.depot}: ${row.lanes}, ${row.due}` : row.lane.unit)),
    ).toEqual(['Northfold: 2, 1', 'V1', 'V2', 'Creamery yard: 1, 1', 'T1']);
  });

  it('are counted by week: passed ones first, those beyond left out', () => {
    const dates = ['2026-11-19', '2026-11-20', '2026-11-26', '2026-11-27', '2027-02-01'];
    expect(
      marksByWeek(
        dates.map((date, i) => mark('V1', i, date)),
        TODAY,
        2,
      ),
    ).toEqual([1, 2, 1]);
  });
});

describe('the road’s scale', () => {
  const scale = roadScale(TODAY, 12, 800);

  it('puts today at the end of the passed stretch and later days further right', () => {
    expect(scale.x(TODAY)).toBe(PASSED_PX);
    expect(scale.x('2027-05-20')).toBeGreaterThan(scale.x('2027-02-20'));
    expect(scale.x('2027-11-20')).toBeLessThan(800);
  });

  it('holds what is passed or beyond at its edges, in order', () => {
    expect(scale.x('2026-11-10')).toBeLessThan(PASSED_PX);
    expect(scale.x('2026-09-01')).toBeLessThan(scale.x('2026-11-10'));
    expect(scale.x('2020-01-01')).toBeGreaterThan(0);
    expect(scale.x('2040-01-01')).toBe(scale.x('2030-01-01'));
  });

  it('marks the months, the year where it begins', () => {
    expect(scale.months.map(({ label }) => label).slice(0, 3)).toEqual(['Dec 2026', 'Jan 2027', 'Feb']);
    expect(roadScale(TODAY, 24, 800).months).toHaveLength(12);
  });

  it('tells January by its year alone where both do not fit beside the next month', () => {
    expect(
      roadScale(TODAY, 12, 500)
        .months.map(({ label }) => label)
        .slice(0, 3),
    ).toEqual(['Dec', '2027', 'Feb']);
  });
});

describe('signs of changes on the lanes', () => {
  const change = (unit: string, kind: WearChange['kind'], open = true): WearChange => ({
    id: `${unit}${kind}`,
    unit,
    depot: 'Northfold',
    model: 'Ostrey Carrier 35',
    kind,
    axle: null,
    side: null,
    more: null,
    since: '2026-06-01',
    until: null,
    outlived: null,
    probability: 0.95,
    factor: { p05: 1.5, p50: 2, p95: 2.6 },
    looks: 2,
    wear: [],
    firstTold: '2026-11-20',
    goneOn: null,
    open,
    answers: [],
  });

  it('name what is open, a wheel before the route, and nothing that is settled', () => {
    const signs = signsOf([
      change('V1', 'route'),
      change('V1', 'apart'),
      change('V2', 'route'),
      change('V3', 'wheel', false),
    ]);
    expect(Object.fromEntries(signs)).toEqual({ V1: 'slide seized?', V2: 'route changed?' });
  });
});

describe('signs of jobs that can’t be done', () => {
  const coverage = {
    lacking: [
      {
        modelId: 'm',
        model: 'Ostrey Carrier 35',
        axle: 2,
        jointKindId: 'k',
        joint: 'Hose joint',
        vehicles: 2,
        nearest: null,
        waiting: false,
      },
    ],
    unreachable: [
      {
        depot: 'Northfold',
        model: 'Ostrey Carrier 35',
        axles: [1],
        joint: 'Wheel nut',
        torque: '160 N·m',
        overdue: null,
        need: '',
        elsewhere: [],
        vehicles: 1,
        jobs: [],
      },
    ],
  };

  it('stand on near lanes of that depot, model and axle only; the wrench before the torque', () => {
    const signs = jobSignsOf(
      [
        mark('V1', 1, '2026-12-01'),
        mark('V1', 2, '2026-12-01'),
        mark('V2', 2, '2026-12-01'),
        mark('V3', 1, '2027-06-01'),
        mark('V4', 1, '2026-12-01', { depot: 'Creamery yard' }),
        mark('V5', 1, '2026-12-01', { model: 'Tarnbrook Drover 4x4' }),
      ],
      coverage,
      TODAY,
    );
    expect(Object.fromEntries(signs)).toEqual({ V1: 'no wrench reaches', V2: 'torque unknown' });
  });
});
