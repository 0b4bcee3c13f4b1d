import type { DutyAhead, DutyProcess, DutySpan, OdometerPoint } from '../duty/index.ts';
import type { Judgement, Pad, Side, Trust } from '../measure/index.ts';
import type { IsoDate, ThicknessUnit } from '../units/index.ts';
import type { Widening } from './calibration.ts';
import type { ServiceCosts } from './ageReplacement.ts';

/** One reading carried to today: reading − bias − wear since. */
export interface CarriedReading {
  id: string;
  biasMm: number;
  wearMm: number;
  carriedMm: number;
  /** One standard deviation of what is carried, mm. */
  sdMm: number;
  /** Share in the pad's pooled value. */
  weight: number;
  /** Chance that the reading is regular, 0 to 1. */
  regular: number;
}

/** The thinnest pad at one moment, mm, with one standard deviation. */
export interface TracePoint {
  date: IsoDate;
  miles: number;
  meanMm: number;
  sdMm: number;
}

/** Prior of the logarithm of wear, mm per 1,000 duty-weighted miles, for the pads of a model's axle. */
export interface WearPrior {
  /** Mean of the log rate. */
  mean: number;
  /** Spread shared by all pads of a vehicle (su, with what is not known of the group's own level). */
  sdVehicle: number;
  /** Spread between the axles of a vehicle (sa). */
  sdAxle: number;
  /** Spread between the pads of an axle (sw). */
  sdPad: number;
}

/** What is known of an appraiser (a technician with a gauge): readings are thickness + bias + noise. */
export interface Appraiser {
  biasMm: number;
  biasSdMm: number;
  repeatabilityMm: number;
}

/** An axle as its model has it. */
export interface AxleInput {
  /** Counted from the front, from 1. */
  axle: number;
  newMm: number;
  plateMm: number;
  /** Service limit, mm. */
  limitMm: number;
  /** Thickness below which it may not run between looks (law, or the shop's policy), mm; the service limit where left out. */
  leastMm?: number | undefined;
  prior: WearPrior;
  /** Its rotors, where the model's are on record. */
  rotor?: AxleRotors | undefined;
}

/** The rotors of an axle with their readings, mm. */
export interface AxleRotors {
  newMm: number;
  discardMm: number;
  /** When new ones were fitted last, where it is on record. */
  fittedMiles?: number | undefined;
  fittedOn?: IsoDate | undefined;
  readings: { side: Side; date: IsoDate; miles: number; mm: number }[];
}

/** A pad thickness as an appraiser read it, mm of friction material. */
export interface ReadingInput {
  id: string;
  date: IsoDate;
  /** Odometer, miles. */
  miles: number;
  axle: number;
  side: Side;
  pad: Pad;
  mm: number;
  unit: ThicknessUnit;
  resolutionMm: number;
  technician: string;
  /** Key of the appraiser in `VehicleInput.appraisers`; the technician, where left out. */
  appraiser?: string | undefined;
  /** What its appraiser reads too much in these months besides the bias over the whole record, mm; nought where left out. */
  driftMm?: number | undefined;
  /** Whether somebody looked again when it was doubted. */
  trust?: Trust | undefined;
}

/** New pads on both sides of an axle. */
export interface FittingInput {
  date: IsoDate;
  miles: number;
  axle: number;
}

/** A cause of wear apart or of drag that was found and put on record by now, whatever day its clock wrote beside it. */
export interface RemedyInput {
  date: IsoDate;
  axle: number;
  side: Side;
}

/** Everything the forecast of one vehicle rests on. */
export interface VehicleInput {
  axles: AxleInput[];
  readings: ReadingInput[];
  fittings: FittingInput[];
  /** Causes found; without one, a slide that seized may outlive new pads. */
  remedies?: readonly RemedyInput[] | undefined;
  /** Odometers on record besides those of readings and fittings. */
  odometers: OdometerPoint[];
  /** Severity by dates, in order. */
  duty: DutySpan[];
  /** What may become of the duty ahead; where it is left out, it goes on as it is. */
  ahead?: DutyAhead | undefined;
  /** How miles a day behave in its class; as assumed, where left out. */
  pace?: DutyProcess | undefined;
  /** What past forecasts of its class make of the width of intervals; as computed, where left out. */
  widening?: Widening | undefined;
  /** Miles a day that the present duty states, where it states them. */
  statedMilesPerDay?: number | undefined;
  /** What the duty before it stated, for the days since the last odometer that were still its. */
  statedMilesPerDayBefore?: number | undefined;
  /** The day from which odometers tell how far it drives now, null for all of them; where the present duty began, where left out. */
  paceFrom?: IsoDate | null | undefined;
  appraisers: Record<string, Appraiser>;
  /** An appraiser of which nothing is known. */
  unknownAppraiser: Appraiser;
  noise: WearNoise;
  today: IsoDate;
}

/** Scatter of wear, one standard deviation each. */
export interface WearNoise {
  /** Scatter of severity per 28 days, common to the vehicle (τ). */
  perPeriod: number;
  /** Shocks per pad and 1,000 miles (φ). */
  perPad: number;
  /** How far a duty that begins may be from what was stated of it, in the logarithm. */
  perDuty: number;
  /** Tolerance of new pads, one standard deviation, mm. */
  newToleranceMm: number;
}

/** What the shop decides by. */
export interface RiskPolicy {
  /** Chance of being below the service limit that the mile mark stands for. */
  riskTarget: number;
  seed: number;
  /** Draws per axle. */
  draws: number;
  /** What a service costs, in one unit of money; without it only the risk decides. */
  costs?: ServiceCosts | undefined;
}

/** What set the mile mark: the risk of being below the limit, or the cost per mile. */
export type MarkRule = 'risk' | 'cost';

/** The judgement of a reading in the course of a history; thicknesses in mm. */
export interface ReadingJudgement extends Judgement {
  id: string;
  /** The figure that was taken in: the other side's, where the sides were taken to be swapped, mm. */
  takenMm: number;
  expectedMm: number;
  expectedSdMm: number;
}
