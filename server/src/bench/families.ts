/**
 * Forecasts of families of virtual fleets, each of which breaks one of the assumptions forecasts rest on. The seeds were
 * never used for choosing a figure (`SEEDS`). Prints a JSON line each; called by `npm run bench`.
 */
import { FAMILIES, SEEDS, tryForecasts, virtualFleet } from '@mile-mark/core';

const OPTIONS = { vehicles: 40, technicians: 6, from: '2023-01-01', days: 1095 };
const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 1000) / 1000, unit })}\n`);

for (const [name, { habits, unstatedRoutes }] of Object.entries(FAMILIES)) {
  const trials = SEEDS.bench.map((seed) => tryForecasts(virtualFleet({ ...OPTIONS, seed, unstatedRoutes, habits })));
  const all = trials.reduce((sum, { forecasts }) => sum + forecasts, 0);
  const mean = (of: (trial: (typeof trials)[number]) => number) =>
    trials.reduce((sum, trial) => sum + of(trial) * trial.forecasts, 0) / all;
  const family = `family “${name}” (${all})`;
  print(
    `median error of the miles left, ${family}`,
    mean(({ medianErrorMi }) => medianErrorMi),
    'mi',
  );
  print(
    `median error ÷ that of two points, ${family}`,
    mean(({ medianErrorMi, twoPointErrorMi }) => medianErrorMi / twoPointErrorMi),
    '1',
  );
  print(
    `median error ÷ that of least squares, ${family}`,
    mean(({ medianErrorMi, leastSquaresErrorMi }) => medianErrorMi / leastSquaresErrorMi),
    '1',
  );
  print(`truth within 80 % intervals, ${family}`, 100 * mean(({ within80 }) => within80), '%');
  print(`truth within 90 % intervals, ${family}`, 100 * mean(({ within90 }) => within90), '%');
  print(
    `pinball loss, ${family}`,
    mean(({ pinballMi }) => pinballMi),
    'mi',
  );
}
