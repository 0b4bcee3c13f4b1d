import { z } from 'zod';
import { HYDRAULIC_CALIPERS, HYDRAULIC_PARKING, SENSOR_PLACES } from '@mile-mark/core';
import { DistanceUnit, Id, IsoDate, Name, Reason, SeenRevision, VehicleClass } from '../common.ts';

export const Depot = z.object({
  id: Id,
  name: z.string(),
  timeZone: z.string(),
  /** Vehicles that stand there now. */
  vehicles: z.int(),
  closedOn: IsoDate.nullable(),
  revision: z.int(),
});
export type Depot = z.infer<typeof Depot>;

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
  /** Between MIN and MAX of the brake fluid reservoir, mL; null until the shop has said it. */
  reservoirMl: z.number().nullable(),
  /** Where it is lifted, in the shop's words from the maker's manual. */
  liftingPoints: z.string().nullable(),
  /** Whether it has a retarder or an engine brake of its own. */
  retarder: z.boolean(),
  revision: z.int(),
});
export type Model = z.infer<typeof Model>;

const AxleBuild = z.object({
  axle: z.int().min(1).max(6),
  /** Of hydraulic axles; an air disc is what it is. */
  caliper: z.enum(HYDRAULIC_CALIPERS).optional(),
  parking: z.enum(HYDRAULIC_PARKING).optional(),
  sensor: z.enum(SENSOR_PLACES),
});

/** How the brakes of a model are built, what its reservoir holds and where it is lifted: what its service cards hang on. */
export const ModelBuild = z.object({
  axles: z.array(AxleBuild).max(6),
  reservoirMl: z
    .int('A whole number of mL is accepted.')
    .min(10, 'From 10 mL is accepted.')
    .max(3000, 'Up to 3,000 mL is accepted.')
    .nullable(),
  liftingPoints: z.string().trim().max(300, 'At most 300 characters are accepted.').nullable(),
  /** As it is, where left out. */
  retarder: z.boolean().optional(),
  revision: SeenRevision,
});
export type ModelBuild = z.infer<typeof ModelBuild>;

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
  slowdownsPerMile: z.number(),
  slowdownFromMph: z.number(),
  slowdownToMph: z.number(),
  /** Height of the longest descent in one piece, m; 0 where it is not known. */
  longestDescentM: z.number(),
  source: z.enum(['stated', 'trace']),
  sourceNote: z.string().nullable(),
});
export type Duty = z.infer<typeof Duty>;

export const DutyInUse = Duty.extend({
  /** Vehicles that drive it today. */
  vehicles: z.int(),
});
export type DutyInUse = z.infer<typeof DutyInUse>;

const figure = (least: number, most: number, what: string) =>
  z
    .number({ error: `A figure between ${least} and ${most} ${what} is accepted.` })
    .min(least, `At least ${least} ${what} is accepted.`)
    .max(most, `At most ${most} ${what} is accepted.`);

export const NewDuty = z
  .object({
    id: Id,
    name: Name.max(60, 'At most 60 characters are accepted.'),
    stopsPerMile: figure(0, 40, 'stops a mile'),
    mphBeforeStop: figure(1, 85, 'mph'),
    payloadShare: figure(0, 1.5, 'of the payload'),
    descentMPerMile: figure(0, 160, 'm a mile'),
    retarderShare: figure(0, 0.95, 'of the work'),
    towedKg: figure(0, 40_000, 'kg'),
    milesPerDay: figure(0.5, 1000, 'miles a day'),
    slowdownsPerMile: figure(0, 60, 'slowdowns a mile').default(0),
    slowdownFromMph: figure(0, 85, 'mph').default(0),
    slowdownToMph: figure(0, 85, 'mph').default(0),
    longestDescentM: figure(0, 3000, 'm').default(0),
    source: z.enum(['stated', 'trace']).default('stated'),
    sourceNote: z.string().trim().max(300, 'At most 300 characters are accepted.').optional(),
  })
  .refine(({ slowdownFromMph, slowdownToMph }) => slowdownToMph <= slowdownFromMph, {
    path: ['slowdownToMph'],
    error: 'A slowdown ends at no more than the speed it begins at.',
  });
export type NewDuty = z.infer<typeof NewDuty>;

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
  leastMm: z.number().min(0.1, 'At least 0.1 mm is accepted.').max(30, 'At most 30 mm is accepted.'),
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
  /** Unit of a bare figure; a unit typed with it counts. */
  odometerUnit: DistanceUnit.optional(),
});

/** Miles a day of this vehicle under a duty; as the duty states it, where left out. */
export const OwnMilesPerDay = z
  .number()
  .min(0, 'Nought or more is accepted.')
  .max(1500, 'Up to 1,500 a day is accepted.');

export const NewDutyPeriod = z.object({ id: Id, duty: Name, from: IsoDate, milesPerDay: OwnMilesPerDay.optional() });

/** What a stretch of duty should have said: another duty, another first day, or nothing: it never was. */
export const DutyCorrection = z.object({
  id: Id,
  instead: z.object({ duty: Name, from: IsoDate }).nullable(),
  reason: Reason,
});
