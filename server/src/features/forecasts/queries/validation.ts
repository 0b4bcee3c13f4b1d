import { Validation } from '@mile-mark/contract/forecasts';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';

/** How past forecasts came out, as the last job over the fleet found it. */
export async function validation(em: EntityManager): Promise<Validation> {
  const [row] = await rowsOf(
    em,
    z.object({ detail: Validation.omit({ computedAt: true }), computed_at: z.string() }),
    'select detail, computed_at::text from validation',
  );
  return row
    ? { ...row.detail, computedAt: row.computed_at }
    : { computedAt: null, all: null, byAhead: [], byQuarter: [], byClass: [] };
}
