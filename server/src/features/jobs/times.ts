import { jobMinutes, timeSpent, type CardMoment, type CardStep, type TimeSpent } from '@mile-mark/core';
import type { EntityManager } from '../../platform/db/orm.ts';
import { toldAt, type EntryRow } from './entries.ts';

/** How long a job and its steps took, by its card. */
export interface JobTimes {
  spent: TimeSpent[];
  usualMin: number;
  /** Undefined where too little of it was timed. */
  workedMin: number | undefined;
}

const RESTS = new Set(['pause', 'hand over']);
const minutesOf = (at: string) => Date.parse(at) / 60_000;

interface Card {
  entries: readonly Pick<EntryRow, 'kind' | 'step' | 'done_at' | 'entered_at'>[];
  steps: readonly Pick<CardStep, 'id' | 'step' | 'kind' | 'axle' | 'minutes'>[];
  /** When an axle was measured as found, ISO: its step is signed by the readings. */
  measured: ReadonlyMap<number, { at: string }>;
  /** When the work was begun, ISO. */
  startedAt: string | undefined;
}

/** Times of a job, from when its entries were done; what was measured before the work began is not of it. */
export function timesOf({ entries, steps, measured, startedAt }: Card): JobTimes {
  const onCard = new Map(steps.map((step) => [step.id, step]));
  const moments = entries.flatMap((entry): CardMoment[] => {
    const atMin = minutesOf(toldAt(entry));
    if (RESTS.has(entry.kind)) return [{ kind: 'rest', atMin }];
    if (entry.kind === 'take up') return [{ kind: 'taken up', atMin }];
    const step =
      entry.step === null || entry.kind === 'undo' || entry.kind === 'note' ? undefined : onCard.get(entry.step);
    return step ? [{ kind: 'signed', atMin, step: step.step, usualMin: step.minutes }] : [];
  });
  for (const { kind, axle, step, minutes } of steps) {
    const at = kind === 'measure' && axle !== undefined ? measured.get(axle)?.at : undefined;
    if (at !== undefined && startedAt !== undefined && minutesOf(at) > minutesOf(startedAt))
      moments.push({ kind: 'signed', atMin: minutesOf(at), step, usualMin: minutes });
  }
  if (startedAt !== undefined) moments.push({ kind: 'taken up', atMin: minutesOf(startedAt) });
  const spent = timeSpent(moments.sort((a, b) => a.atMin - b.atMin));
  const usualMin = steps.reduce((sum, { minutes }) => sum + minutes, 0);
  return { spent, usualMin, workedMin: jobMinutes(spent, usualMin) };
}

/**
 * Adds what a closed job took to what is known of its class. Each job counts once a step, whatever the number of wheels.
 * Rows are written in the order of their names, so that two closings wait for each other and never in a ring.
 */
export async function bookTimes(em: EntityManager, vehicleClass: string, jobs: readonly JobTimes[]): Promise<void> {
  const sums = new Map<string, { n: number; ln: number; ln2: number }>();
  for (const { spent } of jobs)
    for (const { step, minutes, usualMin } of spent) {
      const ln = Math.log(minutes / usualMin);
      const own = sums.get(step) ?? { n: 0, ln: 0, ln2: 0 };
      sums.set(step, { n: own.n + 1, ln: own.ln + ln, ln2: own.ln2 + ln * ln });
    }
  if (sums.size === 0) return;
  await em.execute(
    `insert into step_time (class, step, n, sum_ln, sum_ln2)
     select ?, t.step, t.n, t.ln, t.ln2 from jsonb_to_recordset(?::jsonb) as t(step text, n int, ln float8, ln2 float8) order by t.step
     on conflict (class, step) do update set n = step_time.n + excluded.n, sum_ln = step_time.sum_ln + excluded.sum_ln,
       sum_ln2 = step_time.sum_ln2 + excluded.sum_ln2`,
    [vehicleClass, JSON.stringify([...sums].map(([step, own]) => ({ step, ...own })))],
  );
}
