import { describe, expect, it } from '@jest/globals';
import { randomNormal, seededRandom } from '../numeric/index.ts';
import { dutyLevel, dutyLogLikelihood, learnDutyProcess, type DutyProcess } from './level.ts';
import { DEFAULT_DUTY_PROCESS, type DutySpan, withLevelAhead } from './index.ts';

const process: DutyProcess = { blockSd: 0.2, hazard: 0.1, routeMean: 0.1, routeSd: 0.5 };
const blocksOf = (logs: readonly number[]) => logs.map((log) => ({ log, days: 28 }));

/** Log density of blocks of one route, jointly normal with covariance s²·I + r²·J (determinant and inverse in closed form). */
function oneRoute(logs: readonly number[], { blockSd, routeMean, routeSd }: DutyProcess) {
  const n = logs.length;
  const [s, r] = [blockSd ** 2, routeSd ** 2];
  const d = logs.map((log) => log - routeMean);
  const sum = d.reduce((a, b) => a + b, 0);
  const squares = d.reduce((a, b) => a + b * b, 0);
  const quadratic = squares / s - (r * sum * sum) / (s * (s + n * r));
  return {
    log: -0.5 * (n * Math.log(2 * Math.PI) + (n - 1) * Math.log(s) + Math.log(s + n * r) + quadratic),
    // Posterior of the level: precisions add (BDA3, §2.5).
    mean: (routeMean / r + logs.reduce((a, b) => a + b, 0) / s) / (1 / r + n / s),
    variance: 1 / (1 / r + n / s),
  };
}

/** Every way to cut the blocks into routes, with its weight. */
function enumerate(logs: readonly number[], own: DutyProcess) {
  const ways: { weight: number; mean: number; variance: number }[] = [];
  for (let cuts = 0; cuts < 2 ** (logs.length - 1); cuts += 1) {
    let [log, from] = [0, 0];
    let last = { mean: 0, variance: 0 };
    for (let i = 1; i <= logs.length; i += 1) {
      const cut = i === logs.length || ((cuts >> (i - 1)) & 1) === 1;
      if (i < logs.length) log += Math.log(cut ? own.hazard : 1 - own.hazard);
      if (!cut) continue;
      const route = oneRoute(logs.slice(from, i), own);
      log += route.log;
      last = route;
      from = i;
    }
    ways.push({ weight: Math.exp(log), ...last });
  }
  const total = ways.reduce((sum, { weight }) => sum + weight, 0);
  const mean = ways.reduce((sum, one) => sum + one.weight * one.mean, 0) / total;
  const variance = ways.reduce((sum, one) => sum + one.weight * (one.variance + (one.mean - mean) ** 2), 0) / total;
  return { log: Math.log(total), mean, sd: Math.sqrt(variance) };
}

describe('the level of a route', () => {
  it.each([
    ['steady', [0.1, 0.2, 0.0, 0.15, 0.05]],
    ['a change', [0.1, 0.2, 0.0, 0.9, 1.1, 1.0]],
    ['one block', [0.7]],
    ['an outlier', [0, 0, 1.2, 0, 0.1, -0.1]],
  ])('and the likelihood are those of every way to cut the blocks, enumerated: %s', (_name, logs) => {
    const brute = enumerate(logs, process);
    expect(dutyLogLikelihood(blocksOf(logs), process)).toBeCloseTo(brute.log, 6);
    const level = dutyLevel(blocksOf(logs), process);
    expect(level.mean).toBeCloseTo(brute.mean, 4);
    expect(level.sd).toBeCloseTo(brute.sd, 4);
  });

  it('counts a short block for less', () => {
    const level = (days: number) => dutyLevel([{ log: 1, days }], process);
    expect(level(28).mean).toBeCloseTo(oneRoute([1], process).mean, 9);
    expect(level(4).mean).toBeLessThan(level(28).mean);
    expect(level(4).sd).toBeGreaterThan(level(28).sd);
  });

  it('is the class’s where nothing was measured', () => expect(dutyLevel([], process)).toEqual({ mean: 0.1, sd: 0.5 }));
});

describe('what a fleet teaches of its duty', () => {
  const fleet = (truth: DutyProcess, seed: number) => {
    const random = seededRandom(seed);
    return Array.from({ length: 80 }, () => {
      let level = truth.routeMean + truth.routeSd * randomNormal(random);
      return blocksOf(
        Array.from({ length: 36 }, () => {
          if (random() < truth.hazard) level = truth.routeMean + truth.routeSd * randomNormal(random);
          return level + truth.blockSd * randomNormal(random);
        }),
      );
    });
  };
  // Within two steps of the grid; seeds and figures are no others' than this test's.
  it.each([
    [{ blockSd: 0.12, hazard: 0.035, routeMean: -0.2, routeSd: 0.65 }, 5],
    [{ blockSd: 0.27, hazard: 0.012, routeMean: 0.5, routeSd: 0.45 }, 6],
  ])('is near what made it: %j', (truth, seed) => {
    const learnt = learnDutyProcess(fleet(truth, seed));
    expect(Math.abs(Math.log(learnt.blockSd / truth.blockSd))).toBeLessThan(0.25);
    expect(Math.abs(Math.log(learnt.hazard / truth.hazard))).toBeLessThan(0.75);
    expect(Math.abs(Math.log(learnt.routeSd / truth.routeSd))).toBeLessThan(0.45);
    expect(Math.abs(learnt.routeMean - truth.routeMean)).toBeLessThan(0.2);
  });
  it('is the assumption where hardly anything was measured', () =>
    expect(learnDutyProcess([blocksOf([0, 1, 2]), []])).toEqual(DEFAULT_DUTY_PROCESS));
});

describe('duty ahead', () => {
  const days = ['01-01', '01-29', '02-26', '03-26', '04-23', '05-21', '06-18', '07-16'].map((day) => `2026-${day}`);
  const measured = (severities: readonly number[]): DutySpan[] =>
    severities.map((severity, i) => ({
      from: days[i] as string,
      to: days[i + 1] as string,
      severity,
      byAxle: { 1: severity, 2: 2 * severity },
      continues: i > 0,
      measured: true,
    }));
  const spans = measured([1, 1.1, 0.9, 2.2, 1.8, 2.1, 1.4]);

  it('is the level of the present route, not its last block, for each axle', () => {
    const { spans: with_, ahead } = withLevelAhead(spans, '2026-07-20', [1, 2], DEFAULT_DUTY_PROCESS);
    const last = with_.at(-1);
    expect(last).toMatchObject({ from: '2026-07-16', continues: true });
    expect(last?.severity).toBeGreaterThan(1.6);
    expect(last?.severity).toBeLessThan(2.1);
    expect((last?.byAxle?.[2] ?? 0) / (last?.byAxle?.[1] ?? 1)).toBeCloseTo(2, 1);
    expect(ahead?.levelSd).toBeGreaterThan(0.05);
    expect(ahead?.levelSd).toBeLessThan(0.3);
    // What was measured stays as it was measured; the route began with its fourth block.
    expect(with_.slice(0, 7).map(({ severity }) => severity)).toEqual(spans.map(({ severity }) => severity));
    expect(with_.flatMap(({ from, continues }) => (continues ? [] : [from]))).toEqual(['2026-01-01', '2026-03-26']);
  });

  it('is what was stated since, without doubt', () => {
    const stated = [...spans, { from: '2026-07-16', severity: 3, continues: false }];
    expect(withLevelAhead(stated, '2026-07-20', [1], DEFAULT_DUTY_PROCESS)).toEqual({
      spans: stated,
      ahead: undefined,
      measured: false,
    });
  });

  it('is the level until the day from which another duty is stated ahead, and that duty from then on', () => {
    const ahead = { from: '2026-09-01', severity: 3, continues: false };
    const found = withLevelAhead([...spans, ahead], '2026-07-20', [1, 2], DEFAULT_DUTY_PROCESS);
    const plain = withLevelAhead(spans, '2026-07-20', [1, 2], DEFAULT_DUTY_PROCESS);
    expect(found.spans).toEqual([...plain.spans, ahead]);
    expect(found.ahead).toEqual(plain.ahead);
  });

  it('is what is stated where nothing is measured', () => {
    const stated = [{ from: '2026-01-01', severity: 1.5 }];
    expect(withLevelAhead(stated, '2026-07-20', [1], DEFAULT_DUTY_PROCESS)).toEqual({
      spans: stated,
      ahead: undefined,
      measured: false,
    });
  });
});
