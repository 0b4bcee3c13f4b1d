import { z } from 'zod';
import { Id, IsoDate, Name, ThicknessUnit, VehicleClass } from './common.ts';

export const Depot = z.object({ id: Id, name: z.string() });
export type Depot = z.infer<typeof Depot>;

export const Gauge = z.object({
  id: Id,
  name: z.string(),
  kind: z.string(),
  resolutionMm: z.number(),
  unit: ThicknessUnit,
  calibrationDue: z.string().nullable(),
});
export type Gauge = z.infer<typeof Gauge>;

export const NewGauge = z.object({
  id: Id,
  name: Name,
  kind: Name,
  /** The least step the gauge shows, mm; 1/32 in is 0.79375. */
  resolutionMm: z.number().gt(0, 'More than 0 mm is accepted.').max(5, 'At most 5 mm is accepted.'),
  unit: ThicknessUnit,
  calibrationDue: IsoDate.optional(),
});
export type NewGauge = z.infer<typeof NewGauge>;

export const Axle = z.object({
  axle: z.int(),
  brake: z.enum(['hydraulic', 'air']),
  brakeDetail: z.string(),
  padNewMm: z.number(),
  backingPlateMm: z.number(),
  padMakerMinMm: z.number(),
  rotorNewMm: z.number().nullable(),
  rotorDiscardMm: z.number().nullable(),
  rotorMachineToMm: z.number().nullable(),
  pistonsMm: z.string().nullable(),
  brakeShare: z.number(),
});
export type Axle = z.infer<typeof Axle>;

export const Model = z.object({
  id: Id,
  name: z.string(),
  class: VehicleClass,
  tareKg: z.number(),
  gvwrKg: z.number(),
  referenceDuty: z.string().nullable(),
  axles: z.array(Axle),
});
export type Model = z.infer<typeof Model>;

export const Duty = z.object({
  id: Id,
  name: z.string(),
  stopsPerMile: z.number(),
  mphBeforeStop: z.number(),
  payloadShare: z.number(),
  descentMPerMile: z.number(),
  retarderShare: z.number(),
  towedKg: z.number(),
  milesPerDay: z.number(),
});
export type Duty = z.infer<typeof Duty>;

export const Limit = z.object({
  id: Id,
  jurisdiction: z.string(),
  authority: z.enum(['law', 'policy']),
  brake: z.enum(['hydraulic', 'air']),
  aboveGvwrKg: z.number().nullable(),
  upToGvwrKg: z.number().nullable(),
  leastMm: z.number(),
  equalityPasses: z.boolean(),
  source: z.string(),
  revision: z.string(),
  checkedBy: z.string(),
});
export type Limit = z.infer<typeof Limit>;

export const NewLimit = z.object({
  id: Id,
  jurisdiction: Name,
  authority: z.enum(['law', 'policy']),
  brake: z.enum(['hydraulic', 'air']),
  aboveGvwrKg: z.number().min(0).max(100_000).optional(),
  upToGvwrKg: z.number().min(0).max(100_000).optional(),
  leastMm: z.number().gt(0, 'More than 0 mm is accepted.').max(30, 'At most 30 mm is accepted.'),
  equalityPasses: z.boolean(),
  source: Name,
  revision: Name,
});

export const NewVehicle = z.object({
  id: Id,
  unit: Name.max(20, 'At most 20 characters are accepted.'),
  model: Name,
  depot: Name,
  duty: Name,
  dutyFrom: IsoDate,
  /** Odometer as typed, e.g. `41,200 mi`. */
  odometer: z.string().min(1, 'An odometer such as 41,200 mi is needed.').max(30),
});

export const NewDutyPeriod = z.object({ id: Id, duty: Name, from: IsoDate });

export const NewService = z.object({
  id: Id,
  unit: Name,
  axle: z.int().min(1).max(6),
  date: IsoDate,
  odometer: z.string().min(1, 'An odometer such as 41,200 mi is needed.').max(30),
  fitted: z.enum(['pads', 'pads and rotors', 'rotors']),
});
