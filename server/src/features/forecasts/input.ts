import {
  type AxleRotors,
  classPrior,
  DEFAULT_NOISE,
  type Appraiser,
  type DutyProcess,
  appraiserKeyOf,
  type LimitRule,
  metresToMiles,
  type ReadingInput,
  type ServiceLimit,
  UNKNOWN_APPRAISER,
  type VehicleInput,
  type WearPrior,
  type WearProcess,
  type Widening,
  withDrift,
  withProcess,
} from '@mile-mark/core';
import { appraiserKey } from '../gauges/index.ts';
import { limitOf, limitsInForce, type ModelAxleRow } from '../register/index.ts';
import { dutyWithLevel } from './duty.ts';
import type { LiveReading, VehicleRecord } from './record.ts';

export function readingInputOf(row: LiveReading): ReadingInput {
  return {
    id: row.id,
    date: row.measured_on,
    miles: metresToMiles(row.odometer_m),
    axle: row.axle,
    side: row.side,
    pad: row.pad,
    mm: row.thickness_um / 1000,
    unit: row.unit,
    resolutionMm: row.resolution_um / 1000,
    technician: row.technician_id,
    appraiser: appraiserKey(row.technician_id, row.gauge_id),
    trust: row.trust,
  };
}

/** How what is driven behaves in a class: severity as it is measured and as it is stated, and miles a day. */
export interface ClassProcesses {
  duty: DutyProcess;
  stated: DutyProcess;
  pace: DutyProcess;
}

/** What, besides a vehicle's own record, its forecast rests on. */
export interface InputContext {
  rules: LimitRule[];
  /** Shop's margin as a share of new thickness. */
  marginShare: number;
  /** Prior of an axle's group, where the fleet has taught one. */
  priors: (modelId: string, axle: number) => WearPrior | undefined;
  /** How duty and miles a day behave in a class of vehicle. */
  processOf: (vehicleClass: string) => ClassProcesses;
  /** How wear scatters in a class of vehicle. */
  wearProcessOf: (vehicleClass: string) => WearProcess;
  /** How much wider the intervals of a class are made, as its past forecasts had to be; undefined where none. */
  wideningOf: (vehicleClass: string) => Widening | undefined;
  /** How far appraisers' biases were off their mean in a quarter, mm, by key of both. */
  drift: ReadonlyMap<string, number>;
  /** What is known of an appraiser, by its key. */
  appraiserOf: (key: string) => Appraiser;
}

const PAPERS = new WeakMap<VehicleRecord, ReturnType<typeof readPapers>>();

/** What of a record is the same whatever else is known: made once, as a refresh asks a vehicle a dozen times. */
function papersOf(record: VehicleRecord): ReturnType<typeof readPapers> {
  const known = PAPERS.get(record) ?? readPapers(record);
  PAPERS.set(record, known);
  return known;
}

function readPapers(record: VehicleRecord) {
  const readings = record.readings.map(readingInputOf);
  return {
    readings,
    fittings: record.services
      .filter(({ fitted }) => fitted !== 'rotors')
      .map(({ axle, fitted_on, odometer_m }) => ({ axle, date: fitted_on, miles: metresToMiles(odometer_m) })),
    remedies: record.remedies.map(({ found_on, axle, side }) => ({ date: found_on, axle, side })),
    odometers: record.odometers.map(({ read_on, odometer_m }) => ({ date: read_on, miles: metresToMiles(odometer_m) })),
    appraiserKeys: [...new Set(readings.map(appraiserKeyOf))].sort(),
  };
}

/** What the core needs to forecast one vehicle. */
export function vehicleInputOf(record: VehicleRecord, context: InputContext, today: string): VehicleInput {
  const { model } = record;
  const begun = record.dutyPeriods.filter(({ period }) => period.fromDate <= today);
  const [before, present] = begun.length > 1 ? begun.slice(-2) : [undefined, begun[0] ?? record.dutyPeriods[0]];
  const { readings, fittings, remedies, odometers, appraiserKeys } = papersOf(record);
  const { spans, ahead } = dutyWithLevel(record, context, today);
  const input: VehicleInput = {
    axles: record.axles.map((axle) => ({
      axle: axle.axle,
      newMm: axle.padNewUm / 1000,
      plateMm: axle.backingPlateUm / 1000,
      ...limitsOf(limitOf(model, axle, context.rules, context.marginShare)),
      prior: context.priors(model.id, axle.axle) ?? classPrior(model.class === 'heavy' ? 'heavy' : 'light'),
      rotor: rotorOf(record, axle),
    })),
    readings,
    fittings,
    remedies,
    odometers,
    duty: spans,
    ahead,
    pace: context.processOf(model.class).pace,
    statedMilesPerDay: present && perDayOf(present),
    statedMilesPerDayBefore: before && perDayOf(before),
    appraisers: Object.fromEntries(appraiserKeys.map((key) => [key, context.appraiserOf(key)])),
    unknownAppraiser: UNKNOWN_APPRAISER,
    noise: DEFAULT_NOISE,
    widening: context.wideningOf(model.class),
    today,
  };
  return withDrift(withProcess(input, context.wearProcessOf(model.class)), context.drift);
}

/** Miles a day under a duty: this vehicle's own where they were said, else what the duty states. */
const perDayOf = ({ period, duty }: VehicleRecord['dutyPeriods'][number]): number =>
  period.milesPerDay ?? duty.milesPerDay;

/** The same from what stood on record on an earlier day. */
export function inputAsItStood(record: VehicleRecord, day: string, context: InputContext): VehicleInput {
  const until = <T>(rows: readonly T[], dateOf: (row: T) => string) => rows.filter((row) => dateOf(row) <= day);
  return vehicleInputOf(
    {
      ...record,
      readings: until(record.readings, (row) => row.measured_on),
      services: until(record.services, (row) => row.fitted_on),
      odometers: until(record.odometers, (row) => row.read_on),
      rotors: until(record.rotors, (row) => row.measured_on),
      remedies: until(record.remedies, (row) => row.found_on),
      dutyPeriods: until(record.dutyPeriods, ({ period }) => period.fromDate),
      measured: until(record.measured, (row) => row.to_date),
    },
    context,
    day,
  );
}

/** The service limit, and the least that law or the shop's policy allows on the road. */
function limitsOf({ limitMm, candidates }: ServiceLimit): { limitMm: number; leastMm: number } {
  const binding = candidates.filter(({ kind }) => kind === 'law' || kind === 'policy').map(({ leastMm }) => leastMm);
  return { limitMm, leastMm: binding.length > 0 ? Math.max(...binding) : limitMm };
}

function rotorOf({ services, rotors }: VehicleRecord, modelAxle: ModelAxleRow): AxleRotors | undefined {
  const { axle, rotorNewUm } = modelAxle;
  const { rotorDiscardUm } = limitsInForce(modelAxle);
  if (rotorNewUm == null || rotorDiscardUm == null) return undefined;
  const fitted = services.filter((one) => one.axle === axle && one.fitted !== 'pads').at(-1);
  return {
    newMm: rotorNewUm / 1000,
    discardMm: rotorDiscardUm / 1000,
    fittedMiles: fitted && metresToMiles(fitted.odometer_m),
    fittedOn: fitted?.fitted_on,
    readings: rotors
      .filter((one) => one.axle === axle)
      .map(({ side, measured_on, odometer_m, thickness_um }) => ({
        side,
        date: measured_on,
        miles: metresToMiles(odometer_m),
        mm: thickness_um / 1000,
      })),
  };
}
