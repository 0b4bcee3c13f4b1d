import { WearChange } from '@mile-mark/contract/forecasts';
import { z } from 'zod';
import type { EntityManager } from '../../../platform/db/orm.ts';
import { rowsOf } from '../../../platform/db/rows.ts';
import { Detail } from '../commands/keepChanges.ts';

const CHANGES = `
  select c.id, v.unit, d.name as depot, m.name as model, c.kind, c.axle, c.side, c.more, c.since::text, c.until::text, c.probability,
    c.detail, c.first_told::text, c.gone_on::text,
    v.left_on is not null as departed,
    coalesce((select jsonb_agg(jsonb_build_object('answer', a.answer, 'note', a.note, 'by', p.name, 'at', a.at) order by a.at)
      from wear_change_answer a join person p on p.id = a.person_id where a.change_id = c.id), '[]') as answers
  from wear_change c join vehicle v on v.id = c.vehicle_id join depot d on d.id = v.depot_id join model m on m.id = v.model_id`;

const ChangeSql = WearChange.omit({
  factor: true,
  looks: true,
  wear: true,
  outlived: true,
  firstTold: true,
  goneOn: true,
  open: true,
}).extend({
  detail: Detail,
  first_told: z.string(),
  gone_on: z.string().nullable(),
  departed: z.boolean(),
});
type ChangeSql = z.output<typeof ChangeSql>;

/** From this chance on what new pads may have ended is still asked about. */
const MAY_GO_ON = 0.05;

function changeOf({ detail, first_told, gone_on, departed, ...row }: ChangeSql): WearChange {
  const settled = row.answers.some(({ answer }) => answer !== 'look');
  return {
    ...row,
    factor: detail.factor,
    looks: detail.looks,
    outlived: row.until === null ? null : detail.outlived,
    wear: detail.wear.map((one) => ({ ...one, side: one.side ?? null })),
    firstTold: first_told,
    goneOn: gone_on,
    open: (row.until === null || (detail.outlived ?? 0) > MAY_GO_ON) && gone_on === null && !settled && !departed,
  };
}

/** Changes of the whole fleet, open ones first, newest first. */
export async function listChanges(em: EntityManager): Promise<WearChange[]> {
  const rows = await rowsOf(em, ChangeSql, `${CHANGES} order by c.first_told desc, c.since desc, v.unit, c.axle`);
  return changesTold(rows);
}

/** Those of one vehicle, newest first. @param vehicleId bound to the statement */
export const changesOf = (vehicleId: string) => ({
  row: ChangeSql,
  sql: `${CHANGES} where v.id = ? order by c.since desc`,
  params: [vehicleId],
});

/** Rows of changes as they are told, open ones first. */
export const changesTold = (rows: readonly ChangeSql[]): WearChange[] =>
  rows.map(changeOf).sort((a, b) => Number(b.open) - Number(a.open));
