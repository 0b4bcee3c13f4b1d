import { describe, expect, it } from '@jest/globals';
import { tryStock, type StockTrialOptions } from './stockTrial.ts';

const SEEDS = [1, 2];
const WORLDS: Record<string, Omit<StockTrialOptions, 'seed' | 'service' | 'days'>> = {
  'a large depot near its supplier': { axles: 120, lifeDays: 300, errorSd: 0.2, leadDays: 7 },
  'looks that tell little, a supplier far away': { axles: 120, lifeDays: 300, errorSd: 0.35, leadDays: 14 },
  'a small depot': { axles: 40, lifeDays: 400, errorSd: 0.25, leadDays: 7 },
};

describe.each(Object.entries(WORLDS))('orders on forecasts, in %s', (_name, world) => {
  const runs = SEEDS.map((seed) => tryStock({ ...world, service: 0.95, days: 420, seed }));
  const mean = (of: (run: (typeof runs)[number]) => number) =>
    runs.reduce((sum, run) => sum + of(run), 0) / runs.length;

  it('cover the lead time as often as they say, within two points', () => {
    expect(mean(({ foretold }) => foretold)).toBeGreaterThanOrEqual(0.95);
    expect(Math.abs(mean(({ covered }) => covered) - mean(({ foretold }) => foretold))).toBeLessThan(0.02);
  });

  it('take less stock than a fixed least and most that meet as much', () => {
    for (const { meanStock, fixed } of runs) expect(fixed === undefined || meanStock < fixed.meanStock).toBe(true);
    expect(mean(({ filled }) => filled)).toBeGreaterThan(0.95);
  });
});
