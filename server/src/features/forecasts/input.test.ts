import { describe, expect, it } from '@jest/globals';
import type { Duty } from '@mile-mark/core';
import type { DutyRow, ModelAxleRow, ModelRow } from '../register/entities.ts';
import { limitsInForce } from '../register/mappers.ts';
import { dutySpansOf } from './duty.ts';

const duty = (stopsPerMile: number): DutyRow => ({
  id: `duty ${stopsPerMile}`,
  name: `duty ${stopsPerMile}`,
  stopsPerMile,
  mphBeforeStop: 30,
  payloadShare: 0.5,
  descentMPerMile: 0,
  retarderShare: 0,
  towedKg: 0,
  milesPerDay: 60,
  slowdownsPerMile: 0,
  slowdownFromMph: 0,
  slowdownToMph: 0,
  longestDescentM: 0,
  source: 'stated',
  sourceNote: null,
  madeBy: null,
  madeAt: new Date(0),
});
const measuredDuty = (stopsPerMile: number): Duty => ({
  stopsPerMile,
  mphBeforeStop: 30,
  payloadShare: 0.5,
  descentMPerMile: 0,
  retarderShare: 0,
  towedKg: 0,
});
const model = { id: 'm', name: 'M', class: 'van', tareKg: 2200, gvwrKg: 3500 } as ModelRow;
const axles = [
  { axle: 1, brakeShare: 0.7 },
  { axle: 2, brakeShare: 0.3 },
] as ModelAxleRow[];
const period = (fromDate: string, stops: number) => ({
  period: { id: fromDate, vehicleId: 'v', dutyId: `duty ${stops}`, fromDate, toDate: null, milesPerDay: null },
  duty: duty(stops),
});
const block = (from_date: string, to_date: string, stops: number) => ({
  from_date,
  to_date,
  duty: measuredDuty(stops),
});
const spans = (periods: ReturnType<typeof period>[], measured: ReturnType<typeof block>[] = []) =>
  dutySpansOf({ model, axles, dutyPeriods: periods, reference: duty(2), measured }).map(
    ({ from, to, severity, measured: heard, continues }) => ({ from, to, severity, heard, continues }),
  );

// Work is in proportion to the stops here, so severity is stops over the reference's two.
describe('severity by dates', () => {
  it('is that of the stated duties, each from its day', () => {
    expect(spans([period('2026-01-01', 2), period('2026-05-01', 3)])).toEqual([
      { from: '2026-01-01', to: '2026-05-01', severity: 1, heard: false, continues: false },
      { from: '2026-05-01', to: undefined, severity: expect.closeTo(1.5, 9), heard: false, continues: false },
    ]);
  });

  it('is what was measured where there is a measurement, and goes on as measured last', () => {
    const found = spans(
      [period('2026-01-01', 2)],
      [block('2026-03-01', '2026-03-29', 4), block('2026-03-29', '2026-04-26', 5)],
    );
    expect(found.map(({ from, severity, heard, continues }) => [from, severity, heard, continues])).toEqual([
      ['2026-01-01', 1, false, false],
      ['2026-03-01', expect.closeTo(2, 9), true, false],
      ['2026-03-29', expect.closeTo(2.5, 9), true, true],
      ['2026-04-26', expect.closeTo(2.5, 9), true, true],
    ]);
  });

  it('goes back to what is stated over a silence between blocks, and after a duty stated later', () => {
    const silent = spans(
      [period('2026-01-01', 2)],
      [block('2026-03-01', '2026-03-29', 4), block('2026-05-24', '2026-06-21', 4)],
    );
    expect(silent.find(({ from }) => from === '2026-03-29')).toMatchObject({ severity: 1, heard: false });
    const restated = spans([period('2026-01-01', 2), period('2026-05-01', 3)], [block('2026-03-01', '2026-03-29', 4)]);
    expect(restated.at(-1)).toMatchObject({ from: '2026-05-01', severity: expect.closeTo(1.5, 9), heard: false });
    expect(restated.at(-1)?.continues).toBe(false);
  });

  it('weighs each axle by its own heat, alike where nothing gets hot', () => {
    const [span] = dutySpansOf({
      model,
      axles,
      dutyPeriods: [period('2026-01-01', 3)],
      reference: duty(2),
      measured: [],
    });
    expect(span?.byAxle?.[1]).toBeCloseTo(1.5, 9);
    expect(span?.byAxle?.[2]).toBeCloseTo(1.5, 9);
  });

  it('is nothing where no duty is stated', () => {
    expect(spans([])).toEqual([]);
  });
});

describe('limits in force', () => {
  const listed = { padMakerMinUm: 2000, rotorDiscardUm: 30_000, rotorMachineToUm: 30_400 };
  it.each([
    ['the list’s, where nothing is released', {}, listed],
    ['the released ones before the list’s', { releasedPadMinUm: 3000 }, { ...listed, padMakerMinUm: 3000 }],
    [
      'no machine-to that lies below the discard in force',
      { releasedRotorDiscardUm: 30_500 },
      { ...listed, rotorDiscardUm: 30_500, rotorMachineToUm: null },
    ],
    [
      'a released machine-to with a released discard',
      { releasedRotorDiscardUm: 30_500, releasedRotorMachineToUm: 31_000 },
      { ...listed, rotorDiscardUm: 30_500, rotorMachineToUm: 31_000 },
    ],
    ['a least of none at all, where that is released', { releasedPadMinUm: 0 }, { ...listed, padMakerMinUm: 0 }],
  ])('are %s', (_, released, expected) => {
    expect(limitsInForce({ ...listed, ...released } as ModelAxleRow)).toEqual(expected);
  });
});
