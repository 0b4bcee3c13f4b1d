import { describe, expect, it } from '@jest/globals';
import { advance } from './advance.ts';
import { poolAppraisers, studyEvidence } from './appraisers.ts';
import {
  appraiserEvidence,
  type AxleInput,
  classPrior,
  forecastVehicle,
  lessonOf,
  levelsOf,
  type ReadingInput,
  runHistory,
  type VehicleInput,
} from './index.ts';
import { observe } from './observe.ts';
import { fitNewPads, initialState } from './state.ts';

const axle: AxleInput = {
  axle: 1,
  newMm: 11,
  plateMm: 5.8,
  limitMm: 3,
  prior: { mean: Math.log(0.2), sdVehicle: 0.25, sdAxle: 0.12, sdPad: 0.2 },
};
const known = { biasMm: 0, biasSdMm: 0.4, repeatabilityMm: 0.3 };
const places = (['left', 'right'] as const).flatMap((side) =>
  (['inner', 'outer'] as const).map((pad) => ({ side, pad })),
);
/** One look of a technician at all four pads. */
const look = (technician: string, date: string, miles: number, mm: (index: number) => number): ReadingInput[] =>
  places.map((place, index) => ({
    id: `${technician} ${date} ${index}`,
    date,
    miles,
    axle: 1,
    ...place,
    mm: mm(index),
    unit: 'mm',
    resolutionMm: 0.01,
    technician,
  }));
const vehicle = (readings: ReadingInput[]): VehicleInput => ({
  axles: [axle],
  readings,
  fittings: [{ date: '2026-01-01', miles: 10_000, axle: 1 }],
  odometers: [
    { date: '2026-01-01', miles: 10_000 },
    { date: '2026-07-01', miles: 25_000 },
  ],
  duty: [],
  appraisers: {},
  unknownAppraiser: known,
  noise: { perPeriod: 0.05, perPad: 0.05, perDuty: 0.05, newToleranceMm: 0.1 },
  today: '2026-07-01',
});

describe('what a vehicle says of its appraisers', () => {
  // Four independent looks at what is known to 0.1 mm, each with 0.3 mm of noise: precisions add (BDA3, §2.5).
  it('is, at new pads, what four readings of a known thickness say', () => {
    const { appraisers, precision, weighted, readings } = appraiserEvidence(
      vehicle(look('A', '2026-01-02', 10_010, () => 11.4)),
    );
    const each = 1 / (0.1 ** 2 + 0.3 ** 2);
    expect(appraisers).toHaveLength(1);
    expect(readings).toEqual([4]);
    expect((precision[0] as number) / (4 * each)).toBeCloseTo(1, 1);
    expect((weighted[0] as number) / (precision[0] as number)).toBeCloseTo(0.4, 1);
  });

  it('tells two of them apart on worn pads, though not what both read too thick', () => {
    const { precision, appraisers } = appraiserEvidence(
      vehicle([...look('A', '2026-05-01', 22_000, () => 9), ...look('B', '2026-05-02', 22_020, () => 8.5)]),
    );
    expect(appraisers).toHaveLength(2);
    const [aa, ab, ba, bb] = precision as [number, number, number, number];
    expect(ab).toBeCloseTo(ba, 6);
    expect(aa - ab - ba + bb).toBeGreaterThan(5 * (aa + ab + ba + bb));
  });
});

describe('pooled appraisers', () => {
  const parts = [
    { key: 'A/g', technician: 'A', gauge: 'g' },
    { key: 'B/g', technician: 'B', gauge: 'g' },
  ];
  const says = (precision: number[], weighted: number[]) => ({
    appraisers: ['A/g', 'B/g'],
    precision,
    weighted,
    logLikelihood: new Array<number>(100).fill(0),
    readings: [12, 0],
  });
  // Variance components .3², .2², .05²: A's bias has variance .1325, with B's it shares the gauge's .04. Evidence of
  // A alone says .4 with variance .02, so a component c moves by c ÷ (.1325 + .02) · .4 (BDA3, ch. 15).
  it('share out what one of them shows as the components of variance ask', () => {
    const { appraisers, technicians, gauges } = poolAppraisers(parts, [says([50, 0, 0, 0], [20, 0])], () => known);
    const [a, b] = appraisers;
    expect(a?.biasMm).toBeCloseTo((0.1325 / 0.1525) * 0.4, 9);
    expect(b?.biasMm).toBeCloseTo((0.04 / 0.1525) * 0.4, 9);
    expect(technicians.get('A')?.biasMm).toBeCloseTo((0.09 / 0.1525) * 0.4, 9);
    expect(technicians.get('B')?.biasMm).toBeCloseTo(0, 9);
    expect(gauges.get('g')?.biasMm).toBeCloseTo((0.04 / 0.1525) * 0.4, 9);
    expect(gauges.get('g')?.biasSdMm).toBeCloseTo(Math.sqrt(0.04 - 0.04 ** 2 / 0.1525), 9);
    expect(technicians.get('A')?.biasSdMm).toBeCloseTo(Math.sqrt(0.09 - 0.09 ** 2 / 0.1525), 9);
    expect(a?.readings).toBe(12);
  });
  it('add up over vehicles, each at its own order of names', () => {
    const whole = poolAppraisers(parts, [says([50, -10, -10, 30], [20, 3])], () => known);
    const turned = { ...says([10, -4, -4, 20], [1, 8]), appraisers: ['B/g', 'A/g'] };
    const halves = poolAppraisers(parts, [says([30, -6, -6, 20], [12, 2]), turned], () => known);
    expect(halves.appraisers.map(({ biasMm }) => biasMm)).toEqual(
      whole.appraisers.map(({ biasMm }) => expect.closeTo(biasMm, 9) as unknown),
    );
  });
});

describe('a gauge study', () => {
  // Large samples: the logarithm of a standard deviation from df degrees of freedom has sd 1 ÷ √(2·df) (from memory).
  it('knows repeatability as its degrees of freedom say, and differences of means, not their level', () => {
    const keys = ['A/g', 'B/h'];
    const study = studyEvidence(keys, [0.4, 0.2], [0.09, 0.09], { parts: 50, trials: 10 }, false, () => known);
    const parts = [
      { key: 'A/g', technician: 'A', gauge: 'g' },
      { key: 'B/h', technician: 'B', gauge: 'h' },
    ];
    const [a, b] = poolAppraisers(parts, [study], () => known).appraisers;
    expect(a?.repeatabilityMm).toBeCloseTo(0.3, 2);
    expect((a?.repeatabilityLogSd ?? 0) * Math.sqrt(2 * 50 * 9)).toBeCloseTo(1, 1);
    expect(a?.againstOthers.biasMm).toBeCloseTo(0.1, 2);
    expect(b?.againstOthers.biasMm).toBeCloseTo(-0.1, 2);
    expect((a?.biasMm ?? 0) + (b?.biasMm ?? 1)).toBeCloseTo(0, 9);
  });
});

describe('what a vehicle says of its group', () => {
  it('is its own rate, however far from what was believed; nothing where it was not read', () => {
    const rate = 0.4;
    const readings = [12_000, 14_000, 16_000, 18_000].flatMap((miles, k) =>
      look('A', `2026-0${k + 2}-10`, miles, () => 11 - (rate * (miles - 10_000)) / 1000),
    );
    const heardOf = (own: ReadingInput[]) => {
      const one = { ...vehicle(own), axles: [{ ...axle, prior: classPrior('light') }] };
      return levelsOf(
        lessonOf(one, () => 'group'),
        () => known,
      );
    };
    const [heard] = heardOf(readings);
    expect(Math.abs((heard?.mean ?? 0) - Math.log(rate))).toBeLessThan(0.15);
    expect(heard?.variance).toBeLessThan(0.2);
    expect(heardOf([])).toEqual([]);
  });

  it('is what its readings say, whatever was believed before', () => {
    const readings = look('A', '2026-02-01', 12_600, (index) => 10.4 - 0.01 * index);
    const heard = [0.25, 0.4].map((sdVehicle) => {
      const prior = { mean: Math.log(0.2), sdVehicle, sdAxle: 0.1, sdPad: 0.1 };
      const lesson = lessonOf({ ...vehicle(readings), axles: [{ ...axle, prior }] }, () => 'group');
      return levelsOf(lesson, () => known)[0];
    });
    const [narrow, broad] = heard;
    expect(Math.abs((narrow?.variance ?? 0) / (broad?.variance ?? 1) - 1)).toBeLessThan(0.15);
    expect(Math.abs((narrow?.mean ?? 0) - (broad?.mean ?? 1))).toBeLessThan(0.06);
  });
});

describe('a duty that begins on a day on record', () => {
  it('makes the rates less sure once, as one that begins a day later does', () => {
    const spread = (from: string) => {
      const input = {
        ...vehicle([]),
        noise: { perPeriod: 0, perPad: 0, perDuty: 0.3, newToleranceMm: 0.1 },
        odometers: [
          { date: '2026-01-01', miles: 10_000 },
          { date: '2026-05-01', miles: 20_000 },
          { date: '2026-07-01', miles: 25_000 },
        ],
        duty: [
          { from: '2026-01-01', severity: 1 },
          { from, severity: 1 },
        ],
      };
      return runHistory(input).state.cov.data[0] as number;
    };
    expect(spread('2026-05-01')).toBeCloseTo(spread('2026-05-02'), 9);
    expect(spread('2026-05-01')).toBeGreaterThan(spread('2026-08-01') + 0.08);
  });
});

describe('rotors beside pads', () => {
  it('lose a tenth of what the pads lost since both were fitted (common practice, no source)', () => {
    const readings = look('A', '2026-06-30', 24_900, () => 8);
    const rotor = { newMm: 28, discardMm: 26, fittedOn: '2026-01-01', fittedMiles: 10_000, readings: [] };
    const input = { ...vehicle(readings), axles: [{ ...axle, rotor }] };
    const [first] = forecastVehicle(input, { riskTarget: 0.05, seed: 1, draws: 256 }).axles;
    expect(first?.rotor?.meanMm).toBeCloseTo(28 - 0.1 * (11 - (first?.thinnestMm ?? 0)), 1);
  });
});

describe('sides the wrong way round', () => {
  /** Left pads wear twice as fast as right ones; the last look has them as given. */
  const seen = (last: readonly number[]) => [
    ...look('A', '2026-03-01', 15_000, (index) => (index < 2 ? 9 : 10)),
    ...look('A', '2026-05-01', 20_000, (index) => (index < 2 ? 7 : 9)),
    ...look('A', '2026-07-01', 25_000, (index) => last[index] as number),
  ];
  const judged = (last: readonly number[]) => {
    const { judgements } = forecastVehicle(vehicle(seen(last)), { riskTarget: 0.05, seed: 1, draws: 256 });
    return seen(last)
      .slice(-4)
      .map(({ id }) => judgements.find((one) => one.id === id)?.suspicion);
  };
  it('are asked about at all four pads, each with the figure of the other side', () => {
    const found = judged([8, 7.9, 5, 5.1]);
    expect(found.map((one) => one?.kind)).toEqual(['sides', 'sides', 'sides', 'sides']);
    expect(found.map((one) => one?.insteadMm)).toEqual([5, 5.1, 8, 7.9]);
    for (const one of found) expect(one?.probability).toBeGreaterThan(0.5);
  });
  it('are not where they are as before', () =>
    expect(judged([5, 5.1, 8, 7.9]).filter((one) => one?.kind === 'sides')).toEqual([]));
});

describe('a pad far thinner than expected, looked at twice', () => {
  it('is taken at its value, and wears faster from then on, more than its mates', () => {
    const state = initialState([axle], ['A'], () => known);
    fitNewPads(state, axle, 0.1);
    advance(state, { weightedMiles: 12_000, miles: 12_000, days: 120 }, vehicle([]).noise);
    const before = [...state.mean];
    const [reading] = look('A', '2026-05-01', 22_000, () => 5) as [ReadingInput];
    observe(state, { ...reading, trust: 'twice' }, axle, 0.3);
    const moved = state.mean.map((value, index) => value - (before[index] as number));
    expect(state.mean[4]).toBeGreaterThan(4.5);
    expect(state.mean[4]).toBeLessThan(6);
    expect(moved[0]).toBeGreaterThan(0.3);
    for (const mate of [1, 2, 3]) expect(Math.abs(moved[mate] as number)).toBeLessThan((moved[0] as number) / 1.5);
  });
});
