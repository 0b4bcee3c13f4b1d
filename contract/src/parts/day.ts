import { z } from 'zod';
import { Id, IsoDate } from '../common.ts';
import { JobKit } from './kits.ts';
import { StockRow } from './stock.ts';

/** The parts keeper's day. */
export const PartsDay = z.object({
  today: IsoDate,
  toPick: z.array(JobKit),
  short: z.array(JobKit),
  toReceive: z.array(
    z.object({
      orderId: Id,
      number: z.string(),
      supplier: z.string(),
      depot: z.string(),
      units: z.int(),
      day: IsoDate.nullable(),
    }),
  ),
  expiring: z.array(StockRow),
  toCount: z.array(StockRow),
  proposals: z.array(
    z.object({
      orderId: Id,
      supplier: z.string(),
      depot: z.string(),
      lines: z.int(),
      totalMinor: z.int(),
      currency: z.string(),
      latest: IsoDate.nullable(),
    }),
  ),
  transfers: z.array(
    z.object({ part: z.string(), name: z.string(), from: z.string(), to: z.string(), units: z.int() }),
  ),
});
export type PartsDay = z.infer<typeof PartsDay>;
