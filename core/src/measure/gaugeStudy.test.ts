import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import reference from 'jstat';
import { seededRandom, randomNormal } from '../numeric/index.ts';
import { analyseStudy, planStudy, studyGaps, studyVerdict, type StudyReading } from './index.ts';

// Worked example of the Measurement Systems Analysis reference manual, 4th ed. (AIAG, 2010): 10 parts, 3
// appraisers, 3 trials, deviations from a reference; values from memory.
const EXAMPLE: [string, number, number[]][] = [
  ['A', 1, [0.29, -0.56, 1.34, 0.47, -0.8, 0.02, 0.59, -0.31, 2.26, -1.36]],
  ['A', 2, [0.41, -0.68, 1.17, 0.5, -0.92, -0.11, 0.75, -0.2, 1.99, -1.25]],
  ['A', 3, [0.64, -0.58, 1.27, 0.64, -0.84, -0.21, 0.66, -0.17, 2.01, -1.31]],
  ['B', 1, [0.08, -0.47, 1.19, 0.01, -0.56, -0.2, 0.47, -0.63, 1.8, -1.68]],
  ['B', 2, [0.25, -1.22, 0.94, 1.03, -1.2, 0.22, 0.55, 0.08, 2.12, -1.62]],
  ['B', 3, [0.07, -0.68, 1.34, 0.2, -1.28, 0.06, 0.83, -0.34, 2.19, -1.5]],
  ['C', 1, [0.04, -1.38, 0.88, 0.14, -1.46, -0.29, 0.02, -0.46, 1.77, -1.49]],
  ['C', 2, [-0.11, -1.13, 1.09, 0.2, -1.07, -0.67, 0.01, -0.56, 1.45, -1.77]],
  ['C', 3, [-0.15, -0.96, 0.67, 0.11, -1.45, -0.49, 0.21, -0.49, 1.87, -2.16]],
];
const readings: StudyReading[] = EXAMPLE.flatMap(([technician, trial, values]) =>
  values.map((value, i) => ({ part: `${i + 1}`, technician, trial, value })),
);

describe('the worked example of the reference manual', () => {
  // Figures recomputed from the published values; the manual's own printed ones differ by its rounding of means.
  it.each([
    [
      'pool',
      {
        ev: 0.199933,
        av: 0.226838,
        interaction: 0,
        grr: 0.302372,
        pv: 1.042327,
        tv: 1.0853,
        percentOfTotal: 27.8607,
        ndc: 4.8605,
      },
    ],
    [
      'keep',
      {
        ev: 0.214435,
        av: 0.228304,
        interaction: 0,
        grr: 0.313217,
        pv: 1.043395,
        tv: 1.089393,
        percentOfTotal: 28.7516,
        ndc: 4.697,
      },
    ],
  ] as const)('by ANOVA, interaction: %s', (interaction, expected) => {
    const { variation } = analyseStudy(readings, { interaction }).anova;
    for (const [name, value] of Object.entries(expected))
      expect(variation[name as keyof typeof expected]).toBeCloseTo(value, 4);
  });

  it('by average and range', () => {
    const { variation } = analyseStudy(readings, { interaction: 'test' }).averageAndRange;
    const expected = { ev: 0.201857, av: 0.229667, grr: 0.305766, pv: 1.104596, tv: 1.146135 };
    for (const [name, value] of Object.entries(expected))
      expect(variation[name as keyof typeof expected]).toBeCloseTo(value, 4);
    expect(variation.ndc).toBeCloseTo(5.0937, 4);
    expect(variation.percentOfTotal).toBeCloseTo(26.6781, 3);
  });

  it('pools the interaction by the usual test, and has the published sums of squares', () => {
    const { table, pooled, variation } = analyseStudy(readings, { interaction: 'test', toleranceMm: 8 }).anova;
    const ss = Object.fromEntries(table.map((line) => [line.source, line.ss]));
    expect(pooled).toBe(true);
    expect(ss.technician).toBeCloseTo(3.167262, 6);
    expect(ss.part).toBeCloseTo(88.361934, 6);
    expect(ss.interaction).toBeCloseTo(0.358982, 6);
    expect(ss.error).toBeCloseTo(2.758933, 6);
    expect(ss.total).toBeCloseTo(94.647112, 6);
    const interaction = table.find(({ source }) => source === 'interaction');
    expect(interaction?.f).toBeCloseTo(0.4337, 4);
    expect(interaction?.p).toBeCloseTo(0.974, 3);
    expect(variation.percentOfTolerance).toBeCloseTo((100 * 6 * variation.grr) / 8, 9);
  });
});

// jstat: one-way analysis of variance and the F distribution.
describe('against a general statistics library', () => {
  const group = (key: (one: StudyReading) => string) => {
    const groups = new Map<string, number[]>();
    for (const one of readings) groups.set(key(one), [...(groups.get(key(one)) ?? []), one.value]);
    return [...groups.values()];
  };
  const { table } = analyseStudy(readings, { interaction: 'keep' }).anova;
  const line = (source: string) => table.find((one) => one.source === source) ?? { ss: NaN, df: NaN, f: NaN, p: NaN };
  const total = line('total');
  // One-way F over groups that hold the factor alone fixes its sum of squares, so three of them fix the table.
  const oneWay = (ss: number, df: number) => ss / df / ((total.ss - ss) / (total.df - df));

  it('has the one-way F of parts, of technicians and of cells', () => {
    const [part, technician] = [line('part'), line('technician')];
    expect(oneWay(part.ss, part.df)).toBeCloseTo(reference.anovafscore(...group((one) => one.part)), 9);
    expect(oneWay(technician.ss, technician.df)).toBeCloseTo(
      reference.anovafscore(...group((one) => one.technician)),
      9,
    );
    const cells = total.ss - line('error').ss;
    expect(oneWay(cells, total.df - line('error').df)).toBeCloseTo(
      reference.anovafscore(...group((one) => one.part + one.technician)),
      9,
    );
  });

  it('has the p of its F', () => {
    const { f = NaN, p, df } = line('interaction');
    expect(p).toBeCloseTo(1 - reference.centralF.cdf(f, df, line('error').df), 9);
    const part = line('part');
    expect(part.p).toBeCloseTo(1 - reference.centralF.cdf(part.f ?? NaN, part.df, df), 9);
  });
});

describe('a study that was made up', () => {
  it('recovers the spreads it was made with, also with more trials and parts than the tables know', () => {
    const random = seededRandom(8);
    const appraisers = [0.4, -0.3, 0.1, -0.2];
    const made = Array.from({ length: 40 }, (_, i) => 8 + 1.5 * randomNormal(random) + 0 * i).flatMap((truth, i) =>
      appraisers.flatMap((bias, j) =>
        [1, 2, 3, 4].map((trial) => ({
          part: `p${i}`,
          technician: `t${j}`,
          trial,
          value: truth + bias + 0.2 * randomNormal(random),
        })),
      ),
    );
    const { anova, averageAndRange } = analyseStudy(made, { interaction: 'test' });
    // 480 degrees of freedom: four standard errors of a standard deviation are 13 %.
    for (const { variation } of [anova, averageAndRange]) {
      expect(Math.abs(variation.ev / 0.2 - 1)).toBeLessThan(0.13);
      expect(Math.abs(variation.pv / 1.5 - 1)).toBeLessThan(0.46);
    }
    const spread = Math.sqrt(appraisers.reduce((sum, one) => sum + (one - 0) ** 2, 0) / 3);
    expect(Math.abs(anova.variation.av - spread)).toBeLessThan(0.06);
  });

  it('is told what is missing or there twice', () => {
    expect(studyGaps(readings)).toEqual([]);
    expect(studyGaps(readings.slice(1))).toEqual([{ kind: 'missing', part: '1', technician: 'A', trial: 1 }]);
    expect(studyGaps([...readings, readings[0] as StudyReading])).toEqual([
      { kind: 'repeated', part: '1', technician: 'A', trial: 1 },
    ]);
    expect(
      studyGaps(readings.filter(({ technician, trial }) => technician === 'A' && trial === 1)).map(({ kind }) => kind),
    ).toEqual(['too_few_technicians', 'too_few_trials']);
    expect(() => analyseStudy(readings.slice(1), { interaction: 'test' })).toThrow(RangeError);
  });

  it('has no F where nothing scatters, and says so instead of dividing by nothing', () => {
    const exact = readings.map((one) => ({ ...one, value: Number(one.part) }));
    const { table, variation } = analyseStudy(exact, { interaction: 'test' }).anova;
    expect(table.find(({ source }) => source === 'part')?.f).toBeUndefined();
    expect(variation).toMatchObject({ grr: 0, percentOfTotal: 0, ndc: Infinity });
  });
});

describe('the verdict', () => {
  it('says from which reading a pad is surely above the limit', () => {
    const { anova } = analyseStudy(readings, { interaction: 'test' });
    const verdict = studyVerdict(anova.variation, 3);
    expect(verdict).toMatchObject({ fitness: 'conditional', mainly: 'technicians' });
    expect(verdict.safeReadingMm).toBeCloseTo(3 + 1.6449 * anova.variation.grr, 9);
    expect(studyVerdict({ ...anova.variation, percentOfTotal: 45, percentOfTolerance: 8 }, 3).fitness).toBe('fit');
    expect(studyVerdict({ ...anova.variation, percentOfTotal: 45, percentOfTolerance: 60 }, 3).fitness).toBe('unfit');
  });
});

describe('the plan', () => {
  const parts = ['a', 'b', 'c', 'd'];
  it('has every combination once, in the same order for the same seed and another for another', () => {
    const plan = planStudy(parts, ['x', 'y', 'z'], 2, 7);
    expect(plan.map(({ run }) => run)).toEqual(Array.from({ length: 24 }, (_, i) => i + 1));
    expect(new Set(plan.map(({ part, technician, trial }) => `${part}${technician}${trial}`)).size).toBe(24);
    expect(planStudy(parts, ['x', 'y', 'z'], 2, 7)).toEqual(plan);
    expect(planStudy(parts, ['x', 'y', 'z'], 2, 8)).not.toEqual(plan);
    expect(plan.slice(0, 12).every(({ trial }) => trial === 1)).toBe(true);
  });
});

describe('a study, whatever its values', () => {
  const study = fc.array(fc.integer({ min: -300, max: 300 }), { minLength: 24, maxLength: 24 }).map((values) =>
    values.map((value, i): StudyReading => ({
      part: `p${i % 4}`,
      technician: `t${Math.floor(i / 4) % 3}`,
      trial: 1 + Math.floor(i / 12),
      value: value / 100,
    })),
  );
  const variation = (of: StudyReading[]) => analyseStudy(of, { interaction: 'keep' }).anova.variation;

  it('has sums of squares that add up to the total, and degrees of freedom too', () => {
    fc.assert(
      fc.property(study, (made) => {
        const { table } = analyseStudy(made, { interaction: 'keep' }).anova;
        const total = table.find(({ source }) => source === 'total');
        const rest = table.filter(({ source }) => source !== 'total');
        expect(rest.reduce((sum, { ss }) => sum + ss, 0)).toBeCloseTo(total?.ss ?? NaN, 7);
        expect(rest.reduce((sum, { df }) => sum + df, 0)).toBe(total?.df);
      }),
    );
  });

  it('does not hang on the reference, and grows with the unit', () => {
    fc.assert(
      fc.property(study, fc.integer({ min: -900, max: 900 }), (made, by) => {
        const shifted = variation(made.map((one) => ({ ...one, value: one.value + by / 10 })));
        const doubled = variation(made.map((one) => ({ ...one, value: 2 * one.value })));
        const own = variation(made);
        for (const field of ['ev', 'av', 'interaction', 'grr', 'pv', 'tv'] as const) {
          expect(shifted[field]).toBeCloseTo(own[field], 5);
          expect(doubled[field]).toBeCloseTo(2 * own[field], 6);
        }
      }),
    );
  });
});
