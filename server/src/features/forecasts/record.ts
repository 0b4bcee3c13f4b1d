import { Pad, Side, ThicknessUnit } from '@mile-mark/contract';
import { Duty as DutyDto } from '@mile-mark/contract/register';
import type { Duty } from '@mile-mark/core';
import { z } from 'zod';
import type { DutyRow, ModelAxleRow, ModelRow } from '../register/index.ts';

/** A row of one vehicle, whose id goes without saying. */
type Of<Row> = Omit<Row, 'vehicle_id'>;

/** A vehicle with all that its forecast rests on, as rows. */
export interface VehicleRecord {
  id: string;
  unit: string;
  inputRev: number;
  /** The day it left the fleet; its forecasts are not made any more, what it measured still teaches. */
  leftOn: string | null;
  model: ModelRow;
  axles: ModelAxleRow[];
  dutyPeriods: { period: PeriodSql; duty: DutyRow }[];
  reference: DutyRow | undefined;
  readings: LiveReading[];
  services: Of<ServiceSql>[];
  odometers: Of<OdometerSql>[];
  rotors: Of<RotorSql>[];
  remedies: Of<RemedySql>[];
  /** Duty as the feed of driven days measured it, by blocks of days, in order. */
  measured: Of<MeasuredSql>[];
}

export const VehicleSql = z.object({
  id: z.string(),
  unit: z.string(),
  model_id: z.string(),
  input_rev: z.number(),
  left_on: z.string().nullable(),
});

/** Which duty a vehicle drives from a day on. */
export const PeriodSql = z.object({
  id: z.string(),
  vehicleId: z.string(),
  dutyId: z.string(),
  fromDate: z.string(),
  toDate: z.string().nullable(),
  milesPerDay: z.number().nullable(),
});
export type PeriodSql = z.output<typeof PeriodSql>;

/** A cause of wear apart, or of drag, that was found and put on record. */
export const RemedySql = z.object({ vehicle_id: z.string(), axle: z.number(), side: Side, found_on: z.string() });
export type RemedySql = z.output<typeof RemedySql>;

/** A reading that counts: neither superseded nor withdrawn. */
export const LiveReading = z.object({
  id: z.string(),
  vehicle_id: z.string(),
  technician_id: z.string(),
  measured_on: z.string(),
  odometer_m: z.number(),
  axle: z.number(),
  side: Side,
  pad: Pad,
  thickness_um: z.number(),
  unit: ThicknessUnit,
  resolution_um: z.number(),
  gauge_id: z.string(),
  /** Whether somebody looked again when it was doubted. */
  trust: z.enum(['typed', 'twice', 'settled']),
});
export type LiveReading = z.output<typeof LiveReading>;

export const ServiceSql = z.object({
  vehicle_id: z.string(),
  axle: z.number(),
  fitted_on: z.string(),
  odometer_m: z.number(),
  fitted: z.string(),
});
export type ServiceSql = z.output<typeof ServiceSql>;

export const OdometerSql = z.object({ vehicle_id: z.string(), read_on: z.string(), odometer_m: z.number() });
export type OdometerSql = z.output<typeof OdometerSql>;

export const RotorSql = z.object({
  vehicle_id: z.string(),
  measured_on: z.string(),
  odometer_m: z.number(),
  axle: z.number(),
  side: Side,
  thickness_um: z.number(),
});
export type RotorSql = z.output<typeof RotorSql>;

/** The figures of a duty that the work of the brakes hangs on; a block may lack slowdowns and its longest descent. */
const DutyFigures = DutyDto.pick({
  stopsPerMile: true,
  mphBeforeStop: true,
  payloadShare: true,
  descentMPerMile: true,
  retarderShare: true,
  towedKg: true,
}).extend(
  DutyDto.pick({ slowdownsPerMile: true, slowdownFromMph: true, slowdownToMph: true, longestDescentM: true }).partial()
    .shape,
) satisfies z.ZodType<Duty>;

export const MeasuredSql = z.object({
  vehicle_id: z.string(),
  from_date: z.string(),
  to_date: z.string(),
  duty: DutyFigures,
});
export type MeasuredSql = z.output<typeof MeasuredSql>;
