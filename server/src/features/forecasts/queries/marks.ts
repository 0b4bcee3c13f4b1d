import { MileMark } from '@mile-mark/contract/forecasts';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import type { Prepared } from '../../../platform/http/prepared.ts';
import { readSettings } from '../../register/index.ts';

const RefreshState = z.object({
  serial: z.string(),
  /** Rises with every change of a vehicle's, a depot's or a model's name and place. */
  register: z.string(),
  pending: z.number(),
  computed_at: z.string().nullable(),
  risk_target: z.string().nullable(),
});
type RefreshState = z.output<typeof RefreshState>;

async function refreshState(em: EntityManager): Promise<RefreshState> {
  const [state] = await rowsOf(
    em,
    RefreshState,
    `
    select (select last_value from forecast_serial)::text as serial,
      (select count(*)::int from vehicle v left join vehicle_forecast f on f.vehicle_id = v.id
        where v.left_on is null and (f.input_rev is null or f.input_rev < v.input_rev)) as pending,
      (select (select coalesce(sum(revision), 0) from vehicle) + (select coalesce(sum(revision), 0) from depot)
        + (select coalesce(sum(revision), 0) from model))::text as register,
      (select max(computed_at)::text from vehicle_forecast) as computed_at,
      (select value from setting where key = 'riskTarget')::text as risk_target`,
  );
  return state as RefreshState;
}

export const MARKS = `
  select v.unit, f.axle, d.name as depot, m.class, m.name as model, a.pad_new_um / 1000.0::float8 as "newMm", f.mark, f.detail
  from forecast f join vehicle v on v.id = f.vehicle_id join model m on m.id = v.model_id join depot d on d.id = v.depot_id
    join model_axle a on a.model_id = m.id and a.axle = f.axle`;

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

const compress = promisify(gzip);

/** What an application keeps between calls: the marks as last told. */
export interface MarksCache {
  kept?: { tag: string; body: Promise<Prepared> };
}

/**
 * The mile marks of all axles, nearest first, serialised once for each state of the forecasts: the body is
 * kept with its tag, and a caller who has it is told so.
 */
export async function mileMarks(em: EntityManager, today: string, cache: MarksCache): Promise<Prepared> {
  const state = await refreshState(em);
  const tag = `"marks-${state.serial}-${state.register}-${state.pending}-${today}-${state.risk_target ?? ''}-${state.computed_at ?? ''}"`;
  if (cache.kept?.tag !== tag) {
    // Callers who come meanwhile wait for the same preparation; a failed one is not kept.
    const body = prepareMarks(em, today, tag, state);
    cache.kept = { tag, body };
    body.catch(() => delete cache.kept);
  }
  return cache.kept.body;
}

async function prepareMarks(
  em: EntityManager,
  today: string,
  tag: string,
  { pending, computed_at }: RefreshState,
): Promise<Prepared> {
  const { riskTarget } = await readSettings(em);
  const found = await rowsOf(em, MarkRow, `${MARKS} order by f.mark->>'markDate', v.unit, f.axle`);
  const body = { today, riskTarget, refresh: { pending, computedAt: computed_at }, items: found.map(markOf) };
  const prepared = JSON.stringify(body);
  return { tag, prepared, compressed: await compress(prepared) };
}

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
