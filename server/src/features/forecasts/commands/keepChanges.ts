import { Side } from '@mile-mark/contract';
import { WearChange } from '@mile-mark/contract/forecasts';
import type { WearChange as FoundChange } from '@mile-mark/core';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';

const ChangeRow = z.object({
  id: z.string(),
  vehicle_id: z.string(),
  kind: WearChange.shape.kind,
  axle: z.number().nullable(),
  side: z.enum(['left', 'right']).nullable(),
  more: z.enum(['inner', 'outer']).nullable(),
  since: z.string(),
  until: z.string().nullable(),
});
type ChangeRow = z.output<typeof ChangeRow>;

/** The parts of a found change that are not columns of their own. */
export const Detail = z.object({
  factor: WearChange.shape.factor,
  looks: WearChange.shape.looks,
  /** Absent where it was kept before this was asked. */
  outlived: z.number().nullable().default(null),
  wear: z.array(WearChange.shape.wear.element.extend({ side: Side.optional() })),
});
export type Detail = z.output<typeof Detail>;

/**
 * Keeps what was found in vehicles as dated findings: one that was there is brought up to date, one that readings no
 * longer show is kept with the day on which it went, a new one is entered. Called in the transaction that saves forecasts.
 */
export async function keepChanges(
  em: EntityManager,
  found: readonly { vehicleId: string; changes: readonly FoundChange[] }[],
  today: string,
): Promise<void> {
  const kept = await rowsOf(
    em,
    ChangeRow,
    `select id, vehicle_id, kind, axle, side, more, since::text, until::text from wear_change where vehicle_id = any(?::uuid[]) for update`,
    [uuidArray(found.map(({ vehicleId }) => vehicleId))],
  );
  const there: object[] = [];
  const fresh: object[] = [];
  const gone: string[] = [];
  for (const { vehicleId, changes } of found) {
    const own = kept.filter((row) => row.vehicle_id === vehicleId);
    const matched = new Set<string>();
    for (const change of changes) {
      const row = own.find((one) => !matched.has(one.id) && isSame(one, change));
      if (row) matched.add(row.id);
      const { since, until = null, probability } = change;
      const told = { since, until, probability, detail: detailOf(change) };
      if (row) there.push({ id: row.id, ...told });
      else {
        const { kind, axle = null, side = null, more = null } = change;
        fresh.push({ vehicle_id: vehicleId, kind, axle, side, more, ...told });
      }
    }
    gone.push(...own.filter(({ id, until }) => !matched.has(id) && until === null).map(({ id }) => id));
  }
  if (there.length > 0) await em.execute(BRING_UP_TO_DATE, [today, JSON.stringify(there), today]);
  if (fresh.length > 0) await em.execute(ENTER, [today, today, JSON.stringify(fresh)]);
  if (gone.length > 0)
    await em.execute('update wear_change set gone_on = ?::date where id = any(?::uuid[]) and gone_on is null', [
      today,
      uuidArray(gone),
    ]);
}

const BRING_UP_TO_DATE = `
  update wear_change c set since = t.since, until = t.until, probability = t.probability, detail = t.detail,
    last_told = ?::date, gone_on = null
  from jsonb_to_recordset(?::jsonb) as t(id uuid, since date, until date, probability float8, detail jsonb)
  where c.id = t.id and (c.since, c.until, c.probability, c.detail, c.last_told, c.gone_on)
    is distinct from (t.since, t.until, t.probability, t.detail, ?::date, null::date)`;
const ENTER = `
  insert into wear_change (vehicle_id, kind, axle, side, more, since, until, probability, detail, first_told, last_told)
  select vehicle_id, kind, axle, side, more, since, until, probability, detail, ?::date, ?::date
  from jsonb_to_recordset(?::jsonb)
    as t(vehicle_id uuid, kind text, axle int, side text, more text, since date, until date, probability float8, detail jsonb)`;

function detailOf({ factor, looks, wear, outlived }: FoundChange): Detail {
  return { factor, looks, wear, outlived: outlived ?? null };
}

/** The same change of the same pads, though more readings may have moved its beginning. */
function isSame(row: ChangeRow, change: FoundChange): boolean {
  const same = (a: string | number | null, b: string | number | undefined) => a === (b ?? null);
  if (row.kind !== change.kind || !same(row.axle, change.axle) || !same(row.side, change.side)) return false;
  if (!same(row.more, change.more)) return false;
  return (row.until === null || change.since < row.until) && (change.until === undefined || row.since < change.until);
}
