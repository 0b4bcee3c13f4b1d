/**
 * Tries the learning of hands on virtual fleets whose truth is known (400 vehicles, 8 technicians, three years):
 * biases and repeatabilities against the truth, gross readings found and clean ones doubted. The seeds were never
 * used for tuning. Prints a JSON line each; called by `npm run bench`.
 */
import { tryAppraisers, virtualFleet, type AppraiserTrial } from '@mile-mark/core';

const SEEDS = [101, 102, 103, 104, 105, 106];
const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 10_000) / 10_000, unit })}\n`);

const trials: AppraiserTrial[] = [];
const times: number[] = [];
for (const seed of SEEDS) {
  const fleet = virtualFleet({ vehicles: 400, technicians: 8, seed, from: '2023-01-01', days: 1095 });
  const started = performance.now();
  trials.push(tryAppraisers(fleet));
  times.push((performance.now() - started) / 1000);
}
const name = `appraisers of ${SEEDS.length} virtual fleets (400 vehicles, 8 technicians)`;
const sum = (of: (trial: AppraiserTrial) => number) => trials.reduce((total, trial) => total + of(trial), 0);
const pooledRmse = (of: (trial: AppraiserTrial) => number) => Math.sqrt(sum((trial) => of(trial) ** 2) / trials.length);
print(`${name}: readings a fleet, mean`, sum(({ readings }) => readings) / trials.length, 'readings');
print(`${name}: correlation of biases, least`, Math.min(...trials.map(({ biasCorrelation }) => biasCorrelation)), '1');
print(
  `${name}: bias, root mean square error`,
  pooledRmse(({ biasRmseMm }) => biasRmseMm),
  'mm',
);
print(
  `${name}: repeatability, root mean square error`,
  pooledRmse(({ repeatabilityRmseMm }) => repeatabilityRmseMm),
  'mm',
);
print(
  `${name}: true biases within their 90 % interval`,
  (100 * sum(({ biasCoverage90 }) => biasCoverage90)) / trials.length,
  '%',
);
for (const kind of ['plate', 'inches', 'digits', 'stray'] as const)
  print(
    `${name}: gross readings doubted, ${kind}`,
    (100 * sum(({ gross }) => gross[kind].found)) / sum(({ gross }) => gross[kind].all),
    '%',
  );
print(
  `${name}: digits swapped by 1 mm and more, doubted`,
  (100 * sum(({ digitsOver1Mm }) => digitsOver1Mm.found)) / sum(({ digitsOver1Mm }) => digitsOver1Mm.all),
  '%',
);
print(
  `${name}: clean readings doubted`,
  (100 * sum(({ cleanDoubted }) => cleanDoubted)) / sum(({ clean }) => clean),
  '%',
);
print(
  `${name}: five rounds over the fleet and a scoring one, one thread, mean`,
  times.reduce((a, b) => a + b, 0) / times.length,
  's',
);
