import { describe, expect, it } from '@jest/globals';
import type { DutyAhead } from '../duty/index.ts';
import { horizon, roadsAhead } from './horizon.ts';

const today = '2026-07-01';
const duty = [{ from: '2026-01-01', severity: 2 }];
const still: DutyAhead = { levelSd: 0, perPeriod: 0.2, hazardPerDay: 0, change: { mean: 0, sd: 0 } };
const COUNT = 4000;
const roads = (ahead: DutyAhead | undefined, spans: Parameters<typeof horizon>[0] = duty) =>
  roadsAhead({ duty: spans, today, ahead }, 100, 1, { count: COUNT, seed: 4 });
const logs = (ahead: DutyAhead, exposure: number) => {
  const { daysTo } = roads(ahead);
  return Array.from({ length: COUNT }, (_, i) => Math.log(daysTo(exposure, i) / (exposure / 0.2)));
};
const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

describe('roads ahead', () => {
  it('of a stated duty are the one that is stated, there and back', () => {
    const changed = [...duty, { from: '2026-08-01', severity: 1 }];
    const { daysTo, exposureIn } = roads(undefined, changed);
    const days = horizon(changed, today, 100, 1);
    // 31 days at 0.2 thousand duty-weighted miles are 6.2; then half as much a day.
    expect(days(6.2)).toBeCloseTo(31, 9);
    expect(days(7.2)).toBeCloseTo(41, 9);
    for (const exposure of [1, 6.2, 9]) {
      expect(daysTo(exposure, 7)).toBeCloseTo(days(exposure), 9);
      expect(exposureIn(daysTo(exposure, 7), 7)).toBeCloseTo(exposure, 9);
    }
    expect(daysTo(-2, 0)).toBeCloseTo(-10, 9);
  });

  it('of a level known to a tenth differ by a tenth, about the same middle', () => {
    const found = logs({ ...still, levelSd: 0.1 }, 20);
    expect(mean(found)).toBeCloseTo(0, 2);
    expect(Math.sqrt(mean(found.map((log) => log * log)))).toBeCloseTo(0.1, 2);
  });

  // Exponential waiting: by day T the route has changed with chance 1 − e^(−hT).
  it('change route as the hazard says, and go on under the other level', () => {
    const hazardPerDay = 0.002;
    const found = logs({ ...still, hazardPerDay, change: { mean: Math.log(2), sd: 0 } }, 20);
    const unchanged = found.filter((log) => Math.abs(log) < 1e-9).length / COUNT;
    expect(unchanged).toBeCloseTo(Math.exp(-hazardPerDay * 100), 1);
    // Twice the severity from the first day on would be half the days: never less.
    expect(Math.min(...found)).toBeGreaterThan(Math.log(0.5) - 1e-9);
    const { daysTo, exposureIn } = roads({ ...still, hazardPerDay, change: { mean: Math.log(2), sd: 0.3 } });
    for (const draw of [3, 77, 2011]) expect(exposureIn(daysTo(30, draw), draw)).toBeCloseTo(30, 6);
  });

  it('change no route where another duty is dated ahead', () => {
    const dated = [...duty, { from: '2026-09-01', severity: 1 }];
    const { daysTo } = roads({ ...still, hazardPerDay: 0.5, change: { mean: 3, sd: 0 } }, dated);
    expect(daysTo(8, 5)).toBeCloseTo(40, 9);
    // What is stated from September on is believed: 62 days at a level unsure by a fifth, then 0.1 a day on every road.
    const unsure = roads({ ...still, levelSd: 0.2 }, dated);
    for (const draw of [1, 50, 3000])
      expect(unsure.exposureIn(100, draw) - unsure.exposureIn(62, draw)).toBeCloseTo(38 * 0.1, 9);
  });
});
