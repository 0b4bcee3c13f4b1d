import {
  classPrior,
  DEFAULT_DUTY_SETTINGS,
  DEFAULT_NOISE,
  handKeyOf,
  metresToMiles,
  serviceLimit,
  severity,
  UNKNOWN_HAND,
  type AxleRotors,
  type BrakeKind,
  type Duty,
  type DutySpan,
  type Hand,
  type LimitRule,
  type Pad,
  type ReadingInput,
  type ServiceLimit,
  type Side,
  type ThicknessUnit,
  type Trust,
  type VehicleInput,
  type WearPrior,
} from '@mile-mark/core';
import type { VehicleClass } from '@mile-mark/contract';
import type { DutyPeriodRow, DutyRow, LimitRuleRow, ModelAxleRow, ModelRow } from './entities.ts';

/** A vehicle with all that its forecast rests on, as rows. */
export interface VehicleRecord {
  id: string;
  unit: string;
  inputRev: number;
  model: ModelRow;
  axles: ModelAxleRow[];
  dutyPeriods: { period: DutyPeriodRow; duty: DutyRow }[];
  reference: DutyRow | undefined;
  readings: LiveReading[];
  services: { axle: number; fitted_on: string; odometer_m: number; fitted: string }[];
  odometers: { read_on: string; odometer_m: number }[];
  rotors: { measured_on: string; odometer_m: number; axle: number; side: Side; thickness_um: number }[];
  /** Duty as the feed of driven days measured it, by blocks of days, in order. */
  measured: { from_date: string; to_date: string; duty: Duty }[];
}

/** A reading that counts: neither superseded nor withdrawn. */
export interface LiveReading {
  id: string;
  vehicle_id: string;
  technician_id: string;
  measured_on: string;
  odometer_m: number;
  axle: number;
  side: Side;
  pad: Pad;
  thickness_um: number;
  unit: ThicknessUnit;
  resolution_um: number;
  gauge_id: string;
  /** Whether somebody looked again when it was doubted. */
  trust: Trust;
}

export function dutyOf(row: DutyRow): Duty {
  const { stopsPerMile, mphBeforeStop, payloadShare, descentMPerMile, retarderShare, towedKg } = row;
  const { slowdownsPerMile, slowdownFromMph, slowdownToMph, longestDescentM } = row;
  return {
    stopsPerMile,
    mphBeforeStop,
    payloadShare,
    descentMPerMile,
    retarderShare,
    towedKg,
    slowdownsPerMile,
    slowdownFromMph,
    slowdownToMph,
    longestDescentM: longestDescentM > 0 ? longestDescentM : undefined,
  };
}

export function limitRuleOf(row: LimitRuleRow): LimitRule {
  return {
    id: row.id,
    jurisdiction: row.jurisdiction,
    authority: row.authority as LimitRule['authority'],
    brake: row.brake as BrakeKind,
    aboveGvwrKg: row.aboveGvwrKg ?? undefined,
    upToGvwrKg: row.upToGvwrKg ?? undefined,
    leastMm: row.leastUm / 1000,
    equalityPasses: row.equalityPasses,
    source: row.source,
    revision: row.revision,
    checkedBy: row.checkedBy,
  };
}

/**
 * An axle's limits in force, µm: those of its released specification; where it leaves one blank, or none is released,
 * the model list's. A machine-to below the discard in force is of an older list and holds no more.
 */
export function limitsInForce(axle: ModelAxleRow): {
  padMakerMinUm: number;
  rotorDiscardUm: number | null;
  rotorMachineToUm: number | null;
} {
  const discard = axle.releasedRotorDiscardUm ?? axle.rotorDiscardUm ?? null;
  const machineTo = axle.releasedRotorMachineToUm ?? axle.rotorMachineToUm ?? null;
  return {
    padMakerMinUm: axle.releasedPadMinUm ?? axle.padMakerMinUm,
    rotorDiscardUm: discard,
    rotorMachineToUm: machineTo !== null && discard !== null && machineTo < discard ? null : machineTo,
  };
}

/** The service limit of an axle under the rules on record and the shop's margin. */
export function limitOf(
  model: ModelRow,
  axle: ModelAxleRow,
  rules: readonly LimitRule[],
  marginShare: number,
): ServiceLimit {
  return serviceLimit(
    {
      brake: axle.brake as BrakeKind,
      gvwrKg: model.gvwrKg,
      padNewMm: axle.padNewUm / 1000,
      padMakerMinMm: limitsInForce(axle).padMakerMinUm / 1000,
    },
    rules,
    marginShare,
  );
}

/** A span of duty, and whether the feed of driven days measured it. */
export interface RecordedSpan extends DutySpan {
  measured: boolean;
}

type DutyRecord = Pick<VehicleRecord, 'model' | 'axles' | 'dutyPeriods' | 'reference' | 'measured'>;

/**
 * Severity by dates, from the duty periods of a vehicle; where the feed measured what was driven, that counts
 * instead, and what it measured last goes on until another duty is stated.
 */
export function dutySpansOf({ model, axles, dutyPeriods, reference, measured }: DutyRecord): RecordedSpan[] {
  const settings = DEFAULT_DUTY_SETTINGS[model.class as VehicleClass];
  const base = reference ?? dutyPeriods[0]?.duty;
  if (!base) return [];
  const weigh = (duty: Duty) => ({
    severity: severity(model, duty, dutyOf(base), settings),
    byAxle: Object.fromEntries(
      axles.map(({ axle, brakeShare }) => [axle, severity(model, duty, dutyOf(base), settings, brakeShare)]),
    ),
  });
  const stated = dutyPeriods.map(({ period, duty }) => ({ from: period.fromDate, ...weigh(dutyOf(duty)) }));
  const blocks = measured.map(({ from_date, to_date, duty }) => ({ from: from_date, to: to_date, ...weigh(duty) }));
  const starts = [...new Set([...stated, ...blocks].map(({ from }) => from).concat(blocks.map(({ to }) => to)))].sort();
  const lastStated = stated.at(-1)?.from ?? '';
  const spans = starts.flatMap((from, index): RecordedSpan[] => {
    const own = stated.filter((one) => one.from <= from).at(-1) ?? stated[0];
    const block =
      blocks.find((one) => one.from <= from && from < one.to) ??
      (from >= (blocks.at(-1)?.to ?? '9') && (blocks.at(-1)?.from ?? '') >= lastStated ? blocks.at(-1) : undefined);
    const taken = block ?? own;
    if (!taken) return [];
    return [
      {
        from,
        to: starts[index + 1],
        severity: taken.severity,
        byAxle: taken.byAxle,
        continues: false,
        measured: block !== undefined,
      },
    ];
  });
  // Between blocks of the same kind nothing else begins; from stated to measured the figures themselves change.
  return spans.map((span, index) => {
    const before = spans[index - 1];
    const restated = stated.some((one) => one.from === span.from);
    return { ...span, continues: before !== undefined && before.measured === span.measured && !restated };
  });
}

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
    hand: handKey(row.technician_id, row.gauge_id),
    trust: row.trust,
  };
}

/** Key of a hand: a technician with a gauge. */
export function handKey(technicianId: string, gaugeId: string): string {
  return `${technicianId}/${gaugeId}`;
}

/** The technician and the gauge of a hand's key. */
export function partsOfHand(key: string): { technicianId: string; gaugeId: string } {
  const [technicianId = '', gaugeId = ''] = key.split('/');
  return { technicianId, gaugeId };
}

/** What, besides a vehicle's own record, its forecast rests on. */
export interface InputGround {
  rules: LimitRule[];
  /** Shop's margin as a share of new thickness. */
  marginShare: number;
  /** Prior of an axle's group, where the fleet has taught one. */
  priors: (modelId: string, axle: number) => WearPrior | undefined;
  /** What is known of a hand, by its key. */
  handOf: (key: string) => Hand;
}

/** What the core needs to forecast one vehicle. */
export function vehicleInputOf(record: VehicleRecord, ground: InputGround, today: string): VehicleInput {
  const { model } = record;
  const present = record.dutyPeriods.filter(({ period }) => period.fromDate <= today).at(-1) ?? record.dutyPeriods[0];
  const readings = record.readings.map(readingInputOf);
  return {
    axles: record.axles.map((axle) => ({
      axle: axle.axle,
      newMm: axle.padNewUm / 1000,
      plateMm: axle.backingPlateUm / 1000,
      ...limitsOf(limitOf(model, axle, ground.rules, ground.marginShare)),
      prior: ground.priors(model.id, axle.axle) ?? classPrior(model.class === 'heavy' ? 'heavy' : 'light'),
      rotor: rotorOf(record, axle),
    })),
    readings,
    fittings: record.services
      .filter(({ fitted }) => fitted !== 'rotors')
      .map(({ axle, fitted_on, odometer_m }) => ({ axle, date: fitted_on, miles: metresToMiles(odometer_m) })),
    odometers: record.odometers.map(({ read_on, odometer_m }) => ({ date: read_on, miles: metresToMiles(odometer_m) })),
    duty: dutySpansOf(record),
    statedMilesPerDay: present?.duty.milesPerDay,
    hands: Object.fromEntries([...new Set(readings.map(handKeyOf))].sort().map((key) => [key, ground.handOf(key)])),
    unknownHand: UNKNOWN_HAND,
    noise: DEFAULT_NOISE,
    today,
  };
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
