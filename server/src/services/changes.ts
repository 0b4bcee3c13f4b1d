import type { z } from 'zod';
import type { ChangeAnswer, WearChange } from '@mile-mark/contract';
import type { WearChange as FoundChange } from '@mile-mark/core';
import { mustBeAllowed, type Actor } from '../auth/policy.ts';
import type { EntityManager } from '../db/orm.ts';
import { uuidArray } from '../db/uuidArray.ts';
import { Refusal } from '../errors.ts';
import { recordDeed } from './audit.ts';

interface ChangeRow {
  id: string;
  vehicle_id: string;
  kind: FoundChange['kind'];
  axle: number | null;
  side: 'left' | 'right' | null;
  more: 'inner' | 'outer' | null;
  since: string;
  until: string | null;
}

/** The parts of a found change that are not columns of their own. */
type Detail = Pick<FoundChange, 'factor' | 'looks' | 'wear'>;

/**
 * Keeps what was found in vehicles as dated findings: one that was there is brought up to date, one that readings no
 * longer show is kept with the day on which it went, a new one is entered. Called in the transaction that saves forecasts.
 */
export async function keepChanges(
  em: EntityManager,
  found: readonly { vehicleId: string; changes: readonly FoundChange[] }[],
  today: string,
): Promise<void> {
  const kept = await em.execute<ChangeRow[]>(
    `select id, vehicle_id, kind, axle, side, more, since::text, until::text from wear_change where vehicle_id = any(?::uuid[]) for update`,
    [uuidArray(found.map(({ vehicleId }) => vehicleId))],
  );
  for (const { vehicleId, changes } of found) {
    const own = kept.filter((row) => row.vehicle_id === vehicleId);
    const matched = new Set<string>();
    for (const change of changes) {
      const row = own.find((one) => !matched.has(one.id) && isSame(one, change));
      const detail: Detail = { factor: change.factor, looks: change.looks, wear: change.wear };
      if (row) {
        matched.add(row.id);
        await em.execute(
          `update wear_change set since = ?::date, until = ?::date, probability = ?, detail = ?::jsonb, last_told = ?::date, gone_on = null where id = ?`,
          [change.since, change.until ?? null, change.probability, JSON.stringify(detail), today, row.id],
        );
      } else {
        await em.execute(
          `insert into wear_change (vehicle_id, kind, axle, side, more, since, until, probability, detail, first_told, last_told)
           values (?, ?, ?, ?, ?, ?::date, ?::date, ?, ?::jsonb, ?::date, ?::date)`,
          [
            vehicleId,
            change.kind,
            change.axle ?? null,
            change.side ?? null,
            change.more ?? null,
            change.since,
            change.until ?? null,
            change.probability,
            JSON.stringify(detail),
            today,
            today,
          ],
        );
      }
    }
    const gone = own.filter(({ id, until }) => !matched.has(id) && until === null).map(({ id }) => id);
    if (gone.length > 0)
      await em.execute('update wear_change set gone_on = coalesce(gone_on, ?::date) where id = any(?::uuid[])', [
        today,
        uuidArray(gone),
      ]);
  }
}

/** The same change of the same pads, though more readings may have moved its beginning. */
function isSame(row: ChangeRow, change: FoundChange): boolean {
  const same = (a: string | number | null, b: string | number | undefined) => a === (b ?? null);
  if (row.kind !== change.kind || !same(row.axle, change.axle) || !same(row.side, change.side)) return false;
  if (!same(row.more, change.more)) return false;
  return (row.until === null || change.since < row.until) && (change.until === undefined || row.since < change.until);
}

const CHANGES = `
  select c.id, v.unit, d.name as depot, m.name as model, c.kind, c.axle, c.side, c.more, c.since::text, c.until::text, c.probability,
    c.detail, c.first_told::text, c.gone_on::text,
    coalesce((select jsonb_agg(jsonb_build_object('answer', a.answer, 'note', a.note, 'by', p.name, 'at', a.at) order by a.at)
      from wear_change_answer a join person p on p.id = a.person_id where a.change_id = c.id), '[]') as answers
  from wear_change c join vehicle v on v.id = c.vehicle_id join depot d on d.id = v.depot_id join model m on m.id = v.model_id`;

type ChangeSql = Omit<WearChange, 'factor' | 'looks' | 'wear' | 'firstTold' | 'goneOn' | 'open'> & {
  detail: Detail;
  first_told: string;
  gone_on: string | null;
};

function changeOf({ detail, first_told, gone_on, ...row }: ChangeSql): WearChange {
  const settled = row.answers.some(({ answer }) => answer !== 'look');
  return {
    ...row,
    factor: detail.factor,
    looks: detail.looks,
    wear: detail.wear.map((one) => ({ ...one, side: one.side ?? null })),
    firstTold: first_told,
    goneOn: gone_on,
    open: row.until === null && gone_on === null && !settled,
  };
}

/** Changes of the whole fleet, open ones first, newest first. */
export async function listChanges(em: EntityManager): Promise<WearChange[]> {
  const rows = await em.execute<ChangeSql[]>(`${CHANGES} order by c.first_told desc, c.since desc, v.unit, c.axle`);
  return rows.map(changeOf).sort((a, b) => Number(b.open) - Number(a.open));
}

export async function changesOf(em: EntityManager, vehicleId: string): Promise<WearChange[]> {
  const rows = await em.execute<ChangeSql[]>(`${CHANGES} where v.id = ? order by c.since desc`, [vehicleId]);
  return rows.map(changeOf).sort((a, b) => Number(b.open) - Number(a.open));
}

/** Puts on record what was decided about a change; it stays with who and when. A repeat with the same id adds nothing. */
export async function answerChange(
  em: EntityManager,
  actor: Actor,
  changeId: string,
  input: z.output<typeof ChangeAnswer>,
): Promise<{ id: string }> {
  mustBeAllowed(actor, 'register');
  await em.transactional(async (inner) => {
    const [change] = await inner.execute<{ vehicle_id: string; settled: boolean; mine: boolean }[]>(
      `select vehicle_id, exists (select 1 from wear_change_answer a where a.change_id = c.id and a.answer <> 'look') as settled,
         exists (select 1 from wear_change_answer a where a.id = ?) as mine from wear_change c where id = ? for update`,
      [input.id, changeId],
    );
    if (!change) throw new Refusal('not_found', 'There is no such finding on record.');
    if (change.mine) return;
    if (change.settled)
      throw new Refusal('conflict', 'Somebody settled this finding meanwhile; look at the list again.');
    await inner.execute(
      'insert into wear_change_answer (id, change_id, answer, note, person_id) values (?, ?, ?, ?, ?)',
      [input.id, changeId, input.answer, input.note ?? null, actor.id],
    );
    await recordDeed(inner, actor.id, 'decided on a change of wear', `vehicle/${change.vehicle_id}`, {
      change: changeId,
      answer: input.answer,
    });
  });
  return { id: input.id };
}
