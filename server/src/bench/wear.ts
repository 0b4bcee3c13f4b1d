/**
 * Tries forecasts and the finding of changes on virtual fleets whose truth is known (200 vehicles, 8 technicians, three
 * years each): errors of the miles left against two simple methods and against one that knows the present exactly,
 * coverage of the intervals, pinball loss, and how soon and how falsely seized slides and changed routes are told. The
 * seeds were never used for tuning. Prints a JSON line each; called by `npm run bench`.
 */
import {
  classPrior,
  DEFAULT_DUTY_SETTINGS,
  fleetInput,
  findInTrace,
  forecastFrom,
  runWithChanges,
  tryChanges,
  tryForecasts,
  virtualFleet,
  wearFan,
  type ChangeTrial,
  type ForecastTrial,
} from '@mile-mark/core';

const SEEDS = [201, 202, 203, 204, 205, 206];
const OPTIONS = { vehicles: 200, technicians: 8, from: '2023-01-01', days: 1095 };
const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 1000) / 1000, unit })}\n`);

const fleets = `${SEEDS.length} virtual fleets of ${OPTIONS.vehicles}`;
const forecasts: ForecastTrial[] = SEEDS.map((seed) => tryForecasts(virtualFleet({ ...OPTIONS, seed })));
const mean = (of: (trial: ForecastTrial) => number) =>
  forecasts.reduce((sum, trial) => sum + of(trial), 0) / forecasts.length;
const range = (of: (trial: ForecastTrial) => number) => {
  const values = forecasts.map(of).sort((a, b) => a - b);
  return `${(values[0] ?? 0).toFixed(3)} to ${(values.at(-1) ?? 0).toFixed(3)}`;
};
print(
  `forecasts, ${fleets}`,
  forecasts.reduce((sum, trial) => sum + trial.forecasts, 0),
  'forecasts',
);
for (const [name, of] of [
  ['Mile Mark', (trial: ForecastTrial) => trial.medianErrorMi],
  ['a line through two points', (trial: ForecastTrial) => trial.twoPointErrorMi],
  ['least squares', (trial: ForecastTrial) => trial.leastSquaresErrorMi],
  ['one that knows the present exactly', (trial: ForecastTrial) => trial.oracleErrorMi],
] as const)
  print(`median error of the miles left, ${fleets}: ${name}`, mean(of), 'mi');
const ratios = {
  'to two-point': (trial: ForecastTrial) => trial.medianErrorMi / trial.twoPointErrorMi,
  'to least squares': (trial: ForecastTrial) => trial.medianErrorMi / trial.leastSquaresErrorMi,
};
for (const [name, of] of Object.entries(ratios))
  print(`median error, ratio ${name} (${range(of)}), ${fleets}`, mean(of), '1');
print(`median error over the pads’ life, ${fleets}`, 100 * mean(({ relativeError }) => relativeError), '%');
for (const [name, of] of [
  ['80 % intervals, miles', (trial: ForecastTrial) => trial.within80],
  ['90 % intervals, miles', (trial: ForecastTrial) => trial.within90],
  ['80 % intervals, days', (trial: ForecastTrial) => trial.within80Days],
  ['90 % intervals, days', (trial: ForecastTrial) => trial.within90Days],
] as const)
  print(`truth within ${name} (${range(of)}), ${fleets}`, 100 * mean(of), '%');
print(
  `pinball loss over seven quantiles, ${fleets}: Mile Mark`,
  mean(({ pinballMi }) => pinballMi),
  'mi',
);
print(
  `pinball loss over seven quantiles, ${fleets}: one that knows the present exactly`,
  mean(({ oraclePinballMi }) => oraclePinballMi),
  'mi',
);

// Slides seize in 4 of 100 vehicles and most are freed by new pads before a third look: of a larger fleet only the
// vehicles with something to find are gone through, and a plain part of it for the false alarms.
const trials: ChangeTrial[] = SEEDS.map((seed) => {
  const fleet = virtualFleet({ ...OPTIONS, vehicles: 1200, seed, unstatedRoutes: 0.03 });
  const eventful = fleet.vehicles.filter(({ seized, unstated }) => seized !== undefined || unstated !== undefined);
  return tryChanges({ ...fleet, vehicles: [...new Set([...fleet.vehicles.slice(0, 120), ...eventful])] });
});
const sum = (of: (trial: ChangeTrial) => number) => trials.reduce((total, trial) => total + of(trial), 0);
for (const [look, k] of [
  ['first', 0],
  ['second', 1],
  ['third', 2],
] as const) {
  print(
    `seized slides told by the ${look} look, of ${sum(({ seized }) => seized)}`,
    (100 * sum(({ seizedByLook }) => seizedByLook[k])) / sum(({ seized }) => seized),
    '%',
  );
  print(
    `routes changed unsaid (1.6 to 2.6 times), told by the ${look} look, of ${sum(({ routes }) => routes)}`,
    (100 * sum(({ routesByLook }) => routesByLook[k])) / sum(({ routes }) => routes),
    '%',
  );
}
print(
  `wheel-end inspections for each slide told falsely, of ${sum(({ falseSeized }) => falseSeized)}`,
  sum(({ wheelEndInspections }) => wheelEndInspections) /
    Math.max(
      1,
      sum(({ falseSeized }) => falseSeized),
    ),
  'inspections',
);
print(
  `vehicle inspections for each route told falsely, of ${sum(({ falseRoutes }) => falseRoutes)}`,
  sum(({ vehicleInspections }) => vehicleInspections) /
    Math.max(
      1,
      sum(({ falseRoutes }) => falseRoutes),
    ),
  'inspections',
);
print(
  `vehicle inspections for each wheel or axle told falsely, of ${sum(({ falseOthers }) => falseOthers)}`,
  sum(({ vehicleInspections }) => vehicleInspections) /
    Math.max(
      1,
      sum(({ falseOthers }) => falseOthers),
    ),
  'inspections',
);

// What the browser's worker does for one if: the forecast as it is and as asked, and the fan; the history is kept.
const small = virtualFleet({ ...OPTIONS, vehicles: 40, seed: 301 });
const policy = { riskTarget: 0.05, seed: 1, draws: 1024 };
const ifs = small.vehicles.map((vehicle) => {
  const input = fleetInput(vehicle, small, {}, () => classPrior('light'));
  const run = runWithChanges(input);
  const begun = performance.now();
  const { axles, odometerNowMi } = forecastFrom(run, input, policy);
  forecastFrom(run, { ...input, axles: input.axles.map((axle) => ({ ...axle, limitMm: axle.limitMm + 1 })) }, policy);
  wearFan(run, input, policy, 1, Math.max(3000, (axles[0]?.miles.p95 ?? 0) - odometerNowMi), 20);
  return performance.now() - begun;
});
ifs.sort((a, b) => a - b);
print('an if: two forecasts and a fan of one vehicle, median of 40', ifs[20] ?? 0, 'ms');
print('an if: two forecasts and a fan of one vehicle, slowest of 40', ifs[39] ?? 0, 'ms');

const samples = 36_000;
const seconds = Float64Array.from({ length: samples }, (_, t) => t);
const speedMps = seconds.map((t) => Math.max(0, 9 + 9 * Math.sin(t / 19)));
const altitudeM = seconds.map((t) => 300 + 60 * Math.sin(t / 700));
const begun = performance.now();
findInTrace({ seconds, speedMps, altitudeM }, { tareKg: 2200, gvwrKg: 3500 }, DEFAULT_DUTY_SETTINGS.van, {
  massKg: 2900,
  retarderShare: 0,
});
print('a trace of ten hours at one sample a second, looked through', performance.now() - begun, 'ms');
