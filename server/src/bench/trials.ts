/**
 * Forecasts of fleets that the project's own simulator did not make, against their truth: papers as CSV in one folder a
 * fleet (vehicles, installs, readings, duty, and truth/crossings for the score). Each fleet is learnt and forecast as a
 * refresh does it. Prints a JSON line each; called by `npm run bench` where such fleets are at hand.
 *
 *   node server/dist/bench/trials.js FOLDER …
 */
import { parse } from 'csv-parse/sync';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import {
  calibrate,
  classPrior,
  dateOfDay,
  dayNumber,
  DEFAULT_NOISE,
  foresee,
  FORESEEN_FROM_DAYS,
  foretellPassage,
  forecastVehicle,
  learnDutyProcess,
  learnPapers,
  learnWearProcess,
  processEvidence,
  teachersOfProcess,
  withDrift,
  withProcess,
  measuredBlocks,
  NEAR_MI,
  sortedQuantile,
  UNKNOWN_APPRAISER,
  withLevelAhead,
  type Appraiser,
  type CalibrationLook,
  type DutyProcess,
  type Pad,
  type ReadingInput,
  type Side,
  type VehicleInput,
  type WearPrior,
  type WearProcess,
} from '@mile-mark/core';

type Row = Record<string, string>;
const AXLES: Record<string, number> = { front: 1, rear: 2 };
const PLATE_MM = { light: 5.5, heavy: 8 };
/** Steps that gauges have, mm, coarse first. */
const STEPS = [1, 25.4 / 32, 0.5, 0.254, 0.1, 0.05, 0.01];

const csv = (folder: string, name: string): Row[] =>
  parse(readFileSync(path.join(folder, `${name}.csv`), 'utf8'), { columns: true });
const by = (rows: readonly Row[], of: (row: Row) => string) => {
  const groups = new Map<string, Row[]>();
  for (const row of rows) groups.set(of(row), [...(groups.get(of(row)) ?? []), row]);
  return groups;
};

/** The step of a gauge: the largest under which nine in ten of its figures fall on the grid. */
function stepOf(figures: readonly number[]): number {
  const fits = (step: number) =>
    figures.filter((mm) => Math.abs(mm / step - Math.round(mm / step)) * step < 0.006).length / figures.length;
  return STEPS.find((step) => fits(step) >= 0.9) ?? 0.01;
}

interface Vehicle {
  id: string;
  input: VehicleInput;
  groups: Record<number, string>;
  heavy: boolean;
}

/** A fleet's papers as a forecast takes them; day 0 is 2021-01-01 (the readings' dates and days agree on it). */
function load(folder: string): Vehicle[] {
  const readings = csv(folder, 'readings');
  const steps = new Map(
    [...by(readings, ({ technician }) => technician ?? '')].map(([name, own]) => [
      name,
      stepOf(own.map(({ mm }) => Number(mm))),
    ]),
  );
  const first = readings[0] as Row;
  const origin = dayNumber(first.date as string) - Math.floor(Number(first.day));
  const on = (day: string) => dateOfDay(origin + Math.floor(Number(day)));
  const of = {
    readings: by(readings, ({ vehicle }) => vehicle ?? ''),
    installs: by(csv(folder, 'installs'), ({ vehicle }) => vehicle ?? ''),
    duty: by(csv(folder, 'duty'), ({ vehicle }) => vehicle ?? ''),
  };
  const today = on('1220');
  return csv(folder, 'vehicles').map((vehicle) => {
    const id = vehicle.vehicle as string;
    const heavy = vehicle.class === 'heavy';
    const installs = of.installs.get(id) ?? [];
    const blocks = of.duty.get(id) ?? [];
    const spec = (name: string) => installs.filter(({ axle }) => axle === name).at(-1) as Row;
    const input: VehicleInput = {
      axles: Object.entries(AXLES).map(([name, axle]) => ({
        axle,
        newMm: Number(spec(name).new_mm),
        plateMm: heavy ? PLATE_MM.heavy : PLATE_MM.light,
        limitMm: Number(spec(name).limit_mm),
        prior: classPrior(heavy ? 'heavy' : 'light'),
      })),
      readings: (of.readings.get(id) ?? []).map((row): ReadingInput => ({
        id: row.reading as string,
        date: row.date as string,
        miles: Number(row.odometer),
        axle: AXLES[row.axle as string] as number,
        side: row.side as Side,
        pad: row.pad as Pad,
        mm: Number(row.mm),
        unit: 'mm',
        resolutionMm: steps.get(row.technician as string) as number,
        technician: row.technician as string,
      })),
      fittings: installs.map((row) => ({
        date: row.date as string,
        miles: Number(row.odometer),
        axle: AXLES[row.axle as string] as number,
      })),
      odometers: blocks.map((row) => ({ date: on(row.to_day as string), miles: Number(row.to_odometer) })),
      duty: blocks.map((row, index) => ({
        from: on(row.from_day as string),
        to: on(row.to_day as string),
        severity: Number(row.severity_planner),
        continues: index > 0,
        measured: true,
      })),
      appraisers: {},
      unknownAppraiser: UNKNOWN_APPRAISER,
      noise: DEFAULT_NOISE,
      today,
    };
    const groups = Object.fromEntries(
      Object.entries(AXLES).map(([name, axle]) => [axle, `${vehicle.model as string}/${name}`]),
    );
    return { id, input, groups, heavy };
  });
}

/** How duty behaves in a fleet's light and heavy vehicles, as their blocks teach it. */
function processesOf(vehicles: readonly Vehicle[]): (heavy: boolean) => DutyProcess {
  const [light, heavy] = [false, true].map((which) => {
    const own = vehicles.filter((one) => one.heavy === which);
    return learnDutyProcess(own.map(({ input }) => measuredBlocks(input.duty, input.today)));
  }) as [DutyProcess, DutyProcess];
  return (which) => (which ? heavy : light);
}

/** A vehicle's papers with what may become of its duty. */
function withDutyAhead(input: VehicleInput, process: DutyProcess): VehicleInput {
  const numbers = input.axles.map(({ axle }) => axle);
  const { spans, ahead } = withLevelAhead(input.duty, input.today, numbers, process);
  return { ...input, duty: spans, ahead };
}

/** A vehicle's papers as they stood on a day. */
function asItStood(input: VehicleInput, today: string): VehicleInput {
  const sofar = <T extends { date: string }>(rows: readonly T[]) => rows.filter(({ date }) => date <= today);
  return {
    ...input,
    today,
    readings: sofar(input.readings),
    fittings: sofar(input.fittings),
    odometers: sofar(input.odometers),
    duty: input.duty.filter(({ to }) => to !== undefined && to <= today),
  };
}

/** What came of forecasts made half a year and a year ago, by light and heavy, near and far. */
function calibrations(
  fleet: string,
  papers: readonly Vehicle[],
  processOf: (heavy: boolean) => DutyProcess,
  learnt: Learnt,
) {
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

type Learnt = (input: VehicleInput, groups: Record<number, string>, heavy: boolean) => VehicleInput;

/** How wear scatters in light and heavy vehicles, as those with most readings teach it. */
function wearProcesses(vehicles: readonly Vehicle[], known: Learnt): (heavy: boolean) => WearProcess {
  const [light, heavy] = [false, true].map((which) => {
    const own = vehicles.filter((one) => one.heavy === which);
    const teachers = teachersOfProcess(own.map((one) => ({ ...one, readings: one.input.readings.length })));
    return learnWearProcess(teachers.map(({ input, groups }) => processEvidence(known(input, groups, which))));
  }) as [WearProcess, WearProcess];
  return (which) => (which ? heavy : light);
}

/** Papers with what the fleet taught of appraisers and groups. */
const learntBy =
  (appraisers: Record<string, Appraiser>, priors: ReadonlyMap<string, WearPrior>): Learnt =>
  (input, groups) => ({
    ...input,
    appraisers,
    axles: input.axles.map((axle) => ({ ...axle, prior: priors.get(groups[axle.axle] ?? '') ?? axle.prior })),
  });

/** Two simple methods, as the trials' own score has them are not known here: the product's own stand for them. */
interface Outcome {
  looks: number;
  trueMi: number;
  miles: Record<'p05' | 'p10' | 'p50' | 'p90' | 'p95', number>;
  twoPointMi: number | undefined;
  leastSquaresMi: number | undefined;
}

function forecast(folder: string): { outcomes: Outcome[]; lines: string[]; seconds: number } {
  const papers = load(folder);
  const begun = performance.now();
  const processOf = processesOf(papers);
  const vehicles = papers.map((one) => ({ ...one, input: withDutyAhead(one.input, processOf(one.heavy)) }));
  const technicians = [...new Set(vehicles.flatMap(({ input }) => input.readings.map(({ technician }) => technician)))];
  const { appraisers, priors, drift } = learnPapers({
    parts: technicians.sort().map((name) => ({ key: name, technician: name, gauge: `gauge of ${name}` })),
    vehicles: vehicles.map(({ input, groups, heavy }) => ({
      input: (known, prior) => ({
        ...input,
        appraisers: known,
        axles: input.axles.map((axle) => ({ ...axle, prior: prior(groups[axle.axle] ?? '') ?? axle.prior })),
      }),
      groups,
      heavy,
    })),
  });
  const learntOf = learntBy(appraisers, priors);
  const known: Learnt = (input, groups, heavy) => withDrift(learntOf(input, groups, heavy), drift);
  const wear = wearProcesses(vehicles, known);
  const learnt: Learnt = (input, groups, heavy) => withProcess(known(input, groups, heavy), wear(heavy));
  const truths = by(csv(path.join(folder, 'truth'), 'crossings'), ({ vehicle }) => vehicle ?? '');
  const outcomes: Outcome[] = [];
  const lines: string[] = [];
  for (const { id, input, groups, heavy } of vehicles) {
    const known = learnt(input, groups, heavy);
    const { axles, odometerNowMi } = forecastVehicle(known, { riskTarget: 0.05, seed: 1, draws: 1024 });
    for (const truth of truths.get(id) ?? []) {
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
        twoPointMi: simple?.twoPointMi,
        leastSquaresMi: simple?.leastSquaresMi,
      });
    }
  }
  const seconds = (performance.now() - begun) / 1000;
  calibrations(path.basename(folder), papers, processOf, learnt);
  return { outcomes, lines, seconds };
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
  print(
    `truth above the median, ${name}`,
    (100 * own.filter(({ trueMi, miles }) => trueMi > miles.p50).length) / own.length,
    '%',
  );
  const shares = { p05: 0.05, p10: 0.1, p50: 0.5, p90: 0.9, p95: 0.95 } as const;
  const pinball = own.map(
    ({ trueMi, miles }) =>
      Object.entries(shares).reduce((sum, [key, p]) => {
        const over = trueMi - miles[key as keyof typeof shares];
        return sum + Math.max(p * over, (p - 1) * over);
      }, 0) / Object.keys(shares).length,
  );
  print(`pinball loss over five quantiles, ${name}`, pinball.reduce((a, b) => a + b, 0) / own.length, 'mi');
}

for (const folder of process.argv.slice(2)) {
  const fleet = path.basename(folder);
  const { outcomes, lines, seconds } = forecast(folder);
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
