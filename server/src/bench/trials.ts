/**
 * Forecasts of fleets that the project's own simulator did not make, against their truth: papers as CSV in one folder a
 * fleet (vehicles, installs, readings, duty, and truth/crossings for the score). Each fleet is learnt and forecast as a
 * refresh does it. Prints a JSON line each; called by `npm run bench` where such fleets are at hand.
 *
 *   node server/dist/bench/trials.js FOLDER …
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import {
  calibrate,
  dateOfDay,
  dayNumber,
  foresee,
  FORESEEN_FROM_DAYS,
  foretellPassage,
  NEAR_MI,
  sortedQuantile,
  type CalibrationLook,
} from '@mile-mark/core';
import { asItStood, AXLES, forecastOf, learnFleet, withDutyAhead, type TrialFleet } from './trialFleet.ts';
import { biasErrorMm, slidesTold, type SlidesTold } from './trialTruths.ts';

/** What came of forecasts made half a year and a year ago, by light and heavy, near and far. */
function calibrations(fleet: string, { papers, processOf, learnt }: TrialFleet) {
  const looks: Record<string, CalibrationLook[]> = {};
  for (const { id, input, groups, heavy } of papers)
    for (const back of FORESEEN_FROM_DAYS) {
      const then = asItStood(input, dateOfDay(dayNumber(input.today) - back));
      const known = learnt(withDutyAhead(then, processOf(heavy)), groups, heavy);
      for (const { axle, milesAhead, z } of foresee(known, input)) {
        const key = `${heavy ? 'heavy' : 'light'}, ${milesAhead <= NEAR_MI ? 'near' : 'far'}`;
        (looks[key] ??= []).push({ of: `${id}/${axle}`, z });
      }
    }
  for (const [key, own] of Object.entries(looks).sort()) {
    const { within80, spread, factor } = calibrate(own);
    print(`looks foreseen within 80 %, ${fleet}, ${key} (${own.length})`, 100 * within80, '%');
    print(`errors beside what was foreseen, ${fleet}, ${key}`, spread, '1');
    print(`intervals widened, ${fleet}, ${key}`, factor, '1');
  }
}

type Told = Record<'p05' | 'p10' | 'p50' | 'p90' | 'p95', number>;

/** Two simple methods, as the trials' own score has them are not known here: the product's own stand for them. */
interface Outcome {
  looks: number;
  trueMi: number;
  miles: Told;
  trueDays: number;
  days: Told;
  twoPointMi: number | undefined;
  leastSquaresMi: number | undefined;
}

/** Dates as days from a day on. */
const daysTo = (dates: Record<keyof Told, string>, today: string): Told => {
  const to = (date: string) => dayNumber(date) - dayNumber(today);
  const { p05, p10, p50, p90, p95 } = dates;
  return { p05: to(p05), p10: to(p10), p50: to(p50), p90: to(p90), p95: to(p95) };
};

function forecast(folder: string): { outcomes: Outcome[]; lines: string[]; seconds: number; slides: SlidesTold } {
  const begun = performance.now();
  const fleet = learnFleet(folder);
  const outcomes: Outcome[] = [];
  const lines: string[] = [];
  for (const vehicle of fleet.vehicles) {
    const { id, input, groups, heavy } = vehicle;
    const { axles, odometerNowMi } = forecastOf(fleet, vehicle);
    const known = fleet.learnt(input, groups, heavy);
    for (const truth of fleet.truths.get(id) ?? []) {
      const axle = axles.find((one) => one.axle === AXLES[truth.axle as string]);
      if (!axle) continue;
      const { p05, p10, p50, p90, p95 } = axle.miles;
      lines.push([id, truth.axle, p05, p10, p50, p90, p95].join(','));
      const simple = foretellPassage(known, axle.axle, odometerNowMi);
      const here = Number(truth.origin_odometer);
      outcomes.push({
        looks: Number(truth.readings_in_set),
        trueMi: Number(truth.remaining_miles),
        miles: { p05: p05 - here, p10: p10 - here, p50: p50 - here, p90: p90 - here, p95: p95 - here },
        trueDays: Number(truth.remaining_days),
        days: daysTo(axle.dates, input.today),
        twoPointMi: simple?.twoPointMi,
        leastSquaresMi: simple?.leastSquaresMi,
      });
    }
  }
  const seconds = (performance.now() - begun) / 1000;
  const name = path.basename(folder);
  calibrations(name, fleet);
  const { technicians, rmseMm } = biasErrorMm(folder, fleet);
  print(`error of technicians’ biases (RMSE), ${name} (${technicians})`, rmseMm, 'mm');
  return { outcomes, lines, seconds, slides: slidesTold(folder, fleet) };
}

const print = (name: string, value: number, unit: string) =>
  process.stdout.write(`${JSON.stringify({ name, value: Math.round(value * 1000) / 1000, unit })}\n`);
const median = (values: readonly number[]) => sortedQuantile(Float64Array.from(values).sort(), 0.5);

function score(fleet: string, which: string, own: readonly Outcome[]): void {
  if (own.length === 0) return;
  const name = `${fleet}, ${which} (${own.length})`;
  const error = median(own.map(({ trueMi, miles }) => Math.abs(trueMi - miles.p50)));
  print(`median error of the miles left, ${name}`, error, 'mi');
  for (const [told, of] of [
    ['two points', (one: Outcome) => one.twoPointMi],
    ['least squares', (one: Outcome) => one.leastSquaresMi],
  ] as const) {
    const simple = own.flatMap((one) => {
      const mi = of(one);
      return mi === undefined ? [] : [Math.abs(one.trueMi - mi)];
    });
    if (simple.length > 0) print(`median error ÷ that of ${told}, ${name}`, error / median(simple), '1');
  }
  const within = (low: 'p05' | 'p10', high: 'p90' | 'p95') =>
    (100 * own.filter(({ trueMi, miles }) => trueMi >= miles[low] && trueMi <= miles[high]).length) / own.length;
  print(`truth within 80 % intervals, ${name}`, within('p10', 'p90'), '%');
  print(`truth within 90 % intervals, ${name}`, within('p05', 'p95'), '%');
  const dated = (low: 'p05' | 'p10', high: 'p90' | 'p95') =>
    (100 * own.filter(({ trueDays, days }) => trueDays >= days[low] && trueDays <= days[high] + 1).length) / own.length;
  print(`day within 80 % intervals, ${name}`, dated('p10', 'p90'), '%');
  print(`day within 90 % intervals, ${name}`, dated('p05', 'p95'), '%');
  print(
    `median error of the days left, ${name}`,
    median(own.map(({ trueDays, days }) => Math.abs(trueDays - days.p50))),
    'days',
  );
  print(
    `day after the median, ${name}`,
    (100 * own.filter(({ trueDays, days }) => trueDays > days.p50).length) / own.length,
    '%',
  );
  print(
    `truth above the median, ${name}`,
    (100 * own.filter(({ trueMi, miles }) => trueMi > miles.p50).length) / own.length,
    '%',
  );
  const shares = { p05: 0.05, p10: 0.1, p50: 0.5, p90: 0.9, p95: 0.95 } as const;
  const pinball = (truth: number, told: Told) =>
    Object.entries(shares).reduce((sum, [key, p]) => {
      const over = truth - told[key as keyof typeof shares];
      return sum + Math.max(p * over, (p - 1) * over);
    }, 0) / Object.keys(shares).length;
  const mean = (losses: readonly number[]) => losses.reduce((a, b) => a + b, 0) / own.length;
  print(
    `pinball loss over five quantiles, ${name}`,
    mean(own.map(({ trueMi, miles }) => pinball(trueMi, miles))),
    'mi',
  );
  print(`pinball loss of days, ${name}`, mean(own.map(({ trueDays, days }) => pinball(trueDays, days))), 'days');
}

/** Slides seldom seize: they are counted over all fleets together. */
const all: SlidesTold = { slides: 0, byThird: 0, falsely: 0, wheelEndLooks: 0 };
for (const folder of process.argv.slice(2)) {
  const fleet = path.basename(folder);
  const { outcomes, lines, seconds, slides } = forecast(folder);
  for (const key of Object.keys(all) as (keyof SlidesTold)[]) all[key] += slides[key];
  if (process.env.TRIALS_OUT) {
    mkdirSync(process.env.TRIALS_OUT, { recursive: true });
    const file = path.join(process.env.TRIALS_OUT, `${fleet}.csv`);
    writeFileSync(file, `vehicle,axle,q05,q10,q50,q90,q95\n${lines.join('\n')}\n`);
  }
  print(`learnt and forecast in one thread, ${fleet}`, seconds, 's');
  score(
    fleet,
    'at least one look',
    outcomes.filter(({ looks }) => looks > 0),
  );
  score(
    fleet,
    'no look',
    outcomes.filter(({ looks }) => looks === 0),
  );
}
print(
  `seized slides told by the third look, trial fleets together (${all.slides})`,
  (100 * all.byThird) / all.slides,
  '%',
);
print(
  `wheel-end looks for each slide told falsely, trial fleets together (${all.falsely})`,
  all.wheelEndLooks / Math.max(1, all.falsely),
  'looks',
);
