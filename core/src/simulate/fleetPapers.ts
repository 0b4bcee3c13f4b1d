import type { DutyProcess, DutySpan } from '../duty/index.ts';
import type { PadPlace } from '../measure/index.ts';
import type { IsoDate } from '../units/index.ts';
import type { Habits } from './habits.ts';

/** A technician of the fleet with the truth about the appraiser. */
export interface FleetAppraiser {
  name: string;
  biasMm: number;
  repeatabilityMm: number;
  resolutionMm: number;
}

/** A gross error of a virtual reading: plate included, inches for mm, digits swapped, anything. */
export type GrossKind = 'plate' | 'inches' | 'digits' | 'stray';

/** A virtual reading with its truth. */
export interface FleetReading extends PadPlace {
  id: string;
  /** As it was written down, mm; a mistaken unit or swapped digits included. */
  mm: number;
  trueMm: number;
  gross?: GrossKind | undefined;
}

/** A virtual look at a vehicle by one appraiser. */
export interface FleetInspection {
  date: IsoDate;
  miles: number;
  appraiser: FleetAppraiser;
  readings: FleetReading[];
  /** True thickness of every pad when the visit was over, in the order of `padPlaces`, mm. */
  leftMm: number[];
}

/** A stretch of the road as it was, or would have been, driven. */
export interface FleetStretch {
  /** Day number of its end, and odometer there, miles. */
  day: number;
  miles: number;
  /** Severity as it really was, without the scatter of its 28 days. */
  severity: number;
  /** Wear of each pad as if no slide had seized, in the order of `padPlaces`, mm. */
  wearMm: number[];
}

/** A virtual vehicle with its papers and its truth. */
export interface FleetVehicle {
  id: string;
  /** Model-axle group of each axle. */
  groups: Record<number, string>;
  axles: { axle: number; newMm: number; plateMm: number; limitMm: number }[];
  /** Severity as the planner knows it. */
  duty: DutySpan[];
  inspections: FleetInspection[];
  fittings: { date: IsoDate; miles: number; axle: number }[];
  startMiles: number;
  /** The wheel whose slide seized, where one did. */
  seized?: { axle: number; side: 'left' | 'right'; from: IsoDate; freed?: IsoDate | undefined } | undefined;
  /** A route that changed without anybody saying so, by how many times it wears more. */
  unstated?: { from: IsoDate; factor: number } | undefined;
  /** True wear of each pad at severity 1, mm per 1,000 miles, as if no slide had seized. */
  ratesMm: number[];
  /** The whole road, past the last inspection, until every pad would have worn through. */
  road: FleetStretch[];
}

/** What a fleet teaches of its levels. */
export interface FleetProcesses {
  /** Of measured duty; undefined where none was measured. */
  measured: DutyProcess | undefined;
  stated: DutyProcess;
  pace: DutyProcess;
}

/** A virtual fleet with its appraisers. */
export interface VirtualFleet {
  appraisers: FleetAppraiser[];
  vehicles: FleetVehicle[];
  from: IsoDate;
  to: IsoDate;
  /** How its duty and its miles a day behave, where that was learnt. */
  processes?: FleetProcesses | undefined;
}

/** What a virtual fleet is to be; the same seed gives the same fleet. */
export interface FleetOptions {
  vehicles: number;
  technicians: number;
  seed: number;
  from: IsoDate;
  days: number;
  /** Share of vehicles whose route changes, once, without the papers saying so; 0 where left out. */
  unstatedRoutes?: number | undefined;
  /** Ways in which it breaks what forecasts assume. */
  habits?: Habits | undefined;
}

/** Truth of the fleet on which the forecasting method was measured (design of this product; invented). */
export const TRUTH = {
  groups: 12,
  groupSpread: 0.35,
  vehicleSpread: 0.25,
  padSpread: 0.08,
  shock: 0.2,
  severityOff: 0.15 / Math.SQRT2,
  routeChange: 0.15,
  seized: 0.04,
  grossChance: 0.02,
  skipAxle: 0.1,
  biasSd: 0.35,
  toleranceMm: 0.1,
};
