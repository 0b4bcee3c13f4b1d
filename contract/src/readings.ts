import { z } from 'zod';
import { DistanceUnit, Id, IsoDate, Name, Pad, Side, Suspicion, ThicknessUnit } from './common.ts';

/** What the person said when a suspicion was raised at the field. */
export const Answer = z.enum(['measured_twice', 'leave_to_coordinator']);

/** A figure as it was typed: a string is read in the unit it names, a number in the gauge's unit. */
const Typed = z.union([z.string().max(40, 'At most 40 characters are accepted.'), z.number()]);

export const NewInspection = z.object({
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
    .min(1, 'At least one reading is needed.')
    .max(100, 'At most 100 readings at once are accepted.'),
});
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
  expectedMm: z.number().nullable(),
  /** Share of this reading in its pad's pooled value; null for readings of earlier pads. */
  weight: z.number().nullable(),
});
export type Reading = z.infer<typeof Reading>;
