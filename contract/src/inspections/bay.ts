import { z } from 'zod';
import { Id, Pad, Role, Side, VehicleClass } from '../common.ts';
import { Gauge } from '../gauges/index.ts';

/** What is expected of a pad today. */
const BayPad = z.object({
  side: Side,
  pad: Pad,
  meanMm: z.number(),
  sdMm: z.number(),
  ratePer1000Mi: z.number(),
  /** Pooled from its readings alone, carried to today; null where there is none since fitted. */
  pooledMm: z.number().nullable(),
  readings: z.int(),
  people: z.int(),
});
export type BayPad = z.infer<typeof BayPad>;

/** What one more look at an axle would bring, on average. */
export const Worth = z.object({ laterMi: z.number(), width80Mi: z.number(), width80AfterMi: z.number() });
export type Worth = z.infer<typeof Worth>;

const BayAxle = z.object({
  axle: z.int(),
  newMm: z.number(),
  plateMm: z.number(),
  limitMm: z.number(),
  rotorNewMm: z.number().nullable(),
  rotorDiscardMm: z.number().nullable(),
  /** Of the released specification; null where none is. */
  runoutLimitMm: z.number().nullable(),
  variationLimitMm: z.number().nullable(),
  fittedOn: z.string().nullable(),
  markDate: z.string().nullable(),
  /** Somebody asked for a look at it, and none was taken since: to measure a reading in doubt again, or at a change of wear. */
  asked: z
    .object({
      what: z.enum(['measure again', 'look']),
      by: z.string(),
      on: z.string(),
      note: z.string().nullable(),
      /** Which pad or wheel; null where it is the whole axle. */
      side: Side.nullable(),
      pad: Pad.nullable(),
    })
    .nullable(),
  worth: Worth.nullable(),
  pads: z.array(BayPad),
});
export type BayAxle = z.infer<typeof BayAxle>;

export const BayVehicle = z.object({
  unit: z.string(),
  model: z.string(),
  class: VehicleClass,
  depot: z.string(),
  odometerNowMi: z.number().nullable(),
  milesPerDay: z.number().nullable(),
  last: z.object({ date: z.string(), miles: z.number() }).nullable(),
  axles: z.array(BayAxle),
});
export type BayVehicle = z.infer<typeof BayVehicle>;

/** What is known of an appraiser: a technician with a gauge. */
export const BayAppraiser = z.object({
  technicianId: Id,
  gaugeId: Id,
  biasMm: z.number(),
  biasSdMm: z.number(),
  repeatabilityMm: z.number(),
});
export type BayAppraiser = z.infer<typeof BayAppraiser>;

/** All that capture in the bay needs, so that it works without a network. */
export const Bay = z.object({
  /** The moment this state of the record was read; sent back with each inspection. */
  at: z.string(),
  today: z.string(),
  vehicles: z.array(BayVehicle),
  gauges: z.array(Gauge),
  people: z.array(z.object({ id: Id, name: z.string(), role: Role })),
  appraisers: z.array(BayAppraiser),
});
export type Bay = z.infer<typeof Bay>;

/** Asks for what changed since an answer the device has: its `cursor`. */
export const BayQuery = z.object({ since: z.string().max(1000).optional() });

/** The same as it is sent: all of it, or of the vehicles those that changed since a cursor. */
export const BayAnswer = Bay.extend({
  /** Whether all vehicles are sent: also where it can't be told what changed since. */
  whole: z.boolean(),
  /** All vehicles there are, in order: one that the device lacks all the same is asked for with the whole. */
  fleet: z.array(z.object({ unit: z.string() })),
  /** What the next is asked with; means nothing else. */
  cursor: z.string(),
});
export type BayAnswer = z.infer<typeof BayAnswer>;
