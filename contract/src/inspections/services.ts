import { z } from 'zod';
import { DistanceUnit, Id, IsoDate, Name } from '../common.ts';

export const NewService = z.object({
  id: Id,
  unit: Name,
  axle: z.int().min(1).max(6),
  date: IsoDate,
  odometer: z.string().min(1, 'An odometer such as 41,200 mi is needed.').max(30),
  /** Unit of a bare figure; a unit typed with it counts. */
  odometerUnit: DistanceUnit.optional(),
  fitted: z.enum(['pads', 'pads and rotors', 'rotors']),
});
