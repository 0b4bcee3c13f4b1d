import { KIT_PARTS } from '@mile-mark/core';
import { z } from 'zod';

export const PartKind = z.enum(KIT_PARTS);
export const KitSide = z.enum(['both', 'left', 'right']);
export const PartNumber = z
  .string()
  .trim()
  .min(1, 'A part number is needed.')
  .max(60, 'At most 60 characters are accepted.');
export const Units = z.int('A whole number of units is accepted.').min(1, 'One unit or more is accepted.').max(100_000);
export const Currency = z
  .string()
  .trim()
  .regex(/^[A-Z]{3}$/, 'A price has a currency, as USD or EUR.');
/** A price in whole cents of its currency. */
export const Minor = z
  .int('A price in whole cents is accepted.')
  .min(1, 'A price over nought is accepted.')
  .max(100_000_000);
export const Lot = z.string().trim().min(1).max(60);
export const Note = z.string().trim().min(1).max(500);

export const Measures = z.object({
  diameterMm: z.number().min(10).max(800).optional(),
  heightMm: z.number().min(1).max(500).optional(),
  thicknessMm: z.number().min(1).max(200).optional(),
  holes: z.int().min(1).max(24).optional(),
});

export { Reason } from '../common.ts';
