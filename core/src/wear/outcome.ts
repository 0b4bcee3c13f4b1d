import type { Pace } from './milesPerDay.ts';
import type { Pad, Pooled, Side } from '../measure/index.ts';
import type { IsoDate } from '../units/index.ts';
import type { SuspectedChange, WearChange } from './changes.ts';
import type { DutyExplained } from './explained.ts';
import type { RotorOutlook } from './rotor.ts';
import type { CarriedReading, FittingInput, MarkRule, ReadingJudgement, TracePoint } from './types.ts';
import type { WidthShares } from './width.ts';
import type { ValueOfInspection } from './worth.ts';

/** A pad as it stands today. */
export interface PadEstimate {
  side: Side;
  pad: Pad;
  meanMm: number;
  sdMm: number;
  /** Median wear, mm per 1,000 miles under the present duty. */
  ratePer1000Mi: number;
  /** What readings since the pads were fitted say by themselves, carried to today. */
  pooled?: Pooled | undefined;
  /** Each of those readings on its way to today. */
  carried: CarriedReading[];
  /** Estimate after each event since the pads were fitted. */
  trace: TracePoint[];
}

/** Quantiles of a first passage: of odometers in miles, of dates. */
export interface Quantiles<T = number> {
  p05: T;
  p10: T;
  p25: T;
  p50: T;
  p75: T;
  p90: T;
  p95: T;
}

/** The mile mark of an axle, with what leads to it. */
export interface AxleForecast {
  axle: number;
  limitMm: number;
  pads: PadEstimate[];
  /** Thinnest of the pads' expected thicknesses, mm, at today's odometer. */
  thinnestMm: number;
  /** Odometer (miles) at which the risk target is reached; behind today's where it is passed. */
  markMiles: number;
  markDate: IsoDate;
  /** Which of the rules set the mark, and where each stands, miles. */
  ruledBy: MarkRule;
  riskMarkMiles: number;
  costMarkMiles?: number | undefined;
  /** Cost per mile at the mark of least cost, in the unit of the costs. */
  costPerMile?: number | undefined;
  /** The latest day by which to look at it, so that it is not below its least thickness before; today where that has passed. */
  nextInspectionDue: IsoDate;
  rotor?: RotorOutlook | undefined;
  /** Quantiles of the odometer of first passage, miles. */
  miles: Quantiles;
  /** The same as dates. */
  dates: Quantiles<IsoDate>;
  /** Chance that a pad is below the service limit now. */
  probabilityBelowNow: number;
  /** Last fitting of new pads, where one is on record. */
  fitted?: FittingInput | undefined;
  /** How many times wider than computed the intervals are, as past forecasts had to be to hold; undefined where none. */
  widened?: number | undefined;
  /** What makes the interval of the miles left wide; undefined where nothing does. */
  width?: WidthShares | undefined;
  /** What one more look at it would bring. */
  worth: ValueOfInspection;
  evidence: Evidence;
}

/** How much was measured of an axle. */
export interface Evidence {
  /** Readings of this axle since its pads were fitted. */
  readings: number;
  technicians: number;
  lastDate?: IsoDate | undefined;
  /** Readings of earlier pads of this axle. */
  earlierReadings: number;
}

/** How far a vehicle is driven a day: middle and one sd of the level that goes on. */
interface PaceTold extends Pick<Pace, 'mean' | 'sd' | 'basis'> {
  /** How much a period of 28 days differs from the level, one sd, as a share of it. */
  scatter: number;
  /** How often the level becomes another. */
  changesAYear: number;
}

/** The forecast of a vehicle, axle by axle. */
export interface VehicleForecast {
  axles: AxleForecast[];
  judgements: ReadingJudgement[];
  /** Changes of wear that the readings show. */
  changes: WearChange[];
  /** One that is likely but not sure, and widens the forecast meanwhile. */
  suspected?: SuspectedChange | undefined;
  /** Odometer expected today, miles. */
  odometerNowMi: number;
  /** How far it is driven a day. */
  milesPerDay: PaceTold;
  severityNow: number;
  /** How its wear compares with what its duty explains. */
  explained: DutyExplained;
}
