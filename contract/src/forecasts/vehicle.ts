import { z } from 'zod';
import { Id, Pad, Side } from '../common.ts';
import { FindingSeen, PhotoSeen, Reading, RotorMeasured } from '../inspections/index.ts';
import { Axle, Duty, FleetVehicle, VehicleRow } from '../register/index.ts';
import { WearChange } from './changes.ts';
import { MileMark, Refresh } from './marks.ts';

const LimitCandidate = z.object({
  kind: z.enum(['law', 'policy', 'maker', 'margin']),
  leastMm: z.number(),
  equalityPasses: z.boolean(),
  source: z.string(),
});

export const PadDetail = z.object({
  side: Side,
  pad: Pad,
  meanMm: z.number(),
  sdMm: z.number(),
  ratePer1000Mi: z.number(),
  pooled: z.object({ valueMm: z.number(), sdMm: z.number(), readings: z.int(), technicians: z.int() }).nullable(),
  trace: z.array(z.object({ date: z.string(), miles: z.number(), meanMm: z.number(), sdMm: z.number() })),
});
export type PadDetail = z.infer<typeof PadDetail>;

const shares = <T extends z.ZodType>(of: T) =>
  z.object({ p05: of, p10: of, p25: of, p50: of, p75: of, p90: of, p95: of });

const Decision = z.object({
  /** What makes the interval of the miles left wide: shares of its variance, together 1; null where nothing does. */
  width: z.object({ duty: z.number(), wear: z.number(), thickness: z.number() }).nullable(),
  /** How many times wider than computed its intervals are, as past forecasts of its class had to be; null where none. */
  widened: z.number().nullable(),
  ruledBy: z.enum(['risk', 'cost']),
  riskMarkMi: z.number(),
  costMarkMi: z.number().nullable(),
  /** Cost a mile at the mark of least cost, in minor units. */
  costPerMileMinor: z.number().nullable(),
  miles: shares(z.number()),
  dates: shares(z.string()),
  rotor: z
    .object({
      side: Side,
      meanMm: z.number(),
      sdMm: z.number(),
      discardMm: z.number(),
      measured: z.int(),
      belowNow: z.number(),
      belowWithThesePads: z.number(),
      belowWithNextPads: z.number(),
    })
    .nullable(),
});

export const AxleDetail = Axle.extend({
  limit: z.object({ limitMm: z.number(), ruling: LimitCandidate, candidates: z.array(LimitCandidate) }),
  mark: MileMark.nullable(),
  pads: z.array(PadDetail),
  fitted: z.object({ date: z.string(), miles: z.number() }).nullable(),
  workPerMileKj: z.number().nullable(),
  decision: Decision.nullable(),
  /** How hot its rotors get under the present duty, °C. */
  temperature: z
    .object({
      meanC: z.number(),
      stopRiseK: z.number(),
      descentRiseK: z.number(),
      peakC: z.number(),
      fadeC: z.number(),
      fades: z.enum(['stop', 'descent', 'mean']).optional(),
    })
    .nullable(),
});
export type AxleDetail = z.infer<typeof AxleDetail>;

/** How far a vehicle is driven a day; how it scatters and changes is not known of a forecast made before that was told. */
export const MilesPerDay = z.object({
  mean: z.number(),
  sd: z.number(),
  basis: z.string(),
  scatter: z.number().optional(),
  changesAYear: z.number().optional(),
});

export const VehicleDetail = VehicleRow.extend({
  revision: FleetVehicle.shape.revision,
  start: FleetVehicle.shape.start,
  move: FleetVehicle.shape.move,
  left: FleetVehicle.shape.left,
  instruments: FleetVehicle.shape.instruments,
  today: z.string(),
  riskTarget: z.number(),
  currency: z.string().nullable(),
  refresh: Refresh,
  milesPerDay: MilesPerDay.nullable(),
  odometerNowMi: z.number().nullable(),
  gvwrKg: z.number(),
  tareKg: z.number(),
  axleDetails: z.array(AxleDetail),
  dutyPeriods: z.array(
    z.object({
      id: Id,
      duty: Duty,
      from: z.string(),
      to: z.string().nullable(),
      severity: z.number(),
      massKg: z.number(),
      stopsKjPerMile: z.number(),
      slowdownsKjPerMile: z.number(),
      descentsKjPerMile: z.number(),
      towingKjPerMile: z.number(),
    }),
  ),
  /** What the feed of driven days measured, as severities by dates. */
  measuredDuty: z.array(z.object({ from: z.string(), to: z.string().nullable(), severity: z.number() })),
  /** The level of the present route where duty is measured, with its 90 % interval; null where it is stated only. */
  dutyAhead: z
    .object({
      severity: z.number(),
      from: z.number(),
      to: z.number(),
      /** Blocks of 28 days that were measured. */
      blocks: z.int(),
      /** Scatter of a block about the level, one sd of the logarithm. */
      scatter: z.number(),
      /** How much of what a block is off the level is believed; the rest is error of measuring it. */
      believed: z.number(),
      /** Changes of route to be expected in a year, as its class has them; null where another duty is dated ahead: none is expected before it. */
      changesAYear: z.number().nullable(),
    })
    .nullable(),
  /** Changes of a stated duty to be expected in a year, as its class has them; null where duty is measured, or another is dated ahead. */
  statedChangesAYear: z.number().nullable(),
  referenceDuty: z.string().nullable(),
  services: z.array(
    z.object({
      id: Id,
      axle: z.int(),
      date: z.string(),
      odometerMi: z.number(),
      fitted: z.string(),
      recordedBy: z.string(),
    }),
  ),
  readings: z.array(Reading),
  /** Changes of wear that readings showed, open ones first. */
  changes: z.array(WearChange),
  /** A change that is likely but not sure, and widens its forecast meanwhile; null where there is none. */
  suspected: z
    .object({
      kind: z.enum(['apart', 'wheel', 'axle', 'route']),
      axle: z.int().optional(),
      side: Side.optional(),
      more: Pad.optional(),
      since: z.string(),
      probability: z.number(),
    })
    .nullable(),
  /** How many times what its duty explains it wears; null before a forecast. */
  explained: z.object({ p05: z.number(), p50: z.number(), p95: z.number() }).nullable(),
  rotors: z.array(RotorMeasured),
  findings: z.array(FindingSeen),
  photos: z.array(PhotoSeen),
  unseen: z.array(z.object({ id: Id, date: z.string(), axle: z.int(), side: Side, pad: Pad, technician: z.string() })),
});
export type VehicleDetail = z.infer<typeof VehicleDetail>;

/** The marks as they would stand with each axle's last look taken at face value. */
export const WithoutPooling = z.object({
  unit: z.string(),
  axles: z.array(
    z.object({
      axle: z.int(),
      markDate: z.string(),
      markOdometerMi: z.number(),
      medianDate: z.string(),
      technician: z.string().nullable(),
      gauge: z.string().nullable(),
      date: z.string().nullable(),
    }),
  ),
});
export type WithoutPooling = z.infer<typeof WithoutPooling>;
