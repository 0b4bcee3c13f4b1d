/** Papers of trial fleets as a forecast takes them, and what a fleet teaches, as a refresh learns it. */
import { parse } from 'csv-parse/sync';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import {
  classPrior,
  dateOfDay,
  dayNumber,
  DEFAULT_NOISE,
  forecastVehicle,
  DEFAULT_PACE_PROCESS,
  DEFAULT_WEAR_PROCESS,
  learnDutyProcess,
  paceBlocks,
  risingOdometers,
  learnPapers,
  learnWearProcess,
  measuredBlocks,
  processEvidence,
  teachersOfProcess,
  UNKNOWN_APPRAISER,
  withDrift,
  withLevelAhead,
  withProcess,
  type Appraiser,
  type DutyProcess,
  type Pad,
  type ReadingInput,
  type Side,
  type VehicleForecast,
  type VehicleInput,
  type WearPrior,
  type WearProcess,
} from '@mile-mark/core';

export type Row = Record<string, string>;
export const AXLES: Record<string, number> = { front: 1, rear: 2 };
const PLATE_MM = { light: 5.5, heavy: 8 };
/** Steps that gauges have, mm, coarse first. */
const STEPS = [1, 25.4 / 32, 0.5, 0.254, 0.1, 0.05, 0.01];

export const csv = (folder: string, name: string): Row[] =>
  parse(readFileSync(path.join(folder, `${name}.csv`), 'utf8'), { columns: true });
const by = (rows: readonly Row[], of: (row: Row) => string) => {
  const groups = new Map<string, Row[]>();
  for (const row of rows) groups.set(of(row), [...(groups.get(of(row)) ?? []), row]);
  return groups;
};

/** The day from which a fleet's days are counted. */
export function originOf(folder: string): number {
  const [first] = csv(folder, 'readings');
  return dayNumber(first?.date as string) - Math.floor(Number(first?.day));
}

/** A vehicle's papers as they stood on a day. */
export function asItStood(input: VehicleInput, today: string): VehicleInput {
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

/** The step of a gauge: the largest under which nine in ten of its figures fall on the grid. */
function stepOf(figures: readonly number[]): number {
  const fits = (step: number) =>
    figures.filter((mm) => Math.abs(mm / step - Math.round(mm / step)) * step < 0.006).length / figures.length;
  return STEPS.find((step) => fits(step) >= 0.9) ?? 0.01;
}

export interface Vehicle {
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
  const origin = originOf(folder);
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

/** How severity and miles a day behave in a class. */
export interface Processes {
  duty: DutyProcess;
  pace: DutyProcess;
}

/** How duty and miles a day behave in a fleet's light and heavy vehicles, as their blocks and odometers teach it. */
function processesOf(vehicles: readonly Vehicle[]): (heavy: boolean) => Processes {
  const [light, heavy] = [false, true].map((which) => {
    const own = vehicles.filter((one) => one.heavy === which).map(({ input }) => input);
    const paces = own.map(({ odometers }) => paceBlocks(risingOdometers(odometers)));
    return {
      duty: learnDutyProcess(own.map((input) => measuredBlocks(input.duty, input.today))),
      pace: learnDutyProcess(paces, DEFAULT_PACE_PROCESS),
    };
  }) as [Processes, Processes];
  return (which) => (which ? heavy : light);
}

/** A vehicle's papers with what may become of its duty and its miles a day. */
export function withDutyAhead(input: VehicleInput, { duty, pace }: Processes): VehicleInput {
  const numbers = input.axles.map(({ axle }) => axle);
  const { spans, ahead } = withLevelAhead(input.duty, input.today, numbers, duty);
  return withProcess({ ...input, duty: spans, ahead, pace }, DEFAULT_WEAR_PROCESS);
}

export type Learnt = (input: VehicleInput, groups: Record<number, string>, heavy: boolean) => VehicleInput;

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

/** A fleet with what it taught, and the truth of each vehicle's axles. */
export interface TrialFleet {
  papers: Vehicle[];
  vehicles: Vehicle[];
  processOf: (heavy: boolean) => Processes;
  learnt: Learnt;
  truths: Map<string, Row[]>;
}

export function learnFleet(folder: string): TrialFleet {
  const papers = load(folder);
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
  return { papers, vehicles, processOf, learnt, truths };
}

/** A vehicle's forecast, as the refresh makes it. */
export const forecastOf = ({ learnt }: TrialFleet, { input, groups, heavy }: Vehicle): VehicleForecast =>
  forecastVehicle(learnt(input, groups, heavy), { riskTarget: 0.05, seed: 1, draws: 1024 });
