import { z } from 'zod';
import {
  DEGREES,
  FINDING_ITEMS,
  passes,
  placesOf,
  statesOf,
  type FindingItem as CoreFindingItem,
} from '@mile-mark/core';
import { DistanceUnit, Id, IsoDate, Name, Pad, Side, Suspicion, ThicknessUnit } from '../common.ts';

/** What the person said when a suspicion was raised at the field. */
export const Answer = z.enum(['measured_twice', 'leave_to_coordinator']);

/** A figure as it was typed: a string is read in the unit it names, a number in the gauge's unit. */
export const Typed = z.union([z.string().max(40, 'At most 40 characters are accepted.'), z.number()]);

/** A pad that could not be seen without dismantling: an answer, not a gap. */
const UnseenPad = z.object({ id: Id, axle: z.int().min(1).max(6), side: Side, pad: Pad });

/** What is looked at on each wheel besides the pads, and what may be said of it: the one catalogue, as the core has it. */
export const FINDINGS = Object.fromEntries(FINDING_ITEMS.map((item) => [item, statesOf(item)])) as Record<
  CoreFindingItem,
  string[]
>;
export const FindingItem = z.enum(FINDING_ITEMS as [CoreFindingItem, ...CoreFindingItem[]]);
export type FindingItem = z.infer<typeof FindingItem>;

const NewFinding = z
  .object({
    id: Id,
    axle: z.int().min(1).max(6),
    side: Side,
    item: FindingItem,
    state: z.string().max(40),
    /** Which of several: a pad, a pin, a face; none where it was not said. */
    places: z.array(z.string().max(40)).max(4).optional(),
    degree: z.enum(DEGREES).optional(),
    note: z.string().trim().min(1).max(500, 'At most 500 characters are accepted.').optional(),
  })
  .refine(({ item, state }) => FINDINGS[item].includes(state), {
    path: ['state'],
    message: 'One of the states of this item is accepted.',
  })
  .refine(({ item, places }) => (places ?? []).every((place) => placesOf(item).includes(place)), {
    path: ['places'],
    message: 'Places of this item are accepted.',
  });

/** A wheel's item either passes or it does not: two states at once are both of something that is wrong. */
function contradictory(findings: readonly z.output<typeof NewFinding>[]): boolean {
  return findings.some(
    (one) =>
      passes(one.item, one.state) &&
      findings.some(
        (other) =>
          other.item === one.item && other.axle === one.axle && other.side === one.side && other.state !== one.state,
      ),
  );
}

const Micrometres = z.int().min(-5000, 'From −5 mm is accepted.').max(5000, 'Up to 5 mm is accepted.');

/** A rotor as measured around its circle from twelve o'clock, clockwise seen from outside; whole micrometres. */
const NewRotor = z.object({
  id: Id,
  axle: z.int().min(1).max(6),
  side: Side,
  /** Thickness at up to 8 points; null where not measured. */
  thicknessUm: z
    .array(z.int().min(5000, 'From 5 mm is accepted.').max(100_000, 'Up to 100 mm is accepted.').nullable())
    .max(8, 'Up to 8 points are accepted.')
    .default([]),
  /** Dial readings at 8 or 12 clock positions; none where runout was not measured. */
  runoutUm: z
    .array(Micrometres)
    .refine((points) => [0, 8, 12].includes(points.length), 'Runout at 8 or 12 clock positions is accepted.')
    .default([]),
  /** The same on the bare hub. */
  hubRunoutUm: z.array(Micrometres).max(12).default([]),
  studs: z.int().min(3).max(12).optional(),
});

/** Which day it is by the clock of the device that dated the inspection; another than here, its day is asked for. */
export const SentFromDevice = z.object({ deviceDay: IsoDate.optional() });

export const NewInspection = z
  .object({
    inspection: z.object({
      id: Id,
      unit: Name,
      /** Who measured; the person signed in, where left out. */
      technicianId: Id.optional(),
      gaugeId: Id,
      date: IsoDate,
      odometer: Typed,
      /** Unit of an odometer that names none. */
      odometerUnit: DistanceUnit.default('mi'),
      note: z.string().max(1000).optional(),
      /** What the person said when the odometer ran ahead of the vehicle's pace. */
      odometerAnswer: Answer.optional(),
      /** State of the record that the device had seen, as told with it; pads fitted since are a conflict. */
      seenAt: z.iso.datetime({ offset: true }).optional(),
      /** Sent all the same, after the conflict was shown. */
      acknowledged: z.boolean().optional(),
    }),
    readings: z
      .array(
        z.object({
          id: Id,
          axle: z.int().min(1).max(6),
          side: Side,
          pad: Pad,
          thickness: Typed,
          /** Unit of a figure that names none; the gauge's unit, where left out. */
          thicknessUnit: ThicknessUnit.optional(),
          answer: Answer.optional(),
        }),
      )
      .max(100, 'At most 100 readings at once are accepted.'),
    unseen: z.array(UnseenPad).max(24).optional(),
    findings: z
      .array(NewFinding)
      .max(100)
      .refine((findings) => !contradictory(findings), 'An item that passes has no other state beside it.')
      .optional(),
    rotors: z.array(NewRotor).max(12).optional(),
  })
  .refine(
    ({ readings, unseen, findings, rotors }) =>
      readings.length + (unseen?.length ?? 0) + (findings?.length ?? 0) + (rotors?.length ?? 0) > 0,
    { path: ['readings'], message: 'At least one reading is needed, or a finding, a rotor or a pad not seen.' },
  );
export type NewInspection = z.input<typeof NewInspection>;

export const InspectionSaved = z.object({
  inspectionId: Id,
  unit: z.string(),
  readings: z.array(z.object({ id: Id, mm: z.number(), suspicion: Suspicion.optional() })),
});
export type InspectionSaved = z.infer<typeof InspectionSaved>;

export const Correction = z.object({
  id: Id,
  /** The thickness as it should have been; left out: the reading is withdrawn. */
  thickness: Typed.optional(),
  thicknessUnit: ThicknessUnit.optional(),
  reason: z.string().trim().min(3, 'A reason of at least 3 characters is needed.').max(500),
});

/** An inspection taken back whole: withdrawn, or entered at the vehicle that was meant. */
export const InspectionWithdrawal = z
  .object({
    id: Id,
    reason: z.string().trim().min(3, 'A reason of at least 3 characters is needed.').max(500),
    /** The unit it is of; left out: it is withdrawn. */
    moveTo: Name.optional(),
    /** Its odometer, where the one typed does not fit that vehicle. */
    odometer: z.string().trim().min(1).max(30).optional(),
    odometerUnit: DistanceUnit.optional(),
  })
  .refine(({ moveTo, odometer }) => moveTo !== undefined || odometer === undefined, {
    path: ['odometer'],
    message: 'An odometer is accepted where it is moved to another vehicle.',
  });

export const FindingWithdrawal = z.object({ id: Id, reason: InspectionWithdrawal.shape.reason });

/** Pads or rotors that were not fitted after all, or not so. */
export const ServiceWithdrawal = z.object({ id: Id, reason: InspectionWithdrawal.shape.reason });

/** One of a person's own last inspections. */
export const OwnInspection = z.object({
  id: Id,
  unit: z.string(),
  date: z.string(),
  odometerMi: z.number(),
  enteredAt: z.string(),
  technician: z.string(),
  readings: z.int(),
  findings: z.int(),
  rotors: z.int(),
  photos: z.int(),
  /** One of its findings or readings forbids driving. */
  forbids: z.boolean(),
  withdrawn: z.object({ at: z.string(), reason: z.string(), movedTo: z.string().nullable() }).nullable(),
});
export type OwnInspection = z.infer<typeof OwnInspection>;

export const Reading = z.object({
  id: Id,
  inspectionId: Id,
  date: z.string(),
  odometerMi: z.number(),
  axle: z.int(),
  side: Side,
  pad: Pad,
  mm: z.number().nullable(),
  typed: z.string(),
  technician: z.string(),
  gauge: z.string(),
  enteredBy: z.string(),
  enteredAt: z.string(),
  supersedes: z.string().nullable(),
  supersededBy: z.string().nullable(),
  reason: z.string().nullable(),
  answer: Answer.nullable(),
  suspicion: Suspicion.nullable(),
  /** With how its reader reads, so for the coordinator only. */
  expectedMm: z.number().nullable(),
  /** Share of this reading in its pad's pooled value; null for readings of earlier pads. */
  weight: z.number().nullable(),
  /**
   * On its way to today: reading − bias of the appraiser − wear since; null for readings of earlier pads. How somebody
   * reads is the coordinator's to know: all but the last two are null for everybody else.
   */
  carried: z
    .object({
      biasMm: z.number().nullable(),
      wearMm: z.number().nullable(),
      carriedMm: z.number().nullable(),
      sdMm: z.number(),
      regular: z.number(),
    })
    .nullable(),
  /** Where the odometer of its inspection was expected to stand, while it is doubted; null where it is not. */
  odometerExpectedMi: z.number().nullable(),
  /** How the question was settled, by whom and when; null while it is open or where there was none. */
  settled: z.object({ answer: z.string(), by: z.string(), at: z.string(), note: z.string().nullable() }).nullable(),
});
export type Reading = z.infer<typeof Reading>;

/** A rotor as measured, with what follows from it. */
export const RotorMeasured = z.object({
  id: Id,
  date: z.string(),
  odometerMi: z.number(),
  axle: z.int(),
  side: Side,
  technician: z.string(),
  thicknessUm: z.array(z.number().nullable()),
  runoutUm: z.array(z.number()),
  hubRunoutUm: z.array(z.number()),
  studs: z.int().nullable(),
});
export type RotorMeasured = z.infer<typeof RotorMeasured>;

export const FindingSeen = z.object({
  id: Id,
  date: z.string(),
  axle: z.int(),
  side: Side,
  item: FindingItem,
  state: z.string(),
  places: z.array(z.string()),
  degree: z.enum(DEGREES).nullable(),
  note: z.string().nullable(),
  technician: z.string(),
});
export type FindingSeen = z.infer<typeof FindingSeen>;
