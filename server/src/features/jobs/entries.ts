import { z } from 'zod';
import type { EntityManager } from '../../platform/db/orm.ts';
import { rowsOf } from '../../platform/db/rows.ts';

const EntrySql = z.object({
  id: z.string(),
  kind: z.string(),
  step: z.string().nullable(),
  detail: z.record(z.string(), z.unknown()),
  person_id: z.string(),
  by: z.string(),
  done_at: z.string(),
  entered_at: z.string(),
});
export type EntryRow = z.output<typeof EntrySql>;

/** Everything written on a job's card, in the order in which it reached the server. */
export async function entriesOf(em: EntityManager, jobId: string): Promise<EntryRow[]> {
  return rowsOf(
    em,
    EntrySql,
    `select e.id, e.kind, e.step, e.detail, e.person_id, p.name as by,
       to_char(e.done_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as done_at,
       to_char(e.entered_at at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as entered_at
     from job_entry e join person p on p.id = e.person_id where e.job_id = ? order by e.serial`,
    [jobId],
  );
}

const BESIDES = new Set(['note', 'part', 'pause', 'take up', 'hand over']);

/**
 * What stands signed for each step: the last entry of a step, unless it was taken back. A joint at two places is signed
 * for each of them.
 */
export function standing(entries: readonly EntryRow[]): Map<string, EntryRow[]> {
  const byStep = new Map<string, EntryRow[]>();
  for (const entry of entries) {
    if (entry.step === null || BESIDES.has(entry.kind)) continue;
    if (entry.kind === 'undo') byStep.delete(entry.step);
    else {
      const place = positionOf(entry);
      const others = (byStep.get(entry.step) ?? []).filter((one) => positionOf(one) !== place);
      byStep.set(entry.step, [...others, entry]);
    }
  }
  return byStep;
}

export const positionOf = ({ detail }: Pick<EntryRow, 'detail'>): string =>
  typeof detail.position === 'string' ? detail.position : '';

/** Who has the card now: whoever took it up or was handed it last; null after a pause. */
export function holderOf(entries: readonly EntryRow[], startedBy: string | null): string | null {
  let holder = startedBy;
  for (const { kind, by, detail } of entries) {
    if (kind === 'take up') holder = by;
    else if (kind === 'pause') holder = null;
    else if (kind === 'hand over') holder = typeof detail.toName === 'string' ? detail.toName : holder;
  }
  return holder;
}

/** A device's clock may run ahead: when something is told as done after it arrived, the arrival counts. */
export const toldAt = ({ done_at, entered_at }: Pick<EntryRow, 'done_at' | 'entered_at'>): string =>
  done_at > entered_at ? entered_at : done_at;
