import { describe, expect, it } from '@jest/globals';
import { invertSymmetric, randomNormal, seededRandom, square } from '../numeric/index.ts';
import { poolDrift, type PeriodPart } from './drift.ts';
import { learnFrom, type Lesson, UNKNOWN_APPRAISER } from './index.ts';
import { LEVEL_SD_MM } from './appraisers.ts';
import { SIGMA_FACTORS } from './lesson.ts';
import { LEVEL_BEFORE, spreadOf } from './prior.ts';

const PARTS = ['A', 'B', 'C'].map((key) => ({ key, technician: key, gauge: `gauge of ${key}` }));
/** Variance of one appraiser's bias before any reading: technician, gauge and both (variance components). */
const BIAS_VARIANCE = 0.3 ** 2 + 0.2 ** 2 + 0.05 ** 2;
const silent = (count: number) => new Array<number>(count * SIGMA_FACTORS.length).fill(0);

/** Lessons of vehicles that see levels ℓ and biases b through random rows: y = h·(ℓ, b) + N(0, 1). */
function generated(seed: number, vehicles: number) {
  const random = seededRandom(seed);
  const truth = { groups: { 'm/1': -1.4, 'm/2': -1.9 } as Record<string, number>, biases: [0.3, -0.2, 0.1] };
  const shared = Math.sqrt(0.25 ** 2);
  const lessons = Array.from({ length: vehicles }, (_, v): Lesson => {
    const groups = v % 4 === 0 ? ['m/2'] : ['m/1', 'm/2'];
    const appraisers = v % 3 === 0 ? ['A', 'C'] : ['B', 'A', 'C'];
    const common = shared * randomNormal(random);
    const own = Math.hypot(0.12, 0.1 / 2);
    const values = [
      ...groups.map((group) => (truth.groups[group] as number) + common + own * randomNormal(random)),
      ...appraisers.map((key) => truth.biases['ABC'.indexOf(key)] as number),
    ];
    const size = values.length;
    const precision = new Array<number>(size * size).fill(0);
    const weighted = new Array<number>(size).fill(0);
    for (let row = 0; row < 12; row += 1) {
      const h = values.map(() => 8 * randomNormal(random));
      const y = h.reduce((sum, value, i) => sum + value * (values[i] as number), 0) + randomNormal(random);
      h.forEach((a, i) => {
        weighted[i] = (weighted[i] as number) + a * y;
        h.forEach((b, k) => (precision[i * size + k] = (precision[i * size + k] as number) + a * b));
      });
    }
    return {
      groups,
      appraisers,
      precision,
      weighted,
      logLikelihood: silent(appraisers.length),
      readings: appraisers.map(() => 12),
    };
  });
  return { truth, lessons };
}

/** The same by writing down every unknown (levels of groups, of each vehicle's axles, biases) and solving once. */
function allAtOnce(lessons: readonly Lesson[], spread: number) {
  const groups = ['m/1', 'm/2'];
  const own = lessons.flatMap((lesson, v) => lesson.groups.map((_, a) => `${v}/${a}`));
  const names = [...groups, ...PARTS.map(({ key }) => key), ...own];
  const at = new Map(names.map((name, i) => [name, i]));
  const n = names.length;
  const precision = square(n);
  const weighted = new Float64Array(n);
  const add = (i: number, k: number, value: number) =>
    (precision.data[i * n + k] = (precision.data[i * n + k] as number) + value);
  groups.forEach((_, i) => {
    add(i, i, LEVEL_BEFORE.light.sd ** -2);
    weighted[i] = LEVEL_BEFORE.light.mean / LEVEL_BEFORE.light.sd ** 2;
  });
  PARTS.forEach(({ key }) => add(at.get(key) as number, at.get(key) as number, 1 / BIAS_VARIANCE));
  lessons.forEach((lesson, v) => {
    const tie = invertSymmetric(spreadOf(lesson.groups.length, spread));
    const mine = lesson.groups.map((_, a) => at.get(`${v}/${a}`) as number);
    const theirs = lesson.groups.map((group) => at.get(group) as number);
    mine.forEach((i, a) =>
      mine.forEach((k, c) => {
        const value = tie?.data[a * mine.length + c] as number;
        add(i, k, value);
        add(theirs[a] as number, theirs[c] as number, value);
        add(i, theirs[c] as number, -value);
        add(theirs[c] as number, i, -value);
      }),
    );
    const rows = [...mine, ...lesson.appraisers.map((key) => at.get(key) as number)];
    rows.forEach((i, a) => {
      weighted[i] = (weighted[i] as number) + (lesson.weighted[a] as number);
      rows.forEach((k, c) => add(i, k, lesson.precision[a * rows.length + c] as number));
    });
  });
  const inverse = invertSymmetric(precision);
  const of = (name: string) => {
    const i = at.get(name) as number;
    let mean = 0;
    for (let k = 0; k < n; k += 1) mean += (inverse?.data[i * n + k] as number) * (weighted[k] as number);
    return { mean, sd: Math.sqrt(inverse?.data[i * n + i] as number) };
  };
  return of;
}

const context = { parts: PARTS, present: () => UNKNOWN_APPRAISER, classOf: () => 'light' as const };

describe('what a fleet teaches of groups and appraisers at once', () => {
  const { lessons, truth } = generated(5, 40);
  const { appraisers, groups } = learnFrom(lessons, context);

  it('is the solution of one linear model with every unknown written down', () => {
    const spread = (groups.get('m/1')?.prior.sdVehicle ?? NaN) / 0.25;
    const of = allAtOnce(lessons, spread);
    for (const { key, biasMm, biasSdMm } of appraisers.appraisers) {
      expect(biasMm).toBeCloseTo(of(key).mean, 8);
      expect(biasSdMm).toBeCloseTo(Math.hypot(of(key).sd, LEVEL_SD_MM), 8);
    }
    for (const [name, { prior }] of groups) expect(prior.mean).toBeCloseTo(of(name).mean, 8);
  });

  it('finds what made the lessons, within what it says it knows', () => {
    for (const [k, { biasMm, biasSdMm }] of appraisers.appraisers.entries())
      expect(Math.abs(biasMm - (truth.biases[k] as number))).toBeLessThan(4 * biasSdMm);
    for (const [name, { prior, vehicles }] of groups) {
      const level = Math.sqrt(prior.sdAxle ** 2 - ((prior.sdVehicle / 0.25) * 0.12) ** 2);
      expect(Math.abs(prior.mean - (truth.groups[name] as number))).toBeLessThan(4 * level);
      expect(vehicles).toBe(name === 'm/1' ? 30 : 40);
    }
  });

  it('adds up: the order of vehicles is nothing, one more makes it surer', () => {
    const turned = learnFrom([...lessons].reverse(), context);
    expect(turned.groups.get('m/1')?.prior.mean).toBeCloseTo(groups.get('m/1')?.prior.mean as number, 9);
    const fewer = learnFrom(lessons.slice(0, 8), context);
    expect(fewer.appraisers.appraisers[0]?.biasSdMm).toBeGreaterThan(appraisers.appraisers[0]?.biasSdMm as number);
  });

  it('is what was known before where nobody measured', () => {
    const nothing = learnFrom([], context);
    expect(nothing.groups.size).toBe(0);
    expect(nothing.appraisers.appraisers.map(({ biasMm }) => biasMm)).toEqual([0, 0, 0]);
    expect(nothing.appraisers.appraisers[0]?.biasSdMm).toBeCloseTo(
      Math.hypot(Math.sqrt(BIAS_VARIANCE), LEVEL_SD_MM),
      9,
    );
  });
});

describe('how a bias moved from quarter to quarter', () => {
  const part = (whole: string, period: number): PeriodPart => ({
    key: `${whole}@${period}`,
    whole,
    period,
    technician: whole,
    gauge: 'g',
  });
  const says = (appraisers: string[], precision: number[], weighted: number[]) => ({
    appraisers,
    precision,
    weighted,
    logLikelihood: silent(appraisers.length),
    readings: appraisers.map(() => 8),
  });

  // Two normal quarters with variance v and covariance c, one of them observed as .4 with variance 1/50 (BDA3, §3.5).
  it('tells of a quarter nobody measured in what its neighbour makes likely', () => {
    const lasting = 0.3 ** 2 + 0.2 ** 2 + 0.05 ** 2;
    const [v, c] = [lasting + 0.12 ** 2, lasting + 0.12 ** 2 * 0.7];
    const found = poolDrift([part('A', 1), part('A', 2)], [says(['A@1'], [50], [20])], () => ({
      biasMm: 0,
      biasSdMm: 1,
    }));
    expect(found.map(({ biasMm }) => biasMm)).toEqual([
      expect.closeTo((v / (v + 0.02)) * 0.4, 9),
      expect.closeTo((c / (v + 0.02)) * 0.4, 9),
    ]);
    expect(found[1]?.biasSdMm).toBeCloseTo(Math.hypot(Math.sqrt(v - c ** 2 / (v + 0.02)), LEVEL_SD_MM), 9);
    expect(found.map(({ readings }) => readings)).toEqual([8, 0]);
  });

  it('takes others as they are known: a difference between two is the one’s where the other is known to read true', () => {
    const difference = says(['A@1', 'B@1'], [400, -400, -400, 400], [160, -160]);
    const parts = [part('A', 1), part('B', 1)];
    const biasOf = (b: number) =>
      poolDrift(parts, [difference], (whole) => ({ biasMm: whole === 'B' ? b : 0, biasSdMm: 0.01 }))[0]?.biasMm ?? NaN;
    expect(biasOf(0)).toBeCloseTo(0.4, 1);
    expect(biasOf(0.2) - biasOf(0)).toBeCloseTo(0.2, 1);
  });
});
