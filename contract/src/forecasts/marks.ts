import { z } from 'zod';
import { VehicleClass } from '../common.ts';
import { Worth } from '../inspections/index.ts';

const Evidence = z.object({
  readings: z.int(),
  technicians: z.int(),
  lastDate: z.string().nullable(),
  earlierReadings: z.int(),
});

export const MileMark = z.object({
  unit: z.string(),
  axle: z.int(),
  depot: z.string(),
  class: VehicleClass,
  model: z.string(),
  thinnestMm: z.number(),
  newMm: z.number(),
  serviceLimitMm: z.number(),
  odometerNowMi: z.number(),
  milesPerDay: z.number(),
  markOdometerMi: z.number(),
  markDate: z.string(),
  /** What set the mark: the risk of being below the limit, or the cost per mile. */
  ruledBy: z.enum(['risk', 'cost']),
  nextInspectionDue: z.string(),
  medianOdometerMi: z.number(),
  medianDate: z.string(),
  interval80: z.object({ fromMi: z.number(), toMi: z.number(), fromDate: z.string(), toDate: z.string() }),
  probabilityBelowNow: z.number(),
  worth: Worth,
  evidence: Evidence,
});
export type MileMark = z.infer<typeof MileMark>;

export const Refresh = z.object({
  /** Vehicles whose forecast does not yet rest on all that was written. */
  pending: z.int(),
  computedAt: z.string().nullable(),
  /** Vehicles whose forecast could not be made as their record stands, and why: what is told of them is from before. */
  failed: z.array(z.object({ unit: z.string(), message: z.string() })),
});

export const MileMarks = z.object({
  today: z.string(),
  riskTarget: z.number(),
  refresh: Refresh,
  items: z.array(MileMark),
});
export type MileMarks = z.infer<typeof MileMarks>;
