import { z } from 'zod';
import { Id, VehicleClass } from '../common.ts';

export const VehicleRow = z.object({
  id: Id,
  unit: z.string(),
  model: z.string(),
  class: VehicleClass,
  depot: z.string(),
  duty: z.string().nullable(),
  axles: z.array(z.int()),
  odometerMi: z.number().nullable(),
});
export type VehicleRow = z.infer<typeof VehicleRow>;
export const VehicleRows = z.object({ items: z.array(VehicleRow) });
