import type { Pad, Side, ThicknessUnit } from '@mile-mark/core';

/** A reading that a row would add. */
export interface ReadingRecord {
  key: string;
  column: number;
  vehicleId: string;
  unitNumber: string;
  axle: number;
  side: Side;
  pad: Pad;
  date: string;
  odometerM: number;
  odometerTyped: string;
  mm: number;
  typed: string;
  unit: ThicknessUnit;
  technicianId: string | null;
  gaugeId: string | null;
  resolutionMm: number;
  note: string;
}
