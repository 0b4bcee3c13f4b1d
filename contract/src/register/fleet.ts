import { z } from 'zod';
import { DistanceUnit, Id, IsoDate, Name, Reason, SeenRevision } from '../common.ts';
import { VehicleRow } from './vehicles.ts';

/** How a vehicle left the fleet. */
export const HOW_LEFT = ['sold', 'retired'] as const;

/** From that day on its odometer is read on a new instrument. */
export const InstrumentReplaced = z.object({ id: z.string(), on: IsoDate, oldMi: z.number(), newMi: z.number() });
export type InstrumentReplaced = z.infer<typeof InstrumentReplaced>;

/** A move to another depot that has not begun, or that ends on a day. */
export const OpenMove = z.object({
  id: Id,
  from: z.string(),
  to: z.string(),
  on: IsoDate,
  /** The day from which it stands in its own depot again; null where it stays. */
  backOn: IsoDate.nullable(),
  begun: z.boolean(),
});
export type OpenMove = z.infer<typeof OpenMove>;

/** A vehicle as the fleet's list shows it, also one that left. */
export const FleetVehicle = VehicleRow.extend({
  revision: z.int(),
  lastLook: IsoDate.nullable(),
  /** The nearest mile mark; null where there is none. */
  mark: z.object({ axle: z.int(), date: IsoDate }).nullable(),
  /** Where the record of its odometer begins. */
  start: z.object({ date: IsoDate, odometerMi: z.number() }).nullable(),
  move: OpenMove.nullable(),
  /** When its instrument was replaced, in order; what the old one showed, and the new one then. */
  instruments: z.array(InstrumentReplaced),
  left: z.object({ on: IsoDate, how: z.enum(HOW_LEFT) }).nullable(),
});
export type FleetVehicle = z.infer<typeof FleetVehicle>;

export const UnitNumber = Name.max(20, 'At most 20 characters are accepted.');

export const UnitChange = z.object({ unit: UnitNumber, reason: Reason, revision: SeenRevision });

export const NewMove = z
  .object({
    id: Id,
    depot: Name,
    on: IsoDate,
    /** For a time: the day from which it stands in its own depot again. */
    backOn: IsoDate.optional(),
  })
  .refine(({ on, backOn }) => backOn === undefined || backOn > on, {
    path: ['backOn'],
    error: 'It comes back after the day it goes.',
  });
export type NewMove = z.infer<typeof NewMove>;

export const Departure = z.object({ on: IsoDate, how: z.enum(HOW_LEFT), revision: SeenRevision });

/** The odometer begins anew: what the old instrument showed last, and the new one first. */
export const NewInstrument = z.object({
  id: Id,
  on: IsoDate,
  /** As typed, e.g. `110,240 mi`. */
  oldShowed: z.string().min(1, 'An odometer such as 110,240 mi is needed.').max(30),
  newShows: z.string().min(1, 'An odometer such as 0 mi is needed.').max(30),
  odometerUnit: DistanceUnit.optional(),
});

export const StartCorrection = z.object({
  /** Odometer as typed, e.g. `41,200 mi`. */
  odometer: z.string().min(1, 'An odometer such as 41,200 mi is needed.').max(30),
  odometerUnit: DistanceUnit.optional(),
  reason: Reason,
});

/** A time zone by its name in the tz database, e.g. `Europe/Oslo`. */
export const TimeZone = z
  .string()
  .max(60)
  .refine((name) => {
    try {
      return Boolean(new Intl.DateTimeFormat('en', { timeZone: name }));
    } catch {
      return false;
    }
  }, 'The name of a time zone such as Europe/Oslo or UTC is accepted.');

export const NewDepot = z.object({ id: Id, name: Name, timeZone: TimeZone.default('UTC') });
export type NewDepot = z.infer<typeof NewDepot>;

export const DepotChange = z.object({ name: Name, timeZone: TimeZone, revision: SeenRevision });

/** That a depot closes: where its vehicles go, needed where it has any. */
export const Closure = z.object({ vehiclesTo: Name.optional(), revision: SeenRevision });
