import { MileMark, type MileMarks, Refresh } from '@mile-mark/contract/forecasts';
import { z } from 'zod';
import { partsOf } from '../../../platform/answers/parts.ts';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { firstRow, rowsOf } from '../../../platform/db/rows.ts';
import { uuidArray } from '../../../platform/db/uuidArray.ts';
import { groupBy } from '../../../platform/groupBy.ts';
import { loadForecastContext } from './context.ts';

const RefreshState = z.object({
  pending: z.number(),
  computed_at: z.string().nullable(),
  failed: Refresh.shape.failed,
  fleet: z.array(z.string()),
});

const STATE = `
  select (select count(*)::int from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id
      where v.left_on is null and (f.input_rev is null or f.input_rev < v.input_rev)
        and not exists (select from forecast_failure x where x.vehicle_id = v.id and x.input_rev = v.input_rev)) as pending,
    coalesce((select json_agg(json_build_object('unit', v.unit, 'message', x.message) order by v.unit)
      from forecast_failure x join vehicle v on v.id = x.vehicle_id where v.left_on is null), '[]') as failed,
    (select max(computed_at)::text from vehicle_forecast) as computed_at,
    coalesce((select json_agg(id) from vehicle), '[]') as fleet`;

const MARK = `
  v.unit, f.axle, d.name as depot, m.class, m.name as model, a.pad_new_um / 1000.0::float8 as "newMm", f.mark, f.detail
  from forecast f join vehicle v on v.id = f.vehicle_id join model m on m.id = v.model_id join depot d on d.id = v.depot_id
    join model_axle a on a.model_id = m.id and a.axle = f.axle`;
export const MARKS = `select ${MARK}`;

/** A row of `MARKS`; the figures of mark and detail are as the forecast wrote them. */
export const MarkRow = MileMark.pick({
  unit: true,
  axle: true,
  depot: true,
  class: true,
  model: true,
  newMm: true,
}).extend({
  mark: z.custom<Omit<MileMark, 'unit'>>((value) => typeof value === 'object' && value !== null),
  detail: z.unknown(),
});
type MarkRow = z.output<typeof MarkRow>;

export function markOf({ mark, detail: _detail, ...row }: MarkRow): MileMark {
  return { ...row, ...mark };
}

/** The mile marks of all axles, nearest first. */
export async function mileMarks(em: EntityManager, today: string): Promise<MileMarks> {
  const [{ settings }, state] = await Promise.all([loadForecastContext(em), firstRow(em, RefreshState, STATE)]);
  const parts = await partsOf(em, 'marks of vehicles', state?.fleet ?? [], async (changed) => marksOf(em, changed));
  return {
    today,
    riskTarget: settings.riskTarget,
    refresh: { pending: state?.pending ?? 0, computedAt: state?.computed_at ?? null, failed: state?.failed ?? [] },
    items: [...parts.values()].flat().sort(byDate),
  };
}

async function marksOf(em: EntityManager, ids: string[]): Promise<Map<string, MileMark[]>> {
  const found = await rowsOf(
    em,
    MarkRow.extend({ id: z.string() }),
    `select v.id, ${MARK} where v.id = any(?::uuid[])`,
    [uuidArray(ids)],
  );
  return new Map(
    [...groupBy(found, ({ id }) => id)].map(([id, rows]) => [id, rows.map(({ id: _id, ...row }) => markOf(row))]),
  );
}

const inOrder = (a: string | number, b: string | number) => (a < b ? -1 : a > b ? 1 : 0);
const byDate = (a: MileMark, b: MileMark) =>
  inOrder(a.markDate, b.markDate) || inOrder(a.unit, b.unit) || inOrder(a.axle, b.axle);

/** Marks that are passed or fall on a day up to this one, nearest first. */
export async function marksUntil(em: EntityManager, until: string): Promise<MileMark[]> {
  const found = await rowsOf(
    em,
    MarkRow,
    `${MARKS} where f.mark->>'markDate' <= ? order by f.mark->>'markDate', v.unit, f.axle`,
    [until],
  );
  return found.map(markOf);
}
