import { z } from 'zod';
import { Id, IsoDate, Name, ThicknessUnit } from '../common.ts';

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
  resolutionMm: z.number().min(0.001, 'At least 0.001 mm is accepted.').max(5, 'At most 5 mm is accepted.'),
  unit: ThicknessUnit,
  calibrationDue: IsoDate.optional(),
});
export type NewGauge = z.infer<typeof NewGauge>;
