import { Validation } from '@mile-mark/contract/forecasts';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { CalibrationEntity } from '../entities.ts';

const Kept = Validation.omit({ computedAt: true, calibrations: true }).extend({
  // What an earlier version kept has none.
  strains: Validation.shape.strains.default([]),
});

/** How past forecasts came out, as the last job over the fleet found it. */
export async function validation(em: EntityManager): Promise<Validation> {
  const [row] = await rowsOf(
    em,
    z.object({ detail: Kept, computed_at: z.string() }),
    'select detail, computed_at::text from validation',
  );
  if (!row)
    return { computedAt: null, all: null, byAhead: [], byQuarter: [], byClass: [], calibrations: [], strains: [] };
  const [calibrations, names] = await Promise.all([
    em
      .fork({ keepTransactionContext: true })
      .find(CalibrationEntity, {}, { orderBy: { class: 'asc', distance: 'desc' } }),
    rowsOf(em, z.object({ id: z.string(), name: z.string() }), 'select id, name from person'),
  ]);
  const nameOf = new Map(names.map(({ id, name }) => [id, name]));
  return {
    ...row.detail,
    computedAt: row.computed_at,
    calibrations: calibrations.map(({ computedAt: _at, distance, ...rest }) => ({
      ...rest,
      distance: distance === 'near' ? 'near' : 'far',
    })),
    strains: row.detail.strains.map((strain) =>
      strain.assumption === 'technician' ? { ...strain, group: nameOf.get(strain.group) ?? 'somebody' } : strain,
    ),
  };
}
