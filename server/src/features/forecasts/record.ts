import type { Duty, Pad, Side, ThicknessUnit, Trust } from '@mile-mark/core';
import type { DutyPeriodRow, DutyRow, ModelAxleRow, ModelRow } from '../register/index.ts';

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
