import type { Validation } from '@mile-mark/contract/forecasts';
import type { EntityManager } from '../../../platform/db/orm.ts';

/** How past forecasts came out, as the last job over the fleet found it. */
export async function validation(em: EntityManager): Promise<Validation> {
  const [row] = await em.execute<{ detail: Omit<Validation, 'computedAt'>; computed_at: string }[]>(
    'select detail, computed_at::text from validation',
  );
  return row
    ? { ...row.detail, computedAt: row.computed_at }
    : { computedAt: null, all: null, byAhead: [], byQuarter: [], byClass: [] };
}
